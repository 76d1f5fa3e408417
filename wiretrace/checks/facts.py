"""What rules ask of a circuit: who is what, and what would be joined if these contacts were closed."""

import math
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from wiretrace.catalogue.machinery.purpose import Actuator, Against, Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, End
from wiretrace.faults.fault import Fault
from wiretrace.network.point import OperatingPoint
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.graph import BranchRef

Closed = Callable[[BranchRef], bool]
SUPPLIES_ON_US: Final = 200_000
"""Time after which supplies that make one voltage from another give it."""


@dataclass(frozen=True)
class Pole:
    """A pole of a source: its node, its device, what it is."""

    node: int
    device: str
    terminal: str
    what: str


@dataclass(frozen=True)
class Coil:
    """A coil with its branch, its first terminal, and the nodes of both."""

    item: Installed
    branch: str
    terminal: str
    a: int
    b: int


@dataclass(frozen=True)
class Parts:
    """What is joined to what: a number for each node, equal where a way without loads leads."""

    label: NDArray[np.intp]
    poles: tuple[Pole, ...]

    def joined(self, a: int, b: int) -> bool:
        return bool(self.label[a] == self.label[b])

    @cached_property
    def _poles_by_label(self) -> dict[int, tuple[Pole, ...]]:
        found: dict[int, list[Pole]] = {}
        for pole in self.poles:
            if pole.what != "earth":
                found.setdefault(int(self.label[pole.node]), []).append(pole)
        return {label: tuple(poles) for label, poles in found.items()}

    def poles_at(self, node: int) -> tuple[Pole, ...]:
        """The poles that a node is joined to, earth left out."""
        return self._poles_by_label.get(int(self.label[node]), ())

    def has_pole(self, label: int) -> bool:
        """Is a pole of a source among the nodes with this number?"""
        return label in self._poles_by_label

    def feeds(self, a: int, b: int) -> tuple[Pole, Pole] | None:
        """Two different poles at the ends of a load, at least one of them live; None when it is not fed."""
        if self.joined(a, b):
            return None
        there = self.poles_at(b)
        live = next((pole for pole in there if pole.what == "live"), None)
        for one in self.poles_at(a) if there else ():
            two = there[0] if one.what == "live" else live
            if two is not None:
                return one, two
        return None

    def pair(self, ref: BranchRef) -> frozenset[int]:
        """What a branch lies between: equal for branches in parallel."""
        return frozenset((int(self.label[ref.a]), int(self.label[ref.b])))


