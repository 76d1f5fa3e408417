"""Phase monitoring relay: its contact belongs in series with the stop circuit."""

import cmath
import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.device import Kind
from wiretrace.catalogue.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.purpose import Does, Moved, Operating
from wiretrace.catalogue.structure import Branch, DeviceState, Param, Params, Part, Role, Terminal, View, number

PAIRS: Final = ("L1-L2", "L2-L3", "L3-L1")


class PhaseMonitor(Kind):
    """Watches three lines; its relay is in while all is well, and drops after the delay of what is wrong.

    Each function has a threshold and a delay of its own. Unbalance is the largest deviation of a
    line voltage from their mean, over the mean (NEMA MG 1, 14.36).
    """

    name = "phase_monitor"
    title = "Phase monitoring relay"
    rank = 70
    group = "protection"
    letter = "K"
    letter_nema = "PM"
    mounting = "plate"
    params = (
        Param("line_voltage_v", "Line voltage", 400.0, "V", 100.0, 690.0, set_on_site=True),
        Param("under_percent", "Undervoltage below", 85.0, "%", 50.0, 99.0, set_on_site=True),
        Param("over_percent", "Overvoltage above", 115.0, "%", 101.0, 140.0, set_on_site=True),
        Param("voltage_delay_s", "Delay for under- and overvoltage", 1.0, "s", 0.05, 60.0, set_on_site=True),
        Param("unbalance_percent", "Unbalance above", 5.0, "%", 1.0, 20.0, set_on_site=True),
        Param("unbalance_delay_s", "Delay for unbalance", 2.0, "s", 0.05, 60.0, set_on_site=True),
        Param("lost_percent", "Phase counts as lost below", 60.0, "%", 10.0, 84.0),
        Param("loss_delay_s", "Delay for a lost phase", 0.1, "s", 0.05, 60.0),
        Param("watches_sequence", "Watches the phase sequence", True),
        Param("sequence_delay_s", "Delay for a wrong sequence", 0.1, "s", 0.05, 60.0),
        Param("ready_delay_s", "Delay until ready", 0.5, "s", 0.05, 60.0),
        Param("input_resistance_kohm", "Resistance between two lines", 100.0, "kohm", 1.0, 10000.0),
    )
    terminals = tuple(Terminal(name) for name in ("L1", "L2", "L3", "11", "12", "14"))
    branches = (
        *(Branch(pair, pair[:2], pair[3:], Role.LOAD) for pair in PAIRS),
        Branch("11-12", "11", "12", Role.CONTACT),
        Branch("11-14", "11", "14", Role.CONTACT),
    )
    parts = (
        Part("monitor", "Lines watched", "monitor_3", Does.FEELS_VOLTAGE, ("L1", "L2", "L3"), PAIRS),
        Part(
            "11-12-14", "Changeover 11-12-14", "changeover", Does.CHANGES_OVER, ("11", "12", "14"), ("11-12", "11-14")
        ),
    )

    moved = Moved.BY_SUPPLY

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch not in PAIRS:
            return None
        volts = number(params, "line_voltage_v")
        return Operating(volts, volts**2 / 1000 / number(params, "input_resistance_kohm"))

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "line_voltage_v")

    def initial(self, params: Params) -> DeviceState:
        return {"ready": False, "sees": "off", "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        watching = Value(1000 * number(params, "input_resistance_kohm"))
        contact = "11-14" if state["ready"] else "11-12"
        return dict.fromkeys(PAIRS, watching) | {contact: Value(CONTACT_OHM)}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        sees = self.finding(params, [signals[pair].voltage_v for pair in PAIRS])
        if sees == state["sees"]:
            return state
        if (sees == "healthy") == state["ready"]:
            return {**state, "sees": sees, "changes_at_us": None}
        # What was wrong already goes on running out; another finding has a delay of its own.
        at_us = now_us + round(1e6 * self.delay_s(params, sees))
        return {**state, "sees": sees, "changes_at_us": at_us}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "ready": state["sees"] == "healthy", "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        wrong = state["sees"] not in ("healthy", "off")
        waiting = state["sees"] == "healthy" and not state["ready"]
        return View("waiting" if waiting else str(state["sees"]), bool(state["ready"]), attention=wrong)

    def finding(self, params: Params, lines_v: list[complex]) -> str:
        """What the three line voltages amount to, the gravest first."""
        rated = number(params, "line_voltage_v")
        sizes = [abs(volts) for volts in lines_v]
        mean = sum(sizes) / 3
        lost = rated * number(params, "lost_percent") / 100
        if max(sizes) < lost:
            return "off"
        if min(sizes) < lost:
            return "phase lost"
        if params["watches_sequence"] and self._turns_backward(lines_v):
            return "wrong sequence"
        if min(sizes) < rated * number(params, "under_percent") / 100:
            return "undervoltage"
        if max(sizes) > rated * number(params, "over_percent") / 100:
            return "overvoltage"
        unbalance = max(abs(size - mean) for size in sizes) / mean
        return "unbalance" if unbalance > number(params, "unbalance_percent") / 100 else "healthy"

    def delay_s(self, params: Params, sees: str) -> float:
        """Seconds that a finding must last before the relay follows."""
        if sees == "healthy":
            return number(params, "ready_delay_s")
        if sees in ("undervoltage", "overvoltage"):
            return number(params, "voltage_delay_s")
        names = {"unbalance": "unbalance_delay_s", "wrong sequence": "sequence_delay_s"}
        return number(params, names.get(sees, "loss_delay_s"))

    @staticmethod
    def _turns_backward(lines_v: list[complex]) -> bool:
        """Is the negative sequence the larger one?"""
        turn = cmath.exp(2j * math.pi / 3)
        positive = lines_v[0] + turn * lines_v[1] + turn**2 * lines_v[2]
        negative = lines_v[0] + turn**2 * lines_v[1] + turn * lines_v[2]
        return abs(negative) > abs(positive)
