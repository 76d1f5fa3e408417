"""What rules ask of a circuit: who is what, and what would be joined if these contacts were closed."""

import math
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from wiretrace.catalogue.device import Role
from wiretrace.circuit.checked import Installed
from wiretrace.circuit.document import Circuit, End
from wiretrace.network.solve import OperatingPoint
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.plant import BranchRef, Plant

# The only place besides the catalogue that knows kinds by name: what practice says of them.
CONTACTORS: Final = ("contactor",)
COILS: Final = ("contactor", "control_relay")
MOTORS: Final = ("motor_three_phase", "motor_six_leads")
BUTTONS: Final = ("push_button",)
MOMENTARY: Final = ("push_button",)
PROTECTION: Final = ("breaker", "fuses", "motor_starter")
OVERLOADS: Final = ("overload_relay", "motor_starter")
POLES: Final = ("1-2", "3-4", "5-6")

Closed = Callable[[BranchRef], bool]


@dataclass(frozen=True)
class Pole:
    """A pole of a source: its node, its device, what it is."""

    node: int
    device: str
    terminal: str
    what: str


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

    def __init__(self, circuit: Circuit) -> None:
        self.plant = Plant(circuit)
        self.circuit = circuit
        self.items = tuple(self.plant.devices.values())
        self._remembered: dict[Hashable, Any] = {}
        self._of: dict[tuple[str, ...], list[Installed]] = {}

    def of(self, *kinds: str) -> list[Installed]:
        """Devices of these kinds, in the order of the document."""
        if kinds not in self._of:
            self._of[kinds] = [item for item in self.items if item.device.kind in kinds]
        return self._of[kinds]

    def node(self, item: Installed | str, terminal: str) -> int:
        device = item if isinstance(item, str) else item.id
        return self.plant.node(End(device=device, terminal=terminal))

    def kind(self, ref: BranchRef) -> str:
        """Kind of the device of a branch; empty for a conductor."""
        return self.plant.devices[ref.place].device.kind if ref.branch else ""

    @cached_property
    def poles(self) -> tuple[Pole, ...]:
        return tuple(
            Pole(self.plant.node_of[item.id, terminal], item.id, terminal, what)
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
        count = len(self.plant.nodes)
        graph = coo_array((np.ones(int(mask.sum()), dtype=np.int8), (a[mask], b[mask])), shape=(count, count))
        return Parts(connected_components(graph, directed=False)[1].astype(np.intp), self.poles)

    def rows_of_poles(self, device: str) -> list[int]:
        """Places of the main poles of a contactor in a `mask`."""
        rows = self._edges[2]
        return [row for name in POLES for row in rows.get((device, name), ())]

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
        return [ref for ref in self.plant.branches if ref.role is Role.PATH]

    @cached_property
    def _contacts(self) -> list[BranchRef]:
        return [ref for ref in self.plant.branches if ref.role is Role.CONTACT and self._can_close(ref)]

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
        """A sensor that switches plus never switches minus, and the other way round."""
        switches = self.plant.devices[ref.place].params.get("switches")
        return switches is None or (ref.branch == "plus") == (switches == "PNP")

    def feeds_input(self, ref: BranchRef) -> bool:
        """Does a contact lie at an input of a controller?"""
        return not self._at_inputs.isdisjoint(self.wired.pair(ref))

    @cached_property
    def _at_inputs(self) -> set[int]:
        return {
            int(self.wired.label[self.node(item, terminal.name)])
            for item in self.of("plc")
            for terminal in item.structure.terminals
            if terminal.name.startswith("I") and (item.id, terminal.name) in self.used_terminals
        }

    def is_pole(self, ref: BranchRef) -> bool:
        """Is it a main pole of a contactor?"""
        return ref.branch in POLES and self.kind(ref) in CONTACTORS

    @cached_property
    def coils(self) -> tuple[tuple[Installed, int, int], ...]:
        """Contactors and relays with the nodes of their coils."""
        return tuple((item, self.node(item, "A1"), self.node(item, "A2")) for item in self.of(*COILS))

    def contacts(self, item: Installed) -> list[BranchRef]:
        """The contacts of a device that have a wire on both sides."""
        used = self.used_terminals
        found = []
        for branch in item.structure.branches:
            both = (item.id, branch.a) in used and (item.id, branch.b) in used
            if branch.role is Role.CONTACT and both:
                found.append(self.plant.branches[self.plant.branch_index(item.id, branch.name)])
        return found

    def contacts_of(self, device: str) -> list[BranchRef]:
        """All contacts of a device, wired or not."""
        indexes = self.plant.branches_of[device]
        return [ref for index, _ in indexes if (ref := self.plant.branches[index]).role is Role.CONTACT]

    @cached_property
    def used_terminals(self) -> set[tuple[str, str]]:
        return {(end.device, end.terminal) for wire in self.circuit.conductors for end in (wire.a, wire.b)}

    def rest(self, ref: BranchRef) -> bool:
        """Is the contact closed with its device at rest, switched on and sound?"""
        item = self.plant.devices[ref.place]
        return ref.branch in item.kind.values(item.params, item.kind.initial(item.params))

    def is_stop(self, item: Installed) -> bool:
        """A button that is red, or whose name says stop."""
        return item.device.kind in BUTTONS and (
            item.params.get("colour") == "red" or "stop" in item.device.function.lower()
        )

    def line_v(self, one: Pole, two: Pole) -> float:
        """Volts between two poles, with the sources alone; not a number when nothing joins their sources."""
        frame = self.bare
        if not frame.joined(one.node, two.node):
            return math.nan
        return max(
            abs(frame.ac.volts_between(one.node, two.node)) if frame.ac.joined(one.node, two.node) else 0.0,
            abs(frame.dc.volts_between(one.node, two.node))
            if frame.dc is not None and frame.dc.joined(one.node, two.node)
            else 0.0,
        )

    @cached_property
    def bare(self) -> OperatingPoint:
        """The circuit as first put under power. Raises what `run` raises."""
        state = initial_state(self.plant)
        return run(self.plant, state, (), 1_000).frames[-1].point

    def label(self, device: str) -> str:
        return self.plant.devices[device].label

    def labels(self, items: Iterable[Installed]) -> str:
        return " and ".join(item.label for item in items)
