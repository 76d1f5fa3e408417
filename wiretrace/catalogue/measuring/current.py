"""Current transformer, ammeters, and the terminals between them."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Ratings
from wiretrace.catalogue.machinery.structure import (
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


class CurrentTransformer(Kind):
    """Two windings on one core (IEC 61869-2): the conductor through the window, and the secondary.

    P1 faces the supply. Within its burden the secondary current is the primary current over the
    ratio. With the secondary open all of the primary current magnetises: the core saturates, and the
    voltage is held to `saturation_v` RMS, with peaks many times as high. That is dangerous.
    """

    remedies = {
        "secondary_open": "Danger: an open secondary stands at a high voltage. Take the load off, then short it.",
        "saturated": "Its secondary has more to drive than its rating. Shorten the leads, or take a larger rating.",
    }
    name = "current_transformer"
    title = "Current transformer"
    rank = 10
    group = "measuring"
    letter = "T"
    letter_nema = "CT"
    mounting = "plate"
    params = (
        Param("primary_a", "Rated primary current", 50.0, "A", 1.0, 5000.0),
        Param("secondary_a", "Rated secondary current", 5.0, "A", 1.0, 5.0),
        Param("turns", "Turns through the window", 1.0, "", 1.0, 20.0),
        Param("burden_va", "Rated burden", 5.0, "VA", 0.5, 60.0),
        Param("saturation_v", "Secondary voltage at which the core saturates", 60.0, "V", 2.0, 2000.0),
        Param("winding_ohm", "Resistance of the secondary", 0.1, "ohm", 0.001, 50.0),
        Param("frequency_hz", "Frequency", 50.0, "Hz", 16.0, 400.0),
    )
    terminals = (Terminal("P1", "H1"), Terminal("P2", "H2"), Terminal("S1", "X1"), Terminal("S2", "X2"))
    branches = (Branch("primary", "P1", "P2", Role.PATH), Branch("secondary", "S1", "S2", Role.SOURCE))
    coupled = (("primary", "secondary"),)
    parts = (
        Part(
            "transformer",
            "Current transformer",
            "current_transformer",
            Does.STEPS_CURRENT_DOWN,
            ("P1", "P2", "S1", "S2"),
            ("primary", "secondary"),
        ),
    )

    momentary = frozenset({"share"})

    BAR_OHM: Final = 1e-4
    MAGNETISING_SHARE: Final = 0.01
    """Magnetising current at the rated burden, as a share of the rated secondary current."""
    STRAY: Final = 1.25
    """How far the voltage may stray from saturation before the core is looked at anew."""
    DANGER_V: Final = 5.0
    CARRIES: Final = 1e-4
    """Share of the rated primary current from which there is something to transform."""
    PEAK: Final = 10.0
    """Peak of the voltage of an open secondary over its RMS, at the least: the core leaves saturation in spikes."""

    def ratings(self, params: Params) -> Ratings:
        secondary = number(params, "secondary_a")
        return Ratings(
            ratio=number(params, "primary_a") / number(params, "turns") / secondary,
            secondary_a=secondary,
        )

    def initial(self, params: Params) -> DeviceState:
        return {"share": 1.0, "saturated": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        omega = 2 * math.pi * number(params, "frequency_hz")
        ratio = number(params, "primary_a") / number(params, "secondary_a") / number(params, "turns")
        rated = number(params, "secondary_a")
        unsaturated = number(params, "burden_va") / rated / (self.MAGNETISING_SHARE * rated) / omega
        magnetising = unsaturated * float(state["share"] or 1.0)
        mutual = magnetising / ratio
        # The currents run opposite ways: into P1, out of S1.
        return {
            "primary": Value(self.BAR_OHM, magnetising / ratio**2, mutual=(("secondary", 0.0, mutual),)),
            "secondary": Value(number(params, "winding_ohm"), magnetising, mutual=(("primary", 0.0, mutual),)),
        }

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        limit, share = number(params, "saturation_v"), float(state["share"] or 1.0)
        volts = abs(signals["secondary"].voltage_v)
        if volts > self.STRAY * limit or (state["saturated"] and volts < limit / self.STRAY):
            share = min(1.0, max(1e-6, share * limit / max(volts, 1e-6)))
            return {"share": share, "saturated": share < 1.0}
        return state

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        primary, secondary = signals["primary"], signals["secondary"]
        volts = abs(secondary.voltage_v)
        figures = (Figure("Secondary current", abs(secondary.current_a), "A"),)
        ratio = number(params, "primary_a") / number(params, "secondary_a") / number(params, "turns")
        carries = abs(primary.current_a) > self.CARRIES * number(params, "primary_a")
        if carries and abs(secondary.current_a) * ratio < 0.5 * abs(primary.current_a):
            if volts <= self.DANGER_V:
                return View("secondary_open", True, True, figures=figures)
            peak = Figure("Peak of the secondary voltage, at least", self.PEAK * volts, "V")
            return View("danger:secondary_open", True, True, figures=(*figures, peak))
        if state["saturated"]:
            return View("saturated", True, True, figures=figures)
        return View("measures", True, figures=figures)


class Ammeter(Kind):
    """Ammeter in series, or on a current transformer whose rated currents its scale is made for."""

    name = "ammeter"
    title = "Ammeter"
    rank = 20
    group = "measuring"
    letter = "P"
    letter_nema = "AM"
    mounting = "door"
    params = (
        Param("scale_a", "Scale at rated current", 5.0, "A", 0.1, 5000.0, set_on_site=True),
        Param("rated_a", "Rated current of the movement", 5.0, "A", 0.1, 100.0),
        Param("resistance_ohm", "Resistance", 0.02, "ohm", 1e-4, 10.0),
    )
    terminals = (Terminal("S1", "K"), Terminal("S2", "L"))
    branches = (Branch("meter", "S1", "S2", Role.PATH),)
    parts = (Part("meter", "Meter", "ammeter", Does.MEASURES, ("S1", "S2"), ("meter",)),)

    def ratings(self, params: Params) -> Ratings:
        return Ratings(ratio=number(params, "scale_a") / number(params, "rated_a"))

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"meter": Value(number(params, "resistance_ohm"))}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return _shows(signals["meter"].rms_a * number(params, "scale_a") / number(params, "rated_a"))


class DigitalAmmeter(Kind):
    """Digital ammeter: input S1 S2, supply L N; it must be told the primary of the transformer."""

    name = "ammeter_digital"
    title = "Digital ammeter"
    rank = 30
    group = "measuring"
    letter = "P"
    letter_nema = "AM"
    mounting = "door"
    params = (
        Param("primary_a", "Primary current set", 50.0, "A", 1.0, 5000.0, set_on_site=True),
        Param("secondary_a", "Secondary current set", 5.0, "A", 1.0, 5.0),
        Param("input_ohm", "Resistance of the input", 0.01, "ohm", 1e-4, 1.0),
        Param("supply_voltage_v", "Supply voltage", 230.0, "V", 12.0, 400.0),
        Param("supply_power_w", "Power taken", 2.0, "W", 0.1, 20.0),
    )
    terminals = (Terminal("S1"), Terminal("S2"), Terminal("L"), Terminal("N"))
    branches = (Branch("meter", "S1", "S2", Role.PATH), Branch("supply", "L", "N", Role.LOAD))
    parts = (
        Part("meter", "Meter", "ammeter", Does.MEASURES, ("S1", "S2"), ("meter",)),
        Part("supply", "Supply", "meter_supply", Does.CONSUMES, ("L", "N"), ("supply",)),
    )
    electronic = True

    WORKS_FROM: Final = 0.8

    made_for = {"supply": ("supply_voltage_v", "supply_power_w")}

    def ratings(self, params: Params) -> Ratings:
        return Ratings(ratio=number(params, "primary_a") / number(params, "secondary_a"))

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {
            "meter": Value(number(params, "input_ohm")),
            "supply": Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w")),
        }

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if signals["supply"].rms_v < self.WORKS_FROM * number(params, "supply_voltage_v"):
            return View("dark", False)
        return _shows(signals["meter"].rms_a * number(params, "primary_a") / number(params, "secondary_a"))


def _shows(amperes: float) -> View:
    return View(f"={amperes:.1f} A", amperes >= 0.05, figures=(Figure("Shows", amperes, "A"),))


class ShortingTerminals(Kind):
    """Two terminals with a link that joins them: closed before the meter behind them is taken away."""

    name = "terminal_shorting"
    title = "Terminals with shorting link"
    rank = 20
    group = "terminal"
    letter = "X"
    letter_nema = "TB"
    mounting = "plate"
    terminals = (Terminal("1a"), Terminal("1b"), Terminal("2a"), Terminal("2b"))
    branches = (
        Branch("1a-1b", "1a", "1b", Role.PATH),
        Branch("2a-2b", "2a", "2b", Role.PATH),
        Branch("link", "1a", "2a", Role.CONTACT),
    )
    parts = (
        Part(
            "terminals",
            "Terminals",
            "terminal_shorting",
            Does.SHORTS,
            ("1a", "1b", "2a", "2b"),
            ("1a-1b", "2a-2b", "link"),
        ),
    )
    operations = (
        Operation(
            "link", "Shorting link closed", "toggle", "Close it before the meter is taken away, never open it first."
        ),
    )

    BLOCK_OHM: Final = 0.001
    LINK_OHM: Final = 0.0005
    """A screwed link, less than any meter's lead: nearly all of the current takes it."""

    def initial(self, params: Params) -> DeviceState:
        return {"link": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = dict.fromkeys(("1a-1b", "2a-2b"), Value(self.BLOCK_OHM))
        return values | ({"link": Value(self.LINK_OHM)} if state["link"] else {})

    def contact_value(self, params: Params) -> Value:
        return Value(self.LINK_OHM)

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {"link": value}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("shorted" if state["link"] else "open", bool(state["link"]))
