"""Thermal overload relay: heaters in the motor circuit, contacts in the control circuit."""

import math
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
    number,
)

HEATERS: Final = (("1", "2"), ("3", "4"), ("5", "6"))


class OverloadRelay(Kind):
    """Bimetal relay, manual or automatic reset, trip-free.

    Each phase heats by itself: ``tau d(heat)/dt = (I / dial)^2 - heat``, heat 1 being steady
    operation at the dial. It trips at heat 1.15^2, so never at 1.05 times the dial, and always
    at 1.2 times (IEC 60947-4-1, table 3). `tau` follows from the class: the time to trip from
    cold at 7.2 times the dial lies inside the band of table 2.
    """

    name = "overload_relay"
    title = "Thermal overload relay"
    group = "protection"
    letter = "F"
    letter_nema = "OL"
    mounting = "plate"
    params = (
        Param("dial_a", "Dial", 4.0, "A", 0.1, 630.0, help="Set to the motor's nameplate current."),
        Param("trip_class", "Trip class", "10", choices=("10A", "10", "20", "30")),
        Param("automatic_reset", "Automatic reset", False),
        Param("heater_resistance_ohm", "Resistance of a heater", 0.05, "ohm", 1e-4, 20.0),
    )
    terminals = (
        *(
            Terminal(name, nema)
            for pair, nemas in zip(HEATERS, (("L1", "T1"), ("L2", "T2"), ("L3", "T3")), strict=True)
            for name, nema in zip(pair, nemas, strict=True)
        ),
        Terminal("95"),
        Terminal("96"),
        Terminal("97"),
        Terminal("98"),
    )
    branches = (
        *(Branch(f"{a}-{b}", a, b, Role.PATH) for a, b in HEATERS),
        Branch("95-96", "95", "96", Role.CONTACT),
        Branch("97-98", "97", "98", Role.CONTACT),
    )
    parts = (
        Part(
            "heaters",
            "Heaters",
            "heater_3",
            tuple(t for pair in HEATERS for t in pair),
            tuple(f"{a}-{b}" for a, b in HEATERS),
        ),
        Part("95-96", "Contact 95-96, NC", "thermal_nc", ("95", "96"), ("95-96",)),
        Part("97-98", "Contact 97-98, NO", "thermal_no", ("97", "98"), ("97-98",)),
    )
    operations = (
        Operation("trip", "Trip by hand", "pulse"),
        Operation("reset", "Reset", "pulse", "First find out why it tripped."),
    )

    TRIP_HEAT: Final = 1.15**2
    RESET_HEAT: Final = 1.0
    SECONDS_AT_7_2: Final = {"10A": 5.0, "10": 6.5, "20": 13.0, "30": 20.0}

    def initial(self, params: Params) -> DeviceState:
        return {"tripped": False, "heat_1": 0.0, "heat_2": 0.0, "heat_3": 0.0, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        heater = Value(number(params, "heater_resistance_ohm"))
        contact = "97-98" if state["tripped"] else "95-96"
        return {f"{a}-{b}": heater for a, b in HEATERS} | {contact: Value(CONTACT_OHM)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "trip":
            return {**state, "tripped": True}
        # Trip-free: a relay that is still hot cannot be reset or held in.
        return {**state, "tripped": bool(state["tripped"]) and self._heat(state) > self.RESET_HEAT}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        seconds = self._seconds_to_change(params, state, signals)
        at_us = None if seconds is None else now_us + max(1, math.ceil(seconds * 1e6))
        return state if state["changes_at_us"] == at_us else {**state, "changes_at_us": at_us}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        decay = math.exp(-span_us / 1e6 / self._tau_s(params))
        heats = {
            f"heat_{phase}": final + (_float(state, f"heat_{phase}") - final) * decay
            for phase, final in enumerate(self._final_heats(params, signals), start=1)
        }
        return {**state, **heats}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "tripped": not state["tripped"], "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        tripped = bool(state["tripped"])
        return View("tripped" if tripped else "set", tripped, attention=tripped)

    def _seconds_to_change(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> float | None:
        """Seconds until it trips or resets by itself under steady currents; None for never."""
        tau, finals = self._tau_s(params), self._final_heats(params, signals)
        heats = [_float(state, f"heat_{phase}") for phase in (1, 2, 3)]
        if not state["tripped"]:
            reached = [
                tau * math.log((final - heat) / (final - self.TRIP_HEAT)) if heat < self.TRIP_HEAT else 0.0
                for heat, final in zip(heats, finals, strict=True)
                if final > self.TRIP_HEAT
            ]
            return min(reached, default=None)
        if not params["automatic_reset"] or max(finals) >= self.RESET_HEAT:
            return None
        return max(
            tau * math.log((heat - final) / (self.RESET_HEAT - final)) if heat > self.RESET_HEAT else 0.0
            for heat, final in zip(heats, finals, strict=True)
        )

    def _tau_s(self, params: Params) -> float:
        seconds = self.SECONDS_AT_7_2[str(params["trip_class"])]
        return seconds / math.log(7.2**2 / (7.2**2 - self.TRIP_HEAT))

    @staticmethod
    def _final_heats(params: Params, signals: Mapping[str, Signal]) -> list[float]:
        dial = number(params, "dial_a")
        return [(abs(signals[f"{a}-{b}"].current_a) / dial) ** 2 for a, b in HEATERS]

    @staticmethod
    def _heat(state: DeviceState) -> float:
        return max(_float(state, f"heat_{phase}") for phase in (1, 2, 3))


def _float(state: DeviceState, name: str) -> float:
    value = state[name]
    assert isinstance(value, float)
    return value
