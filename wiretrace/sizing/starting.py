"""Ways of starting: what each takes from the line, the contactors that it needs, and where the overload relay stands.

One row each; nothing else of the sheet knows their names.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.sizing.plate import Plate

Share = Callable[[Plate], float]
ROOT3: Final = math.sqrt(3)

STEPPED_AT: Final = 1.2
"""Torque in rated ones at which the next step of the rotor's resistance is cut out, as is usual."""
AC1: Final = "AC-1: carries the current and neither makes nor breaks it"
AC2: Final = "AC-2: start a slip-ring motor, stop it running"
AC3: Final = "AC-3: start a cage motor, stop it running"


def limited(plate: Plate) -> float:
    """Start current that is limited to so many full-load currents, in direct start currents."""
    return min(1.0, plate.start_limit / plate.locked_ratio)


def one(_: Plate) -> float:
    return 1.0


@dataclass(frozen=True)
class Switch:
    """A contactor of a starter: `share` of the full-load current that it is chosen by, `told` as one writes it."""

    key: str
    title: str
    share: Share
    told: str
    category: str = AC3


@dataclass(frozen=True)
class Way:
    """A way of starting.

    `line` is the start current in the line in direct start currents, `torque` what is left of the locked-rotor torque,
    `relay` what the overload relay carries of the line's current when running, `relay_start` when starting.
    """

    title: str
    says: str
    line: Share
    torque: Share
    contactors: tuple[Switch, ...]
    relay: float = 1.0
    relay_start: Share = one
    winding: Share = one
    """Voltage of a winding while it starts, in shares of the rated one."""
    transforms: Share = one
    """Line current in shares of the motor's, beyond what the voltage does to both."""
    holds_current: bool = False
    holds_torque: Share | None = None
    """Driving torque of the whole start in rated torques, where that is held; else it follows from the voltage."""
    changes_over: bool = False
    """Does the start end before full speed, with a change-over?"""
    across_the_line: bool = False
    """Is the contactor chosen by horsepower, where it starts the motor itself?"""


_LINE: Final = Switch("contactor_line", "Contactor", one, "1")

WAYS: Final[Mapping[str, Way]] = {
    "direct": Way("direct", "", one, one, (_LINE,), across_the_line=True),
    "star_delta": Way(
        "star-delta",
        "Volts and amperes of each winding fall to a root-3rd, those of the line and the torque to a third.",
        lambda _: 1 / 3,
        lambda _: 1 / 3,
        (
            Switch("contactor_line", "Line contactor", lambda _: 1 / ROOT3, "1/√3"),
            Switch("contactor_delta", "Delta contactor", lambda _: 1 / ROOT3, "1/√3"),
            Switch("contactor_star", "Star contactor", lambda _: 1 / 3, "1/3"),
        ),
        # Behind the line contactor; in star that carries the whole line current.
        relay=1 / ROOT3,
        winding=lambda _: 1 / ROOT3,
        transforms=lambda _: 1 / ROOT3,
        changes_over=True,
    ),
    "by_tap": Way(
        "by autotransformer",
        "At a tap k the motor takes k, the line and the torque k² of the direct start.",
        lambda plate: plate.tap**2,
        lambda plate: plate.tap**2,
        (
            Switch("contactor_line", "Run contactor", one, "1"),
            Switch("contactor_transformer", "Transformer contactor", lambda plate: plate.tap**2, "k²"),
            Switch("contactor_neutral", "Star-point contactor", lambda plate: plate.tap - plate.tap**2, "k - k²"),
        ),
        # The relay stands at the motor.
        relay_start=lambda plate: 1 / plate.tap,
        winding=lambda plate: plate.tap,
        transforms=lambda plate: plate.tap,
        changes_over=True,
    ),
    "soft_start": Way(
        "soft starter",
        "The voltage is held so low that the current stays at its limit; the torque falls with its square.",
        limited,
        lambda plate: limited(plate) ** 2,
        (
            Switch("contactor_line", "Line contactor", one, "1"),
            Switch("contactor_bypass", "Bypass contactor", one, "1", AC1),
        ),
        holds_current=True,
    ),
    "wound_rotor": Way(
        "wound rotor with resistors",
        "Resistance in the rotor makes start current and start torque about the same share of the rated ones.",
        limited,
        one,
        (Switch("contactor_line", "Stator contactor", one, "1", AC2),),
        # Between the limit and what the next step is switched at.
        holds_torque=lambda plate: (plate.start_limit + STEPPED_AT) / 2,
    ),
    "two_speed": Way(
        "two speeds, started direct",
        "Each speed has its own current, dial and contactor.",
        one,
        one,
        (
            Switch("contactor_line", "Contactor of the high speed", one, "1"),
            Switch("contactor_star", "Star-point contactor of the high speed", lambda _: 0.5, "1/2"),
            Switch("contactor_low", "Contactor of the low speed", lambda plate: plate.low_share, "I_low / I"),
        ),
    ),
    "converter": Way(
        "frequency converter",
        "The converter holds the current at its limit while it raises the frequency; the line never sees a start.",
        limited,
        one,
        (Switch("contactor_line", "Contactor before the converter", one, "1", AC1),),
        holds_torque=lambda plate: plate.start_limit,
    ),
}


def way_of(plate: Plate) -> Way:
    """How this motor is started."""
    return WAYS[plate.start]
