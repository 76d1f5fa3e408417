"""Brake on the shaft of a motor: springs hold it, a coil for direct voltage releases it."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Against, Operating, Protects
from wiretrace.catalogue.machinery.structure import DeviceState, Params, View, number
from wiretrace.catalogue.motors.three_phase import ThreePhaseMotor

HOLDING: Final = "holding"
"""Name under which a motor is told, beside its parameters, that its brake is on."""
COIL_W: Final = 40.0
RELEASES_FROM: Final = 0.75
"""Share of its voltage from which the coil releases, and below which the springs come back."""
HOLDS_BELOW: Final = 0.3
ACTS_US: Final = 60_000


class BrakedMotor(ThreePhaseMotor):
    """A motor that may have a brake: without voltage at BR1 and BR2 it is held by twice its rated torque."""

    protects = Protects(frozenset({Against.OVERLOAD}), opens="thermostat", tells="thermistors")

    def _told(self, params: Params, state: DeviceState) -> Params:
        return {**params, HOLDING: True} if state["holds"] else params

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "brake":
            return super().operating(params, branch)
        return Operating(number(params, "brake_voltage_v"), COIL_W, direct=True)

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), "holds": bool(params["brake"]), "brakes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {**super().values(params, state), "brake": Value(number(params, "brake_voltage_v") ** 2 / COIL_W)}

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return super().adapt(self._told(params, state), state, signals, now_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        state = super().sense(self._told(params, state), state, signals, now_us)
        if not params["brake"]:
            return state
        share = abs(signals["brake"].dc_v) / number(params, "brake_voltage_v")
        moves = share >= RELEASES_FROM if state["holds"] else share < HOLDS_BELOW
        if moves == (state["brakes_at_us"] is not None):
            return state
        return {**state, "brakes_at_us": now_us + ACTS_US if moves else None}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        return super().evolve(self._told(params, state), state, signals, span_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["brakes_at_us"] == now_us:
            # What it comes to from here is another matter than before.
            state = {**state, "holds": not state["holds"], "brakes_at_us": None, "anew": True}
        return super().advance(params, state, now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        seen = super().view(self._told(params, state), state, signals)
        if not state["holds"]:
            return seen
        return View(f"{seen.status}+brake_on", seen.active, seen.attention, figures=seen.figures)
