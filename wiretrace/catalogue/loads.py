"""Lamp, motor and terminal: what the current goes through in the end."""

import math
from collections.abc import Mapping
from typing import Final

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


class Lamp(Kind):
    """Indicator lamp as the resistance of its rated voltage and power."""

    name = "lamp"
    title = "Indicator lamp"
    group = "signal"
    letter = "H"
    letter_nema = "LT"
    mounting = "door"
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 6.0, 690.0),
        Param("rated_power_w", "Rated power", 2.4, "W", 0.05, 500.0),
        Param("colour", "Colour", "green", choices=("green", "red", "yellow", "white", "blue")),
    )
    terminals = (Terminal("X1"), Terminal("X2"))
    branches = (Branch("lamp", "X1", "X2", Role.LOAD),)
    parts = (Part("lamp", "Lamp", "lamp", ("X1", "X2"), ("lamp",)),)

    VISIBLE: Final = 0.5
    """Share of the rated voltage from which a lamp is seen to be lit."""

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"lamp": Value(number(params, "rated_voltage_v") ** 2 / number(params, "rated_power_w"))}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        signal = signals["lamp"]
        share = abs(signal.voltage_v) / number(params, "rated_voltage_v")
        lit = share >= self.VISIBLE and abs(signal.current_a) > 0
        return View("lit" if lit else "dark", lit)


class ThreePhaseMotor(Kind):
    """Cage motor with three leads, each phase the constant impedance of its nameplate."""

    name = "motor_three_phase"
    title = "Three-phase motor, three leads"
    group = "load"
    letter = "M"
    letter_nema = "MTR"
    mounting = "field"
    params = (
        Param("rated_power_kw", "Rated power", 1.5, "kW", 0.05, 500.0),
        Param("rated_voltage_v", "Rated line voltage", 400.0, "V", 24.0, 1000.0),
        Param("rated_current_a", "Rated current", 3.4, "A", 0.05, 1000.0),
        Param("power_factor", "Power factor", 0.81, "", 0.05, 1.0),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0),
    )
    terminals = (Terminal("U1", "T1"), Terminal("V1", "T2"), Terminal("W1", "T3"), Terminal("PE", "GND"))
    internal_nodes = ("star",)
    branches = tuple(Branch(name, name, "star", Role.LOAD) for name in ("U1", "V1", "W1"))
    parts = (Part("motor", "Motor", "motor_3", ("U1", "V1", "W1", "PE"), ("U1", "V1", "W1")),)

    RUNS_FROM: Final = 0.5
    """Share of the rated voltage on every phase from which it is taken to turn."""

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        impedance = number(params, "rated_voltage_v") / math.sqrt(3) / number(params, "rated_current_a")
        factor = number(params, "power_factor")
        omega = 2 * math.pi * number(params, "rated_frequency_hz")
        value = Value(impedance * factor, impedance * math.sqrt(1 - factor**2) / omega)
        return {branch.name: value for branch in self.branches}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        rated = number(params, "rated_voltage_v") / math.sqrt(3)
        volts = [signals[branch.name].voltage_v for branch in self.branches]
        fed = [abs(volt) >= self.RUNS_FROM * rated for volt in volts]
        if not any(fed):
            return View("still", False)
        if not all(fed):
            return View("hums on two phases", False, attention=True)
        # Positive sequence: the second phase lags the first by a third of a turn.
        forward = (volts[1] / volts[0]).imag < 0
        return View("turns forward" if forward else "turns backward", True)


class TerminalBlock(Kind):
    """One numbered terminal of a strip: the inside clamp and the outside clamp."""

    name = "terminal"
    title = "Terminal"
    group = "terminal"
    letter = "X"
    letter_nema = "TB"
    mounting = "plate"
    terminals = (Terminal("a"), Terminal("b"))
    branches = (Branch("a-b", "a", "b", Role.PATH),)
    parts = (Part("terminal", "Terminal", "terminal", ("a", "b"), ("a-b",)),)

    BLOCK_OHM: Final = 0.001

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"a-b": Value(self.BLOCK_OHM)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("", False)
