"""What a kind of device is: the one description that everything else reads.

A kind states, as data, its parameters, terminals, sheet parts, electrical branches
and how it can be operated; and, as pure functions of parameters and state, what its
branches are worth, how it answers to the voltages and currents it sees, and what
a person sees of it.

Time is an integer number of microseconds. A device's state is a flat mapping of
plain values with two conventions that the simulation relies on:

* a name ending in ``_at_us`` is an absolute time (or None when nothing is due);
* a float is a continuous quantity (a temperature rise), anything else is discrete.
"""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import ClassVar, Final, NamedTuple, TypeAlias

from wiretrace.catalogue.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.purpose import Does, Moved, Operating, Protects, Ratings, Windings

Scalar: TypeAlias = bool | int | float | str | None
Params: TypeAlias = Mapping[str, bool | int | float | str]
DeviceState: TypeAlias = Mapping[str, Scalar]

HOME: Final = 2
"""Value of ``position`` of a movement that is driven home; 0 is at rest, 1 under way."""


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

    A number has `minimum` and `maximum` in `unit`; a choice has `choices`; a parameter with a
    boolean default is a switch, and one with a default in words and no choices is a text.
    """

    name: str
    title: str
    default: bool | int | float | str
    unit: str = ""
    minimum: float | None = None
    maximum: float | None = None
    choices: tuple[str | int, ...] = ()
    help: str = ""
    designation: bool = False
    """A text that is the designation of another device, and follows when that is renamed."""

    @property
    def type(self) -> str:
        if self.choices:
            return "choice"
        if isinstance(self.default, str):
            return "text"
        return "switch" if isinstance(self.default, bool) else "number"


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


@dataclass(frozen=True)
class Branch:
    """A two-terminal element between terminals or internal nodes `a` and `b`."""

    name: str
    a: str
    b: str
    role: Role
    when: When | None = None


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


@dataclass(frozen=True)
class Operation:
    """One way a hand can work the device.

    `style` is "momentary" (held, then let go), "toggle" (stays) or "pulse" (once). One that
    `repairs` is offered only while the device calls for attention.
    """

    name: str
    title: str
    style: str
    caution: str = ""
    repairs: bool = False
    handle: bool = False
    """Does a handle that says I and O do it?"""


class Figure(NamedTuple):
    """A quantity of a device, such as the speed of a motor."""

    title: str
    value: float
    unit: str


@dataclass(frozen=True)
class View:
    """What a person sees of a device: a word, and whether it counts as active.

    `on` tells of each toggle that has a position of its own where it stands; for a device with a
    single toggle that is `active`. `figures` are quantities that it shows or that are true of it.
    """

    says: str
    active: bool
    attention: bool = False
    on: Mapping[str, bool] = field(default_factory=dict)
    figures: tuple[Figure, ...] = ()


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


class Kind(ABC):
    """A kind of device. Subclasses are stateless; one instance each is registered."""

    name: ClassVar[str]
    title: ClassVar[str]
    group: ClassVar[str]
    rank: ClassVar[int] = 1000
    """Where its group shows it."""
    letter: ClassVar[str]
    """First letter of the designation (IEC 81346-2 class, in common shop usage)."""
    letter_nema: ClassVar[str]
    letters_known: ClassVar[tuple[str, ...]] = ()
    """Other letters in use for it."""
    mounting: ClassVar[str]
    """Where it usually sits: "door", "plate" or "field"."""
    params: ClassVar[tuple[Param, ...]] = ()
    terminals: ClassVar[tuple[Terminal, ...]]
    parts: ClassVar[tuple[Part, ...]]
    branches: ClassVar[tuple[Branch, ...]]
    internal_nodes: ClassVar[tuple[str, ...]] = ()
    operations: ClassVar[tuple[Operation, ...]] = ()
    poles: ClassVar[Mapping[str, tuple[str, str]]] = {}
    """Terminals that are poles of a source: what each is ("live", "neutral", "earth") and its branch."""
    coupled: ClassVar[tuple[tuple[str, ...], ...]] = ()
    """Groups of branches that are windings on one core."""
    electronic: ClassVar[bool] = False
    """Would an insulation test destroy it while it is connected?"""
    moved: ClassVar[Moved] = Moved.BY_NOTHING
    """What moves its contacts."""
    racing: ClassVar[tuple[str, ...]] = ()
    """Parameters that are times of an armature on its way: those that make races."""
    protects: ClassVar[Protects | None] = None
    made_for: ClassVar[Mapping[str, tuple[str, str] | tuple[str, str, str]]] = {}
    """Of each load the parameters with its operating voltage, what it takes there and its power factor."""
    three_phase: ClassVar[Windings | None] = None
    """The leads of a motor of three phases."""
    limits_current: ClassVar[bool] = False
    """Is a source whose own limit protects what hangs on it?"""

    def structure(self, params: Params) -> Structure:
        """Terminals, parts and branches that exist with these parameters."""

        def there(thing: Terminal | Part | Branch) -> bool:
            return thing.when is None or thing.when.holds(params)

        return Structure(
            tuple(t for t in self.terminals if there(t)),
            tuple(p for p in self.parts if there(p)),
            tuple(b for b in self.branches if there(b)),
            self.internal_nodes,
        )

    def defaults(self) -> dict[str, bool | int | float | str]:
        return {param.name: param.default for param in self.params}

    def contradictions(self, params: Params) -> Iterator[str]:
        """What is wrong with parameters that are each within their range."""
        return iter(())

    def locks(self, params: Params) -> tuple[str, ...]:
        """Labels of devices of which it lets only one move away from rest at a time."""
        return ()

    def is_stop(self, params: Params) -> bool:
        """Does the device itself tell that it is there to stop?"""
        return False

    def operating(self, params: Params, branch: str) -> Operating | None:
        """What a load is made for; None for what is no load, and for one that has no such figures."""
        names = self.made_for.get(branch)
        if not names:
            return None
        factor = number(params, names[2]) if len(names) == 3 else 1.0
        return Operating(number(params, names[0]), number(params, names[1]), factor)

    def load_value(self, params: Params, branch: str, frequency_hz: float) -> Value:
        """R and L of a load that takes what it is made for."""
        made_for = self.operating(params, branch)
        if made_for is None:
            raise ValueError(f"What {branch} is made for is not stated.")
        ohm, factor = made_for.voltage_v**2 / made_for.takes_va, made_for.power_factor
        return Value(ohm * factor, ohm * math.sqrt(1 - factor**2) / (2 * math.pi * frequency_hz))

    def ratings(self, params: Params) -> Ratings:
        """What is rated of it beside its loads."""
        return Ratings()

    def can_close(self, params: Params, branch: str) -> bool:
        """Can this contact ever close with these parameters?"""
        return True

    def frequency_hz(self, params: Params) -> float | None:
        """Frequency that this device feeds into the network; None for all but sources."""
        return None

    def line_voltage_v(self, params: Params) -> float | None:
        """Voltage between the lines that this device feeds; None for all but three-phase sources."""
        return None

    def made_for_line_v(self, params: Params) -> float | None:
        """Line voltage that this device is made for; None when it does not matter."""
        return None

    def reference_node(self, params: Params) -> str | None:
        """Terminal or internal node that stands at earth potential, if the device has one."""
        return None

    def initial(self, params: Params) -> DeviceState:
        """State when the circuit is first put under power."""
        return {}

    @abstractmethod
    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        """What each branch is worth in this state. A branch left out is open.

        Values of branches that these parameters leave out are passed over.
        """

    def contact_value(self, params: Params) -> Value:
        """What a contact of this device is worth when closed."""
        return Value(CONTACT_OHM)

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        """State after a hand worked the device at `now_us`."""
        return state

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """State after the device has seen its branch signals at `now_us`.

        Sets or clears the times at which it will change by itself (``*_at_us``).
        """
        return state

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        """Continuous quantities after `span_us` microseconds under steady signals."""
        return state

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        """State after what was due at `now_us` has happened."""
        return state

    def held(self, params: Params, state: DeviceState) -> DeviceState:
        """State of a device that something keeps from moving: nothing is due, and it stays where it is."""
        if not isinstance(state.get("position"), int):
            return {name: None if name.endswith("_at_us") else value for name, value in state.items()}
        return {**state, "driven": state["position"] == HOME, "moves_at_us": None}

    def away(self, state: DeviceState) -> bool:
        """Is its movement away from rest?"""
        return isinstance(state.get("position"), int) and state["position"] != 0

    @abstractmethod
    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        """What a person sees now."""


def number(params: Params, name: str) -> float:
    """A numeric parameter as float."""
    value = params[name]
    if isinstance(value, str):
        raise TypeError(f"parameter {name} is not a number")
    return float(value)
