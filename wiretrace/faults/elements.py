"""Faults of an element, a conductor or a terminal that stay where they are: open, bad, shorted, welded, bridged."""

import math
from abc import abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field

from wiretrace.catalogue.element import Value
from wiretrace.catalogue.structure import Role
from wiretrace.circuit.checked import Installed, has_terminal
from wiretrace.circuit.document import End, Id, Text
from wiretrace.faults.fault import JOINT_OHM, Added, Fault, Site

Ohm = Annotated[float, Field(ge=0, le=1e12)]


def no_place(devices: Mapping[str, Installed], links: set[str], place: str) -> str | None:
    """What is wrong with a device or conductor that a fault names."""
    return None if place in devices or place in links else f"There is no device or conductor {place}."


def no_terminal(devices: Mapping[str, Installed], device: str, terminal: str) -> str | None:
    """What is wrong with a terminal that a fault names."""
    item = devices.get(device)
    if item is None:
        return f"There is no device {device}."
    if not has_terminal(item, End(device=device, terminal=terminal)):
        return f"There is no terminal {item.label}:{terminal} in this circuit."
    return None


def path_or_load(ohm: float) -> Role:
    """What a bridge is to someone who follows a path: up to an ohm it drops next to nothing."""
    return Role.LOAD if ohm > 1 else Role.PATH


@dataclass(frozen=True)
class OnBranch(Fault):
    """Changes the value of an element of a device, or of a conductor where `branch` is empty."""

    place: Id
    branch: Text = ""

    @property
    def where(self) -> str:
        return self.place

    @property
    def series_ohm(self) -> float:
        """What it puts in series within the element, ohm; infinite where it interrupts it."""
        return 0.0

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        item = devices.get(self.place)
        if item is None:
            return no_place(devices, links, self.place) or self._on_conductor()
        branch = next((b for b in item.structure.branches if b.name == self.branch), None)
        if branch is None:
            return f"{item.label} has no element {self.branch}."
        return self._on_element(item, branch.role)

    def _on_conductor(self) -> str | None:
        return f"{self.place} has no element {self.branch}." if self.branch else None

    def _on_element(self, item: Installed, role: Role) -> str | None:
        return None

    def disturb(self, values: list[Value | None], site: Site) -> None:
        indexes = (site.branch_index(self.place, self.branch),) if self.branch else site.laid(self.place)
        for index in indexes:
            values[index] = self.made_of(values[index], site)

    @abstractmethod
    def made_of(self, value: Value | None, site: Site) -> Value | None:
        """What the branch is worth with the fault."""


@dataclass(frozen=True)
class Open(OnBranch):
    """An element or conductor that is interrupted."""

    kind: Literal["open"] = "open"

    @property
    def series_ohm(self) -> float:
        return math.inf

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        return None


@dataclass(frozen=True)
class HighResistance(OnBranch):
    """An element or conductor with a bad joint: so many ohms in series."""

    resistance_ohm: Ohm = 0.0
    kind: Literal["high_resistance"] = "high_resistance"

    @property
    def series_ohm(self) -> float:
        return self.resistance_ohm

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        if value is None:
            return None
        if value.capacitance_f:
            return replace(value, joint_ohm=value.joint_ohm + self.resistance_ohm)
        direct = None if value.direct_ohm is None else value.direct_ohm + self.resistance_ohm
        return replace(value, resistance_ohm=value.resistance_ohm + self.resistance_ohm, direct_ohm=direct)


@dataclass(frozen=True)
class OnContact(OnBranch):
    """A contact that is not where its armature is."""

    def _on_conductor(self) -> str | None:
        return f"A conductor such as {self.place} cannot have this fault."

    def _on_element(self, item: Installed, role: Role) -> str | None:
        return None if role is Role.CONTACT else f"{item.label} {self.branch} is no contact."

    def _closed(self, site: Site) -> Value:
        item = site.devices[self.place]
        return item.kind.contact_value(item.params)


@dataclass(frozen=True)
class Welded(OnContact):
    """A contact that stays closed."""

    kind: Literal["welded"] = "welded"

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        return self._closed(site) if value is None else value


@dataclass(frozen=True)
class WrongContact(OnContact):
    """A contact that is closed where it should be open, and the other way round."""

    kind: Literal["wrong_contact"] = "wrong_contact"

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        return self._closed(site) if value is None else None


@dataclass(frozen=True)
class Short(Fault):
    """An element with so many ohms across it."""

    place: Id
    branch: Text
    resistance_ohm: Ohm = 0.0
    kind: Literal["short"] = "short"

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        item = devices.get(self.place)
        if item is None:
            missing = no_place(devices, links, self.place)
            return missing or f"A conductor such as {self.place} cannot have this fault."
        known = {branch.name for branch in item.structure.branches}
        return None if self.branch in known else f"{item.label} has no element {self.branch}."

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        a, b = site.ends(site.branch_index(self.place, self.branch))
        short = Value(max(self.resistance_ohm, JOINT_OHM))
        return (Added(self.place, path_or_load(self.resistance_ohm), a, b, short),)


@dataclass(frozen=True)
class LooseTerminal(Fault):
    """A terminal with so many ohms between its wires and the device; without any it is open."""

    place: Id
    terminal: Text
    resistance_ohm: Ohm | None = None
    kind: Literal["loose_terminal"] = "loose_terminal"

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        return no_terminal(devices, self.place, self.terminal)

    def parts(self) -> End | None:
        return End(device=self.place, terminal=self.terminal)

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        if parted is None:
            return ()
        bad = None if self.resistance_ohm is None else Value(JOINT_OHM + self.resistance_ohm)
        return (Added(self.place, Role.PATH, *parted, bad, Value(JOINT_OHM)),)


@dataclass(frozen=True)
class Bridge(Fault):
    """So many ohms from a terminal to the terminal `to`."""

    place: Id
    terminal: Text
    to: End
    resistance_ohm: Ohm = 0.0
    kind: Literal["bridge"] = "bridge"

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        return no_terminal(devices, self.place, self.terminal) or no_terminal(devices, self.to.device, self.to.terminal)

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        a, b = site.node(End(device=self.place, terminal=self.terminal)), site.node(self.to)
        short = Value(max(self.resistance_ohm, JOINT_OHM))
        return (Added(self.place, path_or_load(self.resistance_ohm), a, b, short),)
