"""Programmable controller: inputs, a program that is scanned, relay outputs."""

from collections.abc import Iterator, Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Scalar,
    Terminal,
    View,
    number,
)
from wiretrace.program import ladder

VOLTS: Final = {"24_DC": 24.0, "120_AC": 120.0, "230_AC": 230.0}
VOLTS_TITLES: Final = {"24_DC": "24 V DC", "120_AC": "120 V AC", "230_AC": "230 V AC"}
EXAMPLE: Final = "Q1 = (I1 or Q1) and I2"
_BITS: Final = (*ladder.INPUTS, *ladder.OUTPUTS, *ladder.MARKERS, *ladder.TIMERS)


class Controller(Kind):
    """Eight inputs against one common, six relay outputs in two groups, and a program in ladder rungs.

    An input is on from 65 % of the rated voltage and off below 25 %. The program is scanned at
    multiples of the scan time while anything that it can see has changed; a scan that changes nothing
    would go on changing nothing. Outputs are relays; they all open when the supply fails.
    """

    name = "plc"
    title = "Programmable controller"
    rank = 60
    group = "switching"
    letter = "K"
    letter_nema = "PLC"
    mounting = "plate"
    params = (
        Param("voltage", "Supply and inputs", "24_DC", choices=tuple(VOLTS), titles=VOLTS_TITLES),
        Param("scan_ms", "Scan time", 20.0, "ms", 1.0, 500.0),
        Param("supply_power_w", "Power taken", 4.0, "W", 0.5, 50.0),
        Param("input_ma", "Current of an input", 4.0, "mA", 0.5, 20.0),
        Param(
            "program", "Program", EXAMPLE, help="One rung a line, such as Q1 = (I1 or Q1) and not I2.", set_on_site=True
        ),
    )
    terminals = tuple(
        Terminal(name)
        for name in ("L", "N", *ladder.INPUTS, "COM", "C1", *ladder.OUTPUTS[:3], "C2", *ladder.OUTPUTS[3:])
    )
    branches = (
        Branch("supply", "L", "N", Role.LOAD),
        *(Branch(name, name, "COM", Role.LOAD) for name in ladder.INPUTS),
        *(Branch(name, "C1", name, Role.CONTACT) for name in ladder.OUTPUTS[:3]),
        *(Branch(name, "C2", name, Role.CONTACT) for name in ladder.OUTPUTS[3:]),
    )
    parts = (
        Part("supply", "Supply", "plc_supply", Does.CONSUMES, ("L", "N"), ("supply",)),
        Part("inputs", "Inputs", "plc_inputs", Does.TAKES_SIGNALS, (*ladder.INPUTS, "COM"), ladder.INPUTS),
        Part(
            "outputs_1",
            "Outputs 1 to 3",
            "plc_outputs",
            Does.GIVES_SIGNALS,
            ("C1", *ladder.OUTPUTS[:3]),
            ladder.OUTPUTS[:3],
        ),
        Part(
            "outputs_2",
            "Outputs 4 to 6",
            "plc_outputs",
            Does.GIVES_SIGNALS,
            ("C2", *ladder.OUTPUTS[3:]),
            ladder.OUTPUTS[3:],
        ),
    )
    electronic = True
    actuator = Actuator.PROGRAM

    WORKS_FROM: Final = 0.8
    HOLDS_US: Final = 10_000
    """Failure of the supply that it rides through (IEC 61131-2, 5.1.1)."""
    ON_FROM: Final = 0.65
    OFF_BELOW: Final = 0.25

    def operating(self, params: Params, branch: str) -> Operating | None:
        volts = VOLTS[str(params["voltage"])]
        direct = str(params["voltage"]).endswith("DC")
        if branch in ladder.INPUTS:
            return Operating(volts, volts * number(params, "input_ma") / 1000, direct=direct)
        return Operating(volts, number(params, "supply_power_w"), direct=direct) if branch == "supply" else None

    def contradictions(self, params: Params) -> Iterator[str]:
        try:
            ladder.rungs(str(params["program"]))
        except ladder.ProgramError as error:
            yield str(error)

    def initial(self, params: Params) -> DeviceState:
        timers: dict[str, Scalar] = {}
        for name in ladder.TIMERS:
            timers |= {f"{name}_phase": "idle", f"{name}_at_us": None}
        return {"runs": False, "inputs": 0, "memory": 0, **timers, "scans_at_us": None, "stops_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        volts = VOLTS[str(params["voltage"])]
        taken = Value(volts / (number(params, "input_ma") / 1000))
        values = {"supply": Value(volts**2 / number(params, "supply_power_w")), **dict.fromkeys(ladder.INPUTS, taken)}
        on = _unpack(state)
        return values | {name: Value(CONTACT_OHM) for name in ladder.OUTPUTS if on[name]}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        rated = VOLTS[str(params["voltage"])]
        if self._sees(params, signals["supply"]) < self.WORKS_FROM * rated:
            if not state["runs"] or state["stops_at_us"] is not None:
                return state
            return {**state, "stops_at_us": now_us + self.HOLDS_US}
        if state["stops_at_us"] is not None:
            state = {**state, "stops_at_us": None}
        before = _unpack(state)
        inputs = 0
        for bit, name in enumerate(ladder.INPUTS):
            share = self._sees(params, signals[name]) / rated
            inputs |= (share >= (self.OFF_BELOW if before[name] else self.ON_FROM)) << bit
        if state["runs"] and inputs == state["inputs"]:
            return state
        return self._to_scan(params, {**state, "runs": True, "inputs": inputs}, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["stops_at_us"] == now_us:
            return self.initial(params)
        changed = dict(state)
        for name in ladder.TIMERS:
            if changed[f"{name}_at_us"] == now_us:
                changed |= {f"{name}_phase": "elapsed", f"{name}_at_us": None}
                changed = dict(self._to_scan(params, changed, now_us))
        if state["scans_at_us"] != now_us:
            return changed
        scanned = self._scan(params, changed, now_us)
        if all(scanned[name] == changed[name] for name in changed):
            return {**scanned, "scans_at_us": None}
        return self._to_scan(params, {**scanned, "scans_at_us": None}, now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("runs" if state["runs"] else "off", bool(state["runs"]))

    def _to_scan(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        """The state with the next scan at the next multiple of the scan time."""
        if state["scans_at_us"] is not None and state["scans_at_us"] != now_us:
            return state
        scan_us = round(1000 * number(params, "scan_ms"))
        return {**state, "scans_at_us": (now_us // scan_us + 1) * scan_us}

    @staticmethod
    def _scan(params: Params, state: DeviceState, now_us: int) -> DeviceState:
        """One pass through the program."""
        on, timers = _unpack(state), {name: value for name, value in state.items() if name[0] == "T"}
        for rung in ladder.rungs(str(params["program"])):
            closed = rung.closed(on)
            if rung.coil in ladder.TIMERS:
                on[rung.coil] = _time(rung, closed, timers, now_us)
            else:
                on[rung.coil] = closed
        return {**state, **timers, "memory": sum(on[name] << bit for bit, name in enumerate(_BITS) if bit > 7)}

    @staticmethod
    def _sees(params: Params, signal: Signal) -> float:
        return signal.dc_v if params["voltage"] == "24_DC" else signal.rms_v


def _unpack(state: DeviceState) -> dict[str, bool]:
    """Every contact of the program by name."""
    word = int(state["inputs"] or 0) | int(state["memory"] or 0)
    return {name: bool(word >> bit & 1) for bit, name in enumerate(_BITS)}


def _time(rung: ladder.Rung, closed: bool, timers: dict[str, Scalar], now_us: int) -> bool:
    """Work a timer's coil; is its contact closed?"""
    phase, due = f"{rung.coil}_phase", f"{rung.coil}_at_us"
    starts = closed != rung.off_delay
    if not starts:
        timers |= {phase: "held" if rung.off_delay else "idle", due: None}
    elif timers[phase] != "elapsed" and timers[due] is None and (timers[phase] == "held" or not rung.off_delay):
        timers |= {phase: "times", due: now_us + max(1, rung.delay_us)}
    if rung.off_delay:
        return timers[phase] in ("held", "times")
    return timers[phase] == "elapsed"
