"""Supplies of North American practice: centre-tapped single phase, and delta with an earthed corner."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
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
from wiretrace.catalogue.supply.supply import EARTH_LINK_OHM, ThreePhaseSupply

LEGS: Final = {"L1": 1.0, "L2": -1.0}


class CentreTappedSupply(Kind):
    """Single phase from a transformer with an earthed centre tap: 120 V from each line to neutral, 240 V between them.

    The halves share one neutral. Where that is lost, what hangs on the two halves is in series across 240 V: the
    smaller load gets the larger voltage.
    """

    name = "supply_centre_tapped"
    title = "Centre-tapped supply, 120/240 V"
    rank = 25
    group = "supply"
    letter = "G"
    letter_nema = "SUP"
    mounting = "field"
    params = (
        Param("voltage_v", "Voltage, L1 to L2", 240.0, "V", 12.0, 690.0),
        Param("frequency_hz", "Frequency", 60.0, "Hz", 16.0, 400.0),
        Param("source_resistance_ohm", "Source resistance, each half", 0.05, "ohm", 1e-6, 100.0),
        Param("neutral_earthed", "Centre tap earthed at the source", True),
        Param("neutral_present", "Neutral joined at the source", True),
    )
    terminals = (*(Terminal(leg) for leg in LEGS), Terminal("N"), Terminal("PE", "GND", frame=True))
    parts = (Part("supply", "Supply", "supply_centre_tapped", Does.FEEDS, ("L1", "L2", "N", "PE"), height=4),)
    internal_nodes = ("tap", "earth")
    branches = (
        *(Branch(leg, "tap", leg, Role.SOURCE) for leg in LEGS),
        Branch("N", "tap", "N", Role.SOURCE),
        Branch("PE", "earth", "PE", Role.SOURCE),
        Branch("neutral_earth", "tap", "earth", Role.SOURCE),
    )
    operations = (
        Operation("switch", "Supply on", "toggle", handle=True),
        Operation("neutral", "Neutral present", "toggle"),
    )
    poles = {**{leg: ("live", leg) for leg in LEGS}, "N": ("neutral", "N"), "PE": ("earth", "PE")}

    def frequency_hz(self, params: Params) -> float | None:
        return number(params, "frequency_hz")

    def reference_node(self, params: Params) -> str | None:
        return "earth"

    def earthed_at(self, params: Params) -> str:
        return "N" if params["neutral_earthed"] else ""

    def initial(self, params: Params) -> DeviceState:
        return {"switch": True, "neutral": bool(params["neutral_present"])}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        links = {"PE": Value(EARTH_LINK_OHM / 2)}
        if state["neutral"]:
            links["N"] = Value(EARTH_LINK_OHM)
        if params["neutral_earthed"]:
            links["neutral_earth"] = Value(EARTH_LINK_OHM / 2)
        if state["switch"]:
            half_v, ohm = number(params, "voltage_v") / 2, number(params, "source_resistance_ohm")
            links |= {leg: Value(ohm, emf_v=complex(way * half_v)) for leg, way in LEGS.items()}
        return links

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, operation: value}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = {name: bool(value) for name, value in state.items()}
        if not state["switch"]:
            return View("off", False, on=on)
        lost = not state["neutral"]
        return View("without_n" if lost else "on", True, attention=lost, on=on)


class CornerEarthedSupply(ThreePhaseSupply):
    """Three phases from a delta whose L2 is earthed; there is no neutral.

    L2 reads nothing to earth, L1 and L3 the whole line voltage. The earthed phase is no spare neutral: it carries the
    motor's current, and no fuse may open it alone.
    """

    name = "supply_corner_earthed"
    title = "Three-phase supply, delta with L2 earthed"
    rank = 15
    params = (
        Param("line_voltage_v", "Line voltage", 240.0, "V", 12.0, 1000.0, sized="supply_v"),
        Param("frequency_hz", "Frequency", 60.0, "Hz", 16.0, 400.0),
        *(param for param in ThreePhaseSupply.params[2:] if param.name != "neutral_earthed"),
    )
    terminals = tuple(terminal for terminal in ThreePhaseSupply.terminals if terminal.name != "N")
    parts = (Part("supply", "Supply", "supply_corner_earthed", Does.FEEDS, ("L1", "L2", "L3", "PE"), height=4),)
    branches = (
        *(branch for branch in ThreePhaseSupply.branches if branch.name in ("L1", "L2", "L3", "PE")),
        Branch("corner_earth", "L2", "earth", Role.SOURCE),
    )
    poles = {name: pole for name, pole in ThreePhaseSupply.poles.items() if name != "N"}

    def earthed_at(self, params: Params) -> str:
        return "L2"

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        phases = super().values({**params, "neutral_earthed": False}, state)
        links = {name: value for name, value in phases.items() if name != "N"}
        return {**links, "corner_earth": Value(EARTH_LINK_OHM / 2)}
