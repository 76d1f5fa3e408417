"""What a device consists of, as data: parameters, terminals, parts, branches, operations, and what is seen of it."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import Final, NamedTuple, TypeAlias

from wiretrace.catalogue.machinery.purpose import Breaks, Does
from wiretrace.catalogue.machinery.status import words

Scalar: TypeAlias = bool | int | float | str | None
Params: TypeAlias = Mapping[str, bool | int | float | str]
DeviceState: TypeAlias = Mapping[str, Scalar]


@dataclass(frozen=True)
class When:
    """A condition on one parameter: the terminal or part exists only then."""

    param: str
    values: tuple[str | int | bool, ...]

    def holds(self, params: Params) -> bool:
        return params[self.param] in self.values


@dataclass(frozen=True)
class Param:
    """One parameter, read by forms, validation, API and documentation alike.

    A number has `minimum` and `maximum` in `unit`; a choice has `choices`, each an id that documents hold, with
    `titles` for those that people read otherwise; a parameter with a boolean default is a switch, and one with a
    default in words and no choices is a text.
    """

    name: str
    title: str
    default: bool | int | float | str
    unit: str = ""
    minimum: float | None = None
    maximum: float | None = None
    choices: tuple[str | int, ...] = ()
    titles: Mapping[str, str] = field(default_factory=dict)
    help: str = ""
    designation: bool = False
    """A text that is the designation of another device, and follows when that is renamed."""
    set_on_site: bool = False
    """Is it a dial or a time that somebody sets at the panel, and may set wrong?"""
    driven: bool = False
    """Is it what the machine asks of the motor that drives it, in percent of the rated torque?"""
    for_people: bool = False
    """Does it only tell people something, and change nothing of what happens?"""
    sized: str = ""
    """Which result of sizing it takes, by its name there; empty for none."""

    @property
    def type(self) -> str:
        if self.choices:
            return "choice"
        if isinstance(self.default, str):
            return "text"
        return "switch" if isinstance(self.default, bool) else "number"

    def title_of(self, choice: bool | int | float | str) -> str:
        """How people call a choice."""
        return self.titles.get(str(choice), str(choice))

    def choice_named(self, text: str) -> str | int:
        """The choice of which this is the id or the title; the text itself where there is none."""
        return next((one for one in self.choices if text in (str(one), self.title_of(one))), text)


@dataclass(frozen=True)
class Terminal:
    """Where a wire is put on. `name` is the IEC marking and the key in the document."""

    name: str
    nema: str = ""
    when: When | None = None
    frame: bool = False
    """Is it the frame of the device, to be joined to earth?"""


class Role(StrEnum):
    """What a branch means to someone who follows a path through the circuit."""

    CONTACT = "contact"  # open or closed
    PATH = "path"  # always conducts, drops next to nothing: heater, terminal
    LOAD = "load"  # coil, lamp, winding
    SOURCE = "source"  # inside a supply


BREAKS: Final[Mapping[Role, tuple[Breaks, ...]]] = {
    Role.CONTACT: (Breaks.OPENS, Breaks.BAD_JOINT, Breaks.WELDS, Breaks.WRONG),
    Role.PATH: (Breaks.OPENS, Breaks.BAD_JOINT),
    Role.LOAD: (Breaks.OPENS, Breaks.BAD_JOINT, Breaks.SHORTS),
    Role.SOURCE: (),
}
"""What can happen to an element, if its kind says nothing else."""


@dataclass(frozen=True)
class Branch:
    """A two-terminal element between terminals or internal nodes `a` and `b`."""

    name: str
    a: str
    b: str
    role: Role
    when: When | None = None
    breaks: tuple[Breaks, ...] | None = None
    """What can happen to it, where that is not what can happen to all of its role."""

    @property
    def can_break(self) -> tuple[Breaks, ...]:
        return BREAKS[self.role] if self.breaks is None else self.breaks


@dataclass(frozen=True)
class Part:
    """A piece of the device with a symbol of its own on the sheet."""

    name: str
    title: str
    symbol: str
    does: Does
    terminals: tuple[str, ...]
    branches: tuple[str, ...] = ()
    when: When | None = None
    height: int = 8
    """Height that a power sheet keeps for it, in modules."""
    fed: tuple[str, ...] = ()
    """Terminals by which a current comes in, where the branches do not tell."""
    right_first: bool = False
    """Does its first way leave the symbol to the right of the second, as that which is closed at rest does?"""


@dataclass(frozen=True)
class Operation:
    """One way a hand can work the device.

    `style` is "momentary" (held, then let go), "toggle" (stays) or "pulse" (once). One that
    What `repairs` something, by its code in the status, is offered only while the device calls for attention.
    """

    name: str
    title: str
    style: str
    caution: str = ""
    repairs: str = ""
    handle: bool = False
    """Does a handle that says I and O do it?"""
    dead_only: bool = False
    """Is it done only where the supply is switched off and locked?"""
    locks_off: bool = False
    """Is it a padlock that keeps a switch off?"""
    mark: str = ""
    """The letter that stands on its button, if one does."""
    trips: bool = False
    """Does it trip, as what it guards against would?"""
    resets: bool = False
    """Does it bring back what has tripped?"""


class Diode(NamedTuple):
    """A diode inside a device: from anode to cathode it conducts above its threshold. It lies in an element."""

    anode: str
    cathode: str
    element: str
    threshold_v: float = 0.55


class Figure(NamedTuple):
    """A quantity of a device, such as the speed of a motor."""

    title: str
    value: float
    unit: str


@dataclass(frozen=True)
class View:
    """What a person sees of a device: its status (`status.py`), and whether it counts as active.

    `on` tells of each toggle that has a position of its own where it stands, and of each position of a selector
    whether it is the one; for a device with a single toggle that is `active`. `figures` are quantities that it shows
    or that are true of it.
    """

    status: str
    active: bool
    attention: bool = False
    on: Mapping[str, bool] = field(default_factory=dict)
    figures: tuple[Figure, ...] = ()

    @property
    def says(self) -> str:
        """The words for its status."""
        return words(self.status)


@dataclass(frozen=True)
class Structure:
    """Terminals, parts and branches of a device with its parameters settled."""

    terminals: tuple[Terminal, ...]
    parts: tuple[Part, ...]
    branches: tuple[Branch, ...]
    internal_nodes: tuple[str, ...] = field(default=())

    @cached_property
    def part_of(self) -> Mapping[str, Part]:
        """The part that each branch belongs to."""
        return {branch: part for part in self.parts for branch in part.branches}

    def does(self, branch: str) -> Does:
        """What the part is there for that a branch belongs to."""
        part = self.part_of.get(branch)
        return Does.UNSTATED if part is None else part.does

    def parts_that(self, *does: Does) -> tuple[Part, ...]:
        """The parts that are there for one of these things."""
        return tuple(part for part in self.parts if part.does in does)

    def branches_of(self, *does: Does) -> tuple[Branch, ...]:
        """The branches of parts that are there for one of these things."""
        names = {name for part in self.parts_that(*does) for name in part.branches}
        return tuple(branch for branch in self.branches if branch.name in names)


Ways = Sequence[tuple[str, str]]
"""Pairs of terminals that an element lies between each."""


def ends_of(ways: Ways) -> tuple[str, ...]:
    """The terminals of ways, one after the other."""
    return tuple(end for way in ways for end in way)


def names_of(ways: Ways) -> tuple[str, ...]:
    """The names of the elements of ways: 1-2, 3-4 ..."""
    return tuple(f"{a}-{b}" for a, b in ways)


def number(params: Params, name: str) -> float:
    """A numeric parameter as float."""
    value = params[name]
    if isinstance(value, str):
        raise TypeError(f"parameter {name} is not a number")
    return float(value)


NETWORK_HZ: Final = "network_hz"
"""Name under which a device that cares keeps the frequency of the network that it is in, beside its parameters."""


def network_hz(params: Params, rated: str) -> float:
    """The frequency that a device is fed with; by itself the one that it is rated for."""
    return number(params, NETWORK_HZ if NETWORK_HZ in params else rated)


JAMMED: Final = "jammed"
"""Name under which a motor that something keeps from turning is told so, beside its parameters."""

SAME_TIME_US: Final = 2
"""Times that are worked out twice may differ by this much through rounding alone."""


def amount(state: DeviceState, name: str) -> float:
    """A continuous quantity of a state."""
    return float(state[name] or 0.0)


def due_us(now_us: int, seconds: float | None, planned_us: Scalar = None) -> int | None:
    """The time that lies so many seconds ahead, at least a microsecond; None for never.

    What was planned before stays as it is when it says the same, so that looking twice changes nothing.
    """
    if seconds is None:
        return None
    at_us = now_us + max(1, math.ceil(seconds * 1e6))
    same = isinstance(planned_us, int) and planned_us > now_us and abs(planned_us - at_us) <= SAME_TIME_US
    return int(planned_us) if same and planned_us is not None else at_us
