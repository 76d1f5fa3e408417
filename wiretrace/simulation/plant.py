"""A circuit made ready to be solved: nodes for terminals, branches for everything that conducts."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import permutations
from typing import Final

import numpy as np

from wiretrace.catalogue.device import DeviceState, Role, Signal, Value
from wiretrace.circuit.checked import Installed, check_circuit
from wiretrace.circuit.document import Circuit, Conductor, End, Stray
from wiretrace.circuit.nets import nets, numbers_by_end
from wiretrace.errors import InvalidCircuit, Problem, SingularNetwork, UnknownTarget
from wiretrace.faults.fault import Fault, FaultKind
from wiretrace.network.solve import Solution, Solver
from wiretrace.network.topology import Complexes, Network
from wiretrace.simulation.state import State

COPPER_OHM_MM2_PER_M: Final = 0.0178
"""Resistivity of copper conductors at 20 degrees Celsius (IEC 60228)."""

DEFAULT_FREQUENCY_HZ: Final = 50.0


@dataclass(frozen=True)
class BranchRef:
    """Where a branch of the network comes from; `branch` is empty for conductors and strays."""

    place: str
    branch: str
    role: Role
    a: int
    b: int


Node = tuple[str, str]
"""A device id with a terminal or internal node of that device."""


class Plant:
    """A compiled circuit. Unchanging but for what it remembers to be quick; threads may share it.

    Raises InvalidCircuit when the circuit contradicts the catalogue or itself.
    """

    def __init__(self, circuit: Circuit) -> None:
        self.circuit = circuit
        self.devices: Mapping[str, Installed] = {item.id: item for item in check_circuit(circuit)}
        self.nodes: tuple[Node, ...] = tuple(
            (item.id, name)
            for item in self.devices.values()
            for name in (*(t.name for t in item.structure.terminals), *item.structure.internal_nodes)
        )
        self.node_of: Mapping[Node, int] = {node: index for index, node in enumerate(self.nodes)}
        self.net_numbers = numbers_by_end(nets(circuit))
        self.frequency_hz = self._frequency()
        self.branches = (*self._device_branches(), *self._link_branches())
        self._branch_of = {(ref.place, ref.branch): index for index, ref in enumerate(self.branches)}
        self._branches_of = {
            item.id: [(self._branch_of[item.id, branch.name], branch.name) for branch in item.structure.branches]
            for item in self.devices.values()
        }
        # The last state of each device with its values: most devices stand still most of the time.
        self._worth: dict[str, tuple[DeviceState, Mapping[str, Value]]] = {}
        none = np.zeros(len(self.branches), dtype=np.complex128)
        self._last: tuple[Sequence[Value | None], Complexes, Complexes] = ((None,) * len(none), none, none)
        self._fixed = [(None if ref.branch else self._link_value(ref.place)) for ref in self.branches]
        self._groups = [
            [self._branch_of[item.id, name] for name in names]
            for item in self.devices.values()
            for names in item.kind.coupled
        ]
        pairs = [pair for group in self._groups for pair in permutations(group, 2)]
        self._pair_of = {pair: number for number, pair in enumerate(pairs)}
        network = Network(
            len(self.nodes),
            np.array([ref.a for ref in self.branches], dtype=np.intp),
            np.array([ref.b for ref in self.branches], dtype=np.intp),
            self._ground(),
            np.array([to for to, _ in pairs], dtype=np.intp),
            np.array([of for _, of in pairs], dtype=np.intp),
        )
        self._solver = Solver(network)

    def node(self, end: End) -> int:
        """Node of a terminal. Raises UnknownTarget when the circuit has no such terminal."""
        node = self.node_of.get((end.device, end.terminal))
        installed = self.devices.get(end.device)
        if node is None or installed is None or end.terminal in installed.structure.internal_nodes:
            label = installed.label if installed else end.device
            message = f"There is no terminal {label}:{end.terminal} in this circuit."
            raise UnknownTarget(message, (Problem("unknown_terminal", message, end.device, end.terminal),))
        return node

    def branch_index(self, place: str, branch: str = "") -> int:
        """Number of a branch. Raises UnknownTarget when there is none."""
        index = self._branch_of.get((place, branch))
        if index is None:
            name = self.devices[place].label if place in self.devices else place
            message = f"{name} has no element {branch}." if branch else f"There is no conductor {name}."
            raise UnknownTarget(message, (Problem("unknown_element", message, place),))
        return index

    def values(self, state: State) -> list[Value | None]:
        """What every branch is worth in a state, faults included; None where open."""
        values = list(self._fixed)
        for item in self.devices.values():
            device = state.devices[item.id]
            known = self._worth.get(item.id)
            if known is None or known[0] is not device:
                known = self._worth[item.id] = (device, item.kind.values(item.params, device))
            for index, name in self._branches_of[item.id]:
                values[index] = known[1].get(name)
        for fault in state.faults:
            index = self.branch_index(fault.place, fault.branch)
            values[index] = _faulty(values[index], fault)
        return values

    def solve(self, values: Sequence[Value | None]) -> Solution:
        """Solve for the given values. Raises SingularNetwork with the terminals involved."""
        admittance, emf = self._phasors(values)
        transfer = self._couple(values, admittance) if self._groups else None
        try:
            return self._solver.solve(admittance, emf, transfer)
        except SingularNetwork as error:
            causes = tuple(self._named(problem) for problem in error.problems)
            raise SingularNetwork(causes[0].message, causes) from error

    def solve_dead(self, values: Sequence[Value | None]) -> Solution:
        """Solve with direct current and every source at zero volts, as an ohmmeter finds the circuit.

        Only resistances count: coils are their wire, capacitances are open. Raises SingularNetwork.
        """
        conductance = [0 if v is None or v.resistance_ohm == 0 else 1 / v.resistance_ohm for v in values]
        ideal = [v is not None and v.resistance_ohm == 0 and v.capacitance_f == 0 for v in values]
        admittance = np.where(ideal, np.inf, np.array(conductance, dtype=complex))
        return self._solver.solve(admittance, np.zeros(len(admittance), dtype=np.complex128))

    def _phasors(self, values: Sequence[Value | None]) -> tuple[Complexes, Complexes]:
        """Admittance and emf of every branch, worked out anew only where the value is another object.

        What was last worked out is replaced as a whole and never changed, so that threads which
        share a plant do not disturb each other.
        """
        omega = 2 * math.pi * self.frequency_hz
        seen, old_admittance, old_emf = self._last
        admittance, emf = old_admittance.copy(), old_emf.copy()
        for index, (value, before) in enumerate(zip(values, seen, strict=True)):
            if value is not before:
                admittance[index] = 0 if value is None else _admittance(value, omega)
                emf[index] = 0 if value is None else value.emf_v
        self._last = (tuple(values), admittance, emf)
        return admittance, emf

    def _couple(self, values: Sequence[Value | None], admittance: Complexes) -> Complexes:
        """Transfer admittances of the coupled pairs; sets the own admittances of the windings.

        Windings that are open take no part: the impedance matrix of the others is inverted.
        """
        omega = 2 * math.pi * self.frequency_hz
        transfer = np.zeros(len(self._pair_of), dtype=np.complex128)
        for group in self._groups:
            wound = [(index, value) for index in group if (value := values[index]) is not None]
            impedance = np.diag(np.array([value.impedance_ohm(omega) for _, value in wound], dtype=complex))
            names = {self.branches[index].branch: at for at, (index, _) in enumerate(wound)}
            for row, (_, value) in enumerate(wound):
                for name, mutual_h in value.mutual_h:
                    if name in names:
                        impedance[row, names[name]] = 1j * omega * mutual_h
            inverse = np.linalg.inv(impedance)
            for row, (to, _) in enumerate(wound):
                admittance[to] = inverse[row, row]
                for col, (of, _) in enumerate(wound):
                    if row != col:
                        transfer[self._pair_of[to, of]] = inverse[row, col]
        return transfer

    def signals(self, solution: Solution) -> dict[str, dict[str, Signal]]:
        """Volts and amperes of every device branch, by device id and branch name."""
        found: dict[str, dict[str, Signal]] = {device_id: {} for device_id in self.devices}
        drops, currents = solution.drop_v.tolist(), solution.current_a.tolist()
        for ref, drop, current in zip(self.branches, drops, currents, strict=True):
            if ref.branch:
                found[ref.place][ref.branch] = Signal(drop, current)
        return found

    def _frequency(self) -> float:
        found = {
            item.label: frequency
            for item in self.devices.values()
            if (frequency := item.kind.frequency_hz(item.params)) is not None
        }
        if len(set(found.values())) > 1:
            message = "The supplies differ in frequency: "
            message += ", ".join(f"{label} {value:g} Hz" for label, value in found.items()) + "."
            raise InvalidCircuit(message, (Problem("frequencies_differ", message),))
        return next(iter(found.values()), DEFAULT_FREQUENCY_HZ)

    def _ground(self) -> int:
        for item in self.devices.values():
            name = item.kind.reference_node(item.params)
            if name is not None:
                return self.node_of[item.id, name]
        return -1

    def _device_branches(self) -> list[BranchRef]:
        return [
            BranchRef(
                item.id,
                branch.name,
                branch.role,
                self.node_of[item.id, branch.a],
                self.node_of[item.id, branch.b],
            )
            for item in self.devices.values()
            for branch in item.structure.branches
        ]

    def _link_branches(self) -> list[BranchRef]:
        links: tuple[tuple[Conductor | Stray, Role], ...] = (
            *((conductor, Role.PATH) for conductor in self.circuit.conductors),
            *((stray, Role.LOAD) for stray in self.circuit.strays),
        )
        return [BranchRef(link.id, "", role, self.node(link.a), self.node(link.b)) for link, role in links]

    def _link_value(self, link_id: str) -> Value:
        for conductor in self.circuit.conductors:
            if conductor.id == link_id:
                return Value(COPPER_OHM_MM2_PER_M * conductor.length_m / conductor.cross_section_mm2)
        stray = next(stray for stray in self.circuit.strays if stray.id == link_id)
        return Value(stray.resistance_ohm or 0.0, capacitance_f=(stray.capacitance_nf or 0.0) * 1e-9)

    def _named(self, problem: Problem) -> Problem:
        """A cause given in branch numbers, told in terminals."""
        refs = [self.branches[int(index)] for index in (problem.path or "").split(",") if index]
        places = ", ".join(f"{self.node_label(ref.a)} to {self.node_label(ref.b)}" for ref in refs[:6])
        device = refs[0].place if refs and refs[0].branch else None
        return replace(problem, message=f"{problem.message} ({places})", device=device, path=None)

    def node_label(self, node: int) -> str:
        """A node as people write it: K1:13."""
        device_id, name = self.nodes[node]
        return f"{self.devices[device_id].label}:{name}"


def _admittance(value: Value, omega: float) -> complex:
    if value.resistance_ohm == 0 and value.inductance_h == 0 and value.capacitance_f == 0:
        return complex(math.inf, 0)
    return value.admittance_s(omega)


def _faulty(value: Value | None, fault: Fault) -> Value | None:
    if value is None or fault.kind is FaultKind.OPEN:
        return None
    return replace(value, resistance_ohm=value.resistance_ohm + fault.resistance_ohm)
