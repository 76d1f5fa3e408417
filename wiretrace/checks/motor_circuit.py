"""What the rules of the motor circuit share: what is joined with which contactors in, and which feed which motor."""

from collections.abc import Iterator
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from wiretrace.checks.facts import Facts, Parts
from wiretrace.document.checked import Installed


def joined_with(facts: Facts, contactors: tuple[Installed, ...], but: tuple[str, ...] = ()) -> Parts:
    """What is joined with these contactors in, protection on; `but` are devices whose poles are left out."""
    ids = frozenset(item.id for item in contactors)
    parts: Parts = facts.remembered(("in", ids, but), lambda: facts.joined_by(_mask_in(facts, ids), but))
    return parts


def _mask_in(facts: Facts, ids: frozenset[str]) -> NDArray[np.bool_]:
    on: NDArray[np.bool_] = facts.remembered(
        "on", lambda: facts.mask(lambda ref: facts.opens_itself(ref) and not facts.is_pole(ref))
    ).copy()
    for name in ids:
        on[facts.rows_of_poles(name)] = True
    return on


def leads_of(facts: Facts, motor: Installed) -> list[int]:
    """Nodes of the leads of a motor."""
    windings = motor.kind.three_phase
    return [facts.node(motor, name) for name in windings.leads] if windings else []


def contactors_of(facts: Facts, motor: Installed) -> list[Installed]:
    """Contactors through whose poles a motor gets its lines."""
    feeding: dict[str, list[Installed]] = facts.remembered("feeding", lambda: _feeding(facts))
    return feeding.get(motor.id, [])


def _feeding(facts: Facts) -> dict[str, list[Installed]]:
    """By motor, the contactors that give it a line by themselves."""
    live = [pole.node for pole in facts.poles if pole.what == "live"]
    leads = [(motor.id, node) for motor in facts.motors for node in leads_of(facts, motor)]
    nodes = [node for _, node in leads]
    found: dict[str, list[Installed]] = {}
    for item in facts.contactors if nodes else ():
        label = joined_with(facts, (item,)).label
        fed = np.isin(label[nodes], label[live])
        for name in dict.fromkeys(leads[row][0] for row in np.flatnonzero(fed).tolist()):
            found.setdefault(name, []).append(item)
    return found


def delta_pairs(facts: Facts, motor: Installed) -> list[tuple[Installed, ...]]:
    """Contactors, or pairs of them, that put a line on all six leads without joining lines."""
    near = _around(facts, motor)
    sets: list[tuple[Installed, ...]] = [(), *((item,) for item in near), *combinations(near, 2)]
    found = []
    for some in sets:
        parts = joined_with(facts, some)
        at = [[p for p in parts.poles_at(node) if p.what == "live"] for node in leads_of(facts, motor)]
        if all(len(poles) == 1 for poles in at):
            found.append(some)
    return found


def star_and_delta(facts: Facts, motor: Installed) -> Iterator[tuple[str, list[frozenset[str]]]]:
    """Contactors that by themselves join the ends of the windings and nothing else; the sets that put it in delta."""
    windings = motor.kind.three_phase
    if windings is None or windings.ends is None:
        return
    pairs = [frozenset(item.id for item in pair) for pair in delta_pairs(facts, motor) if pair]
    nodes = [facts.node(motor, name) for name in windings.ends]
    for item in _around(facts, motor):
        parts = joined_with(facts, (item,))
        if len({int(parts.label[node]) for node in nodes}) == 1 and not parts.poles_at(nodes[0]):
            yield item.id, pairs


def _around(facts: Facts, motor: Installed) -> list[Installed]:
    """Contactors that a way from the motor's leads meets before it comes to a live pole."""
    out = joined_with(facts, ())
    live = {int(out.label[pole.node]) for pole in facts.poles if pole.what == "live"}
    at: dict[int, list[tuple[str, int]]] = facts.remembered("poles at", lambda: _poles_at(facts, out))
    seen = {int(out.label[node]) for node in leads_of(facts, motor)}
    ways, found = list(seen), set()
    for label in ways:
        for name, far in at.get(label, ()) if label not in live else ():
            found.add(name)
            if far not in seen:
                seen.add(far)
                ways.append(far)
    return [item for item in facts.contactors if item.id in found]


def _poles_at(facts: Facts, out: Parts) -> dict[int, list[tuple[str, int]]]:
    """By part, the contactors that have a main pole there, each with the part at its other end."""
    found: dict[int, list[tuple[str, int]]] = {}
    for item in facts.contactors:
        for ref in facts.main_poles(item):
            a, b = int(out.label[ref.a]), int(out.label[ref.b])
            found.setdefault(a, []).append((item.id, b))
            found.setdefault(b, []).append((item.id, a))
    return found
