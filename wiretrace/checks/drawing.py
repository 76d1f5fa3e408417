"""What of a circuit is still being drawn: ends without a wire, devices that nothing leads to yet."""

from collections.abc import Iterator

from wiretrace.catalogue.machinery.structure import Branch
from wiretrace.checks.facts import Facts
from wiretrace.document.checked import Installed


def loose_ends(facts: Facts) -> Iterator[tuple[Installed, Branch, str]]:
    """Terminals without a wire of elements whose other end has one. Nobody has to use every pole of a supply."""
    used = facts.used_terminals
    for item in facts.items:
        if item.kind.reference_node(item.params) is not None:
            continue
        for branch in item.structure.branches:
            sides = [(item.id, end) in used for end in (branch.a, branch.b)]
            inner = {branch.a, branch.b} & set(item.structure.internal_nodes)
            shared = any(
                other.name != branch.name and {other.a, other.b} & {branch.a, branch.b}
                for other in item.structure.branches
            )
            if sides.count(True) == 1 and not inner and not shared:
                yield item, branch, branch.b if sides[0] else branch.a


def being_drawn(facts: Facts) -> frozenset[str]:
    """Devices with a loose end, and those with terminals of which none has a wire."""

    def found() -> frozenset[str]:
        wired = {device for device, _ in facts.used_terminals}
        bare = {item.id for item in facts.items if item.structure.terminals and item.id not in wired}
        return frozenset({item.id for item, _, _ in loose_ends(facts)} | bare)

    drawn: frozenset[str] = facts.remembered("being drawn", found)
    return drawn
