"""Level by electrodes: the relay, and the tank in which they hang."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import watching
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
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
from wiretrace.catalogue.machinery.watch_relay import BRANCHES, PARTS, SUPPLY, TERMINALS, wakes, woken


class Electrodes(Kind):
    """Three rods in a tank: the longest is the common, one reaches to the low level, one to the high level.

    Water between two rods conducts like a resistance.
    """

    name = "level_electrodes"
    title = "Level electrodes"
    rank = 75
    group = "command"
    letter = "B"
    letter_nema = "LS"
    mounting = "field"
    params = (Param("water_ohm", "Resistance of the water", 5000.0, "ohm", 50.0, 200000.0),)
    terminals = tuple(Terminal(name) for name in ("C", "L", "H"))
    branches = (Branch("low", "C", "L", Role.CONTACT), Branch("high", "C", "H", Role.CONTACT))
    parts = (Part("rods", "Electrodes", "electrodes", Does.SENSES, ("C", "L", "H"), ("low", "high"), fed=("C",)),)
    actuator = Actuator.PROCESS
    operations = (
        Operation("empty", "Level below both", "pulse"),
        Operation("middle", "Level between", "pulse"),
        Operation("full", "Level above both", "pulse"),
    )

    def initial(self, params: Params) -> DeviceState:
        return {"level": "empty"}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        wet = {"empty": (), "middle": ("low",), "full": ("low", "high")}[str(state["level"])]
        return {name: self.contact_value(params) for name in wet}

    def contact_value(self, params: Params) -> Value:
        return Value(number(params, "water_ohm"))

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {"level": operation}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = {operation.name: operation.name == state["level"] for operation in self.operations}
        return View(str(state["level"]), state["level"] != "empty", on=on)


class LevelRelay(Kind):
    """Feeds the electrodes with a little alternating voltage of its own, so that nothing is carried from rod to rod.

    To empty: its relay picks up at the high level and drops out below the low one; to fill, the other way round.
    """

    name = "level_relay"
    title = "Level relay"
    rank = 65
    group = "switching"
    letter = "K"
    letter_nema = "CR"
    mounting = "plate"
    params = (
        Param("function", "Function", "empty", choices=("empty", "fill"), set_on_site=True),
        Param("sensitivity_kohm", "Sees water below", 30.0, "kohm", 1.0, 200.0, set_on_site=True),
        Param("delay_s", "Delay", 0.5, "s", 0.05, 10.0, set_on_site=True),
        *SUPPLY,
    )
    terminals = (*TERMINALS, Terminal("C"), Terminal("L"), Terminal("H"))
    branches = (*BRANCHES, Branch("low", "C", "L", Role.SOURCE), Branch("high", "C", "H", Role.SOURCE))
    parts = (
        Part("electrodes", "Electrodes", "electrode_inputs", Does.TAKES_SIGNALS, ("C", "L", "H"), ("low", "high")),
        *PARTS,
    )
    actuator = Actuator.SUPPLY
    electronic = True
    made_for = {"supply": ("supply_voltage_v", "supply_power_w")}

    FEEDS_V: Final = 12.0
    BEHIND_OHM: Final = 10_000.0

    def initial(self, params: Params) -> DeviceState:
        return {"fed": False, "in": False, "wakes_at_us": None, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        feed = Value(self.BEHIND_OHM, emf_v=complex(self.FEEDS_V if state["fed"] else 0.0))
        supply = Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w"))
        contact = "11-14" if state["in"] else "11-12"
        return {"supply": supply, "low": feed, "high": feed, contact: Value(CONTACT_OHM)}

    def wet(self, params: Params, signal: Signal) -> bool:
        """Is there water between the common and this rod?"""
        ohm = self.FEEDS_V / abs(signal.current_a) - self.BEHIND_OHM if abs(signal.current_a) > 1e-9 else 1e12
        return watching.below(ohm, 1000 * number(params, "sensitivity_kohm"))

    def wants(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> bool:
        """Shall its relay be in?"""
        if not state["fed"]:
            return False
        low, high = self.wet(params, signals["low"]), self.wet(params, signals["high"])
        if params["function"] == "empty":
            return high or (low and bool(state["in"]))
        return not high and (not low or bool(state["in"]))

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed, wakes_at = wakes(params, state, signals["supply"], now_us)
        state = {**state, "wakes_at_us": wakes_at}
        if self.wants(params, state, signals) == state["in"]:
            return {**state, "changes_at_us": None}
        if state["changes_at_us"] is not None:
            return state
        delay_s = number(params, "delay_s") if fed else 0.02
        return {**state, "changes_at_us": now_us + round(1e6 * delay_s)}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        state = woken(state, now_us)
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "in": not state["in"], "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if not state["fed"]:
            return View("off", False)
        return View("pulled_in" if state["in"] else "dropped_out", bool(state["in"]))
