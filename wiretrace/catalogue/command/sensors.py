"""Proximity sensors: two wires in series with an AC load, or three wires on direct voltage."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)
from wiretrace.catalogue.supply.direct import Limiter

_ACTUATE: Final = (Operation("actuate", "Something in front", "toggle"),)


class _Sensor(Kind):
    """Answers some milliseconds after something stands in front of it, while its own supply is there."""

    group = "command"
    letter = "B"
    letter_nema = "PRS"
    mounting = "field"
    electronic = True
    operations = _ACTUATE
    actuator = Actuator.PROCESS

    ANSWERS_US: Final = 1_000

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "target": value, "answers_at_us": now_us + self.ANSWERS_US}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["answers_at_us"] != now_us:
            return state
        return {**state, "seen": state["target"], "answers_at_us": None}

    @staticmethod
    def switched_on(params: Params, state: DeviceState) -> bool:
        """Does its output conduct, as far as the target goes?"""
        return bool(state["seen"]) == (params["output"] == "NO")


class TwoWireSensor(_Sensor):
    """In series with its load: leaks when off, and keeps some volts for itself when on (IEC 60947-5-2).

    The few volts are nearly the same at any current; the resistance that stands for them follows the
    current in steps.
    """

    name = "sensor_two_wire"
    title = "Proximity sensor, two-wire AC"
    rank = 100
    params = (
        Param("output", "Output", "NO", choices=("NO", "NC")),
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 20.0, 265.0),
        Param("leakage_ma", "Leakage when off, at rated voltage", 1.7, "mA", 0.1, 10.0),
        Param("on_drop_v", "Drop when on", 6.0, "V", 1.0, 15.0),
        Param("limit_ma", "Limits itself to", 500.0, "mA", 20.0, 2000.0),
    )
    terminals = (Terminal("1"), Terminal("2"))
    branches = (Branch("switch", "1", "2", Role.CONTACT),)
    parts = (Part("sensor", "Sensor", "sensor_2", Does.SENSES, ("1", "2"), ("switch",)),)

    momentary = frozenset({"on_ohm", "below_v"})

    STEP: Final = 1.05
    """How far the drop may stray before the resistance is set anew."""
    MOST_OHM: Final = 1e4
    STIFF: Final = 0.01
    """Share by which the voltage must follow the resistance: what stands still is all that there is."""

    def ratings(self, params: Params) -> Ratings:
        return Ratings(leak_ohm=1000 * number(params, "rated_voltage_v") / number(params, "leakage_ma"))

    def initial(self, params: Params) -> DeviceState:
        return {"target": False, "seen": False, "on_ohm": 60.0, "below_v": 0.0, "answers_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        if self.switched_on(params, state):
            return {"switch": Value(float(state["on_ohm"] or 0.0))}
        return {"switch": Value(1000 * number(params, "rated_voltage_v") / number(params, "leakage_ma"))}

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        signal, drop_v = signals["switch"], number(params, "on_drop_v")
        if not self.switched_on(params, state) or signal.rms_a < 1e-4:
            return state
        limit_a = number(params, "limit_ma") / 1000
        if signal.rms_a > self.STEP * limit_a:
            # Into a short circuit it gives way, so that no more than its limit flows.
            return {**state, "on_ohm": float(state["on_ohm"] or 1.0) * signal.rms_a / limit_a}
        volts, last = signal.rms_v, float(state["below_v"] or 0.0)
        if 1 / self.STEP < volts / drop_v < self.STEP or signal.rms_a > limit_a / self.STEP:
            return {**state, "below_v": 0.0} if last else state
        ohm = min(max(drop_v / signal.rms_a, 1.0), self.MOST_OHM)
        if volts > drop_v:
            return {**state, "on_ohm": ohm, "below_v": 0.0}
        # Of a source that has less than the drop it would come nearer and nearer, and never there.
        stiff = last > 0 and abs(volts - last) < self.STIFF * last
        return {**state, "on_ohm": self.MOST_OHM if stiff else ohm, "below_v": volts}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = self.switched_on(params, state)
        return View("on" if on else "off", on, on={"actuate": bool(state["target"])})


class ThreeWireSensor(_Sensor):
    """Fed between its two supply wires, switches the third to plus (PNP) or to minus (NPN)."""

    name = "sensor_three_wire"
    title = "Proximity sensor, three-wire DC"
    rank = 110
    params = (
        Param("switches", "Switches", "PNP", choices=("PNP", "NPN")),
        Param("output", "Output", "NO", choices=("NO", "NC")),
        Param("own_current_ma", "Current taken", 10.0, "mA", 0.5, 50.0),
        Param("output_resistance_ohm", "Resistance of the output", 10.0, "ohm", 0.1, 100.0),
        Param("limit_ma", "Output limits itself to", 200.0, "mA", 20.0, 2000.0),
    )
    terminals = (Terminal("L+", "BN"), Terminal("Q", "BK"), Terminal("L-", "BU"))
    branches = (
        Branch("supply", "L+", "L-", Role.LOAD),
        Branch("plus", "L+", "Q", Role.CONTACT),
        Branch("minus", "Q", "L-", Role.CONTACT),
    )
    parts = (
        Part("sensor", "Sensor", "sensor_3", Does.SENSES, ("L+", "Q", "L-"), ("supply", "plus", "minus"), fed=("L+",)),
    )

    momentary = frozenset({"limit_ohm", *Limiter.MEMORY})

    RATED_V: Final = 24.0
    WORKS_FROM_V: Final = 10.0
    WAKES_US: Final = 20_000
    """Delay before availability (IEC 60947-5-2, 7.2.1.8 allows 300 ms)."""
    SLEEPS_US: Final = 1_000

    def operating(self, params: Params, branch: str) -> Operating | None:
        return (
            Operating(self.RATED_V, self.RATED_V * number(params, "own_current_ma") / 1000, direct=True)
            if branch == "supply"
            else None
        )

    def can_close(self, params: Params, branch: str) -> bool:
        # One that switches plus never switches minus, and the other way round.
        return (branch == "plus") == (params["switches"] == "PNP")

    def initial(self, params: Params) -> DeviceState:
        return {
            "target": False,
            "seen": False,
            "fed": False,
            "limit_ohm": 0.0,
            **Limiter.MEMORY,
            "answers_at_us": None,
            "wakes_at_us": None,
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = {"supply": Value(1000 * self.RATED_V / number(params, "own_current_ma"))}
        if state["fed"] and self.switched_on(params, state):
            closed = self.contact_value(params)
            limited = Value(closed.resistance_ohm + float(state["limit_ohm"] or 0.0))
            values["plus" if params["switches"] == "PNP" else "minus"] = limited
        return values

    def contact_value(self, params: Params) -> Value:
        return Value(number(params, "output_resistance_ohm"))

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        # Above its limit the output gives way, so that no more than that flows into a short circuit.
        out = signals["plus" if params["switches"] == "PNP" else "minus"]
        if not (state["fed"] and self.switched_on(params, state)):
            # What flows nevertheless goes past its transistor.
            return {**state, "limit_ohm": 0.0} if state["limit_ohm"] else state
        limiter = Limiter(number(params, "output_resistance_ohm"), number(params, "limit_ma") / 1000)
        return limiter.looks(state, signals["supply"].dc_v, out.dc_a)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        state = Limiter.rested(state)
        fed = signals["supply"].dc_v >= self.WORKS_FROM_V
        if (fed != state["fed"]) == (state["wakes_at_us"] is not None):
            return state
        delay_us = self.WAKES_US if fed else self.SLEEPS_US
        return {**state, "wakes_at_us": now_us + delay_us if fed != state["fed"] else None}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["wakes_at_us"] == now_us:
            state = {**state, "fed": not state["fed"], "wakes_at_us": None}
        return super().advance(params, state, now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = bool(state["fed"]) and self.switched_on(params, state)
        return View("on" if on else "off" if state["fed"] else "dead", on, on={"actuate": bool(state["target"])})
