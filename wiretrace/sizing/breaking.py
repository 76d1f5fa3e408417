"""Lines of the sheet for a short circuit: releases, what the cable withstands, coordination.

A breaker that limits the current lets through less than half a period of it would: how much is the maker's figure.
Where a standard bounds it, that is taken.
"""

import math
from collections.abc import Iterator
from typing import Final

from wiretrace.catalogue.protection.switchgear import Breaker
from wiretrace.sizing.cable import cable_laid
from wiretrace.sizing.conductors import fault_a
from wiretrace.sizing.line import Factor, Line, figure, product
from wiretrace.sizing.schools import QUESTIONS
from wiretrace.sizing.sheet import PEAK, RELEASE_MARGIN, Sheet

SHORT_TIME_K: Final = {
    ("PVC", "copper"): 115.0,
    ("XLPE", "copper"): 143.0,
    ("PVC", "aluminium"): 76.0,
    ("XLPE", "aluminium"): 94.0,
}
"""Of a conductor in a fault, A s^0.5 / mm2 (IEC 60364-4-43:2008, table 43A)."""
CLASS_3: Final = ((3000.0, 18_000.0, 22_000.0), (6000.0, 45_000.0, 55_000.0), (10_000.0, 90_000.0, 110_000.0))
"""Fault current, A, and what curves B and C of class 3 let through at most up to 32 A, A2 s (EN 60898-1, annex ZA)."""
CLASS_3_TO_A: Final = 32.0
FUSE_A2S: Final = {
    16: 1e3, 20: 1.8e3, 25: 3e3, 32: 5e3, 40: 9e3, 50: 16e3, 63: 27e3, 80: 46e3, 100: 86e3, 125: 140e3, 160: 250e3,
    200: 400e3, 250: 760e3, 315: 1.3e6, 400: 2.25e6, 500: 3.8e6, 630: 7.5e6,
}  # fmt: skip
"""What a gG link needs at most to melt within 10 ms, A2 s (IEC 60269-1:2006, table 7); its arc lets through more."""
STARTER_PEAK: Final = 13.0
"""What a manual motor starter opens at once at, in currents of the upper end of its range, as is usual."""


def short_time_k(sheet: Sheet) -> float:
    """What a conductor of the sheet withstands for a second, amperes a square millimetre."""
    return SHORT_TIME_K["XLPE" if sheet.american else sheet.plate.insulation, sheet.plate.material]


def breaking_lines(sheet: Sheet) -> Iterator[Line]:
    """Release of an adjustable breaker, what a fault does to the cable, a manual motor starter, coordination."""
    if sheet.adjustable:
        yield from _release_lines(sheet)
    own = cable_laid(sheet)
    if own is not None and not sheet.american:
        yield _let_through(sheet, own.area_mm2 * own.sets)
    if not sheet.american and not sheet.plate.single_phase and sheet.way.across_the_line:
        yield _motor_starter(sheet)
    rule = QUESTIONS["coordination"].rules[sheet.schools["coordination"]]
    yield Line(
        "coordination",
        "Short circuit",
        "Coordination of contactor and relay",
        "",
        "",
        None,
        "",
        rule.title,
        f"{rule.reason} Which contactor, relay and breaker hold it together is the maker's tested table.",
        "UL 508A, SB4" if sheet.american else "IEC 60947-4-1:2018, 8.2.5.1",
    )


def _release_lines(sheet: Sheet) -> Iterator[Line]:
    """Thermal release at the motor's current, the one that opens at once above the first peak of the start."""
    own = cable_laid(sheet)
    least = None if own is None else fault_a(sheet, own)[1]
    low = least is not None and least < RELEASE_MARGIN * sheet.magnetic_a
    yield product(
        "release",
        "Short circuit",
        "Release that opens at once, set to",
        "I_m = 1.2 κ I_start",
        "A",
        [
            Factor("the margin of 1.2", RELEASE_MARGIN),
            Factor("the first peak", PEAK),
            Factor("the start current", sheet.surge_a, can_be_left_out=False),
        ],
        choice="Above the first peak of the start, and below the least fault current by a fifth."
        + (" A change-over may be a direct start once more." if sheet.way.changes_over else "")
        + f" Its thermal release is set to {figure(sheet.feed_a)} A.",
        source="IEC 60909-0:2016, 57; IEC 60947-2:2016, 8.3.3.1.2",
        warning=f"The least fault, {figure(least)} A, is not opened at once." if low else "",
    )


