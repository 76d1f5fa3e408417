"""Suppressors across coils and contacts: what they let through counts as much as what they swallow."""

import math
from collections.abc import Mapping

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Diode,
    Figure,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)


class Suppressor(Kind):
    """RC element, diode or varistor. An RC element lets alternating current through all the time: across an open
    contact it can hold a small relay. A diode conducts when the voltage is the wrong way round, and is then a short
    circuit; a varistor lets next to nothing through at its voltage. How much later the coil lets go is a setting of the
    coil.
    """

    name = "suppressor"
    title = "Suppressor"
    rank = 60
    group = "switching"
    letter = "R"
    letter_nema = "SUP"
    mounting = "plate"
    params = (
        Param("type", "Type", "rc", choices=("rc", "diode", "varistor"), titles={"rc": "RC element"}),
        Param("resistance_ohm", "Resistance of an RC element", 220.0, "ohm", 1.0, 10000.0),
        Param("capacitance_nf", "Capacitance of an RC element", 220.0, "nF", 1.0, 5000.0),
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 6.0, 690.0),
        Param("leakage_ma", "Leakage of a varistor", 0.1, "mA", 0.001, 5.0),
    )
    terminals = (Terminal("1"), Terminal("2"))
    branches = (Branch("element", "1", "2", Role.LOAD),)
    parts = (Part("element", "Element", "suppressor", Does.CONSUMES, ("1", "2"), ("element",)),)

    FORWARD_OHM = 0.05
    REVERSE_OHM = 1e7

    def operating(self, params: Params, branch: str) -> Operating | None:
        volts = number(params, "rated_voltage_v")
        return Operating(volts, volts / self._size_ohm(params) * volts)

    def _size_ohm(self, params: Params) -> float:
        """Size of the impedance at 50 Hz and the rated voltage."""
        if params["type"] == "rc":
            reactance = 1 / (2 * math.pi * 50 * 1e-9 * number(params, "capacitance_nf"))
            return math.hypot(number(params, "resistance_ohm"), reactance)
        if params["type"] == "varistor":
            return 1000 * number(params, "rated_voltage_v") / number(params, "leakage_ma")
        return self.REVERSE_OHM

    def diodes(self, params: Params) -> tuple[Diode, ...]:
        """Its cathode is terminal 1."""
        return (Diode("2", "1", "element"),) if params["type"] == "diode" else ()

    def initial(self, params: Params) -> DeviceState:
        return {"forward": False, "turns_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        if params["type"] == "rc":
            capacitance = 1e-9 * number(params, "capacitance_nf")
            return {"element": Value(capacitance_f=capacitance, joint_ohm=number(params, "resistance_ohm"))}
        if params["type"] == "diode" and state["forward"]:
            return {"element": Value(self.FORWARD_OHM)}
        return {"element": Value(self._size_ohm(params))}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        # Its cathode is terminal 1, at plus: turned round, or on alternating current, it conducts.
        volts = signals["element"]
        forward = params["type"] == "diode" and (volts.dc_v < -1.0 or abs(volts.voltage_v) > 1.0)
        if forward == (state["forward"] or state["turns_at_us"] is not None) or state["forward"]:
            return state
        return {**state, "turns_at_us": now_us + 1_000 if forward else None}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["turns_at_us"] != now_us:
            return state
        return {**state, "forward": True, "turns_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        lets = Figure("Lets through", 1000 * signals["element"].rms_a, "mA")
        if state["forward"]:
            return View("conducts", True, attention=True, figures=(lets,))
        return View("", False, figures=(lets,))
