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
from typing import ClassVar, Final, NamedTuple, TypeAlias

Scalar: TypeAlias = bool | int | float | str | None
Params: TypeAlias = Mapping[str, bool | int | float | str]
DeviceState: TypeAlias = Mapping[str, Scalar]

CONTACT_OHM: Final = 0.01
"""Resistance of any closed contact, ohm."""

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
    """A clamp. `name` is the IEC marking and the key in the document."""

    name: str
    nema: str = ""
    when: When | None = None


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


@dataclass(frozen=True, slots=True)
class Value:
    """What a branch is worth now: R and L in series with a source, or a capacitor.

    `emf_v` is the rise from `a` to `b` as a complex RMS phasor, `emf_dc_v` the same of direct
    voltage. `capacitance_f` stands in parallel. `mutual` names other branches of the device on the
    same core with the ohms and henries of the voltage that each ampere there raises here; it need
    not be the same both ways (a turning rotor). `direct_ohm` is the resistance to direct current
    where that is another than `resistance_ohm`. An open branch has no Value.
    """

    resistance_ohm: float = 0.0
    inductance_h: float = 0.0
    capacitance_f: float = 0.0
    emf_v: complex = 0j
    emf_dc_v: float = 0.0
    mutual: tuple[tuple[str, float, float], ...] = ()
    direct_ohm: float | None = None

    def impedance_ohm(self, angular_frequency: float) -> complex:
        """Series impedance in ohm at an angular frequency in radians per second."""
        return complex(self.resistance_ohm, angular_frequency * self.inductance_h)

    def admittance_s(self, angular_frequency: float) -> complex:
        """Admittance in siemens at an angular frequency in radians per second; infinite without any impedance."""
        shunt = 1j * angular_frequency * self.capacitance_f
        series = self.impedance_ohm(angular_frequency)
        if series == 0:
            return shunt if self.capacitance_f > 0 else complex(math.inf, 0)
        return 1 / series + shunt

    def conductance_s(self) -> float:
        """Conductance to direct current in siemens: a coil is its wire, a capacitor is open."""
        ohm = self.resistance_ohm if self.direct_ohm is None else self.direct_ohm
        if ohm == 0:
            return 0.0 if self.capacitance_f > 0 else math.inf
        return 1 / ohm


class Signal(NamedTuple):
    """What one branch sees: volts from `a` to `b`, amperes flowing from `a` to `b`.

    RMS phasors of the alternating part, plain numbers of the direct part.
    """

    voltage_v: complex
    current_a: complex
    dc_v: float = 0.0
    dc_a: float = 0.0

    @property
    def rms_v(self) -> float:
        """RMS of the whole voltage, direct part included."""
        return math.hypot(abs(self.voltage_v), self.dc_v)

    @property
    def rms_a(self) -> float:
        """RMS of the whole current, direct part included."""
        return math.hypot(abs(self.current_a), self.dc_a)


@dataclass(frozen=True)
class Part:
    """A piece of the device with a symbol of its own on the sheet."""

    name: str
    title: str
    symbol: str
    terminals: tuple[str, ...]
    branches: tuple[str, ...] = ()
    when: When | None = None


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


class Kind(ABC):
    """A kind of device. Subclasses are stateless; one instance each is registered."""

    name: ClassVar[str]
    title: ClassVar[str]
    group: ClassVar[str]
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
