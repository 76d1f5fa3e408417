"""What things are there for: stated once by each kind, asked by checks, layout, edits and faults.

Whoever wants to know whether something is a coil asks for its function, never for its name.
"""

from dataclasses import dataclass
from enum import StrEnum


class Does(StrEnum):
    """What a part of a device is there for."""

    UNSTATED = "unstated"  # nobody has said: a check cannot tell
    FEEDS = "feeds"  # source of the circuit
    TRANSFORMS = "transforms"  # fed on one side, feeds on the other
    SWITCHES_LOAD = "switches load"  # main poles of contactor, isolator, breaker; links of fuses
    OPERATES = "operates"  # coil of a contactor, relay or timer: moves the contacts of its device
    NORMALLY_OPEN = "normally open"
    NORMALLY_CLOSED = "normally closed"
    CHANGES_OVER = "changes over"  # two ways from one common, never both
    FEELS_CURRENT = "feels current"  # heaters of an overload relay
    FEELS_VOLTAGE = "feels voltage"  # lines that a relay watches
    WATCHES_INSULATION = "watches insulation"  # of a circuit that is not earthed
    CONVERTS = "converts"  # lines into a voltage of another frequency, for a motor
    LESSENS = "lessens voltage"  # of a motor that starts: resistors, autotransformer
    TURNS = "turns"  # windings of a motor
    SHOWS = "shows"  # lamp
    CONSUMES = "consumes"  # any other load: horn, solenoid, supply of an instrument or controller
    TAKES_SIGNALS = "takes signals"  # inputs of a controller
    GIVES_SIGNALS = "gives signals"  # outputs of a controller
    SENSES = "senses"  # sensor that switches by itself
    MEASURES = "measures"  # meter in the circuit
    STEPS_CURRENT_DOWN = "steps current down"  # current transformer
    SHORTS = "shorts"  # terminals with a link for the secondary of a current transformer
    JOINS = "joins"  # terminal that two wires meet at
    LOCKS = "locks"  # mechanical, without wires


class CommandRole(StrEnum):
    """What a button is there for, as its device says."""

    UNSAID = "unsaid"
    START = "start"
    STOP = "stop"
    JOG = "jog"
    RESET = "reset"


class Actuator(StrEnum):
    """What moves the contacts of a device."""

    NOTHING = "nothing"
    HAND = "hand"  # while it is held
    HANDLE = "handle"  # and stays where it is put
    PROCESS = "process"  # level, pressure, something that stands in front
    COIL = "coil"
    PULSE = "pulse"  # of a coil; it stays without
    CLOCK = "clock"
    CURRENT = "current"  # trips
    SUPPLY = "supply"  # a relay that watches lines
    PROGRAM = "program"


class Breaks(StrEnum):
    """What can happen to an element of a device."""

    OPENS = "opens"
    BAD_JOINT = "bad joint"
    SHORTS = "shorts"
    WELDS = "welds"
    WRONG = "wrong contact"  # wired to, or built in, the wrong way round


class Against(StrEnum):
    SHORT_CIRCUIT = "short circuit"
    OVERLOAD = "overload"


class Leaks(StrEnum):
    """What residual current a device with electronics may have, beside that of a sine."""

    PULSATING = "pulsating direct"
    SMOOTH = "smooth direct"


@dataclass(frozen=True)
class Protects:
    """What a device protects the circuit behind it against, and how it tells.

    `dial` names the parameter that is set to the motor's current. Pilot duty: contact `opens` (and
    `closes`) when it has tripped, and opens nothing else. A device without opens the circuit itself.
    """

    against: frozenset[Against]
    dial: str = ""
    opens: str = ""
    closes: str = ""
    tells: str = ""
    """Element that tells a relay elsewhere how hot it is."""


@dataclass(frozen=True)
class Operating:
    """What a load is made for: volts, and what it takes there in volt-amperes. `direct` for direct voltage alone."""

    voltage_v: float
    takes_va: float
    power_factor: float = 1.0
    direct: bool = False


@dataclass(frozen=True)
class Ratings:
    """What is rated of a device beside its loads; None where it has no such rating."""

    current_a: float | None = None
    """Line current of a motor."""
    also_a: tuple[float, ...] = ()
    """Line currents of its other windings, of a motor that has more than one speed."""
    gives_va: float | None = None
    """Volt-amperes that a source can give."""
    ratio: float | None = None
    """Primary amperes for each secondary ampere: of a current transformer, or that a meter is set for."""
    secondary_a: float | None = None
    """Secondary current of a current transformer."""
    holds_from: float | None = None
    """Share of its operating voltage down to which a coil that is in stays in."""
    picks_up_from: float | None = None
    """Share of its operating voltage from which a coil pulls its armature in."""
    leak_ohm: float | None = None
    """What a contact that is off still lets through, as a resistance."""
    feeds_direct: bool = False
    """Is it a source of direct voltage?"""


@dataclass(frozen=True)
class Windings:
    """The leads of a three-phase motor in the order of its phases.

    `ends` come out only where windings are open; `also` are the leads of another speed.
    """

    starts: tuple[str, str, str]
    ends: tuple[str, str, str] | None = None
    also: tuple[str, ...] = ()

    @property
    def leads(self) -> tuple[str, ...]:
        return (*self.starts, *(self.ends or ()), *self.also)