class Facts:
    """A circuit seen with the eyes of someone who checks it."""

    def __init__(self, circuit: Circuit, faults: Sequence[Fault] = ()) -> None:
        self.assembly = Assembly(circuit, faults)
        self.faults = tuple(faults)
        self.circuit = circuit
        self.items = tuple(self.assembly.devices.values())
        self._remembered: dict[Hashable, Any] = {}

    def that(self, *does: Does) -> list[Installed]:
        """Devices with a part that is there for one of these things, in the order of the document."""
        found: list[Installed] = self.remembered(
            does, lambda: [item for item in self.items if item.structure.parts_that(*does)]
        )
        return found

    @cached_property
    def contactors(self) -> list[Installed]:
        """Devices whose coil moves main poles."""
        return [item for item in self.that(Does.SWITCHES_LOAD) if item.structure.parts_that(Does.OPERATES)]

    @cached_property
    def motors(self) -> list[Installed]:
        """Motors of three phases, the ones that the rules of the motor circuit are about."""
        return [item for item in self.that(Does.TURNS) if item.kind.three_phase]

    @cached_property
    def buttons(self) -> list[Installed]:
        """What a hand holds."""
        return [item for item in self.items if item.kind.actuator is Actuator.HAND]

    @cached_property
    def stops(self) -> list[Installed]:
        """What is there to stop."""
        return [item for item in self.items if self.is_stop(item)]

    def is_stop(self, item: Installed) -> bool:
        """Is it there to stop? The device says so, and never its name."""
        return item.kind.is_stop(item.params)

    def protecting(self, against: Against) -> list[Installed]:
        """Devices that protect what is behind them."""
        return [item for item in self.items if item.kind.protects and against in item.kind.protects.against]

    def node(self, item: Installed | str, terminal: str) -> int:
        device = item if isinstance(item, str) else item.id
        return self.assembly.node(End(device=device, terminal=terminal))

    def item(self, ref: BranchRef) -> Installed:
        """The device of a branch."""
        return self.assembly.devices[ref.place]

    def does(self, ref: BranchRef) -> Does:
        """What the part is there for that a branch belongs to."""
        return self.item(ref).structure.does(ref.branch)

    @cached_property
    def poles(self) -> tuple[Pole, ...]:
        return tuple(
            Pole(self.assembly.graph.node_of[item.id, terminal], item.id, terminal, what)
            for item in self.items
            for terminal, (what, _) in item.kind.poles.items()
        )

    def parts(self, closed: Closed, without: tuple[str, ...] = ()) -> Parts:
        """What is joined by wire, by what always conducts, and by the contacts that `closed` accepts.

        Through the devices `without` nothing leads.
        """
        return self.joined_by(self.mask(closed), without)

    def mask(self, closed: Closed) -> NDArray[np.bool_]:
        """Which contacts `closed` accepts: worked out once where much is asked with few contacts different."""
        contacts = [closed(ref) for ref in self._contacts]
        return np.array([*contacts, *(True for _ in self._always)], dtype=np.bool_)

    def joined_by(
        self, mask: NDArray[np.bool_], without: tuple[str, ...] = (), but: tuple[BranchRef, ...] = ()
    ) -> Parts:
        """What is joined by the contacts of a `mask`; not through the devices `without`, nor the contacts `but`."""
        a, b, rows = self._edges
        if without or but:
            mask = mask.copy()
            for place in without:
                mask[rows.get((place, ""), [])] = False
            for ref in but:
                mask[rows.get((ref.place, ref.branch), [])] = False
        count = len(self.assembly.nodes)
        graph = coo_array((np.ones(int(mask.sum()), dtype=np.int8), (a[mask], b[mask])), shape=(count, count))
        return Parts(connected_components(graph, directed=False)[1].astype(np.intp), self.poles)

    def rows_of_poles(self, device: str) -> list[int]:
        """Places of the main poles of a contactor in a `mask`."""
        rows = self._edges[2]
        poles = self.assembly.devices[device].structure.branches_of(Does.SWITCHES_LOAD)
        return [row for branch in poles for row in rows.get((device, branch.name), ())]

    def remembered(self, key: Hashable, work: Callable[[], Any]) -> Any:
        """What `work` gives, worked out once for each key: rules ask for the same many times."""
        if key not in self._remembered:
            self._remembered[key] = work()
        return self._remembered[key]

    @cached_property
    def _edges(self) -> tuple[NDArray[np.intp], NDArray[np.intp], dict[tuple[str, str], list[int]]]:
        """Ends of all contacts and of what always conducts, and which of them a contact or a device has."""
        refs = [*self._contacts, *self._always]
        rows: dict[tuple[str, str], list[int]] = {}
        for row, ref in enumerate(refs):
            if ref.branch:
                rows.setdefault((ref.place, ref.branch), []).append(row)
                rows.setdefault((ref.place, ""), []).append(row)
        return np.array([r.a for r in refs], dtype=np.intp), np.array([r.b for r in refs], dtype=np.intp), rows

    @cached_property
    def _always(self) -> list[BranchRef]:
        """What always conducts: wires, heaters, terminals."""
        return [ref for ref in self.assembly.branches if ref.role is Role.PATH]

    @cached_property
    def _contacts(self) -> list[BranchRef]:
        return [ref for ref in self.assembly.branches if ref.role is Role.CONTACT and self._can_close(ref)]

    def main_poles(self, item: Installed) -> list[BranchRef]:
        """The main poles of a contactor that have a wire on both sides."""
        return [ref for ref in self.contacts(item) if self.is_pole(ref)]

    @cached_property
    def wired(self) -> Parts:
        """Joined with every contact open."""
        return self.parts(lambda ref: False)

    @cached_property
    def all_closed(self) -> Parts:
        """Joined with every contact of the control side closed, contactor poles open."""
        return self.joined_by(self.control)

    @cached_property
    def control(self) -> NDArray[np.bool_]:
        """Every contact of the control side: all but contactor poles."""
        return self.mask(lambda ref: not self.is_pole(ref))

    @cached_property
    def at_rest(self) -> Parts:
        """Joined with every device at rest."""
        return self.parts(self.rest)

    def _can_close(self, ref: BranchRef) -> bool:
        item = self.item(ref)
        return item.kind.can_close(item.params, ref.branch)

    def feeds_input(self, ref: BranchRef) -> bool:
        """Does a contact lie at an input of a controller?"""
        return not self._at_inputs.isdisjoint(self.wired.pair(ref))

    @cached_property
    def _at_inputs(self) -> set[int]:
        return {
            int(self.wired.label[self.node(item, branch.a)])
            for item in self.that(Does.TAKES_SIGNALS)
            for branch in item.structure.branches_of(Does.TAKES_SIGNALS)
            if (item.id, branch.a) in self.used_terminals
        }

    def is_pole(self, ref: BranchRef) -> bool:
        """Is it a main pole of a contactor?"""
        return self.does(ref) is Does.SWITCHES_LOAD and self.item(ref).kind.actuator is Actuator.COIL

    def is_protection(self, ref: BranchRef) -> bool:
        """Does it open when too much current flows, a short circuit at the least?"""
        protects = self.item(ref).kind.protects
        return protects is not None and Against.SHORT_CIRCUIT in protects.against and self.opens_itself(ref)

    def opens_itself(self, ref: BranchRef) -> bool:
        """Does the load's own current pass this contact?"""
        return self.does(ref) is Does.SWITCHES_LOAD

    @cached_property
    def coils(self) -> tuple[Coil, ...]:
        """The coils of contactors, relays and timers."""
        return tuple(
            Coil(item, branch.name, branch.a, self.node(item, branch.a), self.node(item, branch.b))
            for item in self.that(Does.OPERATES)
            for branch in item.structure.branches_of(Does.OPERATES)
        )

    def coils_of(self, item: Installed) -> list[Coil]:
        """The coils of one device."""
        found: dict[str, list[Coil]] = self.remembered("coils", self._coils_by_device)
        return found.get(item.id, [])

    def _coils_by_device(self) -> dict[str, list[Coil]]:
        found: dict[str, list[Coil]] = {}
        for coil in self.coils:
            found.setdefault(coil.item.id, []).append(coil)
        return found

    def contacts(self, item: Installed) -> list[BranchRef]:
        """The contacts of a device that have a wire on both sides."""
        used = self.used_terminals
        found = []
        for branch in item.structure.branches:
            both = (item.id, branch.a) in used and (item.id, branch.b) in used
            if branch.role is Role.CONTACT and both:
                found.append(self.assembly.branches[self.assembly.branch_index(item.id, branch.name)])
        return found

    def contacts_of(self, device: str) -> list[BranchRef]:
        """All contacts of a device, wired or not."""
        indexes = self.assembly.graph.branches_of[device]
        return [ref for index, _ in indexes if (ref := self.assembly.branches[index]).role is Role.CONTACT]

    @cached_property
    def used_terminals(self) -> set[tuple[str, str]]:
        return {(end.device, end.terminal) for wire in self.circuit.conductors for end in (wire.a, wire.b)}

    def rest(self, ref: BranchRef) -> bool:
        """Is the contact closed with its device at rest, switched on and sound?"""
        item = self.assembly.devices[ref.place]
        return ref.branch in item.kind.values(item.params, item.kind.initial(item.params))

    def line_v(self, one: Pole, two: Pole) -> float:
        """Volts between two poles, with the sources alone; not a number when nothing joins their sources."""
        frame = self.bare
        if not frame.joined(one.node, two.node):
            return math.nan
        return frame.largest_v(one.node, two.node)

    @cached_property
    def bare(self) -> OperatingPoint:
        """The circuit a moment after it is first put under power. Raises what `run` raises."""
        state = initial_state(self.assembly)
        return run(self.assembly, state, (), SUPPLIES_ON_US).frames[-1].point

    def first_terminal(self, ref: BranchRef) -> str:
        """The first terminal of a branch of a device."""
        return next(b.a for b in self.item(ref).structure.branches if b.name == ref.branch)

    def label(self, device: str) -> str:
        return self.assembly.devices[device].label

    def labels(self, items: Iterable[Installed]) -> str:
        return " and ".join(item.label for item in items)
