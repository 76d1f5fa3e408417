"""Faults of an element or a conductor: open, a bad joint, shorted."""

import math
from abc import abstractmethod
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Final, Literal, Self

from pydantic import Field

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.purpose import Breaks
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, Id, Text
from wiretrace.faults.fault import JOINT_OHM, About, Added, Fault, Named, Site, Sort
from wiretrace.faults.naming import capital, element_between, element_name, ends_of, ohms
from wiretrace.faults.spots import Element, Spot
from wiretrace.quantity import number_text, parse_quantity, quantity_or_none

Ohm = Annotated[float, Field(ge=0, le=1e12)]
BAD_JOINTS_OHM: Final = (300.0, 30.0, 3_000.0)
"""A bad joint may have any resistance: these stand for its range. At the first a relay lets go and a voltmeter still
reads.
"""


def no_place(devices: Mapping[str, Installed], links: set[str], place: str) -> str | None:
    """What is wrong with a device or conductor that a fault names."""
    return None if place in devices or place in links else f"There is no device or conductor {place}."


def path_or_load(ohm: float) -> Role:
    """What a bridge is to someone who follows a path: up to an ohm it drops next to nothing."""
    return Role.LOAD if ohm > 1 else Role.PATH


def written_spot(named: Named, place: str, branch: str) -> str:
    """`K1/coil`, or the conductor `w4`."""
    return f"{named.devices[place].label}/{branch}" if place in named.devices else place


@dataclass(frozen=True)
class OnBranch(Fault):
    """Changes the value of an element of a device, or of a conductor where `branch` is empty."""

    place: Id
    branch: Text = ""

    @property
    def where(self) -> str:
        return self.place

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

    @classmethod
    def of_element(cls, device: str, branch: str) -> Self:
        return cls(device, branch)

    def written(self, named: Named) -> str:
        return f"{written_spot(named, self.place, self.branch)}={self.what()}"

    @abstractmethod
    def what(self) -> str:
        """What stands behind the sign of equality."""

    @abstractmethod
    def made_of(self, value: Value | None, site: Site) -> Value | None:
        """What the branch is worth with the fault."""


@dataclass(frozen=True)
class Open(OnBranch):
    """An element or conductor that is interrupted."""

    kind: Literal["open"] = "open"
    about: ClassVar = About(
        title="Open",
        forms=("K1/coil=open", "w4=open"),
        weight=3.0,
        why="Fuses blow, coils burn out, lamps fail, wires break where they bend.",
        sorts=(Sort.OPEN, Sort.COMES_AND_GOES),
        breaks=Breaks.OPENS,
    )

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        return None

    def in_series(self) -> tuple[str, str, float] | None:
        return self.place, self.branch, math.inf

    def words(self, named: Named) -> str:
        return capital(f"{element_between(named, self.place, self.branch)} is open")

    def what(self) -> str:
        return "open"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        return cls(spot.place, spot.branch) if isinstance(spot, Element) and what == "open" else None

    @classmethod
    def of_conductor(cls, wire: str) -> Iterator[Self]:
        yield cls(wire)

    def how_to_set(self, named: Named) -> str:
        ends = ends_of(named, self.place, self.branch)
        if self.branch:
            name = element_name(named, self.place, self.branch)
            return f"Lift the wires off {ends[0]} and insulate them: it is as if {name} were open."
        return f"Lift the wire off {ends[0]} (the other end is at {ends[1]}) and insulate its end."


@dataclass(frozen=True)
class HighResistance(OnBranch):
    """An element or conductor with a bad joint: so many ohms in series."""

    resistance_ohm: Ohm = 0.0
    kind: Literal["high_resistance"] = "high_resistance"
    about: ClassVar = About(
        title="Bad joint",
        forms=("K1/coil=300ohm", "w4=300ohm"),
        weight=2.0,
        why="Dirt and burnt contacts make them before they open altogether.",
        sorts=(Sort.JOINT,),
        breaks=Breaks.BAD_JOINT,
    )

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        if value is None:
            return None
        if value.capacitance_f:
            return replace(value, joint_ohm=value.joint_ohm + self.resistance_ohm)
        direct = None if value.direct_ohm is None else value.direct_ohm + self.resistance_ohm
        return replace(value, resistance_ohm=value.resistance_ohm + self.resistance_ohm, direct_ohm=direct)

    def in_series(self) -> tuple[str, str, float] | None:
        return self.place, self.branch, self.resistance_ohm

    def values(self) -> tuple[Self, ...]:
        return tuple(replace(self, resistance_ohm=ohm) for ohm in BAD_JOINTS_OHM)

    def words(self, named: Named) -> str:
        return f"{ohms(self.resistance_ohm)} in {element_between(named, self.place, self.branch)}"

    def what(self) -> str:
        return f"{number_text(self.resistance_ohm)}ohm"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        ohm = quantity_or_none(what, "ohm") if isinstance(spot, Element) else None
        return cls(spot.place, spot.branch, ohm) if isinstance(spot, Element) and ohm is not None else None

    @classmethod
    def of_element(cls, device: str, branch: str) -> Self:
        return cls(device, branch, BAD_JOINTS_OHM[0])

    @classmethod
    def of_conductor(cls, wire: str) -> Iterator[Self]:
        yield cls(wire, resistance_ohm=BAD_JOINTS_OHM[0])

    def how_to_set(self, named: Named) -> str:
        ends = ends_of(named, self.place, self.branch)
        where = f" between {ends[0]} and {ends[1]}" if len(ends) == 2 else ""
        name = element_name(named, self.place, self.branch)
        return f"Put a resistor of some {ohms(self.resistance_ohm)}{self._watts(named)} into {name}{where}."

    def _watts(self, named: Named) -> str:
        """What it must bear, in words: most goes into a resistor where what it feeds is as large, U²/4R."""
        volts = [
            float(item.params[param.name])
            for item in named.devices.values()
            for param in item.kind.params
            if param.sized == "supply_v"
        ]
        if not volts:
            return ", made for the voltage,"
        return f" and {math.ceil(max(volts) ** 2 / 4 / self.resistance_ohm)} W or more, made for {max(volts):g} V,"


@dataclass(frozen=True)
class Short(Fault):
    """An element with so many ohms across it."""

    place: Id
    branch: Text
    resistance_ohm: Ohm = 0.0
    kind: Literal["short"] = "short"
    about: ClassVar = About(
        title="Shorted",
        forms=("K1/coil=short", "M1/U1-U2=short 0.5ohm"),
        weight=0.5,
        why="Insulation fails seldom, and then something trips.",
        sorts=(Sort.SHORT,),
        breaks=Breaks.SHORTS,
    )

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

    def words(self, named: Named) -> str:
        ohm = f" through {ohms(self.resistance_ohm)}" if self.resistance_ohm else ""
        return capital(f"{element_between(named, self.place, self.branch)} is short-circuited{ohm}")

    def written(self, named: Named) -> str:
        ohm = f" {number_text(self.resistance_ohm)}ohm" if self.resistance_ohm else ""
        return f"{written_spot(named, self.place, self.branch)}=short{ohm}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        word, _, ohm = what.partition(" ")
        if not isinstance(spot, Element) or word != "short":
            return None
        return cls(spot.place, spot.branch, parse_quantity(ohm, "ohm") if ohm.strip() else 0.0)

    @classmethod
    def of_element(cls, device: str, branch: str) -> Self:
        return cls(device, branch)
