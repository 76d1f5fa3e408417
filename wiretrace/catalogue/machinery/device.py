"""What a kind of device is: the one description that everything else reads.

A kind states, as data, its parameters, terminals, sheet parts, electrical branches
and how it can be operated; and, as pure functions of parameters and state, what its
branches are worth, how it answers to the voltages and currents it sees, and what
a person sees of it.

Time is an integer number of microseconds. A device's state is a flat mapping of
plain values with three conventions that the simulation relies on:

* a name ending in ``_at_us`` is an absolute time to come (or None when nothing is due);
* a name ending in ``_since_us`` is an absolute time gone by (-1 for none);
* a float is a continuous quantity (a temperature rise), anything else is discrete.

Nothing switches in no time. What a device sees lets it plan (`sense`), its contacts change when that is due
(`advance`) or by hand (`operate`). Only what follows the current without inertia, the saturation of a core, does so
within the instant (`adapt`); nobody senses before that has settled.
"""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping
from typing import ClassVar, Final

from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Tone, Value
from wiretrace.catalogue.machinery.purpose import (
    Actuator,
    CommandRole,
    Does,
    Leaks,
    Operating,
    Protects,
    Ratings,
    Windings,
)
from wiretrace.catalogue.machinery.status import tells
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Diode,
    Operation,
    Param,
    Params,
    Part,
    Structure,
    Terminal,
    View,
    number,
)

HOME: Final = 2
"""Value of ``position`` of a movement that is driven home; 0 is at rest, 1 under way."""


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
    starts_motor: ClassVar[str] = ""
    """The way of starting that a circuit with it has, by its name on the sheet of sizes."""
    electronic: ClassVar[bool] = False
    """Would an insulation test destroy it while it is connected?"""
    off: ClassVar[str] = ""
    """Of a selector the operation that turns it to where nothing may run."""
    actuator: ClassVar[Actuator] = Actuator.NOTHING
    """What moves its contacts."""
    racing: ClassVar[tuple[str, ...]] = ()
    """Parameters that are times of an armature, or of a finger, on its way: those that make races."""
    balances: ClassVar[frozenset[str]] = frozenset()
    """Branches through one window: it acts when the currents in them do not add up to nothing."""
    protects: ClassVar[Protects | None] = None
    made_for: ClassVar[Mapping[str, tuple[str, str] | tuple[str, str, str]]] = {}
    """Of each load the parameters with its operating voltage, what it takes there and its power factor."""
    three_phase: ClassVar[Windings | None] = None
    """The leads of a motor of three phases."""
    momentary: ClassVar[frozenset[str]] = frozenset()
    """Continuous quantities of its state that follow at once or note what was: none of them takes time to grow."""
    clock: ClassVar[str] = ""
    """The name in its state of the time that can be seen to run: of a timer, or until something trips."""
    remedies: ClassVar[Mapping[str, str]] = {}
    """By status: why it came to that, and the way back, in a sentence or two."""
    may_be_seen: ClassVar[tuple[str, ...]] = ()
    """Statuses that a person may report of it although no likely fault shows them."""
    starts_by: ClassVar[tuple[str, ...]] = ()
    """Inputs that start it, of what has a supply of its own besides."""
    off_contact: ClassVar[str] = ""
    """The contact that is closed only while its output is off, of a source that lines may come to while it is."""
    limits_current: ClassVar[bool] = False
    """Is a source whose own limit protects what hangs on it?"""

    def remedy(self, status: str) -> str:
        """Why it came to what it says, and the way back; nothing where that is as it should be."""
        return next((told for code, told in self.remedies.items() if tells(status, code)), "")

    def has_electronics(self, params: Params) -> bool:
        """Would an insulation test destroy it, as it is with these parameters?"""
        return self.electronic

    def delicate(self, params: Params) -> tuple[str, ...]:
        """Terminals that electronics is behind: all but those of contacts, which are apart from it."""
        if not self.has_electronics(params):
            return ()
        structure = self.structure(params)
        apart = structure.parts_that(Does.NORMALLY_OPEN, Does.NORMALLY_CLOSED, Does.CHANGES_OVER)
        contacts = {name for part in apart for name in part.terminals}
        return tuple(one.name for one in structure.terminals if one.name not in contacts)

    def diodes(self, params: Params) -> tuple[Diode, ...]:
        """The diodes that a meter finds between its terminals."""
        return ()

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

    jams: ClassVar[bool] = False
    """Does it pull against what keeps it from moving, as a motor does, and not just stay where it is?"""

    @property
    def sticks(self) -> bool:
        """Can it be kept from moving?"""
        return self.jams or self.actuator is not Actuator.NOTHING

    def is_stop(self, params: Params) -> bool:
        """Is it there to stop?"""
        return self.role(params) is CommandRole.STOP

    def role(self, params: Params) -> CommandRole | None:
        """What it is there for as a command; None for what has no such role."""
        return None

    def in_role(self, params: Params, role: CommandRole) -> Params:
        """Those of its parameters that say so. Raises ValueError for what has no role."""
        raise ValueError(f"{self.title} has no role.")

    def wears(self, params: Params) -> bool:
        """Has it the colour of what it is there for, or none?"""
        return True

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

    def on_network(self, params: Params, frequency_hz: float) -> Params:
        """The parameters where this is the frequency of the network that it is in."""
        return params

    def line_voltage_v(self, params: Params) -> float | None:
        """Voltage between the lines that this device feeds; None for all but three-phase sources."""
        return None

    def made_for_line_v(self, params: Params) -> float | None:
        """Line voltage that this device is made for; None when it does not matter."""
        return None

    def reference_node(self, params: Params) -> str | None:
        """Terminal or internal node that stands at earth potential, if the device has one."""
        return None

    def earthed_at(self, params: Params) -> str:
        """The pole that a source earths inside itself, by its terminal; empty where it earths none."""
        return ""

    def initial(self, params: Params) -> DeviceState:
        """State when the circuit is first put under power."""
        return {}

    @abstractmethod
    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        """What each branch is worth in this state. A branch left out is open.

        Values of branches that these parameters leave out are passed over.
        """

    def fading(self, params: Params, state: DeviceState) -> Mapping[str, Tone]:
        """Voltages in its branches that die away by themselves: no device acts on them, a meter shows them."""
        return {}

    def limits(self, params: Params) -> Mapping[str, str]:
        """By the code of what it finds: from where on, and for how long, in words."""
        return {}

    def tells_by(self, params: Params) -> str:
        """The kind of temperature sensor that it has, or that it is set for; empty for none."""
        return ""

    def leaks(self, params: Params) -> Leaks | None:
        """What residual current it may have that is no sine."""
        return None

    def sees(self, params: Params) -> frozenset[Leaks] | None:
        """Which residual currents it sees beside those of a sine; None for what has no window."""
        return None

    def contact_value(self, params: Params) -> Value:
        """What a contact of this device is worth when closed."""
        return Value(CONTACT_OHM)

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        """State after a hand worked the device at `now_us`."""
        return state

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """State after what has no inertia has followed the branch signals at `now_us`: quantities, no contacts.

        Asked again with the solution that comes of it, until it leaves the state alone.
        """
        return state

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """State after the device has seen the settled signals of its branches at `now_us`.

        Sets or clears the times at which it will change by itself (``*_at_us``). Changes no value of a branch.
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
        return {**state, "driven": state["position"] != 0, "moves_at_us": None}

    def away(self, state: DeviceState) -> bool:
        """Is its movement away from rest?"""
        return isinstance(state.get("position"), int) and state["position"] != 0

    @abstractmethod
    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        """What a person sees now."""
