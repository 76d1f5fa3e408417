"""Which contactors short lines when both are in."""

from itertools import combinations

from wiretrace.checks.facts import Facts
from wiretrace.checks.motor_circuit import joined_with
from wiretrace.document.checked import Installed


def opposing(facts: Facts) -> list[tuple[Installed, Installed]]:
    """Pairs of contactors that join two live poles when both are in, and neither does alone."""
    out = joined_with(facts, ())
    live = {int(out.label[pole.node]) for pole in facts.poles if pole.what == "live"}
    edges = {
        item.id: [(int(out.label[ref.a]), int(out.label[ref.b])) for ref in refs]
        for item in facts.contactors
        if (refs := facts.main_poles(item))
    }
    order = {item.id: number for number, item in enumerate(facts.contactors)}
    alone = {name: _joins(live, ends) for name, ends in edges.items()}
    meeting: dict[int, list[str]] = {}
    for name, ends in edges.items():
        # A way through both passes where they meet. That is no live pole, unless one shorts lines by itself.
        for label in {label for pair in ends for label in pair if alone[name] or label not in live}:
            meeting.setdefault(label, []).append(name)
    candidates = {
        tuple(sorted(pair, key=order.__getitem__)) for names in meeting.values() for pair in combinations(names, 2)
    }
    items = {item.id: item for item in facts.contactors}
    return [
        (items[one], items[two])
        for one, two in sorted(candidates, key=lambda pair: [order[name] for name in pair])
        if _joins(live, edges[one] + edges[two]) - alone[one] - alone[two]
    ]


def _joins(live: set[int], edges: list[tuple[int, int]]) -> set[tuple[int, int]]:
    """Pairs of live parts that a few edges join."""
    group: dict[int, set[int]] = {}
    for a, b in edges:
        both = group.get(a, {a}) | group.get(b, {b})
        for label in both:
            group[label] = both
    return {pair for both in group.values() for pair in combinations(sorted(both & live), 2)}
