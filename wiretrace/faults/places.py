"""Places that lie beside each other, where a wire is taken for its neighbour or touches it."""

from collections.abc import Iterator, Mapping
from itertools import pairwise

from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, Conductor, End
from wiretrace.document.nets import nets
from wiretrace.faults.spots import Side


def neighbours(item: Installed) -> Iterator[tuple[str, str]]:
    """Terminals of a device that are next to each other, or next but one: poles stand in two rows."""
    names = [terminal.name for terminal in item.structure.terminals]
    yield from pairwise(names)
    yield from zip(names, names[2:], strict=False)


def bridged_by_an_element(item: Installed, one: str, other: str) -> bool:
    """Does an element of the device lie between these terminals? It is then shorted or welded, and no bridge."""
    return any({branch.a, branch.b} == {one, other} for branch in item.structure.branches)


def wire_ends(circuit: Circuit) -> Mapping[End, tuple[tuple[Conductor, Side], ...]]:
    """The ends of conductors at every terminal."""
    found: dict[End, tuple[tuple[Conductor, Side], ...]] = {}
    for wire in circuit.conductors:
        found[wire.a] = (*found.get(wire.a, ()), (wire, "a"))
        found[wire.b] = (*found.get(wire.b, ()), (wire, "b"))
    return found


def potentials(circuit: Circuit) -> Mapping[End, int]:
    """The potential, by number, of every terminal that has a wire."""
    return {end: number for number, net in enumerate(nets(circuit)) for end in net.ends}


def earths(devices: Mapping[str, Installed]) -> tuple[End, ...]:
    """The earth terminals of the supplies."""
    return tuple(
        End(device=item.id, terminal=name)
        for item in devices.values()
        for name, (what, _) in item.kind.poles.items()
        if what == "earth"
    )
