"""Where each terminal gets its potential from: through contacts, through a load, or nowhere."""

import heapq
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

DEAD_V = 0.5
"""Volts below which a winding feeds nothing."""


class Standing(StrEnum):
    """How a terminal is joined to a source."""

    LIVE = "live"  # to a live pole through closed contacts alone
    NEUTRAL = "neutral"  # to the neutral or common
    EARTH = "earth"
    LOAD = "load"  # only through a load
    NONE = "none"  # to nothing: no reference


@dataclass(frozen=True)
class Path:
    """The way from a node to a pole of a source, the node first.

    `branches` are numbers of the assembly's branches in the order in which they are passed, and
    `loads` those of them that are loads. `pole` is None when there is no way to any source.
    """

    standing: Standing
    pole: int | None
    nodes: tuple[int, ...]
    branches: tuple[int, ...]
    loads: tuple[int, ...]


@dataclass(frozen=True)
class Reach:
    """For every node the pole it is joined to, the standing, and the step towards the pole."""

    standing: tuple[Standing, ...]
    pole: tuple[int | None, ...]
    step: tuple[int | None, ...]
    """Branch that leads from the node one step nearer to its pole."""

    def path(self, assembly: Assembly, node: int) -> Path:
        """The way from `node` to its pole."""
        nodes, branches = [node], []
        while (branch := self.step[nodes[-1]]) is not None:
            ref = assembly.branches[branch]
            branches.append(branch)
            nodes.append(ref.b if ref.a == nodes[-1] else ref.a)
        loads = tuple(number for number in branches if assembly.branches[number].role is Role.LOAD)
        return Path(self.standing[node], self.pole[node], tuple(nodes), tuple(branches), loads)


def reach(assembly: Assembly, frame: Frame) -> Reach:
    """How every node is joined to the sources in a state.

    Ways through closed contacts, conductors and heaters come first; a way through loads is
    taken only where there is no other, and then the one of least impedance.
    """
    poles = _poles(assembly, frame)
    count = len(assembly.nodes)
    best: list[tuple[int, int] | None] = [None] * count
    step: list[int | None] = [None] * count
    pole: list[int | None] = [None] * count
    neighbours = _neighbours(assembly, frame)
    heap: list[tuple[int, int, int, int, int | None]] = [(0, 0, node, node, None) for node in sorted(poles)]
    while heap:
        loads, nano_ohm, node, source, came_by = heapq.heappop(heap)
        if best[node] is not None:
            continue
        best[node], step[node], pole[node] = (loads, nano_ohm), came_by, source
        for branch, neighbour, impedance in neighbours[node]:
            if best[neighbour] is None:
                is_load = assembly.branches[branch].role is Role.LOAD
                heapq.heappush(heap, (loads + is_load, nano_ohm + impedance, neighbour, source, branch))
    standing = tuple(_standing(poles, best[node], pole[node]) for node in range(count))
    return Reach(standing, tuple(pole), tuple(step))


def ways_to_poles(assembly: Assembly, frame: Frame, node: int) -> tuple[Path, ...]:
    """The best way from a node to each pole that it reaches through as few loads as any, of least impedance first.

    Of poles that are joined to each other without a load only the nearest counts.
    """
    poles, neighbours = _poles(assembly, frame), _neighbours(assembly, frame)
    came: dict[int, tuple[int, int] | None] = {}
    heap: list[tuple[int, int, int, tuple[int, int] | None]] = [(0, 0, node, None)]
    found: list[Path] = []
    fewest = len(assembly.branches)
    while heap and heap[0][0] <= fewest:
        loads, nano_ohm, here, step = heapq.heappop(heap)
        if here in came:
            continue
        came[here] = step
        if here in poles:
            fewest = loads
            found.append(way_back(assembly, came, here, poles[here] if loads == 0 else Standing.LOAD))
        for branch, neighbour, impedance in neighbours[here]:
            if neighbour not in came:
                is_load = assembly.branches[branch].role is Role.LOAD
                heapq.heappush(heap, (loads + is_load, nano_ohm + impedance, neighbour, (here, branch)))
    return tuple(_apart(frame, found))


def way_back(assembly: Assembly, came: Mapping[int, tuple[int, int] | None], pole: int, standing: Standing) -> Path:
    """The way to a pole from where a search began; `came` says for each node the step by which it was reached."""
    nodes, branches = [pole], []
    while (step := came[nodes[-1]]) is not None:
        nodes.append(step[0])
        branches.append(step[1])
    nodes.reverse()
    branches.reverse()
    loads = tuple(number for number in branches if assembly.branches[number].role is Role.LOAD)
    return Path(standing, pole, tuple(nodes), tuple(branches), loads)


def _apart(frame: Frame, ways: Sequence[Path]) -> Iterator[Path]:
    """Ways to poles that stand at other potentials than those before."""
    kept: list[Path] = []
    for way in ways:
        if way.pole is not None and all(_volts(frame, way.pole, other.pole) > DEAD_V for other in kept):
            kept.append(way)
            yield way


def _volts(frame: Frame, one: int, two: int | None) -> float:
    if two is None:
        return 0.0
    return frame.point.largest_v(one, two)


def _standing(poles: Mapping[int, Standing], best: tuple[int, int] | None, pole: int | None) -> Standing:
    if best is None or pole is None:
        return Standing.NONE
    return poles[pole] if best[0] == 0 else Standing.LOAD


def feeding(assembly: Assembly, frame: Frame) -> tuple[bool, ...]:
    """Whether each pole of each source feeds: a live pole counts only while its source is there."""
    found = []
    for item in assembly.devices.values():
        for what, branch in item.kind.poles.values():
            fed = frame.values[assembly.branch_index(item.id, branch)] is not None
            dead = item.kind.coupled and frame.signals[item.id][branch].rms_v < DEAD_V
            found.append((fed and not dead) or what != Standing.LIVE)
    return tuple(found)


def _poles(assembly: Assembly, frame: Frame) -> dict[int, Standing]:
    """Nodes that are poles of a source that feeds."""
    named = [
        (assembly.graph.inner[item.id, terminal], Standing(what))
        for item in assembly.devices.values()
        for terminal, (what, _) in item.kind.poles.items()
    ]
    return {node: what for (node, what), feeds in zip(named, feeding(assembly, frame), strict=True) if feeds}


def _neighbours(assembly: Assembly, frame: Frame) -> Sequence[Sequence[tuple[int, int, int]]]:
    """Per node the branches that conduct there, with the far node and the impedance in nano-ohm.

    Whole numbers, so that equal ways (two windings of one motor) tie on every machine whatever
    the last digit of their admittances is, and the order of the terminals decides.
    """
    found: list[list[tuple[int, int, int]]] = [[] for _ in assembly.nodes]
    admittance = abs(frame.point.ac.admittance_s).tolist()
    for number, (ref, size) in enumerate(zip(assembly.branches, admittance, strict=True)):
        if size == 0 or ref.role is Role.SOURCE:
            continue
        nano_ohm = _significant(1e9 / size)
        found[ref.a].append((number, ref.b, nano_ohm))
        found[ref.b].append((number, ref.a, nano_ohm))
    return found


def _significant(value: float) -> int:
    """A whole number that agrees with the value in nine digits."""
    return round(float(f"{value:.9g}"))
