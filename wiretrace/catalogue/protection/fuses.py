"""Fuses: links that melt, by what they are made to protect."""

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Against, Does, Protects
from wiretrace.catalogue.machinery.structure import (
    DeviceState,
    Figure,
    Operation,
    Param,
    Params,
    Part,
    View,
    When,
    due_us,
    ends_of,
    names_of,
    number,
)
from wiretrace.catalogue.protection.switchgear import POLE_BRANCHES, POLE_PAIRS, POLE_TERMINALS

Curve = Sequence[tuple[float, float]]
"""Amperes and the seconds in which they melt the link from cold; the seconds fall."""

GENERAL: Final = "gG"
MOTOR: Final = "aM"
SLOW: Final = "time_delay"
CLASSES: Final = {GENERAL: "gG, general use", MOTOR: "aM, short circuits of motors", SLOW: "time delay"}

# Between the gates of IEC 60269-1, table 3 (below 16 A: IEC 60269-2): not within 10 s, within 5 s, not within 0.1 s,
# within 0.1 s, amperes; and pre-arcing I2t at 0.01 s, least and most, A2s (table 7).
GATES: Final[Mapping[float, tuple[float, float, float, float, float, float]]] = {
    2: (3.7, 9.2, 6.0, 23.0, 1.0, 23.0),
    4: (7.8, 18.5, 14.0, 47.0, 6.2, 90.2),
    6: (11.0, 28.0, 26.0, 72.0, 24.0, 225.0),
    10: (22.0, 46.5, 58.0, 111.0, 100.0, 676.0),
    16: (33.0, 65.0, 85.0, 150.0, 291.0, 1_210.0),
    20: (42.0, 85.0, 110.0, 200.0, 500.0, 2_500.0),
    25: (52.0, 110.0, 150.0, 260.0, 1_000.0, 4_000.0),
    32: (75.0, 150.0, 200.0, 350.0, 1_800.0, 5_750.0),
    40: (95.0, 190.0, 260.0, 450.0, 3_000.0, 9_000.0),
    50: (125.0, 250.0, 350.0, 610.0, 5_000.0, 13_700.0),
    63: (160.0, 320.0, 450.0, 820.0, 9_000.0, 21_200.0),
    80: (215.0, 425.0, 610.0, 1_100.0, 16_000.0, 36_000.0),
    100: (290.0, 580.0, 820.0, 1_450.0, 27_000.0, 64_000.0),
    125: (355.0, 715.0, 1_100.0, 1_910.0, 46_000.0, 104_000.0),
    160: (460.0, 950.0, 1_450.0, 2_590.0, 86_000.0, 185_000.0),
    200: (610.0, 1_250.0, 1_910.0, 3_420.0, 140_000.0, 302_000.0),
    250: (750.0, 1_650.0, 2_590.0, 4_500.0, 250_000.0, 557_000.0),
    315: (1_050.0, 2_200.0, 3_420.0, 6_000.0, 400_000.0, 900_000.0),
    400: (1_420.0, 2_840.0, 4_500.0, 8_060.0, 760_000.0, 1_600_000.0),
    500: (1_780.0, 3_800.0, 6_000.0, 10_600.0, 1_300_000.0, 2_700_000.0),
    630: (2_200.0, 5_100.0, 8_060.0, 14_140.0, 2_250_000.0, 5_470_000.0),
}

# Times the rating. aM between the gates of IEC 60269-2, table 4: holds 4 times for a minute, melts at 6.3 times within
# one; holds 8 times for 0.5 s, melts at 12.5 times within that, at 19 times within 0.1 s.
# Time delay: holds five times for ten seconds, as its name promises; melts at 1.35 times within an hour.
TIMES_RATED: Final[Mapping[str, Curve]] = {
    MOTOR: ((5.0, 60.0), (10.0, 0.45), (14.0, 0.1), (30.0, 0.01)),
    SLOW: ((1.25, 3600.0), (2.0, 100.0), (5.5, 11.0), (9.0, 1.0), (14.0, 0.1), (30.0, 0.01)),
}