def _let_through(sheet: Sheet, area_mm2: float) -> Line:
    """How long the cable withstands the largest fault at its beginning, and what opens it by then."""
    amperes, k = 1000 * sheet.plate.fault_ka, short_time_k(sheet)
    holds_a2s = (k * area_mm2) ** 2
    seconds = holds_a2s / amperes**2
    short = seconds < 1.0
    says, warning = _breaker_lets(sheet, amperes, holds_a2s)
    fuse = FUSE_A2S.get(int(sheet.fuse_a or 0))
    if fuse is not None:
        less = "less" if fuse <= holds_a2s else "more"
        says += (
            f" The fuse melts with {_a2s(fuse)} at most, {less} than it withstands; its maker tells the arc besides."
        )
    return Line(
        "let_through",
        "Short circuit",
        "How long the cable withstands a fault at its beginning",
        "t = (k S / I)²",
        f"{'1000 × ' if short else ''}({k:g} × {figure(area_mm2)} / {figure(amperes)})²",
        1000 * seconds if short else seconds,
        "ms" if short else "s",
        figure(1000 * seconds if short else seconds),
        says,
        "IEC 60364-4-43:2008, 434.5.2 and table 43A",
        warning,
        estimated="fault_current" in sheet.plate.estimated,
        factors=(
            *([Factor("the 1000 to milliseconds", 1000.0)] if short else []),
            Factor("k", k, 2),
            Factor("the area", area_mm2, 2, can_be_left_out=False),
            Factor("the fault current", amperes, -2, can_be_left_out=False),
        ),
    )


def _a2s(value: float) -> str:
    """Amperes squared seconds as makers write them, in thousands or millions."""
    return f"{figure(value / 1e6)} MA²s" if value >= 1e6 else f"{figure(value / 1e3)} kA²s"


def _breaker_lets(sheet: Sheet, amperes: float, holds_a2s: float) -> tuple[str, str]:
    """What the breaker lets through beside what the cable withstands, in words; a warning where it opens late."""
    half_a2s = amperes**2 * Breaker.CLEARING_US / 1e6
    if sheet.breaker_a is None:
        return "", ""
    if amperes < sheet.at_once_a:
        return "", "The breaker does not open a fault at its beginning at once."
    told = f"The breaker may let through {_a2s(holds_a2s)}"
    if half_a2s <= holds_a2s:
        return f"{told}; half a period of the whole fault is {_a2s(half_a2s)}.", ""
    bound = _class_3(sheet, amperes)
    if bound is not None and bound <= holds_a2s:
        return f"{told}; one of class 3 lets through {_a2s(bound)} at most.", ""
    return f"{told}: hold its maker's figure for {figure(amperes / 1000)} kA against it.", ""


def _class_3(sheet: Sheet, amperes: float) -> float | None:
    """What a miniature breaker of energy class 3 lets through at most, A2 s; None where the standard has no bound."""
    if sheet.breaker_a is None or sheet.breaker_a > CLASS_3_TO_A or sheet.curve not in "BC":
        return None
    at = {"B": 1, "C": 2}[sheet.curve]
    return next((row[at] for row in CLASS_3 if amperes <= row[0]), None)


def _motor_starter(sheet: Sheet) -> Line:
    """A manual motor starter instead of breaker and relay: its range, and whether its release holds the start."""
    rows = sheet.series("motor-starters")
    dial = sheet.dial_a
    holding = [row for row in rows if row[0] <= dial <= row[1]]
    found = min(holding, key=lambda row: abs(math.log(dial**2 / (row[0] * row[1]))), default=None)
    peak = PEAK * sheet.start_a
    opens = found is not None and STARTER_PEAK * found[1] < peak
    says = "It isolates, protects from overload and short circuit in one, and turns to tripped by itself."
    if found is not None:
        says += f" It opens at once from {figure(STARTER_PEAK * found[1])} A; the first peak is {figure(peak)} A."
    return Line(
        "manual_starter",
        "Short circuit",
        "Manual motor starter instead of breaker and relay",
        "from ≤ I_dial ≤ to",
        figure(dial),
        None if found is None else found[1],
        "A",
        "none" if found is None else f"{found[0]:g} to {found[1]:g}",
        says if found is not None else f"They end at {rows[-1][1]:g} A: a breaker with a relay.",
        "IEC 60947-4-1:2018, 8.2.1.5; IEC 60909-0:2016, 57",
        "It opens at the first peak of the start." if opens else "",
    )
