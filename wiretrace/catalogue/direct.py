"""Direct voltage: a source of it, and the power supply that makes it from alternating voltage."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.device import Kind
from wiretrace.catalogue.element import Signal, Value
from wiretrace.catalogue.purpose import Does, Ratings
from wiretrace.catalogue.structure import (
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
    number,
)

EARTH_LINK_OHM: Final = 0.01


class DirectSupply(Kind):
    """A battery or a rectified supply: direct voltage behind a resistance, its negative pole earthed or not."""

    name = "supply_dc"
    title = "Direct-voltage supply"
    rank = 30
    group = "supply"
    letter = "G"
    letter_nema = "SUP"
    mounting = "field"
    params = (
        Param("voltage_v", "Voltage", 24.0, "V", 5.0, 250.0),
        Param("source_resistance_ohm", "Source resistance", 0.05, "ohm", 1e-6, 100.0),
        Param("negative_earthed", "Negative pole earthed", True),
    )
    terminals = (Terminal("L+", "+"), Terminal("L-", "-"), Terminal("PE", "GND", frame=True))
    parts = (Part("supply", "Supply", "supply_1", Does.FEEDS, ("L+", "L-", "PE")),)
    internal_nodes = ("zero", "earth")
    branches = (
        Branch("L+", "zero", "L+", Role.SOURCE),
        Branch("L-", "zero", "L-", Role.SOURCE),
        Branch("PE", "earth", "PE", Role.SOURCE),
        Branch("negative_earth", "zero", "earth", Role.SOURCE),
    )
    operations = (Operation("switch", "Supply on", "toggle", handle=True),)
    poles = {"L+": ("live", "L+"), "L-": ("neutral", "L-"), "PE": ("earth", "PE")}

    def ratings(self, params: Params) -> Ratings:
        return Ratings(feeds_direct=True)

    def reference_node(self, params: Params) -> str | None:
        return "earth"

    def initial(self, params: Params) -> DeviceState:
        return {"on": True}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        links = {"L-": Value(EARTH_LINK_OHM), "PE": Value(EARTH_LINK_OHM / 2)}
        if params["negative_earthed"]:
            links["negative_earth"] = Value(EARTH_LINK_OHM / 2)
        if state["on"]:
            links["L+"] = Value(number(params, "source_resistance_ohm"), emf_dc_v=number(params, "voltage_v"))
        return links

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "on": value}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("on" if state["on"] else "off", bool(state["on"]))


class PowerSupply(Kind):
    """Direct-voltage power supply: its output is there while its input is, and rests after an overload.

    Input and output are separate. Above `overload_percent` of its rated current it switches its output off
    and tries again a second later.
    """

    name = "power_supply_dc"
    title = "DC power supply"
    rank = 40
    group = "supply"
    letter = "T"
    letter_nema = "PWS"
    mounting = "plate"
    params = (
        Param("input_voltage_v", "Input voltage", 230.0, "V", 100.0, 480.0),
        Param("output_voltage_v", "Output voltage", 24.0, "V", 5.0, 48.0),
        Param("rated_current_a", "Rated output current", 2.5, "A", 0.1, 40.0),
        Param("overload_percent", "Switches off above", 150.0, "%", 105.0, 400.0),
        Param("idle_power_w", "Power taken", 3.0, "W", 0.1, 100.0),
        Param("output_resistance_ohm", "Output resistance", 0.02, "ohm", 1e-4, 1.0),
    )
    terminals = (Terminal("L"), Terminal("N"), Terminal("+"), Terminal("-"))
    branches = (Branch("input", "L", "N", Role.LOAD), Branch("output", "-", "+", Role.SOURCE))
    parts = (
        Part("supply", "Power supply", "power_supply", Does.TRANSFORMS, ("L", "N", "+", "-"), ("input", "output")),
    )
    poles = {"+": ("live", "output"), "-": ("neutral", "output")}
    electronic = True
    limits_current = True

    WORKS_FROM: Final = 0.75
    """Share of the input voltage from which it works."""
    TRIES_AGAIN_US: Final = 1_000_000
    GIVES_UP_US: Final = 5_000

    made_for = {"input": ("input_voltage_v", "idle_power_w")}

    def ratings(self, params: Params) -> Ratings:
        gives = number(params, "output_voltage_v") * number(params, "rated_current_a")
        return Ratings(gives_va=gives, feeds_direct=True)

    def initial(self, params: Params) -> DeviceState:
        return {"output": "off", "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = {"input": Value(number(params, "input_voltage_v") ** 2 / number(params, "idle_power_w"))}
        if state["output"] == "on":
            volts = number(params, "output_voltage_v")
            values["output"] = Value(number(params, "output_resistance_ohm"), emf_dc_v=volts)
        return values

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed = signals["input"].rms_v >= self.WORKS_FROM * number(params, "input_voltage_v")
        if not fed:
            return self.initial(params)
        if state["output"] == "off":
            return {"output": "on", "changes_at_us": None}
        limit = number(params, "rated_current_a") * number(params, "overload_percent") / 100
        over = state["output"] == "on" and signals["output"].rms_a > limit
        if over == (state["changes_at_us"] is not None) or state["output"] == "overloaded":
            return state
        return {**state, "changes_at_us": now_us + self.GIVES_UP_US if over else None}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        if state["output"] == "on":
            return {"output": "overloaded", "changes_at_us": now_us + self.TRIES_AGAIN_US}
        return {"output": "on", "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        output = str(state["output"])
        current = Figure("Output current", signals["output"].rms_a, "A")
        return View(output, output == "on", attention=output == "overloaded", figures=(current,))
