"""Capacitors of three phases: they give a motor the reactive current that the line then need not carry."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Tone, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    amount,
    due_us,
    number,
)

LEADS: Final = ("C1", "C2", "C3")
SIDES: Final = tuple(f"{a}-{b}" for a, b in zip(LEADS, (*LEADS[1:], LEADS[0]), strict=True))


class CapacitorBank(Kind):
    """Three capacitors in delta, each with a resistor that discharges it.

    Empty they are a short circuit for some milliseconds: on closing they draw many times their current, unless it
    comes through resistors first. Switched off they stay charged, to the peak of the voltage at worst, and lose that by
    their resistors in minutes: nobody touches them before, and closing on them meanwhile draws twice as much.
    """

    name = "capacitor_bank"
    title = "Capacitors, three-phase"
    rank = 55
    group = "load"
    letter = "C"
    letter_nema = "CAP"
    mounting = "plate"
    params = (
        Param("line_voltage_v", "Rated line voltage", 400.0, "V", 24.0, 1000.0),
        Param("rated_kvar", "Rated reactive power", 1.0, "kvar", 0.05, 200.0),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0),
        Param("inrush_times", "Inrush when empty, times rated", 60.0, "", 5.0, 250.0),
        Param("discharges_s", "Time to discharge to 75 V", 180.0, "s", 1.0, 600.0),
    )
    terminals = (*(Terminal(name) for name in LEADS), Terminal("PE", "GND", frame=True))
    branches = tuple(
        Branch(side, a, b, Role.LOAD) for side, a, b in zip(SIDES, LEADS, (*LEADS[1:], LEADS[0]), strict=True)
    )
    parts = (Part("capacitors", "Capacitors", "capacitors_3", Does.CONSUMES, (*LEADS, "PE"), SIDES, height=11),)
    momentary = frozenset({"inrush_a"})

    ON_FROM: Final = 0.5
    OFF_BELOW: Final = 0.05
    CHARGES_US: Final = 3_000
    OFF_US: Final = 10_000
    EMPTY_V: Final = 75.0
    """Direct voltage that is left after the time to discharge (IEC 60831-1, clause 22)."""
    CHARGED_FROM_V: Final = 50.0

    def operating(self, params: Params, branch: str) -> Operating | None:
        volts = number(params, "line_voltage_v")
        return Operating(volts, 1000 * number(params, "rated_kvar") / 3, 0.01) if branch in SIDES else None

    def ratings(self, params: Params) -> Ratings:
        return Ratings(current_a=self.rated_a(params))

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "line_voltage_v")

    @staticmethod
    def rated_a(params: Params) -> float:
        """Rated current of a line, amperes."""
        return 1000 * number(params, "rated_kvar") / number(params, "line_voltage_v") / math.sqrt(3)

    def initial(self, params: Params) -> DeviceState:
        return {
            "on": False,
            "charging": False,
            "kept": False,
            "left_v": 0.0,
            "inrush_a": 0.0,
            "charged_at_us": None,
            "off_at_us": None,
            "empty_at_us": None,
        }

    def _ohm(self, params: Params) -> float:
        """Reactance of a side at its rated frequency."""
        return 3 * number(params, "line_voltage_v") ** 2 / (1000 * number(params, "rated_kvar"))

    def _resistor_ohm(self, params: Params) -> float:
        farad = 1 / (2 * math.pi * number(params, "rated_frequency_hz") * self._ohm(params))
        return self._tau_s(params) / farad

    def _tau_s(self, params: Params) -> float:
        peak_v = math.sqrt(2) * number(params, "line_voltage_v")
        return number(params, "discharges_s") / math.log(max(1.1, peak_v / self.EMPTY_V))

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        ohm = self._ohm(params)
        if state["charging"]:
            over = 1 + amount(state, "left_v") / (math.sqrt(2) * number(params, "line_voltage_v"))
            return dict.fromkeys(SIDES, Value(ohm / number(params, "inrush_times") / over))
        farad = 1 / (2 * math.pi * number(params, "rated_frequency_hz") * ohm)
        return dict.fromkeys(SIDES, Value(self._resistor_ohm(params), capacitance_f=farad))

    @staticmethod
    def _line_v(signals: Mapping[str, Signal]) -> float:
        return max(abs(signals[side].voltage_v) for side in SIDES)

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed = self._line_v(signals) >= self.ON_FROM * number(params, "line_voltage_v")
        return {**state, "on": True, "charging": True, "kept": False} if fed and not state["on"] else state

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        charged_at, off_at = state["charged_at_us"], state["off_at_us"]
        if state["charging"] and charged_at is None:
            charged_at = now_us + self.CHARGES_US
            inrush_a = math.sqrt(3) * max(abs(signals[side].current_a) for side in SIDES)
            state = {**state, "inrush_a": inrush_a}
        gone = bool(state["on"]) and self._line_v(signals) < self.OFF_BELOW * number(params, "line_voltage_v")
        if gone and off_at is None:
            off_at = now_us + self.OFF_US
        left_s = self._tau_s(params) * math.log(max(1.0, amount(state, "left_v") / self.CHARGED_FROM_V))
        return {
            **state,
            "charged_at_us": charged_at,
            "off_at_us": off_at if gone else None,
            "empty_at_us": due_us(now_us, left_s if state["kept"] else None, state["empty_at_us"]),
        }

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        fed_v = math.sqrt(2) * self._line_v(signals)
        if fed_v >= amount(state, "left_v") and state["on"]:
            return {**state, "left_v": fed_v}
        return {**state, "left_v": amount(state, "left_v") * math.exp(-span_us / 1e6 / self._tau_s(params))}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["charged_at_us"] == now_us:
            state = {**state, "charging": False, "charged_at_us": None}
        if state["off_at_us"] == now_us:
            kept = amount(state, "left_v") > self.CHARGED_FROM_V
            state = {**state, "on": False, "charging": False, "charged_at_us": None, "off_at_us": None, "kept": kept}
        if state["empty_at_us"] == now_us:
            state = {**state, "kept": False, "empty_at_us": None}
        return state

    def fading(self, params: Params, state: DeviceState) -> Mapping[str, Tone]:
        """Switched off at the peak of one side, which the two others halve between them."""
        if state["on"]:
            return {}
        left_v = amount(state, "left_v")
        return {side: Tone(complex(share * left_v), 0.0) for side, share in zip(SIDES, (-1, 0.5, 0.5), strict=True)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        left_v, on = amount(state, "left_v"), bool(state["on"])
        shown = (
            Figure("Voltage left, at most", 0.0 if on else left_v, "V"),
            Figure("Inrush at the last closing", amount(state, "inrush_a"), "A"),
        )
        status = "on" if on else "charged" if state["kept"] else "discharged"
        return View(status, on, figures=shown)
