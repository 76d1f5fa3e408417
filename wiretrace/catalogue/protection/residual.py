"""What feels the residual current by itself: residual-current device, and breaker with the same built in."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import watching
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Breaks, Does, Leaks, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Operation,
    Param,
    Params,
    Part,
    Role,
    View,
    When,
    ends_of,
    names_of,
    number,
)
from wiretrace.catalogue.protection.switchgear import POLE_BRANCHES, POLE_PAIRS, POLE_TERMINALS, Breaker

SEES_FROM: Final = 0.75
"""Share of the rated residual current from which it trips: between a half and one (IEC 61008-1, 5.3.4)."""
SMOOTH_A: Final = 0.006
"""Direct residual current that types AC and A need not bear (IEC 61008-1, 5.2.9; IEC 60755)."""
DIRECT_TIMES: Final = 1.5
"""Times its rated residual current of direct current at which type B trips: up to two (IEC 62423)."""
BANDS: Final = (("leaks", SEES_FROM, 0.2, 0.35), ("leaks much", 2.0, 0.1, 0.15), ("leaks most", 5.0, 0.03, 0.1))
"""From how many times the rated residual current it takes how long, seconds, without delay and as type S.

IEC 61008-1, table 1: within 0.3, 0.15 and 0.04 s; type S within 0.5, 0.2 and 0.15 s, not before 0.13, 0.06 and 0.05 s.
"""
FINDINGS: Final = tuple(name for name, *_ in BANDS)

_TWO: Final = When("poles", (2,))
_FOUR: Final = When("poles", (4,))
POLES: Final = Param("poles", "Poles", 2, choices=(2, 4))
PARAMS: Final = (
    Param("residual_ma", "Rated residual current", 30, "mA", choices=(10, 30, 100, 300, 500)),
    Param(
        "residual_type",
        "Type",
        "A",
        choices=("AC", "A", "B"),
        help="AC sees sinusoidal residual current alone, A pulsating too, B smooth direct current as well.",
    ),
    Param("selective", "Selective, type S", False),
    Param("test_voltage_v", "Voltage of the test circuit", 230.0, "V", 100.0, 440.0),
)
BRANCHES: Final = (
    Branch("test 2-3", "2", "3", Role.LOAD, _TWO, (Breaks.OPENS,)),
    Branch("test 2-7", "2", "7", Role.LOAD, _FOUR, (Breaks.OPENS,)),
)
"""The test circuit goes from behind the window round it to before it, so that what flows there does not come back."""
POLE_NAMES: Final = frozenset(branch.name for branch in POLE_BRANCHES)
TESTS: Final = frozenset(branch.name for branch in BRANCHES)
TEST_TIMES: Final = 2.0
"""Times its rated residual current that flows in the test circuit at its voltage; up to 2.5 (IEC 61008-1, 9.16)."""
TEST: Final = Operation("test", "Test button", "momentary", mark="T")
IDLE: Final = {"pressed": False, **watching.idle(FINDINGS)}
REMEDY: Final = (
    "Some of the current did not come back through it. Isolate, lock out, measure insulation; then close it."
)


def parts(symbol: str) -> tuple[Part, ...]:
    """Its poles on a sheet, with the test circuit; `symbol` is followed by their number."""
    return tuple(
        Part(
            "poles",
            "Poles",
            f"{symbol}_{count}",
            Does.SWITCHES_LOAD,
            ends_of(POLE_PAIRS[:count]),
            (*names_of(POLE_PAIRS[:count]), test.name),
            When("poles", (count,)),
        )
        for count, test in zip((2, 4), BRANCHES, strict=True)
    )


def test_circuit(params: Params, state: DeviceState) -> dict[str, Value]:
    """The test circuit while its button is pressed."""
    made_for = test_operating(params)
    ohm = made_for.voltage_v**2 / made_for.takes_va
    return {branch.name: Value(ohm) for branch in BRANCHES} if state["pressed"] else {}


SEES: Final[Mapping[str, frozenset[Leaks]]] = {
    "AC": frozenset(),
    "A": frozenset({Leaks.PULSATING}),
    "B": frozenset(Leaks),
}
"""Residual currents that each type sees beside those of a sine (IEC 60755)."""


def test_operating(params: Params) -> Operating:
    """What the test circuit is made for."""
    volts = number(params, "test_voltage_v")
    return Operating(volts, volts * TEST_TIMES * number(params, "residual_ma") / 1000)


def residual_a(signals: Mapping[str, Signal]) -> tuple[float, float]:
    """What its window sees: alternating and direct, amperes."""
    through = [signals[branch.name] for branch in POLE_BRANCHES if branch.name in signals]
    return abs(sum((one.current_a for one in through), 0j)), abs(sum(one.dc_a for one in through))


def times_rated(params: Params, signals: Mapping[str, Signal]) -> float:
    """The residual current that it feels, in that rated; 0 where direct current has saturated its core.

    Residual current pulsates where its alternating part is no less than its direct part, as a half wave's is.
    """
    alternating, direct = residual_a(signals)
    rated = number(params, "residual_ma") / 1000
    kind = params["residual_type"]
    if kind == "B":
        return max(alternating / rated, direct / rated / DIRECT_TIMES)
    blind = direct > SMOOTH_A and (kind == "AC" or alternating < direct)
    return 0.0 if blind else alternating / rated


def timed(params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
    """With when each band of residual current has lasted long enough."""
    times = times_rated(params, signals)
    slow = bool(params["selective"])
    present = {
        name: late_s if slow else soon_s for name, least, soon_s, late_s in BANDS if watching.above(times, least)
    }
    dues = watching.timed(state, FINDINGS, present, now_us)
    return state if all(state[name] == due for name, due in dues.items()) else {**state, **dues}


def figure(signals: Mapping[str, Signal]) -> Figure:
    alternating, direct = residual_a(signals)
    return Figure("Residual current", (alternating**2 + direct**2) ** 0.5, "A")


class ResidualCurrentDevice(Kind):
    """Residual-current device of two or four poles (IEC 61008-1): trips when what goes does not come back.

    The phasors of all currents through its window add up to what goes to earth behind it. Types AC, A and B differ in
    what direct residual current does to them. Its test button proves its mechanism and that it is connected, not the
    protective conductor. It protects neither against overload nor against a short circuit; every neutral behind it is
    its own.
    """

    remedies = {"tripped": REMEDY}
    name = "residual_current_device"
    title = "Residual-current device"
    rank = 24
    group = "protection"
    letter = "F"
    letter_nema = "RCD"
    letters_known = ("Q",)
    mounting = "plate"
    params = (POLES, Param("rated_current_a", "Rated current", 40.0, "A", 6.0, 125.0), *PARAMS)
    terminals = POLE_TERMINALS
    branches = (*POLE_BRANCHES, *BRANCHES)
    parts = parts("residual")
    balances = POLE_NAMES
    actuator = Actuator.CURRENT
    operations = (Operation("switch", "Handle on", "toggle", handle=True), TEST)

    def limits(self, params: Params) -> Mapping[str, str]:
        return {
            "tripped": f"it trips by {params['residual_ma']} mA that do not come back, type {params['residual_type']}"
        }

    def sees(self, params: Params) -> frozenset[Leaks] | None:
        return SEES[str(params["residual_type"])]

    def operating(self, params: Params, branch: str) -> Operating | None:
        return test_operating(params) if branch in TESTS else None

    def initial(self, params: Params) -> DeviceState:
        return {"on": True, "tripped": False, **IDLE}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        poles = {branch.name: Value(CONTACT_OHM) for branch in POLE_BRANCHES} if state["on"] else {}
        return {**poles, **test_circuit(params, state)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "test":
            return {**state, "pressed": value}
        return {**self.initial(params), "pressed": state["pressed"], "on": value}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return timed(params, state, signals, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if not watching.elapsed(state, FINDINGS, now_us):
            return state
        return {**state, "on": False, "tripped": True, **watching.idle(FINDINGS)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on, tripped = bool(state["on"]), bool(state["tripped"])
        status = "tripped" if tripped else "on" if on else "off"
        pressed = {"switch": on, "test": bool(state["pressed"])}
        return View(status, on, attention=tripped, on=pressed, figures=(figure(signals),))


class ResidualCurrentBreaker(Breaker):
    """Circuit breaker with residual-current release (IEC 61009-1): both in one case, of two or four poles.

    Trips on overload and short circuit as a circuit breaker does, and on residual current as a residual-current
    device does. Its handle does not tell which of them it was.
    """

    remedies = {
        "tripped": "Too much flowed, or some to earth. Isolate, lock out, measure insulation; then turn it off and on.",
    }
    name = "residual_current_breaker"
    title = "Circuit breaker with residual-current release"
    rank = 26
    letter_nema = "GFCB"
    params = (POLES, *Breaker.params[1:], *PARAMS)
    branches = (*Breaker.branches, *BRANCHES)
    parts = (*parts("residual_breaker"), *(part for part in Breaker.parts if part.name != "poles"))
    balances = POLE_NAMES
    operations = (*Breaker.operations, TEST)

    def sees(self, params: Params) -> frozenset[Leaks] | None:
        return SEES[str(params["residual_type"])]

    def operating(self, params: Params, branch: str) -> Operating | None:
        return test_operating(params) if branch in TESTS else super().operating(params, branch)

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), **IDLE}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {**super().values(params, state), **test_circuit(params, state)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "test":
            return {**state, "pressed": value}
        moved = super().operate(params, state, operation, value, now_us)
        return {**moved, "pressed": state["pressed"]}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return timed(params, super().sense(params, state, signals, now_us), signals, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if not watching.elapsed(state, FINDINGS, now_us):
            return super().advance(params, state, now_us)
        still = {name: value for name, value in super().initial(params).items() if name not in ("on", "heat")}
        return {**state, **still, "on": False, "tripped": True, **watching.idle(FINDINGS)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        seen = super().view(params, state, signals)
        pressed = {"switch": bool(state["on"]), "test": bool(state["pressed"])}
        return View(seen.status, seen.active, seen.attention, on=pressed, figures=(figure(signals),))
