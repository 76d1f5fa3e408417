"""What a voltmeter would show between any two nodes under each of many faults, without solving each anew.

A fault changes a few branches. From the transfer matrix of the nodes (what an ampere into one raises at
another) a changed branch is a correction of rank one to potentials and transfer matrix. Where that would
part the network or join two parts of it, the graph decides and the correction is exact; where it would
lose its digits, or windings on one core are concerned, the circuit is solved.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.catalogue.machinery.element import Value
from wiretrace.faults.fault import Fault
from wiretrace.network.point import OperatingPoint
from wiretrace.network.solve import SMALLEST_LEFT, Solution
from wiretrace.network.topology import Bools, Complexes, Ints
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.state import State

METER_OHM: Final = 10e6
OPEN_OHM: Final = 60e6
"""What an ohmmeter shows as OL."""
SMALLEST: Final = 1e-5
"""Denominator of a correction below which it would lose too many digits."""

Floats = NDArray[np.float64]
Values = Sequence[Value | None]


@dataclass(frozen=True)
class Nodes:
    """Potentials, transfer matrix and islands of all nodes, for one kind of current.

    `solution` is what they were taken from, None where a correction came after.
    """

    potential_v: Complexes
    transfer_ohm: Complexes
    island: Ints
    solution: Solution | None = None
    hertz: float | None = None
    """Its frequency where that is not the one of the supplies; 0 for direct current."""

    @property
    def direct(self) -> bool:
        return self.hertz == 0


@dataclass(frozen=True)
class Solved:
    """A state as it was solved without faults: what branches are worth, and the nodes for each kind of current.

    `dead` is as an ohmmeter finds it: without sources, only resistances count.
    """

    state: State
    values: Values
    nodes: tuple[Nodes, ...]
    dead: bool = False


@dataclass(frozen=True)
class _Step:
    """A branch whose admittance rises by `rise_s`; `number` is -1 for one that is added."""

    number: int
    opens: bool
    a: int
    b: int
    rise_s: complex
    emf_v: complex


def solved(assembly: Assembly, state: State, values: Values, dead: bool = False) -> Solved:
    """The nodes of a circuit whose branches have these values. Raises SingularNetwork."""
    return Solved(state, values, _solve(assembly, values, dead), dead)


def _solve(assembly: Assembly, values: Values, dead: bool) -> tuple[Nodes, ...]:
    if dead:
        return (replace(_nodes(assembly.equations.solve_dead(values)), hertz=0.0),)
    return nodes_of(assembly.equations.solve(values))


def nodes_of(point: OperatingPoint) -> tuple[Nodes, ...]:
    """The nodes for each kind of current."""
    tones = [replace(_nodes(one.flow), hertz=one.frequency_hz) for one in point.others]
    still = [replace(_nodes(one), hertz=0.0) for one in point.direct]
    return _nodes(point.ac), *tones, *still


def dead_values(assembly: Assembly, state: State) -> list[Value | None]:
    """What branches are worth with the supplies taken off."""
    values = assembly.values.in_state(state)
    for item in assembly.devices.values():
        if item.kind.poles and not item.kind.coupled:
            for _, branch in item.kind.poles.values():
                values[assembly.branch_index(item.id, branch)] = None
    return values


def readings_under(assembly: Assembly, frame: Frame, faults: Sequence[Fault]) -> Iterator[Floats]:
    """For each fault the volts that a 10 Mohm meter would show between every two terminals.

    The state stays as it is: nothing moves. Rows and columns are the terminals in the order of
    `terminal_nodes`. The assembly must have no faults of its own. Raises SingularNetwork.
    """
    at = np.array(terminal_nodes(assembly))
    red, black = np.meshgrid(at, at, indexing="ij")
    base = solved(assembly, frame.state, frame.values)
    for fault in faults:
        yield volts_between(nodes_under(assembly, base, fault), red, black)


def terminal_nodes(assembly: Assembly) -> list[int]:
    """Nodes of all terminals, in the order of the document."""
    return [
        assembly.graph.node_of[item.id, terminal.name]
        for item in assembly.devices.values()
        for terminal in item.structure.terminals
    ]


def _nodes(solution: Solution) -> Nodes:
    shape = solution.topology
    count = len(solution.potential_v)
    fed = np.zeros((shape.size + 1, count), dtype=np.complex128)
    for columns in shape.columns:
        fed[columns, np.arange(count)] = 1
    raised = np.zeros_like(fed)
    if shape.size:
        raised[:-1] = solution.factor.solve(fed[:-1])
    transfer = sum(raised[columns] for columns in shape.columns[1:])
    return Nodes(solution.potential_v, raised[shape.columns[0]] + transfer, shape.island, solution)


def nodes_under(assembly: Assembly, base: Solved, fault: Fault) -> tuple[Nodes, ...]:
    """Potentials and transfer matrices with a fault in the state that was solved. Raises SingularNetwork."""
    values = list(base.values)
    extra = [] if fault.parts() else list(fault.adds(assembly.graph))
    for added in extra:
        for index in added.replaces:
            values[index] = None
    fault.disturb(values, assembly.graph)
    changed = [n for n, (new, old) in enumerate(zip(values, base.values, strict=True)) if new is not old]
    coupled = any(n in assembly.equations.coupled for n in changed)
    if not coupled and not fault.parts():
        found = []
        for nodes in base.nodes:
            steps = [_step(assembly, base, values, n, nodes.hertz) for n in changed]
            steps += [
                _Step(-1, False, new.a, new.b, _admittance_s(assembly, new.with_fault, nodes.hertz), 0j)
                for new in extra
            ]
            after = _corrected(assembly, nodes, steps)
            if after is None:
                break
            found.append(replace(after, hertz=nodes.hertz))
        else:
            return tuple(found)
    if not extra and not fault.parts():
        return _solve(assembly, values, base.dead)
    faulty = assembly.with_faults([replace(fault, start_us=0, slot_us=0)])
    own = dead_values(faulty, base.state) if base.dead else faulty.values.in_state(base.state)
    return _solve(faulty, own, base.dead)


def _admittance_s(assembly: Assembly, value: Value | None, hertz: float | None) -> complex:
    if value is not None and hertz:
        return value.admittance_s(2 * math.pi * hertz)
    return assembly.equations.admittance_s(value, direct=hertz == 0)


def _emf_v(source: Value | None, hertz: float | None) -> complex:
    """The source in a branch at a frequency."""
    if source is None:
        return 0j
    if hertz is None:
        return source.emf_v
    if hertz == 0:
        return complex(source.emf_dc_v)
    return source.tone.emf_v if source.tone is not None and source.tone.frequency_hz == hertz else 0j


def _step(assembly: Assembly, base: Solved, after: Values, number: int, hertz: float | None) -> _Step:
    ref, old, new = assembly.branches[number], base.values[number], after[number]
    then = _admittance_s(assembly, new, hertz)
    rise = then - _admittance_s(assembly, old, hertz)
    emf = _emf_v(None if base.dead else old or new, hertz)
    return _Step(number, then == 0, ref.a, ref.b, rise, emf)


def _corrected(assembly: Assembly, nodes: Nodes, steps: Sequence[_Step]) -> Nodes | None:
    """The nodes after all steps; None where a step would lose its digits."""
    if nodes.solution is None:
        return None
    conducts = nodes.solution.admittance_s != 0
    for step in steps:
        if step.number >= 0:
            conducts[step.number] = not step.opens
        if step.rise_s == 0:
            continue
        if nodes.island[step.a] != nodes.island[step.b]:
            nodes = _joined(nodes, step)
            continue
        after = _rank_one(nodes, step)
        if after is None and step.opens:
            after = _parted(assembly, nodes, conducts, step)
        if after is None:
            return None
        nodes = after
    return nodes


def _rank_one(nodes: Nodes, step: _Step) -> Nodes | None:
    """A branch within one island changes; None where it would lose its digits, or parts the island."""
    a, b, transfer = step.a, step.b, nodes.transfer_ohm
    column, row = transfer[:, a] - transfer[:, b], transfer[a, :] - transfer[b, :]
    own_ohm, volts, smallest = column[a] - column[b], nodes.potential_v[a] - nodes.potential_v[b], SMALLEST
    if nodes.solution is not None and step.number >= 0:
        # The solution tells both from offsets, in which small differences of large numbers are not lost.
        own_ohm, volts = nodes.solution.own_ohm(step.number), nodes.solution.drop_v[step.number]
        smallest = SMALLEST_LEFT
    loop = 1 + step.rise_s * own_ohm
    if abs(loop) < smallest:
        return None
    drop, share = volts + step.emf_v, step.rise_s / loop
    return Nodes(nodes.potential_v - column * (share * drop), transfer - share * np.outer(column, row), nodes.island)


def _parted(assembly: Assembly, nodes: Nodes, conducts: Bools, step: _Step) -> Nodes | None:
    """A branch opens that was the only way between two parts: nothing flowed in it, and they go on as they are.

    A branch that is added joins them afterwards, where it does.
    """
    ways: dict[int, list[int]] = {}
    for a, b in map(assembly.graph.ends, np.flatnonzero(conducts).tolist()):
        ways.setdefault(a, []).append(b)
        ways.setdefault(b, []).append(a)
    reached, todo = {step.a}, [step.a]
    while todo:
        for node in ways.get(todo.pop(), ()):
            if node not in reached:
                reached.add(node)
                todo.append(node)
    if step.b in reached:
        return None
    island = nodes.island.copy()
    island[list(reached)] = island.max() + 1
    return Nodes(nodes.potential_v, nodes.transfer_ohm, island)


def _joined(nodes: Nodes, step: _Step) -> Nodes:
    """Two islands are joined by one branch: no current, but a potential to each other."""
    here, there = nodes.island == nodes.island[step.a], nodes.island == nodes.island[step.b]
    potential, transfer = nodes.potential_v.copy(), nodes.transfer_ohm.copy()
    potential[there] += potential[step.a] + step.emf_v - potential[step.b]
    for part, zero in ((here, step.a), (there, step.b)):
        block = np.ix_(part, part)
        old = nodes.transfer_ohm
        transfer[block] += old[zero, zero] - old[part, zero][:, None] - old[zero, part][None, :]
    transfer[np.ix_(there, there)] += 1 / step.rise_s
    # Both are told against the node where they are joined; parts of what was one until now have other figures there.
    transfer[np.ix_(here, there)] = transfer[np.ix_(there, here)] = 0
    return Nodes(potential, transfer, np.where(there, nodes.island[step.a], nodes.island))


def volts_between(found: Sequence[Nodes], red: Ints, black: Ints) -> Floats:
    """What a voltmeter shows from nodes to nodes: the larger of both kinds of voltage under it, 0 without a way."""
    alternating, direct = np.zeros(red.shape), np.zeros(red.shape)
    for kind in found:
        open_v = kind.potential_v[red] - kind.potential_v[black]
        seen = np.abs(open_v * (METER_OHM / (METER_OHM + _source_ohm(kind, red, black))))
        joined = np.where(kind.island[red] == kind.island[black], seen, 0.0)
        if kind.direct:
            direct = joined
        else:
            alternating = np.hypot(alternating, joined)
    return np.maximum(alternating, direct)


def ohms_between(found: Sequence[Nodes], red: Ints, black: Ints) -> Floats:
    """What an ohmmeter shows from nodes to nodes of a dead circuit: infinite for OL."""
    (kind,) = found
    ohm = np.abs(_source_ohm(kind, red, black).real)
    return np.where((kind.island[red] == kind.island[black]) & (ohm <= OPEN_OHM), ohm, np.inf)


def _source_ohm(kind: Nodes, red: Ints, black: Ints) -> Complexes:
    own, transfer = kind.transfer_ohm.diagonal(), kind.transfer_ohm
    source: Complexes = own[red] + own[black] - transfer[red, black] - transfer[black, red]
    return source
