"""What refers two parts of a circuit to each other that nobody has joined: a stray path, an earth fault."""

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.instruments.voltmeter import Reading
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


def referring(assembly: Assembly, frame: Frame, reading: Reading) -> str | None:
    """The place of the one path that nobody laid, without which there would be no way between the probes."""
    if not reading.joined or reading.red == reading.black:
        return None
    a, b = assembly.node(reading.red), assembly.node(reading.black)
    laid = {wire.id for wire in assembly.circuit.conductors}
    unlaid = []
    groups = list(range(len(assembly.nodes)))
    for number, ref in enumerate(assembly.branches):
        if frame.values[number] is None:
            continue
        if ref.branch or ref.place in laid or assembly.nodes[ref.a] == assembly.nodes[ref.b]:
            _join(groups, ref.a, ref.b)
        elif ref.role in (Role.LOAD, Role.PATH):
            unlaid.append(ref)
    if _root(groups, a) == _root(groups, b):
        return None
    closing = [
        ref.place
        for ref in unlaid
        if {_root(groups, ref.a), _root(groups, ref.b)} == {_root(groups, a), _root(groups, b)}
    ]
    return closing[0] if len(closing) == 1 else None


def _root(groups: list[int], node: int) -> int:
    while groups[node] != node:
        groups[node] = groups[groups[node]]
        node = groups[node]
    return node


def _join(groups: list[int], a: int, b: int) -> None:
    groups[_root(groups, a)] = _root(groups, b)
