"""LED lamp: sees polarity, and glows on what leaks."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)


class LedLamp(Kind):
    """LED with its resistor: lit from a fifth of its rated current, and glowing faintly down to a hundredth, which an
    RC element or a long cable lets through. On direct current it lights with plus at X1 alone, unless it has a bridge.
    """

    name = "lamp_led"
    title = "LED lamp"
    rank = 15
    group = "signal"
    letter = "P"
    letter_nema = "LT"
    letters_known = ("H",)
    mounting = "door"
    electronic = True
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 6.0, 690.0),
        Param("rated_current_ma", "Rated current", 8.0, "mA", 0.5, 50.0),
        Param("bridged", "Lights either way round", True),
        Param("colour", "Colour", "green", choices=("green", "red", "yellow", "white", "blue")),
    )
    terminals = (Terminal("X1"), Terminal("X2"))
    branches = (Branch("lamp", "X1", "X2", Role.LOAD),)
    parts = (Part("lamp", "LED", "lamp_led", Does.SHOWS, ("X1", "X2"), ("lamp",)),)
    momentary = frozenset({"ohm"})

    LIT: Final = 0.2
    GLOWS: Final = 0.01
    BLOCKS_OHM: Final = 1e7

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "lamp":
            return None
        volts = number(params, "rated_voltage_v")
        return Operating(volts, volts * number(params, "rated_current_ma") / 1000)

    def initial(self, params: Params) -> DeviceState:
        return {"ohm": self._ohm(params)}

    def _ohm(self, params: Params) -> float:
        return 1000 * number(params, "rated_voltage_v") / number(params, "rated_current_ma")

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"lamp": Value(float(state["ohm"] or 1.0))}

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        volts = signals["lamp"]
        blocks = not params["bridged"] and volts.dc_v < 0 and abs(volts.voltage_v) < 0.1 * abs(volts.dc_v)
        ohm = self.BLOCKS_OHM if blocks else self._ohm(params)
        return state if state["ohm"] == ohm else {**state, "ohm": ohm}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        share = 1000 * signals["lamp"].rms_a / number(params, "rated_current_ma")
        if share >= self.LIT:
            return View("lit", True)
        return View("glows_faintly" if share >= self.GLOWS else "dark", False)
