"""From what branches are worth to potentials and currents: alternating, direct, and as an ohmmeter finds them."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import permutations
from typing import Final

import numpy as np

from wiretrace.catalogue.machinery.element import Tone, Value
from wiretrace.errors import Problem, SingularNetwork
from wiretrace.network.point import AtFrequency, OperatingPoint
from wiretrace.network.solve import Solution, Solver
from wiretrace.network.topology import Complexes, Network
from wiretrace.simulation.graph import Graph

HOLDS_S: Final = 10.0
"""Conductance behind the voltage that a capacitor still holds."""


class Equations:
    """The equations of a graph at one frequency. What they remember only makes them quick; threads may share them."""

    def __init__(self, graph: Graph, frequency_hz: float) -> None:
        self._graph = graph
        self._omega = 2 * math.pi * frequency_hz
        none = np.zeros(len(graph.branches), dtype=np.complex128)
        self._last: tuple[Sequence[Value | None], Complexes, Complexes] = ((None,) * len(none), none, none)
        self._groups = [
            [index for index, name in graph.branches_of[item.id] if name in names]
            for item in graph.devices.values()
            for names in item.kind.coupled
        ]
        self._across = {
            index: tuple(node for other in group for node in graph.ends(other))
            for group in self._groups
            for index in group
        }
        self.coupled = frozenset(index for group in self._groups for index in group)
        """Branches that are windings on one core with others."""
        self._inverses: dict[int, tuple[tuple[Value, ...], Complexes]] = {}
        pairs = [pair for group in self._groups for pair in permutations(group, 2)]
        self._pair_of = {pair: number for number, pair in enumerate(pairs)}
        network = Network(
            len(graph.nodes),
            np.array([ref.a for ref in graph.branches], dtype=np.intp),
            np.array([ref.b for ref in graph.branches], dtype=np.intp),
            graph.ground,
            np.array([to for to, _ in pairs], dtype=np.intp),
            np.array([of for _, of in pairs], dtype=np.intp),
        )
        self._alternating = Solver(network)
        self._direct = Solver(network)

    @property
    def size_bytes(self) -> int:
        """Memory that what is remembered takes."""
        return self._alternating.size_bytes + self._direct.size_bytes

    def across(self, branch: int) -> tuple[int, ...]:
        """Nodes that a branch leads to: its own ends, and those of the windings on one core with it."""
        return self._across.get(branch) or self._graph.ends(branch)

    def seen_from(self, solution: Solution, nodes: Sequence[int]) -> set[int]:
        """The parts of a solved network that these nodes are in, with those beyond windings on one core."""
        island = solution.topology.island
        seen = {int(island[node]) for node in nodes}
        groups = [{int(island[node]) for index in group for node in self._graph.ends(index)} for group in self._groups]
        while more := [group for group in groups if group & seen and group - seen]:
            seen = seen.union(*more)
        return seen

    def admittance_s(self, value: Value | None, direct: bool) -> complex:
        """Admittance of a branch to the alternating or the direct current of the circuit, siemens."""
        if value is None:
            return 0j
        return complex(value.conductance_s()) if direct else value.admittance_s(self._omega)

    def solve(self, values: Sequence[Value | None], near: OperatingPoint | None = None) -> OperatingPoint:
        """Solve for the given values. Raises SingularNetwork with the terminals involved.

        `near` is the point that the circuit was at before, if much of that may still hold.
        """
        admittance, emf = self._phasors(values)
        transfer = self._couple(values, admittance) if self._groups else None
        try:
            alternating = self._alternating.solve(admittance, emf, transfer, near.ac if near else None)
            driven = any(v is not None and v.emf_dc_v for v in values)
            direct = self._solve_direct(values, near.dc if near else None) if driven else None
            tones = {n: v.tone for n, v in enumerate(values) if v is not None and v.tone is not None}
            return OperatingPoint(alternating, direct, self.toned(values, tones) if tones else ())
        except SingularNetwork as error:
            causes = tuple(self._named(problem) for problem in error.problems)
            raise SingularNetwork(causes[0].message, causes) from error

    def toned(self, values: Sequence[Value | None], tones: Mapping[int, Tone]) -> tuple[AtFrequency, ...]:
        """What sources of other frequencies drive, by their branches: each frequency by itself, the lowest first.

        Everything has its impedance at that frequency, and every other source is at zero volts (superposition).
        Raises SingularNetwork.
        """
        found = []
        for frequency_hz in sorted({tone.frequency_hz for tone in tones.values()}):
            emf = np.zeros(len(values), dtype=np.complex128)
            for number, tone in tones.items():
                if tone.frequency_hz == frequency_hz and values[number] is not None:
                    emf[number] = tone.emf_v
            if frequency_hz == 0:
                # What a capacitor holds, it holds whatever a meter takes.
                conductance = _conductances(values)
                conductance[emf != 0] = HOLDS_S
                found.append(AtFrequency(0.0, self._direct.solve(conductance, emf)))
                continue
            omega = 2 * math.pi * frequency_hz
            admittance = np.array([0j if v is None else v.admittance_s(omega) for v in values], dtype=np.complex128)
            transfer = self._couple(values, admittance, omega) if self._groups else None
            found.append(AtFrequency(frequency_hz, self._alternating.solve(admittance, emf, transfer)))
        return tuple(found)

    def solve_dead(self, values: Sequence[Value | None]) -> Solution:
        """Solve with direct current and every source at zero volts, as an ohmmeter finds the circuit.

        Only resistances count: coils are their wire, capacitances are open. Raises SingularNetwork.
        """
        return self._direct.solve(_conductances(values), np.zeros(len(values), dtype=np.complex128))

    def _solve_direct(self, values: Sequence[Value | None], near: Solution | None) -> Solution:
        emf = np.array([0.0 if v is None else v.emf_dc_v for v in values], dtype=np.complex128)
        return self._direct.solve(_conductances(values), emf, near=near)

    def _phasors(self, values: Sequence[Value | None]) -> tuple[Complexes, Complexes]:
        """Admittance and emf of every branch, worked out anew only where the value is another object.

        What was last worked out is replaced as a whole and never changed, so that threads which
        share a circuit do not disturb each other.
        """
        seen, old_admittance, emf = self._last
        admittance = old_admittance.copy()
        for index, (value, before) in enumerate(zip(values, seen, strict=True)):
            if value is not before:
                admittance[index] = 0 if value is None else value.admittance_s(self._omega)
                rise = 0 if value is None else value.emf_v
                if rise != emf[index]:
                    emf = emf.copy()
                    emf[index] = rise
        self._last = (tuple(values), admittance, emf)
        return (admittance.copy() if self._groups else admittance), emf

    def _couple(self, values: Sequence[Value | None], admittance: Complexes, omega: float | None = None) -> Complexes:
        """Transfer admittances of the coupled pairs; sets the own admittances of the windings.

        Windings that are open take no part: the impedance matrix of the others is inverted. Only what belongs to the
        frequency of the supplies is remembered; `omega` is another one.
        """
        transfer = np.zeros(len(self._pair_of), dtype=np.complex128)
        for number, group in enumerate(self._groups):
            wound = [(index, value) for index in group if (value := values[index]) is not None]
            present = tuple(value for _, value in wound)
            known = self._inverses.get(number) if omega is None else None
            if known is None or known[0] != present:
                names = tuple(self._graph.branches[index].branch for index, _ in wound)
                known = (present, _inverse(names, present, omega or self._omega))
                if omega is None:
                    self._inverses[number] = known
            for row, (to, _) in enumerate(wound):
                admittance[to] = known[1][row, row]
                for col, (of, _) in enumerate(wound):
                    if row != col:
                        transfer[self._pair_of[to, of]] = known[1][row, col]
        return transfer

    def _named(self, problem: Problem) -> Problem:
        """A cause given in branch numbers, told in terminals."""
        label = self._graph.node_label
        refs = [self._graph.branches[int(index)] for index in (problem.path or "").split(",") if index]
        places = ", ".join(f"{label(ref.a)} to {label(ref.b)}" for ref in refs[:6])
        device = refs[0].place if refs and refs[0].branch else None
        return replace(problem, message=f"{problem.message} ({places})", device=device, path=None)


def _conductances(values: Sequence[Value | None]) -> Complexes:
    return np.array([0.0 if v is None else v.conductance_s() for v in values], dtype=np.complex128)


def _inverse(names: Sequence[str], values: Sequence[Value], omega: float) -> Complexes:
    """Admittance matrix of coupled windings, siemens."""
    impedance = np.diag(np.array([value.impedance_ohm(omega) for value in values], dtype=complex))
    at = {name: row for row, name in enumerate(names)}
    for row, value in enumerate(values):
        for name, ohm, henry in value.mutual:
            if name in at:
                impedance[row, at[name]] = complex(ohm, omega * henry)
    return np.asarray(np.linalg.inv(impedance), dtype=np.complex128)