OMEGA: Final = 2 * math.pi * 50.0
"""Angular frequency that a short circuit rises with, radians per second."""


@lru_cache(maxsize=256)
def melting_curve(kind: str, rated_a: float) -> Curve:
    """Points of the curve of a link. Between the ratings of the tables in proportion, on logarithmic scales."""
    if kind in TIMES_RATED:
        return [(times * rated_a, seconds) for times, seconds in TIMES_RATED[kind]]
    low = max((rating for rating in GATES if rating <= rated_a), default=min(GATES))
    high = min((rating for rating in GATES if rating >= rated_a), default=max(GATES))
    share = math.log(rated_a / low) / math.log(high / low) if high > low else 0.0
    scale = rated_a / low if low == high else 1.0
    # Neither in an hour at the conventional non-fusing current, nor later than that at the fusing one (table 2).
    points = [(rated_a * math.sqrt(1.25 * 1.6 if rated_a >= 16 else 1.5 * 1.9), 3600.0)]
    for at, (one, two) in zip((7.0, 0.1, 0.01), zip(_middle(low), _middle(high), strict=True), strict=True):
        points.append((scale * math.exp((1 - share) * math.log(one) + share * math.log(two)), at))
    return points


def _middle(rating: float) -> tuple[float, float, float]:
    """Amperes in the middle of the gates at 5 to 10 s, at 0.1 s and at 0.01 s."""
    not_10, in_5, not_01, in_01, least, most = GATES[rating]
    return math.sqrt(not_10 * in_5), math.sqrt(not_01 * in_01), math.sqrt(math.sqrt(least * most) / 0.01)


def melts_in_s(curve: Curve, current_a: float) -> float | None:
    """Seconds to melt from cold; None for never. Beyond the last point the energy that melts it stays the same."""
    if current_a < curve[0][0]:
        return None
    for (one, slow), (two, quick) in pairwise(curve):
        if current_a <= two:
            share = math.log(current_a / one) / math.log(two / one)
            return math.exp((1 - share) * math.log(slow) + share * math.log(quick))
    last_a, last_s = curve[-1]
    return last_s * (last_a / current_a) ** 2


def clears_in_s(curve: Curve, current_a: float) -> float | None:
    """Seconds until the current is off: the melting, and under a hundredth of a second the arc that follows.

    A short circuit rises from nothing, i = sqrt(2) I sin(wt); while wt is small the energy that melts the link is there
    after (3 E / 2 I2 w2)^(1/3) seconds. The arc takes about as long again.
    """
    seconds = melts_in_s(curve, current_a)
    if seconds is None or seconds >= curve[-1][1]:
        return seconds
    energy = seconds * current_a**2
    rising = math.cbrt(1.5 * energy / (current_a * OMEGA) ** 2)
    return min(curve[-1][1], max(seconds, 2 * rising))


def lets_through_a2s(curve: Curve, current_a: float) -> float:
    """Energy for each ohm behind the link that it lets through from the beginning until the current is off."""
    seconds, melts = clears_in_s(curve, current_a), melts_in_s(curve, current_a)
    if seconds is None or melts is None:
        return math.inf
    return current_a**2 * (seconds if seconds >= curve[-1][1] else 2 * melts)


