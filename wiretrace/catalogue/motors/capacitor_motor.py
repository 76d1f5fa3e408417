"""Single-phase motor with a capacitor that stays in."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)
from wiretrace.catalogue.motors.motor_remedies import OF_ONE_PHASE


class CapacitorMotor(Kind):
    """Main winding U1-U2, auxiliary winding Z1-Z2 behind its capacitor: together they make a field that turns.

    Without the auxiliary winding it hums and does not start, and draws its locked-rotor current; one that turns goes
    on. With Z1 and Z2 exchanged it turns the other way. Each winding is an impedance, of the running or the
    locked motor.
    """

    remedies = OF_ONE_PHASE
    may_be_seen = ("still", "hums", "turns_forward", "turns_backward")
    name = "motor_capacitor"
    title = "Single-phase motor, capacitor"
    rank = 35
    group = "load"
    letter = "M"
    letter_nema = "MTR"
    mounting = "field"
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 24.0, 400.0),
        Param("rated_current_a", "Rated current", 2.6, "A", 0.05, 40.0),
        Param("power_factor", "Power factor of the main winding", 0.7, "", 0.2, 0.98),
        Param("locked_rotor_ratio", "Locked-rotor current, times rated", 3.5, "", 1.5, 10.0),
        Param("capacitor_uf", "Capacitor", 16.0, "uF", 0.5, 500.0),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0),
        Param("run_up_ms", "Time to full speed", 400.0, "ms", 10.0, 20000.0),
    )
    terminals = (*(Terminal(name) for name in ("U1", "U2", "Z1", "Z2")), Terminal("PE", "GND", frame=True))
    internal_nodes = ("behind",)
    branches = (
        Branch("main", "U1", "U2", Role.LOAD),
        Branch("auxiliary", "Z1", "behind", Role.LOAD),
        Branch("capacitor", "behind", "Z2", Role.LOAD),
    )
    parts = (
        Part(
            "motor",
            "Motor",
            "motor_capacitor",
            Does.TURNS,
            ("U1", "U2", "Z1", "Z2", "PE"),
            ("main", "auxiliary", "capacitor"),
            height=11,
        ),
    )

    STARTS_FROM: Final = 0.1
    """Torque, as a share of that with equal currents in quadrature, from which it starts."""
    RUNS_FROM: Final = 0.4
    """Share of the rated voltage below which it stops."""
    STOPS_US: Final = 1_000_000

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch not in ("main", "auxiliary"):
            return None
        volts = number(params, "rated_voltage_v")
        return Operating(volts, volts * number(params, "rated_current_a"), number(params, "power_factor"))

    def ratings(self, params: Params) -> Ratings:
        return Ratings(current_a=number(params, "rated_current_a"))

    def initial(self, params: Params) -> DeviceState:
        return {"drives": 0, "turns": 0, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        times = 1.0 if state["turns"] else number(params, "locked_rotor_ratio")
        impedance = number(params, "rated_voltage_v") / number(params, "rated_current_a") / times
        factor, omega = number(params, "power_factor"), 2 * math.pi * number(params, "rated_frequency_hz")
        winding = Value(impedance * factor, impedance * math.sqrt(1 - factor**2) / omega)
        auxiliary = Value(2 * winding.resistance_ohm, winding.inductance_h)
        capacitor = Value(capacitance_f=1e-6 * number(params, "capacitor_uf"))
        return {"main": winding, "auxiliary": auxiliary, "capacitor": capacitor}

    def torque(self, params: Params, signals: Mapping[str, Signal]) -> float:
        """Torque of the two windings at right angles, as a share of that of two rated currents; sign is the way."""
        main, auxiliary = signals["main"].current_a, signals["auxiliary"].current_a
        return (auxiliary * main.conjugate()).imag / number(params, "rated_current_a") ** 2

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        torque, turns = self.torque(params, signals), int(state["turns"] or 0)
        fed = signals["main"].rms_v >= self.RUNS_FROM * number(params, "rated_voltage_v")
        if not fed or signals["main"].rms_a == 0:
            drives = 0
        elif abs(torque) >= self.STARTS_FROM:
            drives = int(math.copysign(1, torque))
        else:
            drives = turns  # The main winding alone keeps it going, and starts nothing.
        if drives == state["drives"]:
            return state
        delay_us = round(1000 * number(params, "run_up_ms")) if drives else self.STOPS_US
        return {**state, "drives": drives, "changes_at_us": None if drives == turns else now_us + delay_us}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "turns": state["drives"], "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        fed = signals["main"].rms_v > 0.2 * number(params, "rated_voltage_v")
        if not state["turns"] and not state["drives"]:
            return View("hums" if fed else "still", False, attention=fed)
        if not state["drives"]:
            return View("coasts", False)
        way = "forward" if state["drives"] == 1 else "backward"
        return View(f"turns_{way}", True)
