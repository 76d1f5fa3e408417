"""The way that a device would be fed by, with the places where it is open."""

import heapq
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import product
from typing import Final

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.reach import Path, Standing, feeding, way_back

GAP: Final = 10
"""What an opening costs, in tenths of one: the way with the fewest is the one that is meant."""
OWN_GAP: Final = 15
"""What a contact of the device itself costs: it cannot be the one that starts it."""
FED_GAP: Final = 10_000
"""What an opening costs on the way to something that is fed: that comes by a way that is whole, through any load."""
LOAD: Final = 40
OHM_NANO: Final = 1e9


@dataclass(frozen=True)
class Way:
    """A way from a terminal to a pole: what is passed, and which of the branches passed are open."""

    path: Path
    gaps: tuple[int, ...]
    cost: int


def feeding_pair(
    assembly: Assembly, frame: Frame, device: str, ends: tuple[int, int], fed: bool = False
) -> tuple[Way, Way] | None:
    """The ways by which a load between two nodes is `fed`, or would be, from two poles, with the fewest openings.

    None where no two poles could ever feed it.
    """
    sides = [_ways(assembly, frame, device, end, fed) for end in ends]
    pairs = [
        (one, other)
        for one, other in product(*sides)
        if one.path.pole != other.path.pole and Standing.LIVE in (one.path.standing, other.path.standing)
    ]
    return min(pairs, key=lambda pair: pair[0].cost + pair[1].cost, default=None)


def live_way(assembly: Assembly, frame: Frame, device: str, end: int, fed: bool = False) -> Way | None:
    """The way from a node to a live pole with the fewest openings; through no load of the device itself."""
    ways = [way for way in _ways(assembly, frame, device, end, fed) if way.path.standing is Standing.LIVE]
    return min(ways, key=lambda way: way.cost, default=None)


def poles(assembly: Assembly) -> dict[int, Standing]:
    """Every pole of every source, whether it feeds or not."""
    return {
        assembly.graph.inner[item.id, terminal]: Standing(what)
        for item in assembly.devices.values()
        for terminal, (what, _) in item.kind.poles.items()
    }


def _ways(assembly: Assembly, frame: Frame, device: str, end: int, fed: bool) -> list[Way]:
    """The cheapest way from a node to each pole."""
    known = poles(assembly)
    steps = _steps(assembly, frame, device, fed)
    came: dict[int, tuple[int, int] | None] = {}
    found: list[Way] = []
    heap: list[tuple[int, int, int, tuple[int, int] | None]] = [(0, 0, end, None)]
    while heap:
        cost, nano_ohm, here, step = heapq.heappop(heap)
        if here in came:
            continue
        came[here] = step
        if here in known:
            path = way_back(assembly, came, here, known[here])
            gaps = tuple(number for number in path.branches if frame.values[number] is None)
            found.append(Way(path, gaps, cost))
        for branch, far, more, impedance in steps.get(here, ()):
            if far not in came:
                heapq.heappush(heap, (cost + more, nano_ohm + impedance, far, (here, branch)))
    return found


def _steps(assembly: Assembly, frame: Frame, device: str, fed: bool) -> dict[int, list[tuple[int, int, int, int]]]:
    """Per node the branches there with the far node, their cost, and their impedance in nano-ohm."""
    found: dict[int, list[tuple[int, int, int, int]]] = {}
    laid = {wire.id for wire in assembly.circuit.conductors}
    admittance = abs(frame.point.ac.admittance_s).tolist()
    for number, ref in enumerate(assembly.branches):
        own = ref.place == device
        if ref.role is Role.SOURCE or (own and ref.role is Role.LOAD):
            continue
        if frame.values[number] is not None:
            more = LOAD if ref.role is Role.LOAD else 0
            nano_ohm = round(OHM_NANO / admittance[number]) if admittance[number] else 0
        elif ref.branch or ref.place in laid or assembly.nodes[ref.a] == assembly.nodes[ref.b]:
            gap = FED_GAP if fed else OWN_GAP if own else GAP
            more, nano_ohm = gap + (LOAD if ref.role is Role.LOAD else 0), 0
        else:
            # A path that only a fault would lay is no opening.
            continue
        for here, far in ((ref.a, ref.b), (ref.b, ref.a)):
            found.setdefault(here, []).append((number, far, more, nano_ohm))
    return found


def dead_poles(assembly: Assembly, frame: Frame) -> frozenset[int]:
    """Poles that give no voltage now: their source is off, or without that phase."""
    nodes = [
        assembly.graph.inner[item.id, terminal] for item in assembly.devices.values() for terminal in item.kind.poles
    ]
    return frozenset(node for node, feeds in zip(nodes, feeding(assembly, frame), strict=True) if not feeds)


def bridged(assembly: Assembly, frame: Frame, device: str, gap: int) -> tuple[str, ...]:
    """Contacts of a device that lie, still open, beside an opening: they will hold it once it has picked up."""
    ends = [joined(assembly, frame, node) for node in (assembly.branches[gap].a, assembly.branches[gap].b)]
    return tuple(
        ref.branch
        for number, ref in enumerate(assembly.branches)
        if ref.place == device
        and ref.role is Role.CONTACT
        and frame.values[number] is None
        and any(ref.a in one and ref.b in other for one, other in (ends, ends[::-1]))
    )


def joined(assembly: Assembly, frame: Frame, node: int) -> set[int]:
    """Nodes that wires and closed contacts join to one."""
    ways: dict[int, list[int]] = {}
    for number, ref in enumerate(assembly.branches):
        if frame.values[number] is not None and ref.role not in (Role.LOAD, Role.SOURCE):
            ways.setdefault(ref.a, []).append(ref.b)
            ways.setdefault(ref.b, []).append(ref.a)
    found, todo = {node}, [node]
    while todo:
        for far in ways.get(todo.pop(), ()):
            if far not in found:
                found.add(far)
                todo.append(far)
    return found


def gap_places(assembly: Assembly, ways: Iterable[Way]) -> tuple[tuple[str, str], ...]:
    """The openings of ways as (place, element), each once."""
    refs = [assembly.branches[number] for way in ways for number in way.gaps]
    return tuple(dict.fromkeys((ref.place, ref.branch) for ref in refs))
