"""Safety relays: two channels, what must agree between them, and a start that is watched."""

from collections.abc import Mapping
from dataclasses import replace
from typing import ClassVar, Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
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
from wiretrace.catalogue.machinery.watch_relay import SUPPLY, wakes, woken

OUTPUTS: Final = (("13", "14"), ("23", "24"))
FEEDS_V: Final = 24.0
GIVES_OHM: Final = 400.0
TAKES_OHM: Final = 2_000.0
CLOSED_OHM: Final = 1_000.0
"""Resistance of a loop below which it counts as closed."""
LOOPS: Final[Mapping[str, Value]] = {
    "S11": Value(GIVES_OHM, emf_dc_v=FEEDS_V),
    "S12": Value(TAKES_OHM),
    "S21": Value(1.0),
    "S22": Value(GIVES_OHM + TAKES_OHM, emf_dc_v=FEEDS_V),
    "Y1": Value(GIVES_OHM + TAKES_OHM, emf_dc_v=FEEDS_V),
}
"""The first channel gives plus and takes it back; the second gives zero. So a short between them takes both away."""
UNFED_LOOPS: Final = {name: replace(value, emf_dc_v=0.0) for name, value in LOOPS.items()}
LOOP_BRANCHES: Final = tuple(
    Branch(name, "zero", name, Role.LOAD if name == "S12" else Role.SOURCE) for name in ("S11", "S12", "S21", "S22")
)


def is_closed(signal: Signal) -> bool:
    """Does the loop carry what it carries when it is closed?"""
    return abs(signal.dc_a) > FEEDS_V / (GIVES_OHM + TAKES_OHM + CLOSED_OHM)


def channels(signals: Mapping[str, Signal]) -> list[bool]:
    """Is each channel closed?"""
    return [is_closed(signals[name]) for name in ("S12", "S22")]


class _TwoChannels(Kind):
    """Two loops that the relay feeds with 24 V of its own, two outputs that close, one contact that opens."""

    group = "switching"
    letter = "K"
    letter_nema = "SR"
    mounting = "plate"
    actuator = Actuator.SUPPLY
    electronic = True
    made_for = {"supply": ("supply_voltage_v", "supply_power_w")}
    loops: ClassVar[tuple[str, ...]]
    internal_nodes = ("zero",)

    ANSWERS_US: Final = 20_000

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        supply = Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w"))
        loops = {name: LOOPS[name] if state["fed"] else UNFED_LOOPS[name] for name in self.loops}
        contacts = [f"{a}-{b}" for a, b in OUTPUTS] if state["on"] else ["31-32"]
        return {"supply": supply, **loops, **dict.fromkeys(contacts, Value(CONTACT_OHM))}


def _parts(loops: str, symbol: str, inputs: tuple[str, ...], branches: tuple[str, ...]) -> tuple[Part, ...]:
    return (
        Part("inputs", loops, symbol, Does.TAKES_SIGNALS, inputs, branches),
        Part("supply", "Supply", "relay_supply", Does.CONSUMES, ("A1", "A2"), ("supply",)),
        *(
            Part(f"{a}-{b}", f"Output {a}-{b}, NO", "contact_no", Does.NORMALLY_OPEN, (a, b), (f"{a}-{b}",))
            for a, b in OUTPUTS
        ),
        Part("31-32", "Signal 31-32, NC", "contact_nc", Does.NORMALLY_CLOSED, ("31", "32"), ("31-32",)),
    )


_OUT_TERMINALS: Final = tuple(Terminal(name) for name in ("13", "14", "23", "24", "31", "32"))
_OUT_BRANCHES: Final = tuple(Branch(f"{a}-{b}", a, b, Role.CONTACT) for a, b in (*OUTPUTS, ("31", "32")))


