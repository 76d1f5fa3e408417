"""Lamp, horn, solenoid and terminal: what the current goes through in the end."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
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


class Lamp(Kind):
    """Indicator lamp as the resistance of its rated voltage and power. An LED is seen at much less than a filament."""

    name = "lamp"
    title = "Indicator lamp"
    rank = 10
    group = "signal"
    letter = "H"
    letter_nema = "LT"
    mounting = "door"
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 6.0, 690.0),
        Param("rated_power_w", "Rated power", 2.4, "W", 0.05, 500.0),
        Param("light", "Light", "filament", choices=("filament", "LED")),
        Param("colour", "Colour", "green", choices=("green", "red", "yellow", "white", "blue")),
    )
    terminals = (Terminal("X1"), Terminal("X2"))
    branches = (Branch("lamp", "X1", "X2", Role.LOAD),)
    parts = (Part("lamp", "Lamp", "lamp", Does.SHOWS, ("X1", "X2"), ("lamp",)),)

    VISIBLE: Final = {"filament": 0.5, "LED": 0.2}
    """Share of the rated voltage from which a lamp is seen to be lit."""

    made_for = {"lamp": ("rated_voltage_v", "rated_power_w")}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"lamp": Value(number(params, "rated_voltage_v") ** 2 / number(params, "rated_power_w"))}

    def has_electronics(self, params: Params) -> bool:
        return params["light"] == "LED"

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        signal = signals["lamp"]
        share = signal.rms_v / number(params, "rated_voltage_v")
        lit = share >= self.VISIBLE[str(params["light"])] and signal.rms_a > 0
        return View("lit" if lit else "dark", lit)


class Horn(Kind):
    """Horn or buzzer as the resistance of its rated voltage and power."""

    name = "horn"
    title = "Horn"
    rank = 20
    group = "signal"
    letter = "P"
    letter_nema = "AH"
    mounting = "door"
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 6.0, 690.0),
        Param("rated_power_w", "Rated power", 10.0, "W", 0.05, 500.0),
        Param("colour", "Colour", "white", choices=("white", "red", "yellow")),
    )
    terminals = (Terminal("X1"), Terminal("X2"))
    branches = (Branch("horn", "X1", "X2", Role.LOAD),)
    parts = (Part("horn", "Horn", "horn", Does.CONSUMES, ("X1", "X2"), ("horn",)),)

    AUDIBLE: Final = 0.6
    """Share of the rated voltage from which it is heard."""

    made_for = {"horn": ("rated_voltage_v", "rated_power_w")}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"horn": Value(number(params, "rated_voltage_v") ** 2 / number(params, "rated_power_w"))}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        signal = signals["horn"]
        heard = signal.rms_v >= self.AUDIBLE * number(params, "rated_voltage_v")
        sounds = heard and signal.rms_a > 0
        return View("sounds" if sounds else "silent", sounds)


class Solenoid(Kind):
    """Solenoid of a valve: opens from 85 % of its rated voltage, falls shut below half of it."""

    name = "solenoid"
    title = "Solenoid valve"
    rank = 40
    group = "load"
    letter = "Y"
    letter_nema = "SOL"
    mounting = "field"
    params = (
        Param("rated_voltage_v", "Rated voltage", 230.0, "V", 6.0, 690.0),
        Param("rated_va", "Power taken", 12.0, "VA", 0.5, 500.0),
        Param("power_factor", "Power factor", 0.5, "", 0.05, 1.0),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0),
    )
    terminals = (Terminal("A1"), Terminal("A2"))
    branches = (Branch("coil", "A1", "A2", Role.LOAD),)
    parts = (Part("coil", "Solenoid", "solenoid", Does.CONSUMES, ("A1", "A2"), ("coil",)),)

    OPENS: Final = 0.85
    HOLDS: Final = 0.5

    made_for = {"coil": ("rated_voltage_v", "rated_va", "power_factor")}

    def initial(self, params: Params) -> DeviceState:
        return {"open": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"coil": self.load_value(params, "coil", number(params, "rated_frequency_hz"))}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        signal = signals["coil"]
        share = signal.rms_v / number(params, "rated_voltage_v")
        pulls = share >= (self.HOLDS if state["open"] else self.OPENS) and signal.rms_a > 0
        return state if pulls == state["open"] else {"open": pulls}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("open" if state["open"] else "shut", bool(state["open"]))


class TerminalBlock(Kind):
    """One numbered terminal of a strip: one side for the inside of the panel, one for the outside."""

    name = "terminal"
    title = "Terminal"
    rank = 10
    group = "terminal"
    letter = "X"
    letter_nema = "TB"
    mounting = "plate"
    terminals = (Terminal("a"), Terminal("b"))
    branches = (Branch("a-b", "a", "b", Role.PATH),)
    parts = (Part("terminal", "Terminal", "through_terminal", Does.JOINS, ("a", "b"), ("a-b",)),)

    BLOCK_OHM: Final = 0.001

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"a-b": Value(self.BLOCK_OHM)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("", False)
