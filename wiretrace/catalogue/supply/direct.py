"""Direct voltage: a source of it, and the power supply that makes it from alternating voltage."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar, Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Scalar,
    Terminal,
    View,
    number,
)

EARTH_LINK_OHM: Final = 0.01
AGREES: Final = 1e-3
"""Share by which a resistance may stray from what the current asks for."""


@dataclass(frozen=True)
class Limiter:
    """An output that puts ohms before its own resistance so that no more than `limit_a` flows."""

    own_ohm: float
    limit_a: float

    MEMORY: ClassVar[Mapping[str, float]] = {"looked_ohm": 0.0, "looked_a": 0.0}
    """What a state remembers of the last look of an instant."""

    def looks(self, state: DeviceState, emf_v: float, current_a: float) -> DeviceState:
        """The state with the `limit_ohm` that the output takes at this current.

        One over the current goes straight with the ohms, so two looks tell the voltage that drives it. At the first
        look that is taken to be `emf_v`; with other sources in the loop it is another.
        """
        current_a, limit_ohm = abs(current_a), float(state["limit_ohm"] or 0.0)
        if (current_a <= self.limit_a and limit_ohm == 0) or current_a < 1e-9:
            return state if limit_ohm == 0 else {**state, "limit_ohm": 0.0, **self.MEMORY}
        looked_ohm, looked_a = float(state["looked_ohm"] or 0.0), float(state["looked_a"] or 0.0)
        if looked_a > 0 and limit_ohm != looked_ohm and current_a != looked_a:
            emf_v = max(0.0, (limit_ohm - looked_ohm) / (1 / current_a - 1 / looked_a)) or emf_v
        outside_ohm = emf_v / current_a - self.own_ohm - limit_ohm
        wanted = max(0.0, emf_v / self.limit_a - outside_ohm - self.own_ohm)
        if abs(wanted - limit_ohm) <= AGREES * (self.own_ohm + limit_ohm):
            return state
        return {**state, "limit_ohm": wanted, "looked_ohm": limit_ohm, "looked_a": current_a}

    @classmethod
    def rested(cls, state: DeviceState) -> DeviceState:
        """The state once an instant has settled: the next one is looked at anew."""
        return {**state, **cls.MEMORY} if state["looked_a"] else state


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
    parts = (Part("supply", "Supply", "supply_direct", Does.FEEDS, ("L+", "L-", "PE")),)
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

    def earthed_at(self, params: Params) -> str:
        return "L-" if params["negative_earthed"] else ""

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

    Input and output are separate. The input takes what the output gives, by the efficiency and the power factor, at
    any voltage that it works from; so its current rises when the voltage falls. On closing it charges its
    capacitor. Above `overload_percent` of its rated current it gives way, so that no more than that flows, then
    switches its output off and tries again a second later.
    """

    remedies = {
        "overloaded": "More is drawn than it gives. Take loads off, or look for a short circuit at its output.",
    }
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
        Param("overload_percent", "Limits the current to", 150.0, "%", 105.0, 400.0),
        Param("idle_power_w", "Power taken without load", 3.0, "W", 0.1, 100.0),
        Param("efficiency_percent", "Efficiency", 88.0, "%", 40.0, 99.0),
        Param("power_factor", "Power factor of the input", 0.6, "", 0.3, 1.0),
        Param("inrush_a", "Inrush current at rated voltage", 20.0, "A", 0.5, 200.0),
        Param("inrush_ms", "Time of the inrush", 2.0, "ms", 0.1, 50.0),
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
    momentary = frozenset({"input_ohm", "limit_ohm", *Limiter.MEMORY})

    WORKS_FROM: Final = 0.75
    """Share of the input voltage from which it works."""
    FED_FROM: Final = 0.3
    """Share from which its capacitor is charged."""
    HOLDS_US: Final = 20_000
    """Time that its capacitor bridges."""
    STARTS_US: Final = 50_000
    TRIES_AGAIN_US: Final = 1_000_000
    GIVES_UP_US: Final = 5_000

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "input":
            return None
        factor = number(params, "power_factor")
        full_w = number(params, "output_voltage_v") * number(params, "rated_current_a")
        return Operating(number(params, "input_voltage_v"), self._taken_w(params, full_w) / factor, factor)

    def ratings(self, params: Params) -> Ratings:
        gives = number(params, "output_voltage_v") * number(params, "rated_current_a")
        return Ratings(gives_va=gives, feeds_direct=True)

    def initial(self, params: Params) -> DeviceState:
        idle = number(params, "input_voltage_v") ** 2 / number(params, "idle_power_w")
        return {
            "output": "off",
            "next_output": "off",
            "charging": True,
            "input_ohm": idle,
            "limit_ohm": 0.0,
            **Limiter.MEMORY,
            "charged_at_us": None,
            "changes_at_us": None,
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        volts = number(params, "input_voltage_v")
        if state["charging"]:
            values = {"input": Value(volts / number(params, "inrush_a"))}
        else:
            # Capacitive or distorted, the current that rectifiers take counts as one in phase of the same size.
            values = {"input": Value(float(state["input_ohm"] or 0.0))}
        if state["output"] == "on":
            ohm = number(params, "output_resistance_ohm") + float(state["limit_ohm"] or 0.0)
            values["output"] = Value(ohm, emf_dc_v=number(params, "output_voltage_v"))
        return values

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        out, ohm = signals["output"], float(state["input_ohm"] or 1.0)
        own = number(params, "output_resistance_ohm")
        limiter = Limiter(own, number(params, "rated_current_a") * number(params, "overload_percent") / 100)
        emf_v = number(params, "output_voltage_v") if state["output"] == "on" else 0.0
        least_v = number(params, "input_voltage_v") * self.FED_FROM
        given_w = max(0.0, (emf_v - out.dc_a * own) * out.dc_a)
        taken_va = self._taken_w(params, given_w) / number(params, "power_factor")
        wanted = max(signals["input"].rms_v, least_v) ** 2 / taken_va
        return {
            **limiter.looks(state, emf_v, out.dc_a),
            "input_ohm": ohm if abs(wanted - ohm) <= AGREES * ohm else wanted,
        }

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        state = Limiter.rested(state)
        share = signals["input"].rms_v / number(params, "input_voltage_v")
        fed, charging = share >= self.FED_FROM, bool(state["charging"])
        if fed != charging:
            charged_at: Scalar = None
        elif state["charged_at_us"] is None:
            charged_at = now_us + (round(1000 * number(params, "inrush_ms")) if fed else self.HOLDS_US)
        else:
            charged_at = state["charged_at_us"]
        over = float(state["limit_ohm"] or 0.0) > 0
        following, delay_us = self._follows(str(state["output"]), share >= self.WORKS_FROM, charging, over)
        changes_at = state["changes_at_us"]
        if following != state["next_output"]:
            changes_at = now_us + delay_us if delay_us else None
        return {**state, "charged_at_us": charged_at, "next_output": following, "changes_at_us": changes_at}

    def _follows(self, output: str, works: bool, charging: bool, over: bool) -> tuple[str, int]:
        """What comes of the output if this lasts, and after how many microseconds; 0 where it stays."""
        if not works:
            return ("off", 0 if output == "off" else self.HOLDS_US)
        if output == "off":
            return ("off", 0) if charging else ("on", self.STARTS_US)
        if output == "overloaded":
            return "on", self.TRIES_AGAIN_US
        return ("overloaded", self.GIVES_UP_US) if over else ("on", 0)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["charged_at_us"] == now_us:
            state = {**state, "charging": not state["charging"], "charged_at_us": None}
        if state["changes_at_us"] == now_us:
            state = {**state, "output": state["next_output"], "limit_ohm": 0.0, "changes_at_us": None}
        return state

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        output = str(state["output"])
        current = Figure("Output current", signals["output"].rms_a, "A")
        return View(output, output == "on", attention=output == "overloaded", figures=(current,))

    @staticmethod
    def _taken_w(params: Params, given_w: float) -> float:
        return number(params, "idle_power_w") + given_w * 100 / number(params, "efficiency_percent")
