"""Phase monitoring relay: its contact belongs in series with the stop circuit."""

import cmath
import math
from collections.abc import Collection, Mapping
from typing import Final

from wiretrace.catalogue.machinery import watching
from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Operating
from wiretrace.catalogue.machinery.status import coded
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

PAIRS: Final = ("L1-L2", "L2-L3", "L3-L1")
FINDINGS: Final = ("off", "phase lost", "wrong sequence", "undervoltage", "overvoltage", "unbalance")
"""What may be wrong, the gravest first."""
READY: Final = "ready"
LOST_HYSTERESIS: Final = 5.0
"""By how many per cent more a phase that was lost must come back."""
DELAYS: Final = {
    "undervoltage": "under_delay_s",
    "overvoltage": "over_delay_s",
    "unbalance": "unbalance_delay_s",
    "wrong sequence": "sequence_delay_s",
}


class PhaseMonitor(Kind):
    """Watches three lines; its relay is in while all is well, and drops after the delay of what is wrong.

    Each function has a threshold, a hysteresis and a delay of its own: what it has found is over only where the voltage
    has come back that much farther, so that a voltage about the threshold does not switch it again and again.
    Unbalance is the largest deviation of a line voltage from their mean, over the mean (NEMA MG 1, 14.36).
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
        Param("under_delay_s", "Delay for undervoltage", 1.0, "s", 0.05, 60.0, set_on_site=True),
        Param("under_hysteresis_percent", "Undervoltage is over above that by", 5.0, "%", 0.5, 20.0),
        Param("over_percent", "Overvoltage above", 115.0, "%", 101.0, 140.0, set_on_site=True),
        Param("over_delay_s", "Delay for overvoltage", 1.0, "s", 0.05, 60.0, set_on_site=True),
        Param("over_hysteresis_percent", "Overvoltage is over below that by", 5.0, "%", 0.5, 20.0),
        Param("unbalance_percent", "Unbalance above", 5.0, "%", 1.0, 20.0, set_on_site=True),
        Param("unbalance_delay_s", "Delay for unbalance", 2.0, "s", 0.05, 60.0, set_on_site=True),
        Param("unbalance_hysteresis_percent", "Unbalance is over below that by", 1.0, "%", 0.1, 10.0),
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
        changeover("11", "12", "14"),
    )

    actuator = Actuator.SUPPLY
    electronic = True

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch not in PAIRS:
            return None
        volts = number(params, "line_voltage_v")
        return Operating(volts, volts**2 / 1000 / number(params, "input_resistance_kohm"))

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "line_voltage_v")

    def initial(self, params: Params) -> DeviceState:
        held = {f"{finding}_held": False for finding in FINDINGS}
        return {"ready": False, "sees": "off", **held, **watching.idle((*FINDINGS, READY))}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        input_ohm = Value(1000 * number(params, "input_resistance_kohm"))
        contact = "11-14" if state["ready"] else "11-12"
        return dict.fromkeys(PAIRS, input_ohm) | {contact: Value(CONTACT_OHM)}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        held = {finding for finding in FINDINGS if state[f"{finding}_held"]}
        found = self.findings(params, [signals[pair].voltage_v for pair in PAIRS], held)
        sees = next((finding for finding in FINDINGS if finding in found), "healthy")
        if state["ready"]:
            present = {finding: self.delay_s(params, finding) for finding in found}
        else:
            present = {} if found else {READY: number(params, "ready_delay_s")}
        holds = {f"{finding}_held": finding in found for finding in FINDINGS}
        return {**state, "sees": sees, **holds, **watching.timed(state, (*FINDINGS, READY), present, now_us)}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        over = watching.elapsed(state, (*FINDINGS, READY), now_us)
        if not over:
            return state
        return {**state, "ready": over == [READY], **watching.idle((*FINDINGS, READY))}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        wrong = state["sees"] not in ("healthy", "off")
        waiting = state["sees"] == "healthy" and not state["ready"]
        return View("waiting" if waiting else coded(state["sees"]), bool(state["ready"]), attention=wrong)

    def findings(self, params: Params, lines_v: list[complex], held: Collection[str] = ()) -> set[str]:
        """All that is wrong with the three line voltages; what was found before has its hysteresis."""

        def limit(name: str, finding: str, hysteresis: float) -> float:
            return number(params, name) + (hysteresis if finding in held else 0.0)

        percent = [100 * abs(volts) / number(params, "line_voltage_v") for volts in lines_v]
        mean = sum(percent) / 3
        if watching.below(max(percent), limit("lost_percent", "off", LOST_HYSTERESIS)):
            return {"off"}
        unbalance = 100 * max(abs(size - mean) for size in percent) / mean
        under, over, uneven = (number(params, f"{name}_hysteresis_percent") for name in ("under", "over", "unbalance"))
        found = {
            "phase lost": watching.below(min(percent), limit("lost_percent", "phase lost", LOST_HYSTERESIS)),
            "wrong sequence": bool(params["watches_sequence"]) and self._turns_backward(lines_v),
            "undervoltage": watching.below(min(percent), limit("under_percent", "undervoltage", under)),
            "overvoltage": watching.above(max(percent), limit("over_percent", "overvoltage", -over)),
            "unbalance": watching.above(unbalance, max(0.1, limit("unbalance_percent", "unbalance", -uneven))),
        }
        return {name for name, there in found.items() if there}

    def limits(self, params: Params) -> Mapping[str, str]:
        line_v = number(params, "line_voltage_v")

        def told(name: str, finding: str, of: str) -> str:
            percent = number(params, name)
            volts = f", {percent * line_v / 100:.0f} V" if of == "the rated voltage" else ""
            return f"its limit is {percent:g} % of {of}{volts}, for {self.delay_s(params, finding):g} s"

        return {
            "phase_lost": told("lost_percent", "phase lost", "the rated voltage"),
            "undervoltage": told("under_percent", "undervoltage", "the rated voltage"),
            "overvoltage": told("over_percent", "overvoltage", "the rated voltage"),
            "unbalance": told("unbalance_percent", "unbalance", "the mean between the lines"),
        }

    def delay_s(self, params: Params, finding: str) -> float:
        """Seconds that a finding must last before the relay follows."""
        return number(params, DELAYS.get(finding, "loss_delay_s"))

    @staticmethod
    def _turns_backward(lines_v: list[complex]) -> bool:
        """Is the negative sequence the larger one?"""
        turn = cmath.exp(2j * math.pi / 3)
        positive = lines_v[0] + turn * lines_v[1] + turn**2 * lines_v[2]
        negative = lines_v[0] + turn**2 * lines_v[1] + turn * lines_v[2]
        return watching.above(abs(negative), abs(positive))
