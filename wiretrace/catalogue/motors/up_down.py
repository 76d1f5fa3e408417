"""Up and down: the reversible single-phase motor of a blind or a vent, and the switch that works it."""

import cmath
import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    When,
    number,
)
from wiretrace.catalogue.motors.motor_remedies import OF_ONE_PHASE

_COMMON_FIRST: Final = When("layout", ("common_first",))
_COMMON_MIDDLE: Final = When("layout", ("common_middle",))


class UpDownSwitch(Kind):
    """Maintained switch of three positions whose common stands at terminal 1 or between the others."""

    name = "up_down_switch"
    title = "Switch, up-off-down"
    rank = 50
    group = "command"
    letter = "S"
    letter_nema = "SS"
    mounting = "door"
    params = (
        Param(
            "layout",
            "Terminals",
            "common_first",
            choices=("common_first", "common_middle"),
            titles={"common_first": "common 1, up 2, down 3", "common_middle": "up 1, common 2, down 3"},
        ),
    )
    terminals = (Terminal("1"), Terminal("2"), Terminal("3"))
    branches = (
        Branch("1-2", "1", "2", Role.CONTACT),
        Branch("1-3", "1", "3", Role.CONTACT, _COMMON_FIRST),
        Branch("2-3", "2", "3", Role.CONTACT, _COMMON_MIDDLE),
    )
    parts = (
        Part("contacts", "Contacts", "up_down", Does.CHANGES_OVER, ("1", "2", "3"), ("1-2", "1-3"), _COMMON_FIRST),
        Part(
            "contacts_b",
            "Contacts",
            "up_down_b",
            Does.CHANGES_OVER,
            ("1", "2", "3"),
            ("1-2", "2-3"),
            _COMMON_MIDDLE,
            fed=("2",),
        ),
    )
    actuator = Actuator.HANDLE
    operations = tuple(Operation(way, f"Turn to {way}", "pulse") for way in ("up", "off", "down"))

    def initial(self, params: Params) -> DeviceState:
        return {"way": "off"}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        if state["way"] == "up":
            return {"1-2": closed}
        return {"1-3": closed, "2-3": closed} if state["way"] == "down" else {}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {"way": operation}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = {operation.name: operation.name == state["way"] for operation in self.operations}
        return View(str(state["way"]), state["way"] != "off", on=on)


class ReversibleMotor(Kind):
    """Two equal windings and a capacitor between them: the one that is fed leads the other.

    Fed at UP the capacitor delays nothing in that winding and advances the current of the other; so the
    field turns one way, and the other way when fed at DOWN. Each winding is the impedance of the
    running motor. Which of phase and neutral stands at the common makes no difference.
    """

    remedies = OF_ONE_PHASE
    name = "motor_reversible"
    title = "Single-phase motor, up and down"
    rank = 30
    group = "load"
    letter = "M"
    letter_nema = "MTR"
    mounting = "field"
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 24.0, 400.0),
        Param("rated_current_a", "Current of the fed winding", 0.6, "A", 0.05, 20.0),
        Param("power_factor", "Power factor of a winding", 0.75, "", 0.2, 0.98),
        Param("capacitor_uf", "Capacitor", 5.0, "uF", 0.5, 200.0),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0),
        Param("run_up_ms", "Time to full speed", 120.0, "ms", 10.0, 5000.0),
    )
    terminals = (Terminal("N", "T1"), Terminal("UP", "T2"), Terminal("DOWN", "T3"), Terminal("PE", "GND", frame=True))
    branches = (
        Branch("up", "UP", "N", Role.LOAD),
        Branch("down", "DOWN", "N", Role.LOAD),
        Branch("capacitor", "UP", "DOWN", Role.LOAD),
    )
    parts = (
        Part(
            "motor", "Motor", "motor_1", Does.TURNS, ("N", "UP", "DOWN", "PE"), ("up", "down", "capacitor"), height=11
        ),
    )

    STARTS_FROM: Final = 0.15
    """Torque, as a share of that with equal currents in quadrature at the rated current, from which it turns."""

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch not in ("up", "down"):
            return None
        volts = number(params, "rated_voltage_v")
        return Operating(volts, volts * number(params, "rated_current_a"), number(params, "power_factor"))

    def ratings(self, params: Params) -> Ratings:
        return Ratings(current_a=number(params, "rated_current_a"))

    def initial(self, params: Params) -> DeviceState:
        return {"drives": 0, "turns": 0, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        impedance = number(params, "rated_voltage_v") / number(params, "rated_current_a")
        factor = number(params, "power_factor")
        omega = 2 * math.pi * number(params, "rated_frequency_hz")
        winding = Value(impedance * factor, impedance * math.sqrt(1 - factor**2) / omega)
        return {"up": winding, "down": winding, "capacitor": Value(capacitance_f=1e-6 * number(params, "capacitor_uf"))}

    def torque(self, params: Params, signals: Mapping[str, Signal]) -> float:
        """Torque of two windings at right angles, as a share of the rated; positive upward."""
        up, down = signals["up"].current_a, signals["down"].current_a
        return (down * up.conjugate()).imag / number(params, "rated_current_a") ** 2

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        torque = self.torque(params, signals)
        drives = 0 if abs(torque) < self.STARTS_FROM else int(math.copysign(1, torque))
        if drives == state["drives"]:
            return state
        at_us = None if drives == state["turns"] else now_us + round(1000 * number(params, "run_up_ms"))
        return {**state, "drives": drives, "changes_at_us": at_us}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "turns": state["drives"], "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        fed = max(signals["up"].rms_v, signals["down"].rms_v) > 0.2 * number(params, "rated_voltage_v")
        angle = math.degrees(cmath.phase(signals["down"].current_a / (signals["up"].current_a or 1)))
        figures = (Figure("Angle between the currents", angle if fed else 0.0, "deg"),)
        if not state["turns"] and not state["drives"]:
            return View("hums" if fed else "still", False, attention=fed, figures=figures)
        way = "up" if (state["turns"] or state["drives"]) == 1 else "down"
        return View(f"turns_{way}", True, figures=figures)
