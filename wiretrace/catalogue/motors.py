"""Three-phase cage motors with three or six leads, each winding the constant impedance of its nameplate."""

import math
from collections.abc import Mapping, Sequence
from typing import ClassVar, Final

from wiretrace.catalogue.device import (
    Branch,
    DeviceState,
    Kind,
    Param,
    Params,
    Part,
    Role,
    Signal,
    Terminal,
    Value,
    View,
    number,
)

FED_FROM: Final = 0.4
"""Share of the rated voltage on every winding from which the motor is taken to be fed: star has 0.58, and a winding
in star with one phase lost 0.5."""


def _params(power_kw: float, current_a: float, voltage: str) -> tuple[Param, ...]:
    return (
        Param("rated_power_kw", "Rated power", power_kw, "kW", 0.05, 500.0),
        Param("rated_voltage_v", voltage, 400.0, "V", 24.0, 1000.0),
        Param("rated_current_a", "Rated line current", current_a, "A", 0.05, 1000.0),
        Param("power_factor", "Power factor", 0.81, "", 0.05, 1.0),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0),
    )


class _ThreePhaseMotor(Kind):
    """`windings` are three branches in the order of the phases."""

    group = "load"
    letter = "M"
    letter_nema = "MTR"
    mounting = "field"

    windings: ClassVar[tuple[str, str, str]]
    in_delta: ClassVar[bool]
    """Do the rated voltage and current hold with the windings in delta?"""

    def rated_winding(self, params: Params) -> tuple[float, float]:
        """Volts across a winding and amperes through it at the rated point."""
        volts, amperes = number(params, "rated_voltage_v"), number(params, "rated_current_a")
        return (volts, amperes / math.sqrt(3)) if self.in_delta else (volts / math.sqrt(3), amperes)

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        volts, amperes = self.rated_winding(params)
        factor = number(params, "power_factor")
        omega = 2 * math.pi * number(params, "rated_frequency_hz")
        reactance = volts / amperes * math.sqrt(1 - factor**2)
        value = Value(volts / amperes * factor, reactance / omega)
        return dict.fromkeys(self.windings, value)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        volts = [signals[name].voltage_v for name in self.windings]
        return self.seen(volts, self.rated_winding(params)[0])

    @staticmethod
    def seen(volts: Sequence[complex], rated: float) -> View:
        """What the winding voltages make of the motor."""
        fed = [abs(volt) >= FED_FROM * rated for volt in volts]
        if not any(fed):
            return View("still", False)
        # Positive sequence: the second phase lags the first by a third of a turn. Voltages that are
        # not three at 120 degrees, from a lost phase or windings side by side, give no rotating field.
        turn = complex(-0.5, math.sqrt(3) / 2)
        forward = abs(volts[0] + turn * volts[1] + turn**2 * volts[2])
        backward = abs(volts[0] + turn**2 * volts[1] + turn * volts[2])
        if not all(fed) or min(forward, backward) > 0.5 * max(forward, backward):
            return View("hums", False, attention=True)
        return View("turns forward" if forward > backward else "turns backward", True)


class ThreeLeadMotor(_ThreePhaseMotor):
    """The windings are joined inside; only U1, V1, W1 and the frame come out."""

    name = "motor_three_phase"
    title = "Three-phase motor, three leads"
    params = _params(1.5, 3.4, "Rated line voltage")
    terminals = (Terminal("U1", "T1"), Terminal("V1", "T2"), Terminal("W1", "T3"), Terminal("PE", "GND"))
    internal_nodes = ("star",)
    windings = ("U1", "V1", "W1")
    in_delta = False
    branches = tuple(Branch(name, name, "star", Role.LOAD) for name in ("U1", "V1", "W1"))
    parts = (Part("motor", "Motor", "motor_3", ("U1", "V1", "W1", "PE"), ("U1", "V1", "W1")),)


class SixLeadMotor(_ThreePhaseMotor):
    """All six winding ends come out, to be joined in star or in delta."""

    name = "motor_six_leads"
    title = "Three-phase motor, six leads"
    params = _params(7.5, 15.5, "Rated line voltage in delta")
    terminals = (
        Terminal("U1", "T1"),
        Terminal("V1", "T2"),
        Terminal("W1", "T3"),
        Terminal("U2", "T4"),
        Terminal("V2", "T5"),
        Terminal("W2", "T6"),
        Terminal("PE", "GND"),
    )
    windings = ("U1-U2", "V1-V2", "W1-W2")
    in_delta = True
    branches = tuple(Branch(f"{n}1-{n}2", f"{n}1", f"{n}2", Role.LOAD) for n in "UVW")
    parts = (
        Part("motor", "Motor", "motor_6", ("U1", "V1", "W1", "U2", "V2", "W2", "PE"), ("U1-U2", "V1-V2", "W1-W2")),
    )
