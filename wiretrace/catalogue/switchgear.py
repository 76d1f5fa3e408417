"""Isolator and circuit breaker: switched by hand, the breaker also by a short circuit."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.device import (
    CONTACT_OHM,
    Branch,
    DeviceState,
    Kind,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Signal,
    Terminal,
    Value,
    View,
    When,
    number,
)

POLE_PAIRS: Final = (("1", "2"), ("3", "4"), ("5", "6"), ("7", "8"))
POLE_NEMA: Final = (("L1", "T1"), ("L2", "T2"), ("L3", "T3"), ("L4", "T4"))


class Isolator(Kind):
    """Three-pole switch-disconnector: opens the circuit by hand, protects nothing."""

    name = "isolator"
    title = "Isolator"
    group = "protection"
    letter = "Q"
    letter_nema = "DISC"
    mounting = "door"
    terminals = tuple(
        Terminal(name, nema)
        for pair, markings in zip(POLE_PAIRS[:3], POLE_NEMA[:3], strict=True)
        for name, nema in zip(pair, markings, strict=True)
    )
    branches = tuple(Branch(f"{a}-{b}", a, b, Role.CONTACT) for a, b in POLE_PAIRS[:3])
    parts = (
        Part(
            "poles",
            "Poles",
            "isolator_3",
            tuple(t for pair in POLE_PAIRS[:3] for t in pair),
            tuple(f"{a}-{b}" for a, b in POLE_PAIRS[:3]),
        ),
    )
    operations = (Operation("switch", "Handle on", "toggle"),)

    def initial(self, params: Params) -> DeviceState:
        return {"on": True}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        if not state["on"]:
            return {}
        return {branch.name: Value(CONTACT_OHM) for branch in self.branches}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "on": value}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("on" if state["on"] else "off", bool(state["on"]))


def _with_at_least(poles: int) -> When:
    return When("poles", tuple(range(poles, 5)))


class Breaker(Kind):
    """Circuit breaker of one to four poles.

    Trips on a short circuit: instantaneous band of IEC 60898-1, curve B 3 to 5, C 5 to 10,
    D 10 to 20 times the rated current; the middle of the band is used here. After a trip the
    handle stands apart from "off" and must go to off before it can be closed.
    """

    name = "breaker"
    title = "Circuit breaker"
    group = "protection"
    letter = "F"
    letter_nema = "CB"
    mounting = "plate"
    params = (
        Param("poles", "Poles", 1, choices=(1, 2, 3, 4)),
        Param("rated_current_a", "Rated current", 6.0, "A", 0.5, 125.0),
        Param("curve", "Tripping curve", "C", choices=("B", "C", "D")),
        Param("pole_resistance_ohm", "Resistance of a pole", 0.02, "ohm", 1e-5, 1.0),
    )
    terminals = tuple(
        Terminal(name, nema, _with_at_least(index + 1))
        for index, (pair, markings) in enumerate(zip(POLE_PAIRS, POLE_NEMA, strict=True))
        for name, nema in zip(pair, markings, strict=True)
    )
    branches = tuple(
        Branch(f"{a}-{b}", a, b, Role.CONTACT, _with_at_least(index + 1)) for index, (a, b) in enumerate(POLE_PAIRS)
    )
    parts = tuple(
        Part(
            "poles",
            "Poles",
            f"breaker_{count}",
            tuple(t for pair in POLE_PAIRS[:count] for t in pair),
            tuple(f"{a}-{b}" for a, b in POLE_PAIRS[:count]),
            When("poles", (count,)),
        )
        for count in (1, 2, 3, 4)
    )
    operations = (Operation("switch", "Handle on", "toggle"),)

    INSTANTANEOUS: Final = {"B": 4.0, "C": 7.5, "D": 15.0}
    CLEARING_US: Final = 10_000

    def initial(self, params: Params) -> DeviceState:
        return {"on": True, "tripped": False, "trips_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        if not state["on"]:
            return {}
        value = self.contact_value(params)
        return {branch.name: value for branch in self.branches}

    def contact_value(self, params: Params) -> Value:
        return Value(number(params, "pole_resistance_ohm"))

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if not value:
            return {**self.initial(params), "on": False}
        return state if state["tripped"] else {**state, "on": True}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        if not state["on"]:
            return state
        limit = self.INSTANTANEOUS[str(params["curve"])] * number(params, "rated_current_a")
        over = any(abs(signal.current_a) >= limit for signal in signals.values())
        if over == (state["trips_at_us"] is not None):
            return state
        return {**state, "trips_at_us": now_us + self.CLEARING_US if over else None}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["trips_at_us"] != now_us:
            return state
        return {"on": False, "tripped": True, "trips_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["tripped"]:
            return View("tripped", False, attention=True)
        return View("on" if state["on"] else "off", bool(state["on"]))
