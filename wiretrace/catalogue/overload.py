"""Thermal overload relay: heaters in the motor circuit, contacts in the control circuit."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue import thermal
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
    """Bimetal relay, manual or automatic reset, trip-free; heating as in `thermal`."""

    name = "overload_relay"
    title = "Thermal overload relay"
    group = "protection"
    letter = "F"
    letter_nema = "OL"
    mounting = "plate"
    params = (
        Param("dial_a", "Dial", 4.0, "A", 0.1, 630.0, help="Set to the motor's nameplate current."),
        thermal.CLASS_PARAM,
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

    def initial(self, params: Params) -> DeviceState:
        return {"tripped": False, **thermal.COLD, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        heater = Value(number(params, "heater_resistance_ohm"))
        contact = "97-98" if state["tripped"] else "95-96"
        return {f"{a}-{b}": heater for a, b in HEATERS} | {contact: Value(CONTACT_OHM)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "trip":
            return {**state, "tripped": True}
        # Trip-free: a relay that is still hot cannot be reset or held in.
        return {**state, "tripped": bool(state["tripped"]) and thermal.is_hot(state)}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        finals, tau = self._finals(params, signals), thermal.tau_s(str(params["trip_class"]))
        if not state["tripped"]:
            seconds = thermal.seconds_to_trip(state, finals, tau)
        else:
            seconds = thermal.seconds_to_cool(state, finals, tau) if params["automatic_reset"] else None
        at_us = None if seconds is None else now_us + max(1, math.ceil(seconds * 1e6))
        return state if state["changes_at_us"] == at_us else {**state, "changes_at_us": at_us}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        finals = self._finals(params, signals)
        return thermal.heated(state, finals, thermal.tau_s(str(params["trip_class"])), span_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "tripped": not state["tripped"], "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        tripped = bool(state["tripped"])
        return View("tripped" if tripped else "set", tripped, attention=tripped)

    @staticmethod
    def _finals(params: Params, signals: Mapping[str, Signal]) -> list[float]:
        currents = [signals[f"{a}-{b}"].rms_a for a, b in HEATERS]
        return thermal.final_heats(currents, number(params, "dial_a"))
