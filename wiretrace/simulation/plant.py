"""A circuit made ready to be solved: nodes for terminals, branches for everything that conducts."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import permutations
from typing import Final

import numpy as np

from wiretrace.catalogue.device import DeviceState, Kind, Params, Role
from wiretrace.catalogue.element import Signal, Value
from wiretrace.circuit.checked import Installed, check_circuit, check_consistent
from wiretrace.circuit.document import Circuit, Conductor, End, Stray
from wiretrace.circuit.nets import nets, numbers_by_end
from wiretrace.errors import InvalidCircuit, Problem, SingularNetwork, UnknownTarget
from wiretrace.faults.check import check_faults
from wiretrace.faults.fault import Fault, FaultKind
from wiretrace.network.solve import OperatingPoint, Solution, Solver
from wiretrace.network.topology import Complexes, Network
from wiretrace.simulation.signals import BranchSignals
from wiretrace.simulation.state import State

COPPER_OHM_MM2_PER_M: Final = 0.0178
"""Resistivity of copper conductors at 20 degrees Celsius (IEC 60228)."""

DEFAULT_FREQUENCY_HZ: Final = 50.0
BYTES_EACH: Final = 1_500
"""Memory for each node and branch, as measured."""
JOINT_OHM: Final = 1e-4
"""Resistance of a sound clamp that is to go bad."""


ON_A_BRANCH: Final = (FaultKind.OPEN, FaultKind.HIGH_RESISTANCE, FaultKind.WELDED, FaultKind.WRONG_CONTACT)
"""Kinds of fault that change the value of a branch that is there anyway."""


@dataclass(frozen=True)
class BranchRef:
    """Where a branch of the network comes from; `branch` is empty for conductors, strays and faults."""

    place: str
    branch: str
    role: Role
    a: int
    b: int


Node = tuple[str, str]
"""A device id with a terminal or internal node of that device."""


@dataclass(frozen=True)
class _Extra:
    """A branch that is there for the sake of a fault: its number, its value with the fault and without.

    With the fault the branches `replaces` conduct no more.
    """

    index: int
    with_fault: Value | None
    without: Value | None
    replaces: tuple[int, ...] = ()


class Plant:
    """A compiled circuit with the faults it may have. Raises InvalidCircuit when the circuit contradicts the
    catalogue or itself, UnknownTarget when a fault names nothing.

    Unchanging but for what it remembers to be quick; threads may share it. A fault that adds a way for
    current adds branches after all others, and a clamp that goes bad adds a node: what hangs on the
    terminal inside the device. So numbers of nodes and branches do not depend on the faults.
    """

    def __init__(self, circuit: Circuit, faults: Sequence[Fault] = ()) -> None:
        self.circuit = circuit
        self.faults = tuple(faults)
        self.devices: Mapping[str, Installed] = {item.id: item for item in check_circuit(circuit)}
        check_consistent(self.devices.values())
        check_faults(circuit, self.devices, self.faults)
        self.nodes: list[Node] = [
            (item.id, name)
            for item in self.devices.values()
            for name in (*(t.name for t in item.structure.terminals), *item.structure.internal_nodes)
        ]
        self.node_of: Mapping[Node, int] = {node: index for index, node in enumerate(self.nodes)}
        self.net_numbers = numbers_by_end(nets(circuit))
        self.frequency_hz = self._frequency()
        self.inner = dict(self.node_of)
        """Node that a terminal is inside its device; another than that of the clamp when the clamp goes bad."""
        clamps = self._part_clamps()
        self.branches = [*self._device_branches(), *self._link_branches()]
        self._branch_of = {(ref.place, ref.branch): index for index, ref in enumerate(self.branches)}
        self._fixed = [*(None for ref in self.branches if ref.branch), *_link_values(circuit)]
        self._laid_by = {ref.place: [index] for index, ref in enumerate(self.branches) if not ref.branch}
        """Branches of each conductor: its own, and those that faults put in its place."""
        self._extras = [self._extra_branches(fault, clamps.get(index)) for index, fault in enumerate(self.faults)]
        self.branches_of = {
            item.id: [(self._branch_of[item.id, branch.name], branch.name) for branch in item.structure.branches]
            for item in self.devices.values()
        }
        self.index_of = {device: {name: i for i, name in pairs} for device, pairs in self.branches_of.items()}
        self.ground = self._ground()
        """Node that stands at earth potential, -1 for none."""
        self.sensing = [item for item in self.devices.values() if _overrides(item, "sense")]
        self.evolving = [item for item in self.devices.values() if _overrides(item, "evolve")]
        self.due_names = [(item.id, names) for item in self.devices.values() if (names := _due_names(item))]
        """The state variables of each device that are times at which it changes by itself."""
        self.locked = [self._locked(item) for item in self.devices.values() if item.kind.locks(item.params)]
        """Groups of devices of which only one may be away from rest."""
        self._params = {item.id: item.params for item in self.devices.values()}
        # The last state of each device with its values: most devices stand still most of the time.
        self._worth: dict[str, tuple[DeviceState, Params, Mapping[str, Value]]] = {}
        none = np.zeros(len(self.branches), dtype=np.complex128)
        self._last: tuple[Sequence[Value | None], Complexes, Complexes] = ((None,) * len(none), none, none)
        self._groups = [
            [self._branch_of[item.id, name] for name in names if (item.id, name) in self._branch_of]
            for item in self.devices.values()
            for names in item.kind.coupled
        ]
        self._across = {
            index: tuple(node for other in group for node in (self.branches[other].a, self.branches[other].b))
            for group in self._groups
            for index in group
        }
        self.coupled = frozenset(index for group in self._groups for index in group)
        """Branches that are windings on one core with others."""
        self._inverses: dict[int, tuple[tuple[Value, ...], Complexes]] = {}
        pairs = [pair for group in self._groups for pair in permutations(group, 2)]
        self._pair_of = {pair: number for number, pair in enumerate(pairs)}
        network = Network(
            len(self.nodes),
            np.array([ref.a for ref in self.branches], dtype=np.intp),
            np.array([ref.b for ref in self.branches], dtype=np.intp),
            self.ground,
            np.array([to for to, _ in pairs], dtype=np.intp),
            np.array([of for _, of in pairs], dtype=np.intp),
        )
        self._solver = Solver(network)
        self._direct = Solver(network)

    @property
    def size_bytes(self) -> int:
        """About how much memory it takes; it grows while it is used."""
        return BYTES_EACH * (len(self.nodes) + len(self.branches)) + self._solver.size_bytes + self._direct.size_bytes

    def node(self, end: End) -> int:
        """Node of a terminal, at its clamp. Raises UnknownTarget when the circuit has no such terminal."""
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

    def across(self, branch: int) -> tuple[int, ...]:
        """Nodes that a branch leads to: its own ends, and those of the windings on one core with it."""
        return self._across.get(branch) or (self.branches[branch].a, self.branches[branch].b)

    def conductor_a(self, solution: Solution, conductor: str) -> complex:
        """Current of a conductor from its end `a` to its end `b`, wherever a fault has put them."""
        index = self.branch_index(conductor)
        return complex(sum((solution.current_a[i] for i in {index, *self._laid_by[conductor]}), 0j))

    def params(self, state: State) -> Mapping[str, Params]:
        """The parameters of every device, with those that a fault has set wrong."""
        wrong = [f for f in self.faults if f.kind is FaultKind.SETTING and f.active(state.time_us)]
        if not wrong:
            return self._params
        params = dict(self._params)
        for fault in wrong:
            params[fault.place] = {**params[fault.place], fault.name: fault.value}
        return params

    def stuck(self, state: State) -> set[str]:
        """Devices that do not move."""
        return {f.place for f in self.faults if f.kind is FaultKind.STUCK and f.active(state.time_us)}

    def changed(self, state: State, values: list[Value | None], devices: Sequence[Installed]) -> list[Value | None]:
        """The values after only these devices changed; the same list when they are worth what they were."""
        if self.faults:
            return self.values(state)
        fresh = values
        for item in devices:
            worth = item.kind.values(item.params, state.devices[item.id])
            self._worth[item.id] = (state.devices[item.id], item.params, worth)
            for index, name in self.branches_of[item.id]:
                value = worth.get(name)
                if value is not values[index] and value != values[index]:
                    fresh = list(values) if fresh is values else fresh
                    fresh[index] = value
        return fresh

    def values(self, state: State) -> list[Value | None]:
        """What every branch is worth in a state, faults included; None where open."""
        values = list(self._fixed)
        params = self.params(state)
        for item in self.devices.values():
            device, settings = state.devices[item.id], params[item.id]
            known = self._worth.get(item.id)
            # A parameter that a fault sets makes another mapping each time: then nothing is remembered.
            if known is None or known[0] is not device or known[1] is not settings:
                known = self._worth[item.id] = (device, settings, item.kind.values(settings, device))
            for index, name in self.branches_of[item.id]:
                values[index] = known[2].get(name)
        for fault, extras in zip(self.faults, self._extras, strict=True):
            active = fault.active(state.time_us)
            for extra in extras:
                values[extra.index] = extra.with_fault if active else extra.without
                for index in extra.replaces if active else ():
                    values[index] = None
            if active:
                self.disturb(values, fault)
        return values

    def solve(self, values: Sequence[Value | None], near: OperatingPoint | None = None) -> OperatingPoint:
        """Solve for the given values. Raises SingularNetwork with the terminals involved.

        `near` is the point that the circuit was at before, if much of that may still hold.
        """
        admittance, emf = self._phasors(values)
        transfer = self._couple(values, admittance) if self._groups else None
        try:
            alternating = self._solver.solve(admittance, emf, transfer, near.ac if near else None)
            direct = self._solve_direct(values) if any(v is not None and v.emf_dc_v for v in values) else None
        except SingularNetwork as error:
            causes = tuple(self._named(problem) for problem in error.problems)
            raise SingularNetwork(causes[0].message, causes) from error
        return OperatingPoint(alternating, direct)

    def solve_dead(self, values: Sequence[Value | None]) -> Solution:
        """Solve with direct current and every source at zero volts, as an ohmmeter finds the circuit.

        Only resistances count: coils are their wire, capacitances are open. Raises SingularNetwork.
        """
        return self._direct.solve(_conductances(values), np.zeros(len(values), dtype=np.complex128))

    def signals(self, point: OperatingPoint) -> dict[str, Mapping[str, Signal]]:
        """Volts and amperes of every device branch, by device id and branch name."""
        return {device: BranchSignals(point, indexes) for device, indexes in self.index_of.items()}

    def node_label(self, node: int) -> str:
        """A node as people write it: K1:13."""
        device_id, name = self.nodes[node]
        return f"{self.devices[device_id].clamp(name)}"

    def _solve_direct(self, values: Sequence[Value | None]) -> Solution:
        emf = np.array([0.0 if v is None else v.emf_dc_v for v in values], dtype=np.complex128)
        return self._direct.solve(_conductances(values), emf)

    def _phasors(self, values: Sequence[Value | None]) -> tuple[Complexes, Complexes]:
        """Admittance and emf of every branch, worked out anew only where the value is another object.

        What was last worked out is replaced as a whole and never changed, so that threads which
        share a plant do not disturb each other.
        """
        omega = 2 * math.pi * self.frequency_hz
        seen, old_admittance, emf = self._last
        admittance = old_admittance.copy()
        for index, (value, before) in enumerate(zip(values, seen, strict=True)):
            if value is not before:
                admittance[index] = 0 if value is None else value.admittance_s(omega)
                rise = 0 if value is None else value.emf_v
                if rise != emf[index]:
                    emf = emf.copy()
                    emf[index] = rise
        self._last = (tuple(values), admittance, emf)
        return (admittance.copy() if self._groups else admittance), emf

    def _couple(self, values: Sequence[Value | None], admittance: Complexes) -> Complexes:
        """Transfer admittances of the coupled pairs; sets the own admittances of the windings.

        Windings that are open take no part: the impedance matrix of the others is inverted.
        """
        transfer = np.zeros(len(self._pair_of), dtype=np.complex128)
        for number, group in enumerate(self._groups):
            wound = [(index, value) for index in group if (value := values[index]) is not None]
            worth = tuple(value for _, value in wound)
            known = self._inverses.get(number)
            if known is None or known[0] != worth:
                names = tuple(self.branches[index].branch for index, _ in wound)
                known = self._inverses[number] = (worth, _inverse(names, worth, 2 * math.pi * self.frequency_hz))
            for row, (to, _) in enumerate(wound):
                admittance[to] = known[1][row, row]
                for col, (of, _) in enumerate(wound):
                    if row != col:
                        transfer[self._pair_of[to, of]] = known[1][row, col]
        return transfer

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

    def _locked(self, item: Installed) -> tuple[str, ...]:
        """Ids of the devices that a mechanical interlock stands between."""
        ids = {other.label: other.id for other in self.devices.values()}
        labels = item.kind.locks(item.params)
        for label in labels:
            if label not in ids or not _has_travel(self.devices[ids[label]]):
                message = f"{item.label} stands between {' and '.join(labels)}; there is no {label} with an armature."
                raise InvalidCircuit(message, (Problem("unknown_partner", message, item.id),))
        return tuple(ids[label] for label in labels)

    def _ground(self) -> int:
        for item in self.devices.values():
            name = item.kind.reference_node(item.params)
            if name is not None:
                return self.node_of[item.id, name]
        return -1

    def _device_branches(self) -> list[BranchRef]:
        return [
            BranchRef(item.id, branch.name, branch.role, self.inner[item.id, branch.a], self.inner[item.id, branch.b])
            for item in self.devices.values()
            for branch in item.structure.branches
        ]

    def _link_branches(self) -> list[BranchRef]:
        links: tuple[tuple[Conductor | Stray, Role], ...] = (
            *((conductor, Role.PATH) for conductor in self.circuit.conductors),
            *((stray, Role.LOAD) for stray in self.circuit.strays),
        )
        return [BranchRef(link.id, "", role, self.node(link.a), self.node(link.b)) for link, role in links]

    def _part_clamps(self) -> dict[int, tuple[int, int]]:
        """Give each clamp that goes bad a node of its own inside the device; both nodes, by fault."""
        parted = {}
        for number, fault in enumerate(self.faults):
            if fault.terminal_goes_bad:
                end = End(device=fault.place, terminal=fault.terminal)
                clamp, node = (end.device, end.terminal), self.node(end)
                parted[number] = (self.inner[clamp], len(self.nodes))
                self.inner[clamp] = len(self.nodes)
                self.nodes.append(self.nodes[node])
        return parted

    def _extra_branches(self, fault: Fault, clamp: tuple[int, int] | None) -> tuple[_Extra, ...]:
        """The branches that a fault adds."""
        ohm = fault.resistance_ohm
        short = Value(max(ohm, JOINT_OHM))
        if clamp is not None:
            sound = Value(JOINT_OHM)
            bad = None if fault.kind is FaultKind.OPEN else Value(JOINT_OHM + ohm)
            return (self._extra(fault.place, Role.PATH, *clamp, bad, sound),)
        if fault.kind is FaultKind.SHORT:
            ref = self.branches[self.branch_index(fault.place, fault.branch)]
            role = Role.LOAD if ohm > 1 else Role.PATH
            return (self._extra(fault.place, role, ref.a, ref.b, short),)
        if fault.kind is FaultKind.BRIDGE and fault.to is not None:
            ends = (self.node(End(device=fault.place, terminal=fault.terminal)), self.node(fault.to))
            return (self._extra(fault.place, Role.LOAD if ohm > 1 else Role.PATH, *ends, short),)
        if fault.kind is FaultKind.MOVED and fault.to is not None:
            return (self._moved(fault.place, fault.end, self.node(fault.to)),)
        if fault.kind is FaultKind.EXCHANGED:
            ends = (self._end_node(fault.place, fault.end), self._end_node(fault.other, fault.other_end))
            return (
                self._moved(fault.place, fault.end, ends[1]),
                self._moved(fault.other, fault.other_end, ends[0]),
            )
        return ()

    def _end_node(self, conductor: str, end: str) -> int:
        ref = self.branches[self._laid(conductor)[-1]]
        return ref.a if end == "a" else ref.b

    def _laid(self, conductor: str) -> tuple[int, ...]:
        """The branch of a conductor, and those that faults have put in its place so far; the last holds."""
        self.branch_index(conductor)
        return tuple(self._laid_by[conductor])

    def _moved(self, conductor: str, end: str, node: int) -> _Extra:
        """A conductor with one end elsewhere than the faults before this one have put it."""
        laid = self._laid(conductor)
        ref = self.branches[laid[-1]]
        a, b = (node, ref.b) if end == "a" else (ref.a, node)
        extra = self._extra(conductor, Role.PATH, a, b, self._fixed[laid[0]])
        self._laid_by[conductor].append(extra.index)
        return replace(extra, replaces=laid)

    def _extra(
        self, place: str, role: Role, a: int, b: int, with_fault: Value | None, without: Value | None = None
    ) -> _Extra:
        self.branches.append(BranchRef(place, "", role, a, b))
        self._fixed.append(None)
        return _Extra(len(self.branches) - 1, with_fault, without)

    def disturb(self, values: list[Value | None], fault: Fault) -> None:
        """What an active fault makes of the branches that were there before it."""
        if fault.terminal or fault.kind not in ON_A_BRANCH:
            return
        for index in (self.branch_index(fault.place, fault.branch),) if fault.branch else self._laid(fault.place):
            value = values[index]
            if fault.kind is FaultKind.OPEN:
                values[index] = None
            elif fault.kind is FaultKind.HIGH_RESISTANCE:
                values[index] = None if value is None else _in_series(value, fault.resistance_ohm)
            else:
                item = self.devices[fault.place]
                closed = item.kind.contact_value(item.params)
                values[index] = closed if value is None else value if fault.kind is FaultKind.WELDED else None

    def _named(self, problem: Problem) -> Problem:
        """A cause given in branch numbers, told in terminals."""
        refs = [self.branches[int(index)] for index in (problem.path or "").split(",") if index]
        places = ", ".join(f"{self.node_label(ref.a)} to {self.node_label(ref.b)}" for ref in refs[:6])
        device = refs[0].place if refs and refs[0].branch else None
        return replace(problem, message=f"{problem.message} ({places})", device=device, path=None)


def _overrides(item: Installed, method: str) -> bool:
    """Does the kind do something of its own here?"""
    return getattr(type(item.kind), method) is not getattr(Kind, method)


def _due_names(item: Installed) -> tuple[str, ...]:
    return tuple(name for name in item.kind.initial(item.params) if name.endswith("_at_us"))


def _has_travel(item: Installed) -> bool:
    return isinstance(item.kind.initial(item.params).get("position"), int)


def _in_series(value: Value, ohm: float) -> Value:
    direct = None if value.direct_ohm is None else value.direct_ohm + ohm
    return replace(value, resistance_ohm=value.resistance_ohm + ohm, direct_ohm=direct)


def _link_values(circuit: Circuit) -> list[Value]:
    """What conductors and stray paths are worth, in the order of the document."""
    return [
        *(Value(COPPER_OHM_MM2_PER_M * wire.length_m / wire.cross_section_mm2) for wire in circuit.conductors),
        *(
            Value(stray.resistance_ohm or 0.0, capacitance_f=(stray.capacitance_nf or 0.0) * 1e-9)
            for stray in circuit.strays
        ),
    ]


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
