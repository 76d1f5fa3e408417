"""A circuit made ready to run: graph, values and equations, and which devices do what while time passes."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed, check_circuit, check_consistent
from wiretrace.document.circuit import Circuit, End
from wiretrace.document.nets import nets, numbers_by_end
from wiretrace.errors import InvalidCircuit, Problem
from wiretrace.faults.check import check_faults
from wiretrace.faults.fault import Fault
from wiretrace.network.solve import Solution
from wiretrace.simulation.equations import Equations
from wiretrace.simulation.graph import Graph
from wiretrace.simulation.signals import BranchSignals, Flows, InnerSignals
from wiretrace.simulation.values import Values

DEFAULT_FREQUENCY_HZ: Final = 50.0
BYTES_EACH: Final = 1_500
"""Memory for each node and branch, as measured."""


class Assembly:
    """A compiled circuit with the faults it may have. Raises InvalidCircuit when the circuit contradicts the
    catalogue or itself, UnknownTarget when a fault names nothing.

    Unchanging but for what it remembers to be quick; threads may share it. `like` is the same circuit with other
    faults: what does not depend on them is shared with it.
    """

    def __init__(self, circuit: Circuit, faults: Sequence[Fault] = (), like: "Assembly | None" = None) -> None:
        self.circuit = circuit
        self.faults = tuple(faults)
        if like is None:
            installed = check_circuit(circuit)
            check_consistent(installed)
            self.frequency_hz = _frequency(installed)
            self.devices: Mapping[str, Installed] = {i.id: _on_network(i, self.frequency_hz) for i in installed}
            self.net_numbers = numbers_by_end(nets(circuit))
        else:
            self.frequency_hz, self.devices, self.net_numbers = like.frequency_hz, like.devices, like.net_numbers
        check_faults(circuit, self.devices, self.faults)
        self.graph, self.equations = self._network(like)
        self.values = Values(self.graph, self.faults)
        self.nodes, self.branches = self.graph.nodes, self.graph.branches
        self._index_of = {
            device: {name: index for index, name in pairs} for device, pairs in self.graph.branches_of.items()
        }
        self._inside = [
            (fault, *series)
            for fault in self.faults
            if (series := fault.in_series()) is not None and self._is_inside(*series)
        ]
        self.adapting = [item for item in self.devices.values() if _overrides(item, "adapt")]
        self.sensing = [item for item in self.devices.values() if _overrides(item, "sense")]
        self.evolving = [item for item in self.devices.values() if _overrides(item, "evolve")]
        self.fading = [item for item in self.devices.values() if _overrides(item, "fading")]
        self.due_names = [(item.id, names) for item in self.devices.values() if (names := _due_names(item))]
        """The state variables of each device that are times at which it changes by itself."""
        ids = {item.label: item.id for item in self.devices.values()}
        self.locked = [self._locked(item, ids) for item in self.devices.values() if item.kind.locks(item.params)]
        """Groups of devices of which only one may be away from rest."""

    def with_faults(self, faults: Sequence[Fault]) -> "Assembly":
        """The same circuit with these faults in place of its own. Raises UnknownTarget when one names nothing."""
        return Assembly(self.circuit, faults, self)

    def _network(self, like: "Assembly | None") -> tuple[Graph, Equations]:
        """That of `like`, where the faults add nothing to it."""
        if like is not None and (graph := like.graph.with_faults(self.faults)) is not None:
            return graph, like.equations
        graph = Graph(self.circuit, self.devices, self.faults)
        return graph, Equations(graph, self.frequency_hz)

    @property
    def size_bytes(self) -> int:
        """About how much memory it takes; it grows while it is used."""
        return BYTES_EACH * (len(self.nodes) + len(self.branches)) + self.equations.size_bytes

    def node(self, end: End) -> int:
        """Node of a terminal, where its wires are. Raises UnknownTarget when the circuit has no such terminal."""
        return self.graph.node(end)

    def branch_index(self, place: str, branch: str = "") -> int:
        """Number of a branch. Raises UnknownTarget when there is none."""
        return self.graph.branch_index(place, branch)

    def conductor_a(self, solution: Solution, conductor: str) -> complex:
        """Current of a conductor from its end `a` to its end `b`, wherever a fault has put them."""
        index = self.branch_index(conductor)
        return complex(sum((solution.current_a[i] for i in {index, *self.graph.laid(conductor)}), 0j))

    def signals(self, point: Flows, time_us: int) -> dict[str, Mapping[str, Signal]]:
        """Volts and amperes of every device branch, by device id and branch name.

        What is open or badly joined within an element leaves it the voltage that is left, not what stands at its
        terminals.
        """
        found: dict[str, Mapping[str, Signal]] = {
            device: BranchSignals(point, indexes) for device, indexes in self._index_of.items()
        }
        for fault, place, branch, ohm in self._inside:
            if fault.active(time_us):
                found[place] = InnerSignals(found[place], {branch: ohm})
        return found

    def _is_inside(self, place: str, branch: str, ohm: float) -> bool:
        """Are these ohms in series within a load or a contact?"""
        item = self.devices.get(place)
        inner = {b.name for b in item.structure.branches if b.role in (Role.LOAD, Role.CONTACT)} if item else set()
        return branch in inner and ohm > 0

    def _locked(self, item: Installed, ids: Mapping[str, str]) -> tuple[str, ...]:
        """Ids of the devices that a mechanical interlock stands between."""
        labels = item.kind.locks(item.params)
        for label in labels:
            if label not in ids or not _has_travel(self.devices[ids[label]]):
                message = f"{item.label} stands between {' and '.join(labels)}; there is no {label} with an armature."
                raise InvalidCircuit(message, (Problem("unknown_partner", message, item.id),))
        return tuple(ids[label] for label in labels)


def _frequency(devices: Iterable[Installed]) -> float:
    """The frequency of the supplies, hertz. Raises InvalidCircuit when they differ."""
    found = {
        item.label: frequency for item in devices if (frequency := item.kind.frequency_hz(item.params)) is not None
    }
    if len(set(found.values())) > 1:
        message = "The supplies differ in frequency: "
        message += ", ".join(f"{label} {value:g} Hz" for label, value in found.items()) + "."
        raise InvalidCircuit(message, (Problem("frequencies_differ", message),))
    return next(iter(found.values()), DEFAULT_FREQUENCY_HZ)


def _on_network(item: Installed, frequency_hz: float) -> Installed:
    return replace(item, params=item.kind.on_network(item.params, frequency_hz))


def _overrides(item: Installed, method: str) -> bool:
    """Does the kind do something of its own here?"""
    return getattr(type(item.kind), method) is not getattr(Kind, method)


def _due_names(item: Installed) -> tuple[str, ...]:
    return tuple(name for name in item.kind.initial(item.params) if name.endswith("_at_us"))


def _has_travel(item: Installed) -> bool:
    return isinstance(item.kind.initial(item.params).get("position"), int)
