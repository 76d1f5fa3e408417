"""What lessens the voltage of a motor while it starts: resistors, autotransformer, soft starter."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Operating
from wiretrace.catalogue.machinery.structure import (
    NETWORK_HZ,
    Branch,
    DeviceState,
    Figure,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    ends_of,
    names_of,
    number,
)
from wiretrace.catalogue.machinery.watch_relay import SUPPLY, WORKS_FROM

WAYS: Final = (("1", "2"), ("3", "4"), ("5", "6"))


class StartingResistors(Kind):
    """Three resistors, before a motor or in the gap of a star-delta starter with closed transition."""

    name = "resistors"
    title = "Starting resistors"
    rank = 50
    group = "load"
    letter = "R"
    letter_nema = "RES"
    mounting = "plate"
    params = (Param("resistance_ohm", "Resistance of each", 5.0, "ohm", 0.01, 1000.0),)
    terminals = tuple(Terminal(name) for way in WAYS for name in way)
    branches = tuple(Branch(f"{a}-{b}", a, b, Role.PATH) for a, b in WAYS)
    parts = (
        Part(
            "resistors",
            "Resistors",
            "resistors_3",
            Does.LESSENS,
            ends_of(WAYS),
            names_of(WAYS),
        ),
    )

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {f"{a}-{b}": Value(number(params, "resistance_ohm")) for a, b in WAYS}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        watts = sum(signals[f"{a}-{b}"].rms_a ** 2 for a, b in WAYS) * number(params, "resistance_ohm")
        return View("", watts > 1.0, figures=(Figure("Heat", watts, "W"),))


class Autotransformer(Kind):
    """Three windings with a tap each; their far ends come out, to be joined in star while it works.

    The motor gets the tap's share of the voltage, and the line carries the square of it. With the star open the
    upper part of each winding lies in series with the motor, like a choke.
    """

    name = "autotransformer"
    title = "Starting autotransformer"
    starts_motor = "by_tap"
    rank = 55
    group = "supply"
    letter = "T"
    letter_nema = "AT"
    mounting = "plate"
    params = (
        Param("line_voltage_v", "Line voltage", 400.0, "V", 24.0, 1000.0),
        Param("tap_percent", "Tap", 65.0, "%", 30.0, 90.0, set_on_site=True, sized="tap_percent"),
        Param("rating_kva", "Rating", 20.0, "kVA", 0.1, 2000.0),
        Param("magnetising_percent", "No-load current", 10.0, "%", 1.0, 60.0),
        Param("leakage_percent", "Drop in the leakage", 4.0, "%", 0.5, 20.0),
        Param("resistance_percent", "Drop in the resistance", 2.0, "%", 0.2, 20.0),
        Param("frequency_hz", "Frequency", 50.0, "Hz", 16.0, 400.0),
    )
    terminals = tuple(Terminal(f"{phase}{end}") for phase in "UVW" for end in (1, 2, 3))
    branches = tuple(
        Branch(f"{phase}{a}-{phase}{b}", f"{phase}{a}", f"{phase}{b}", Role.LOAD)
        for phase in "UVW"
        for a, b in ((1, 2), (2, 3))
    )
    coupled = tuple((f"{phase}1-{phase}2", f"{phase}2-{phase}3") for phase in "UVW")
    parts = (
        Part(
            "windings",
            "Windings",
            "autotransformer_3",
            Does.LESSENS,
            tuple(f"{phase}{end}" for phase in "UVW" for end in (1, 2, 3)),
            tuple(f"{phase}{a}-{phase}{b}" for phase in "UVW" for a, b in ((1, 2), (2, 3))),
        ),
    )

    def operating(self, params: Params, branch: str) -> Operating | None:
        tap = number(params, "tap_percent") / 100
        volts = number(params, "line_voltage_v") / math.sqrt(3) * (1 - tap if "2-" not in branch else tap)
        idle_va = 10 * number(params, "rating_kva") * number(params, "magnetising_percent") / 3
        return Operating(volts, idle_va * (1 - tap if "2-" not in branch else tap), 0.1)

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        base = number(params, "line_voltage_v") ** 2 / (1000 * number(params, "rating_kva"))
        omega = 2 * math.pi * number(params, "frequency_hz")
        whole = base * 100 / number(params, "magnetising_percent") / omega
        tap = number(params, "tap_percent") / 100
        shares = {"upper": 1 - tap, "lower": tap}
        leak = base * number(params, "leakage_percent") / 100 / omega
        ohm = base * number(params, "resistance_percent") / 100
        values = {}
        for phase in "UVW":
            upper, lower = f"{phase}1-{phase}2", f"{phase}2-{phase}3"
            for name, other, share in ((upper, lower, shares["upper"]), (lower, upper, shares["lower"])):
                mutual = ((other, 0.0, whole * shares["upper"] * shares["lower"]),)
                values[name] = Value(ohm * share, (whole * share + leak) * share, mutual=mutual)
        return values

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        volts = max(signals[f"{phase}2-{phase}3"].rms_v for phase in "UVW")
        return View("feeds" if volts > 1.0 else "off", volts > 1.0)


class SoftStarter(Kind):
    """Raises the voltage of a motor over some seconds and keeps its current below a limit; then 13-14 closes,
    for a bypass contactor.

    Its thyristors are taken as a choke in each line that is as large as it takes. Started by voltage at ST.
    Without that, or without supply, it lets nothing through; it does not isolate.
    """

    name = "soft_starter"
    title = "Soft starter"
    starts_motor = "soft_start"
    rank = 60
    group = "switching"
    letter = "Q"
    letter_nema = "SS"
    mounting = "plate"
    params = (
        Param("line_voltage_v", "Line voltage", 400.0, "V", 24.0, 1000.0),
        Param(
            *("rated_current_a", "Rated current of the motor", 15.5, "A", 0.5, 1000.0),
            set_on_site=True,
            sized="current_a",
        ),
        Param("from_percent", "Voltage to begin with", 40.0, "%", 20.0, 90.0, set_on_site=True),
        Param("ramp_s", "Time of the ramp", 5.0, "s", 0.2, 60.0, set_on_site=True),
        Param("limit_times", "Current limit, times rated", 3.5, "", 1.5, 8.0, set_on_site=True, sized="start_limit"),
        *SUPPLY,
    )
    terminals = (
        *(Terminal(name) for way in WAYS for name in way),
        *(Terminal(name) for name in ("A1", "A2", "ST", "13", "14")),
    )
    branches = (
        *(Branch(f"{a}-{b}", a, b, Role.CONTACT) for a, b in WAYS),
        Branch("supply", "A1", "A2", Role.LOAD),
        Branch("start", "ST", "A2", Role.LOAD),
        Branch("13-14", "13", "14", Role.CONTACT),
    )
    parts = (
        Part(
            "thyristors",
            "Thyristors",
            "soft_starter_3",
            Does.SWITCHES_LOAD,
            ends_of(WAYS),
            names_of(WAYS),
        ),
        Part("supply", "Supply", "relay_supply", Does.CONSUMES, ("A1", "A2"), ("supply",)),
        Part("start", "Start", "start_input", Does.TAKES_SIGNALS, ("ST",), ("start",)),
        Part("13-14", "Top of ramp 13-14, NO", "contact_no", Does.NORMALLY_OPEN, ("13", "14"), ("13-14",)),
    )
    actuator = Actuator.SUPPLY
    electronic = True
    made_for = {"supply": ("supply_voltage_v", "supply_power_w"), "start": ("supply_voltage_v", "supply_power_w")}
    momentary = frozenset({"choke_ohm"})

    STEPS: Final = 20
    ON_OHM: Final = 0.06
    AGREES: Final = 0.02

    def on_network(self, params: Params, frequency_hz: float) -> Params:
        return {**params, NETWORK_HZ: frequency_hz}

    def initial(self, params: Params) -> DeviceState:
        return {"runs": False, "step": 0, "choke_ohm": 1.0, "looks": 0, "steps_at_us": None, "starts_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        small = Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w"))
        values = {"supply": small, "start": small}
        if not state["runs"]:
            return values
        omega = 2 * math.pi * float(params.get(NETWORK_HZ, 50.0))
        choke = Value(self.ON_OHM, float(state["choke_ohm"] or 0.0) / omega)
        values |= {f"{a}-{b}": choke for a, b in WAYS}
        return values | ({"13-14": Value(CONTACT_OHM)} if self._up(state) else {})

    def _up(self, state: DeviceState) -> bool:
        return int(state["step"] or 0) >= self.STEPS

    def _share(self, params: Params, state: DeviceState) -> float:
        begin = number(params, "from_percent") / 100
        return begin + (1 - begin) * min(1.0, int(state["step"] or 0) / self.STEPS)

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        amperes = max(signals[f"{a}-{b}"].rms_a for a, b in WAYS)
        looks = int(state["looks"] or 0)
        if not state["runs"] or looks > self.STEPS or amperes < 1e-6:
            return state
        choke = float(state["choke_ohm"] or 0.0)
        phase_v, share = number(params, "line_voltage_v") / math.sqrt(3), self._share(params, state)
        motor_ohm = max(1e-3, phase_v / amperes - choke)
        limit_a = number(params, "limit_times") * number(params, "rated_current_a")
        wanted = max((1 - share) / share * motor_ohm, 0.0 if self._up(state) else phase_v / limit_a - motor_ohm, 1e-4)
        if abs(wanted - choke) <= self.AGREES * max(choke, 0.01 * motor_ohm):
            return state
        return {**state, "choke_ohm": wanted, "looks": looks + 1}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        least = WORKS_FROM * number(params, "supply_voltage_v")
        asked = signals["supply"].rms_v >= least and signals["start"].rms_v >= least
        starts_at = state["starts_at_us"] if asked != state["runs"] else None
        if asked != state["runs"] and starts_at is None:
            starts_at = now_us + 20_000
        return {**state, "looks": 0, "starts_at_us": starts_at}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        step_us = round(1e6 * number(params, "ramp_s") / self.STEPS)
        if state["starts_at_us"] == now_us:
            runs = not state["runs"]
            due = now_us + step_us if runs else None
            return {**state, "runs": runs, "step": 0, "choke_ohm": 1.0, "steps_at_us": due, "starts_at_us": None}
        if state["steps_at_us"] != now_us:
            return state
        step = int(state["step"] or 0) + 1
        return {**state, "step": step, "steps_at_us": None if step >= self.STEPS else now_us + step_us}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        amperes = Figure("Current", max(signals[f"{a}-{b}"].rms_a for a, b in WAYS), "A")
        if not state["runs"]:
            return View("stopped", False)
        return View("top_of_ramp" if self._up(state) else "ramp", True, figures=(amperes,))