class SafetyRelay(_TwoChannels):
    """Emergency-stop relay: two channels, a loop Y1-Y2 with feedback contacts and start button.

    Its outputs close when both channels are closed and the start loop is closed, with monitored start only when
    that loop has been opened again. One channel alone open drops it, and then both must have been open
    before it starts (ISO 13849-1, category 3 and 4). A welded contactor keeps the feedback open, and it does not start.
    """

    remedies = {
        "waiting": "Both channels are closed. It waits for its reset: the loop Y1-Y2 closed, and opened again.",
        "channels_differ": "The two channels did not act together. Look for a fault in one, release both, start again.",
    }
    name = "safety_relay"
    title = "Safety relay, emergency stop"
    rank = 70
    params = (
        Param("start", "Start", "monitored", choices=("monitored", "automatic")),
        Param("supply_voltage_v", "Supply voltage", 230.0, "V", 12.0, 400.0),
        Param("supply_power_w", "Power taken", 3.0, "W", 0.1, 20.0),
    )
    loops = ("S11", "S12", "S21", "S22", "Y1")
    terminals = (*(Terminal(n) for n in ("A1", "A2", "S11", "S12", "S21", "S22", "Y1", "Y2")), *_OUT_TERMINALS)
    branches = (
        Branch("supply", "A1", "A2", Role.LOAD),
        *LOOP_BRANCHES,
        Branch("Y1", "Y1", "Y2", Role.SOURCE),
        *_OUT_BRANCHES,
    )
    parts = _parts(
        "Channels and start",
        "safety_inputs",
        ("S11", "S12", "S21", "S22", "Y1", "Y2"),
        ("S11", "S12", "S21", "S22", "Y1"),
    )

    def initial(self, params: Params) -> DeviceState:
        return {
            "fed": False,
            "wakes_at_us": None,
            "on": False,
            "locked": False,
            "pressed": False,
            "asks": False,
            "sees": "off",
            "changes_at_us": None,
        }

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed, wakes_at = wakes(params, state, signals["supply"], now_us)
        state = {**state, "wakes_at_us": wakes_at}
        closed = channels(signals)
        start = is_closed(signals["Y1"])
        both, neither = fed and all(closed), not any(closed)
        # A channel that opened alone locks it until both have been open.
        locked = fed and not neither and (bool(state["locked"]) or (bool(state["on"]) and not all(closed)))
        released = bool(state["pressed"]) and not start
        asks = both and not locked and (released if params["start"] == "monitored" else start)
        asks = asks or (bool(state["asks"]) and both and not locked)
        wanted = both and not locked and (bool(state["on"]) or asks)
        due = state["changes_at_us"]
        if wanted == state["on"]:
            due = None
        elif due is None:
            due = now_us + self.ANSWERS_US
        sees = "off" if not fed else "channels differ" if locked else "waiting" if both else "open"
        pressed = start and both
        return {**state, "locked": locked, "pressed": pressed, "asks": asks, "sees": sees, "changes_at_us": due}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        state = woken(state, now_us)
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "on": not state["on"], "asks": False, "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["on"]:
            return View("on", True)
        return View(coded(state["sees"]), False, attention=bool(state["locked"]))


class TwoHandRelay(_TwoChannels):
    """Both buttons within half a second, and held (ISO 13851, type III): else nothing, until both are let go.

    S11-S12 and S21-S22 lead over a normally open contact of each button.
    """

    name = "two_hand_relay"
    title = "Two-hand relay"
    rank = 75
    params = SUPPLY
    loops = ("S11", "S12", "S21", "S22")
    terminals = (*(Terminal(n) for n in ("A1", "A2", "S11", "S12", "S21", "S22")), *_OUT_TERMINALS)
    branches = (
        Branch("supply", "A1", "A2", Role.LOAD),
        *LOOP_BRANCHES,
        *_OUT_BRANCHES,
    )
    parts = _parts("Both hands", "two_hand_inputs", ("S11", "S12", "S21", "S22"), ("S11", "S12", "S21", "S22"))

    TOGETHER_US: Final = 500_000

    def initial(self, params: Params) -> DeviceState:
        return {
            "fed": False,
            "wakes_at_us": None,
            "on": False,
            "armed": True,
            "sees": "off",
            "late_at_us": None,
            "changes_at_us": None,
        }

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed, wakes_at = wakes(params, state, signals["supply"], now_us)
        state = {**state, "wakes_at_us": wakes_at}
        closed = channels(signals)
        both, neither = fed and all(closed), not any(closed)
        armed = (bool(state["armed"]) and not (state["on"] and not both)) or neither
        late = None
        if fed and not both and not neither and armed and not state["on"]:
            late = state["late_at_us"] or now_us + self.TOGETHER_US
        wanted, due = both and armed, state["changes_at_us"]
        if wanted == state["on"]:
            due = None
        elif due is None:
            due = now_us + self.ANSWERS_US
        sees = "off" if not fed else "one hand" if not both and not neither else "waiting" if neither else "too late"
        return {**state, "armed": armed, "sees": sees, "late_at_us": late, "changes_at_us": due}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        state = woken(state, now_us)
        if state["late_at_us"] == now_us:
            state = {**state, "armed": False, "late_at_us": None}
        if state["changes_at_us"] == now_us:
            state = {**state, "on": not state["on"], "changes_at_us": None}
        return state

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("on", True) if state["on"] else View(coded(state["sees"]), False)
