"""Nodes and branches of a circuit: a node for every terminal, a branch for everything that conducts."""

from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, Conductor, End, Stray
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.fault import Added, Fault

COPPER_OHM_MM2_PER_M: Final = 0.0178
"""Resistivity of copper conductors at 20 degrees Celsius (IEC 60228)."""

Node = tuple[str, str]
"""A device id with a terminal or internal node of that device."""


@dataclass(frozen=True)
class BranchRef:
    """Where a branch of the network comes from; `branch` is empty for conductors, strays and faults."""

    place: str
    branch: str
    role: Role
    a: int
    b: int


@dataclass(frozen=True)
class Extra:
    """A branch that a fault adds, with its number."""

    index: int
    added: Added


class Graph:
    """The network that a circuit is, with the branches that its faults may add.

    These come after all others, and a terminal that a fault parts adds a node: what hangs on the terminal inside
    the device. So numbers of nodes and branches do not depend on the faults. Unchanging once it is made.
    """

    def __init__(self, circuit: Circuit, devices: Mapping[str, Installed], faults: Sequence[Fault]) -> None:
        self.devices = devices
        self.nodes: list[Node] = [
            (item.id, name)
            for item in devices.values()
            for name in (*(t.name for t in item.structure.terminals), *item.structure.internal_nodes)
        ]
        self.node_of: Mapping[Node, int] = {node: index for index, node in enumerate(self.nodes)}
        self.inner = dict(self.node_of)
        """Node that a terminal is inside its device; another than that of its wires where a fault parts them."""
        parted = [self._part(fault.parts()) for fault in faults]
        links: tuple[tuple[Conductor | Stray, Role], ...] = (
            *((conductor, Role.PATH) for conductor in circuit.conductors),
            *((stray, Role.LOAD) for stray in circuit.strays),
        )
        self.branches = [
            *self._device_branches(),
            *(BranchRef(link.id, "", role, self.node(link.a), self.node(link.b)) for link, role in links),
        ]
        self._branch_of = {(ref.place, ref.branch): index for index, ref in enumerate(self.branches)}
        self._links = {link.id: _link_value(link) for link, _ in links}
        self.fixed: list[Value | None] = [
            *(None for ref in self.branches if ref.branch),
            *self._links.values(),
        ]
        """What branches are worth that do not depend on any device."""
        self._laid_by = {ref.place: [index] for index, ref in enumerate(self.branches) if not ref.branch}
        self.extras = [
            tuple(self._add(added) for added in fault.adds(self, nodes))
            for fault, nodes in zip(faults, parted, strict=True)
        ]
        """The branches that each fault adds."""
        self.branches_of = {
            item.id: [(self._branch_of[item.id, branch.name], branch.name) for branch in item.structure.branches]
            for item in devices.values()
        }
        self.ground = self._ground()
        """Node that stands at earth potential, -1 for none."""
        self._grown = any(self.extras) or any(parted)

    def with_faults(self, faults: Sequence[Fault]) -> "Graph | None":
        """The same network for other faults; None where these, or those that it was made for, add something to it."""
        if self._grown or any(fault.parts() or fault.adds(self) for fault in faults):
            return None
        same = copy(self)
        same.extras = [()] * len(faults)
        return same

    def node(self, end: End) -> int:
        """Node of a terminal, where its wires are. Raises UnknownTarget when the circuit has no such terminal."""
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

    def ends(self, index: int) -> tuple[int, int]:
        """Nodes that a branch lies between."""
        return self.branches[index].a, self.branches[index].b

    def laid(self, conductor: str) -> tuple[int, ...]:
        """The branch of a conductor, and those that faults have put in its place so far; the last holds."""
        self.branch_index(conductor)
        return tuple(self._laid_by[conductor])

    def link_value(self, conductor: str) -> Value | None:
        """What a sound conductor is worth."""
        return self._links.get(conductor)

    def node_label(self, node: int) -> str:
        """A node as people write it: K1:13."""
        device_id, name = self.nodes[node]
        return self.devices[device_id].designated(name)

    def _part(self, end: End | None) -> tuple[int, int] | None:
        """Give a terminal that is parted another node inside its device; the outer node and the inner."""
        if end is None:
            return None
        outer = self.inner[end.device, end.terminal]
        self.inner[end.device, end.terminal] = len(self.nodes)
        self.nodes.append((end.device, end.terminal))
        return outer, len(self.nodes) - 1

    def _device_branches(self) -> list[BranchRef]:
        return [
            BranchRef(item.id, branch.name, branch.role, self.inner[item.id, branch.a], self.inner[item.id, branch.b])
            for item in self.devices.values()
            for branch in item.structure.branches
        ]

    def _add(self, added: Added) -> Extra:
        self.branches.append(BranchRef(added.place, "", added.role, added.a, added.b))
        self.fixed.append(None)
        if added.replaces:
            self._laid_by[added.place].append(len(self.branches) - 1)
        return Extra(len(self.branches) - 1, added)

    def _ground(self) -> int:
        for item in self.devices.values():
            name = item.kind.reference_node(item.params)
            if name is not None:
                return self.node_of[item.id, name]
        return -1


def _link_value(link: Conductor | Stray) -> Value:
    if isinstance(link, Conductor):
        return Value(COPPER_OHM_MM2_PER_M * link.length_m / link.cross_section_mm2)
    return Value(link.resistance_ohm or 0.0, capacitance_f=(link.capacitance_nf or 0.0) * 1e-9)
