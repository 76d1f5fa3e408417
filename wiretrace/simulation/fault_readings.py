"""What a voltmeter would show between any two nodes under each of many faults, without solving each anew.

A fault changes a few branches. From the transfer matrix of the nodes (what an ampere into one raises at
another) a changed branch is a correction of rank one to potentials and transfer matrix. Where that would
part the network or join two parts of it, the graph decides and the correction is exact; where it would
lose its digits, or windings on one core are concerned, the circuit is solved.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from wiretrace.catalogue.element import Value
from wiretrace.faults.fault import Fault
from wiretrace.network.solve import Solution
from wiretrace.network.topology import Complexes, Ints
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

METER_OHM: Final = 10e6
SMALLEST: Final = 1e-5
"""Denominator of a correction below which it would lose too many digits."""

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class _Nodes:
    """Potentials, transfer matrix and islands of all nodes, for one kind of current."""

    potential_v: Complexes
    transfer_ohm: Complexes
    island: Ints


@dataclass(frozen=True)
class _Step:
    """A branch whose admittance rises by `rise_s`; `opens` is its number if it is opened, else -1."""

    opens: int
    a: int
    b: int
    rise_s: complex
    emf_v: complex


def readings_under(assembly: Assembly, frame: Frame, faults: Sequence[Fault]) -> Iterator[Floats]:
    """For each fault the volts that a 10 Mohm meter would show between every two terminals.

    The state stays as it is: nothing moves. Rows and columns are the terminals in the order of
    `terminal_nodes`. The assembly must have no faults of its own. Raises SingularNetwork.
    """
    nodes = terminal_nodes(assembly)
    base = [_nodes(solution) for solution in _solutions(frame.point.ac, frame.point.dc)]
    for fault in faults:
        yield _shown(_under(assembly, frame, base, fault), nodes)


def terminal_nodes(assembly: Assembly) -> list[int]:
    """Nodes of all terminals, in the order of the document."""
    return [
        assembly.wiring.node_of[item.id, terminal.name]
        for item in assembly.devices.values()
        for terminal in item.structure.terminals
    ]


def _solutions(ac: Solution, dc: Solution | None) -> list[Solution]:
    return [ac] if dc is None else [ac, dc]


def _nodes(solution: Solution) -> _Nodes:
    shape = solution.topology
    count = len(solution.potential_v)
    fed = np.zeros((shape.size + 1, count), dtype=np.complex128)
    for columns in shape.columns:
        fed[columns, np.arange(count)] = 1
    raised = np.zeros_like(fed)
    raised[:-1] = solution.factor.solve(fed[:-1])
    transfer = sum(raised[columns] for columns in shape.columns[1:])
    return _Nodes(solution.potential_v, raised[shape.columns[0]] + transfer, shape.island)


def _under(assembly: Assembly, frame: Frame, base: Sequence[_Nodes], fault: Fault) -> list[_Nodes]:
    """Potentials and transfer matrices with the fault."""
    values = list(frame.values)
    extra = [] if fault.parts() else list(fault.adds(assembly.wiring))
    for added in extra:
        for index in added.replaces:
            values[index] = None
    fault.disturb(values, assembly.wiring)
    changed = [n for n, (new, old) in enumerate(zip(values, frame.values, strict=True)) if new is not old]
    if not any(n in assembly.equations.coupled for n in changed) and not fault.parts():
        found = []
        for direct, nodes in zip((False, True), base, strict=False):
            steps = [_step(assembly, frame.values, values, n, direct) for n in changed]
            admittance_s = assembly.equations.admittance_s
            steps += [_Step(-1, new.a, new.b, admittance_s(new.with_fault, direct), 0j) for new in extra]
            after = _corrected(assembly, frame.values, nodes, steps)
            if after is None:
                break
            found.append(after)
        else:
            return found
    if not extra and not fault.parts():
        point = assembly.equations.solve(values, frame.point)
        return [_nodes(solution) for solution in _solutions(point.ac, point.dc)]
    faulty = assembly.with_faults([replace(fault, start_us=0, slot_us=0)])
    point = faulty.equations.solve(faulty.values.in_state(frame.state))
    return [_nodes(solution) for solution in _solutions(point.ac, point.dc)]


def _step(
    assembly: Assembly, before: Sequence[Value | None], after: Sequence[Value | None], number: int, direct: bool
) -> _Step:
    ref, old, new = assembly.branches[number], before[number], after[number]
    rise = assembly.equations.admittance_s(new, direct) - assembly.equations.admittance_s(old, direct)
    source = old or new
    emf = 0j if source is None else complex(source.emf_dc_v) if direct else source.emf_v
    return _Step(number if new is None else -1, ref.a, ref.b, rise, emf)


def _corrected(
    assembly: Assembly, values: Sequence[Value | None], nodes: _Nodes, steps: Sequence[_Step]
) -> _Nodes | None:
    """The nodes after all steps; None where a step would lose its digits."""
    opened: set[int] = set()
    for step in steps:
        if step.rise_s == 0:
            continue
        if nodes.island[step.a] != nodes.island[step.b]:
            nodes = _joined(nodes, step)
            continue
        if step.opens >= 0:
            opened.add(step.opens)
            island = _islands(assembly, values, opened, steps)
            if island[step.a] != island[step.b]:
                # Nothing flows in the only way between two parts; they go on as they are, each by itself.
                nodes = _Nodes(nodes.potential_v, nodes.transfer_ohm, island)
                continue
        after = _rank_one(nodes, step)
        if after is None:
            return None
        nodes = after
    return nodes


def _rank_one(nodes: _Nodes, step: _Step) -> _Nodes | None:
    """A branch within one island changes."""
    a, b, transfer = step.a, step.b, nodes.transfer_ohm
    column, row = transfer[:, a] - transfer[:, b], transfer[a, :] - transfer[b, :]
    loop = 1 + step.rise_s * (column[a] - column[b])
    if abs(loop) < SMALLEST:
        return None
    drop = nodes.potential_v[a] - nodes.potential_v[b] + step.emf_v
    share = step.rise_s / loop
    return _Nodes(nodes.potential_v - column * (share * drop), transfer - share * np.outer(column, row), nodes.island)


def _joined(nodes: _Nodes, step: _Step) -> _Nodes:
    """Two islands are joined by one branch: no current, but a potential to each other."""
    here, there = nodes.island == nodes.island[step.a], nodes.island == nodes.island[step.b]
    potential, transfer = nodes.potential_v.copy(), nodes.transfer_ohm.copy()
    potential[there] += potential[step.a] + step.emf_v - potential[step.b]
    for part, zero in ((here, step.a), (there, step.b)):
        block = np.ix_(part, part)
        old = nodes.transfer_ohm
        transfer[block] += old[zero, zero] - old[part, zero][:, None] - old[zero, part][None, :]
    transfer[np.ix_(there, there)] += 1 / step.rise_s
    return _Nodes(potential, transfer, np.where(there, nodes.island[step.a], nodes.island))


def _islands(assembly: Assembly, values: Sequence[Value | None], opened: set[int], steps: Sequence[_Step]) -> Ints:
    """Parts of the network without the branches that were opened, with those that were added."""
    closed = [ref for n, ref in enumerate(assembly.branches) if n not in opened and values[n] is not None]
    a = [ref.a for ref in closed] + [step.a for step in steps if step.opens < 0]
    b = [ref.b for ref in closed] + [step.b for step in steps if step.opens < 0]
    count = len(assembly.nodes)
    graph = coo_array((np.ones(len(a), dtype=np.int8), (a, b)), shape=(count, count))
    return connected_components(graph, directed=False)[1].astype(np.intp)


def _shown(found: Sequence[_Nodes], nodes: list[int]) -> Floats:
    """The larger of the alternating and the direct voltage under the meter, 0 without a way."""
    at = np.array(nodes)
    volts = np.zeros((len(at), len(at)))
    for kind in found:
        potential, transfer = kind.potential_v[at], kind.transfer_ohm[np.ix_(at, at)]
        own = transfer.diagonal()
        source_ohm = own[:, None] + own[None, :] - transfer - transfer.T
        seen = np.abs((potential[:, None] - potential[None, :]) * (METER_OHM / (METER_OHM + source_ohm)))
        seen[kind.island[at][:, None] != kind.island[at][None, :]] = 0.0
        volts = np.maximum(volts, seen)
    return volts
