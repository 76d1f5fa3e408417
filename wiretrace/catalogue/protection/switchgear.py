"""Isolator, breaker, manual motor starter and fuses: what switches off, by hand or by itself."""

import math
from collections.abc import Mapping
from typing import ClassVar, Final

from wiretrace.catalogue.machinery import thermal
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Against, Does, Operating, Protects
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
    When,
    due_us,
    ends_of,
    names_of,
    number,
)
from wiretrace.catalogue.protection import releases

DIAL_HELP: Final = "Set to the motor's nameplate current."
POLE_PAIRS: Final = (("1", "2"), ("3", "4"), ("5", "6"), ("7", "8"))
POLE_NEMA: Final = (("L1", "T1"), ("L2", "T2"), ("L3", "T3"), ("L4", "T4"))


class Isolator(Kind):
    """Three-pole switch-disconnector: opens the circuit by hand, protects nothing. A padlock keeps it off."""

    name = "isolator"
    title = "Isolator"
    rank = 10
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
            Does.SWITCHES_LOAD,
            ends_of(POLE_PAIRS[:3]),
            names_of(POLE_PAIRS[:3]),
        ),
    )
    actuator = Actuator.HANDLE
    operations = (
        Operation("switch", "Handle on", "toggle", handle=True),
        Operation("lock", "Lock off", "toggle", locks_off=True),
    )

    def initial(self, params: Params) -> DeviceState:
        return {"on": True, "locked": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        if not state["on"]:
            return {}
        return {branch.name: Value(CONTACT_OHM) for branch in self.branches}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "lock":
            # The hasp of the handle takes a padlock in its off position alone.
            return {**state, "locked": value and not state["on"]}
        return {**state, "on": value and not state["locked"]}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on, locked = bool(state["on"]), bool(state["locked"])
        status = "on" if on else "locked_off" if locked else "off"
        return View(status, on, on={"switch": on, "lock": locked})


def _with_at_least(poles: int) -> When:
    return When("poles", tuple(range(poles, 5)))


POLE_TERMINALS: Final = tuple(
    Terminal(name, nema, _with_at_least(index + 1))
    for index, (pair, markings) in enumerate(zip(POLE_PAIRS, POLE_NEMA, strict=True))
    for name, nema in zip(pair, markings, strict=True)
)
POLE_BRANCHES: Final = tuple(
    Branch(f"{a}-{b}", a, b, Role.CONTACT, _with_at_least(index + 1)) for index, (a, b) in enumerate(POLE_PAIRS)
)


class Breaker(Kind):
    """Circuit breaker of one to four poles.

    Trips on a short circuit: instantaneous band of IEC 60898-1, curve B 3 to 5, C 5 to 10,
    D 10 to 20 times the rated current; the middle of the band is used here. Below that in inverse time:
    not at 1.13 times the rated current, within an hour at 1.45 times, within 1 to 60 s at 2.55 times
    (table 7). With a release it also trips when a voltage fails, or comes; its alarm contact tells a trip from
    a hand. After a trip the handle stands apart from "off" and must go to off before it can be closed.
    """

    remedies = {
        "tripped": "More flowed than it carries. Find out where to, then turn its handle to off and on again.",
    }
    name = "breaker"
    title = "Circuit breaker"
    rank = 20
    group = "protection"
    letter = "F"
    letter_nema = "CB"
    letters_known = ("Q",)
    mounting = "plate"
    params: ClassVar[tuple[Param, ...]] = (
        Param("poles", "Poles", 1, choices=(1, 2, 3, 4)),
        Param("rated_current_a", "Rated current", 6.0, "A", 0.5, 125.0, sized="breaker_rating"),
        Param("curve", "Tripping curve", "C", choices=("B", "C", "D"), sized="curve"),
        Param("pole_resistance_ohm", "Resistance of a pole", 0.02, "ohm", 1e-5, 1.0),
        *releases.PARAMS,
    )
    terminals = (*POLE_TERMINALS, *releases.TERMINALS)
    branches = (*POLE_BRANCHES, *releases.BRANCHES)
    parts = (
        *(
            Part(
                "poles",
                "Poles",
                f"breaker_{count}",
                Does.SWITCHES_LOAD,
                ends_of(POLE_PAIRS[:count]),
                names_of(POLE_PAIRS[:count]),
                When("poles", (count,)),
            )
            for count in (1, 2, 3, 4)
        ),
        *releases.PARTS,
    )
    actuator = Actuator.CURRENT
    clock = "trips_at_us"
    protects = Protects(frozenset({Against.SHORT_CIRCUIT}))
    operations: ClassVar[tuple[Operation, ...]] = (Operation("switch", "Handle on", "toggle", handle=True),)

    INSTANTANEOUS: Final = {"B": 4.0, "C": 7.5, "D": 15.0}
    CLEARING_US: Final = 10_000
    TRIP_HEAT: Final = 1.3**2
    TAU_S: Final = 70.0

    def initial(self, params: Params) -> DeviceState:
        due = {"trips_at_us": None, **releases.IDLE}
        return {"on": True, "tripped": False, "heat": 0.0, "magnetic": False, **due}

    def operating(self, params: Params, branch: str) -> Operating | None:
        return releases.operating(params, branch)

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        value = self.contact_value(params)
        poles = {branch.name: value for branch in POLE_BRANCHES} if state["on"] else {}
        return {**poles, **releases.values(params, state)}

    def contact_value(self, params: Params) -> Value:
        return Value(number(params, "pole_resistance_ohm"))

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if not value:
            return {**self.initial(params), "heat": state["heat"], "on": False}
        return state if state["tripped"] else {**state, "on": True}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        released_at = releases.due(params, state, signals, now_us)
        if released_at != state["released_at_us"]:
            state = {**state, "released_at_us": released_at}
        if not state["on"]:
            return state
        times = self._times(params, signals)
        if times >= self.INSTANTANEOUS[str(params["curve"])]:
            if state["magnetic"]:
                return state
            return {**state, "magnetic": True, "trips_at_us": now_us + self.CLEARING_US}
        final, heat = times**2, float(state["heat"] or 0.0)
        at_us = None
        if final > self.TRIP_HEAT:
            seconds = self.TAU_S * math.log(max(1.0, (final - heat) / (final - self.TRIP_HEAT)))
            at_us = due_us(now_us, seconds, state["trips_at_us"])
        if at_us == state["trips_at_us"] and not state["magnetic"]:
            return state
        return {**state, "magnetic": False, "trips_at_us": at_us}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        final = self._times(params, signals) ** 2
        heat = final + (float(state["heat"] or 0.0) - final) * math.exp(-span_us / 1e6 / self.TAU_S)
        return {**state, "heat": heat}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if now_us not in (state["trips_at_us"], state["released_at_us"]):
            return state
        return {**state, "on": False, "tripped": True, "magnetic": False, "trips_at_us": None, **releases.IDLE}

    @staticmethod
    def _times(params: Params, signals: Mapping[str, Signal]) -> float:
        """The largest current, in that rated."""
        poles = [signals[branch.name].rms_a for branch in POLE_BRANCHES if branch.name in signals]
        return max(poles) / number(params, "rated_current_a")

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["tripped"]:
            return View("tripped", False, attention=True)
        return View("on" if state["on"] else "off", bool(state["on"]))


class MotorStarter(Kind):
    """Manual motor starter: isolation, a dial against overload, a release against short circuits.

    After a trip it must be turned off before it can be turned on, and it is trip-free: while it is
    hot it cannot be turned on at all. Heating as in `thermal`; the short-circuit release acts at 13
    times the dial (IEC 60947-2 with IEC 60947-4-1).
    """

    remedies = Breaker.remedies
    name = "motor_starter"
    title = "Manual motor starter"
    rank = 40
    group = "protection"
    letter = "Q"
    letter_nema = "MMS"
    mounting = "plate"
    params = (
        Param("dial_a", "Dial", 4.0, "A", 0.1, 100.0, help=DIAL_HELP, set_on_site=True, sized="dial"),
        thermal.CLASS_PARAM,
        Param("feels_phase_loss", "Sensitive to phase loss", True),
        thermal.HEATER_PARAM,
    )
    terminals = (*Isolator.terminals, Terminal("13"), Terminal("14"), Terminal("21"), Terminal("22"))
    branches = (
        *Isolator.branches,
        Branch("13-14", "13", "14", Role.CONTACT),
        Branch("21-22", "21", "22", Role.CONTACT),
    )
    parts = (
        Part(
            "poles",
            "Poles",
            "motor_starter_3",
            Does.SWITCHES_LOAD,
            Isolator.parts[0].terminals,
            Isolator.parts[0].branches,
        ),
        Part("13-14", "Contact 13-14, NO", "contact_no", Does.NORMALLY_OPEN, ("13", "14"), ("13-14",)),
        Part("21-22", "Contact 21-22, NC", "contact_nc", Does.NORMALLY_CLOSED, ("21", "22"), ("21-22",)),
    )
    actuator = Actuator.CURRENT
    clock = "trips_at_us"
    protects = Protects(frozenset({Against.SHORT_CIRCUIT, Against.OVERLOAD}), "dial_a")
    operations = (Operation("switch", "Handle on", "toggle", handle=True),)

    SHORT_CIRCUIT: Final = 13.0
    CLEARING_US: Final = 5_000

    def initial(self, params: Params) -> DeviceState:
        return {"on": True, "tripped": False, **thermal.COLD, "trips_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        contact = Value(CONTACT_OHM)
        if not state["on"]:
            return {"21-22": contact}
        return {branch.name: self.contact_value(params) for branch in Isolator.branches} | {"13-14": contact}

    def contact_value(self, params: Params) -> Value:
        return Value(thermal.heater_ohm(params))

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if not value:
            return {**state, "on": False, "tripped": False, "trips_at_us": None}
        return state if state["tripped"] or thermal.is_hot(state) else {**state, "on": True}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        if not state["on"]:
            return state
        currents = self._currents(signals)
        if max(currents) >= self.SHORT_CIRCUIT * number(params, "dial_a"):
            due = state["trips_at_us"]
            at_us = now_us + self.CLEARING_US
            return {**state, "trips_at_us": min(at_us, int(due)) if due is not None else at_us}
        finals = thermal.final_heats(currents, number(params, "dial_a"))
        trip_heat = thermal.biased(finals) if params["feels_phase_loss"] else thermal.TRIP_HEAT
        seconds = thermal.seconds_to_trip(state, finals, thermal.tau_s(str(params["trip_class"])), trip_heat)
        trips_at = due_us(now_us, seconds, state["trips_at_us"])
        return state if trips_at == state["trips_at_us"] else {**state, "trips_at_us": trips_at}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        finals = thermal.final_heats(self._currents(signals), number(params, "dial_a"))
        return thermal.heated(state, finals, thermal.tau_s(str(params["trip_class"])), span_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["trips_at_us"] != now_us:
            return state
        return {**state, "on": False, "tripped": True, "trips_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["tripped"]:
            return View("tripped", False, attention=True)
        return View("on" if state["on"] else "off", bool(state["on"]))

    @staticmethod
    def _currents(signals: Mapping[str, Signal]) -> list[float]:
        return [signals[branch.name].rms_a for branch in Isolator.branches]