class Fuses(Kind):
    """One to three fuse links of class gG, aM or with time delay (IEC 60269).

    A link gathers heat: each moment adds the share of its melting time at that current, and it cools
    while it carries less than melts it. So a surge and a small overload after it add up.
    """

    remedies = {
        "blown": "More flowed than the link carries. Find out where to, then replace the blown links.",
    }
    name = "fuses"
    title = "Fuses"
    rank = 30
    group = "protection"
    letter = "F"
    letter_nema = "FU"
    mounting = "plate"
    params = (
        Param("poles", "Poles", 1, choices=(1, 2, 3)),
        Param("rated_current_a", "Rated current", 4.0, "A", 0.1, 630.0, sized="fuse_rating"),
        Param("link_class", "Class", GENERAL, choices=(GENERAL, MOTOR, SLOW), titles=CLASSES),
        Param("link_resistance_ohm", "Resistance of a link", 0.02, "ohm", 1e-5, 5.0),
    )
    terminals = POLE_TERMINALS[:6]
    branches = POLE_BRANCHES[:3]
    parts = tuple(
        Part(
            "links",
            "Links",
            f"fuse_{count}",
            Does.SWITCHES_LOAD,
            ends_of(POLE_PAIRS[:count]),
            names_of(POLE_PAIRS[:count]),
            When("poles", (count,)),
        )
        for count in (1, 2, 3)
    )
    actuator = Actuator.CURRENT
    protects = Protects(frozenset({Against.SHORT_CIRCUIT}))
    operations = (
        Operation("out", "Links out", "toggle", "By hand only when isolated and locked out.", dead_only=True),
        Operation("replace", "Replace the blown links", "pulse", "First find out why they blew.", repairs="blown"),
    )

    COOLS_S: Final = 60.0
    """Time constant with which a link cools."""

    def initial(self, params: Params) -> DeviceState:
        state: dict[str, bool | float | None] = {"out": False}
        for n in (1, 2, 3):
            state |= {f"blown_{n}": False, f"melted_{n}": 0.0, f"let_{n}_a2s": 0.0, f"melts_{n}_at_us": None}
        return state

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        value, out = self.contact_value(params), state["out"]
        return {b.name: value for n, b in enumerate(self.branches, 1) if not out and not state[f"blown_{n}"]}

    def contact_value(self, params: Params) -> Value:
        return Value(number(params, "link_resistance_ohm"))

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "out": value} if operation == "out" else self.initial(params)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        curve = self._curve(params)
        changes: dict[str, int | None] = {}
        for n, current_a in self._currents(signals):
            name, seconds = f"melts_{n}_at_us", clears_in_s(curve, current_a)
            left = None if seconds is None else seconds * (1 - float(state[f"melted_{n}"] or 0.0))
            changes[name] = None if state[f"blown_{n}"] else due_us(now_us, left, state[name])
        return {**state, **changes}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        curve, span_s = self._curve(params), span_us / 1e6
        changes: dict[str, float] = {}
        for n, current_a in self._currents(signals):
            melted, energy = float(state[f"melted_{n}"] or 0.0), float(state[f"let_{n}_a2s"] or 0.0)
            seconds = clears_in_s(curve, current_a)
            if seconds is not None:
                changes[f"melted_{n}"] = min(1.0, melted + span_s / seconds)
                changes[f"let_{n}_a2s"] = energy + lets_through_a2s(curve, current_a) * span_s / seconds
            elif not state[f"blown_{n}"]:
                changes[f"melted_{n}"] = melted * math.exp(-span_s / self.COOLS_S)
                changes[f"let_{n}_a2s"] = energy * math.exp(-span_s / self.COOLS_S)
        return {**state, **changes}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        melted = [n for n in (1, 2, 3) if state[f"melts_{n}_at_us"] == now_us]
        changes = {f"blown_{n}": True for n in melted} | {f"melts_{n}_at_us": None for n in melted}
        return {**state, **changes}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        blown = [n for n in (1, 2, 3) if state[f"blown_{n}"]]
        out = bool(state["out"])
        if not blown:
            return View("taken_out" if out else "sound", not out, on={"out": out})
        most = max(float(state[f"let_{n}_a2s"] or 0.0) for n in blown)
        status = "blown+taken_out" if out else "blown"
        return View(status, False, attention=True, on={"out": out}, figures=(Figure("Let through", most, "A2s"),))

    @staticmethod
    def _curve(params: Params) -> Curve:
        return melting_curve(str(params["link_class"]), number(params, "rated_current_a"))

    def _currents(self, signals: Mapping[str, Signal]) -> list[tuple[int, float]]:
        """Number of each link that is there, and its amperes."""
        return [(n, signals[branch.name].rms_a) for n, branch in enumerate(self.branches, 1) if branch.name in signals]
