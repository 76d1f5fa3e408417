"""Supplies: where the potentials come from."""

import cmath
import math
from collections.abc import Mapping

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

PHASES = ("L1", "L2", "L3")
EARTH_LINK_OHM = 0.01


class ThreePhaseSupply(Kind):
    """Three phases, neutral and protective earth behind a source impedance.

    The internal star point is the zero of all potentials while the neutral is earthed.
    Each phase has its own voltage in per cent and can be lost, and two can be exchanged.
    """

    name = "supply_three_phase"
    title = "Three-phase supply"
    rank = 10
    group = "supply"
    letter = "G"
    letter_nema = "SUP"
    mounting = "field"
    params = (
        Param("line_voltage_v", "Line voltage", 400.0, "V", 12.0, 1000.0, sized="supply_v"),
        Param("frequency_hz", "Frequency", 50.0, "Hz", 16.0, 400.0),
        Param("source_resistance_ohm", "Source resistance, each phase", 0.03, "ohm", 1e-6, 10.0),
        Param("source_reactance_ohm", "Source reactance, each phase", 0.02, "ohm", 0.0, 10.0),
        Param("neutral_earthed", "Neutral earthed at the source", True),
        *(Param(f"{phase.lower()}_percent", f"{phase} voltage", 100.0, "%", 0.0, 130.0) for phase in PHASES),
        *(Param(f"{phase.lower()}_present", f"{phase} present", True) for phase in PHASES),
    )
    terminals = (*(Terminal(phase) for phase in PHASES), Terminal("N"), Terminal("PE", "GND", frame=True))
    parts = (Part("supply", "Supply", "supply_3", Does.FEEDS, ("L1", "L2", "L3", "N", "PE"), height=4),)
    internal_nodes = ("star", "earth")
    branches = (
        *(Branch(phase, "star", phase, Role.SOURCE) for phase in PHASES),
        Branch("N", "star", "N", Role.SOURCE),
        Branch("PE", "earth", "PE", Role.SOURCE),
        Branch("neutral_earth", "star", "earth", Role.SOURCE),
    )
    operations = (
        Operation("switch", "Supply on", "toggle", handle=True),
        *(Operation(phase.lower(), f"{phase} present", "toggle") for phase in PHASES),
        Operation("swap", "L1 and L2 exchanged", "toggle"),
    )
    poles = {**{phase: ("live", phase) for phase in PHASES}, "N": ("neutral", "N"), "PE": ("earth", "PE")}

    def line_voltage_v(self, params: Params) -> float | None:
        return number(params, "line_voltage_v")

    def frequency_hz(self, params: Params) -> float | None:
        return number(params, "frequency_hz")

    def reference_node(self, params: Params) -> str | None:
        return "earth"

    def earthed_at(self, params: Params) -> str:
        return "N" if params["neutral_earthed"] else ""

    def initial(self, params: Params) -> DeviceState:
        present = {phase.lower(): bool(params[f"{phase.lower()}_present"]) for phase in PHASES}
        return {"switch": True, "swap": False, **present}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        links = {"N": Value(EARTH_LINK_OHM), "PE": Value(EARTH_LINK_OHM / 2)}
        if params["neutral_earthed"]:
            links["neutral_earth"] = Value(EARTH_LINK_OHM / 2)
        if not state["switch"]:
            return links
        resistance = number(params, "source_resistance_ohm")
        omega = 2 * math.pi * number(params, "frequency_hz")
        inductance = number(params, "source_reactance_ohm") / omega
        phase_voltage = number(params, "line_voltage_v") / math.sqrt(3)
        # Which third of a turn comes out at each terminal.
        turns = (1, 0, 2) if state["swap"] else (0, 1, 2)
        for index, phase in zip(turns, PHASES, strict=True):
            if not state[phase.lower()]:
                continue
            size = phase_voltage * number(params, f"{phase.lower()}_percent") / 100
            emf = cmath.rect(size, -index * 2 * math.pi / 3)
            links[phase] = Value(resistance, inductance, emf_v=emf)
        return links

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, operation: value}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        lost = [phase for phase in PHASES if not state[phase.lower()]]
        wrong = f"without_{'_and_'.join(lost).lower()}" if lost else "l1_and_l2_exchanged" if state["swap"] else ""
        on = {name: bool(value) for name, value in state.items()}
        if not state["switch"]:
            return View("off", False, on=on)
        return View(wrong or "on", True, attention=bool(wrong), on=on)


class SinglePhaseSupply(Kind):
    """One phase, neutral and protective earth behind a source impedance."""

    name = "supply_single_phase"
    title = "Single-phase supply"
    rank = 20
    group = "supply"
    letter = "G"
    letter_nema = "SUP"
    mounting = "field"
    params = (
        Param("voltage_v", "Voltage", 230.0, "V", 6.0, 690.0),
        Param("frequency_hz", "Frequency", 50.0, "Hz", 16.0, 400.0),
        Param("source_resistance_ohm", "Source resistance", 0.1, "ohm", 1e-6, 100.0),
        Param("neutral_earthed", "Neutral earthed at the source", True),
    )
    terminals = (Terminal("L"), Terminal("N"), Terminal("PE", "GND", frame=True))
    parts = (Part("supply", "Supply", "supply_1", Does.FEEDS, ("L", "N", "PE")),)
    internal_nodes = ("zero", "earth")
    branches = (
        Branch("L", "zero", "L", Role.SOURCE),
        Branch("N", "zero", "N", Role.SOURCE),
        Branch("PE", "earth", "PE", Role.SOURCE),
        Branch("neutral_earth", "zero", "earth", Role.SOURCE),
    )
    operations = (Operation("switch", "Supply on", "toggle", handle=True),)
    poles = {"L": ("live", "L"), "N": ("neutral", "N"), "PE": ("earth", "PE")}

    def frequency_hz(self, params: Params) -> float | None:
        return number(params, "frequency_hz")

    def reference_node(self, params: Params) -> str | None:
        return "earth"

    def earthed_at(self, params: Params) -> str:
        return "N" if params["neutral_earthed"] else ""

    def initial(self, params: Params) -> DeviceState:
        return {"on": True}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        links = {"N": Value(EARTH_LINK_OHM), "PE": Value(EARTH_LINK_OHM / 2)}
        if params["neutral_earthed"]:
            links["neutral_earth"] = Value(EARTH_LINK_OHM / 2)
        if state["on"]:
            emf = complex(number(params, "voltage_v"))
            links["L"] = Value(number(params, "source_resistance_ohm"), emf_v=emf)
        return links

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "on": value}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("on" if state["on"] else "off", bool(state["on"]))
