"""All lines of a sheet, what each school would give, and the curves of its chart."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Final

from wiretrace.sizing.breaking import breaking_lines, short_time_k
from wiretrace.sizing.cable import cable_laid, cable_lines
from wiretrace.sizing.conductors import meter_lines, supply_lines
from wiretrace.sizing.contactors import contactor_lines
from wiretrace.sizing.curves import (
    Points,
    band_points,
    breaker_points,
    cable_points,
    overload_trips_s,
    thermal_limit_points,
    trips_on_start,
)
from wiretrace.sizing.line import Line, figure
from wiretrace.sizing.motor import motor_lines
from wiretrace.sizing.protection import breaker_lines, holds_start, overload_lines
from wiretrace.sizing.schools import QUESTIONS
from wiretrace.sizing.sheet import Sheet
from wiretrace.sizing.starts import start_lines

CAUTION = "Local codes and the maker's data come first. A calculation, not a permission to connect."


def lines_of(sheet: Sheet) -> tuple[Line, ...]:
    """Every line, in the order in which one works."""
    parts = (
        *(motor_lines, start_lines, overload_lines, breaker_lines, contactor_lines),
        *(cable_lines, supply_lines, breaking_lines, meter_lines),
    )
    return tuple(line for part in parts for line in part(sheet))


@dataclass(frozen=True)
class Beside:
    """What a rule gives where practitioners differ: its result, and what that means at the panel."""

    question: str
    name: str
    title: str
    result: str
    means: str


def beside(sheet: Sheet) -> tuple[Beside, ...]:
    """Each rule of each question that decides a size or a time, with all others as they are."""
    found = []
    for question, (result, means) in _BESIDE.items():
        for name, rule in QUESTIONS[question].rules.items():
            other = replace(sheet, schools={**sheet.schools, question: name})
            found.append(Beside(question, name, rule.title, result(other), means(other)))
    return tuple(found)


def _dial(sheet: Sheet) -> str:
    return f"{figure(sheet.dial_a)} A"


def _breaker(sheet: Sheet) -> str:
    return f"{figure(sheet.breaker_a)} A"


def _contactor(sheet: Sheet) -> str:
    return f"{figure(sheet.contactor_a(sheet.relay_share))} A"


def _stall(sheet: Sheet) -> str:
    seconds = overload_trips_s(sheet.schools["trip_class"], sheet.locked_a / (sheet.dial_a / sheet.relay_share))
    return "a stall never trips" if seconds is None else f"a stall trips in {figure(seconds)} s"


def _relay_means(sheet: Sheet) -> str:
    line_dial = sheet.dial_a / sheet.relay_share
    on_start = trips_on_start(sheet.schools["trip_class"], sheet.dial_a, sheet.start)
    full = overload_trips_s(sheet.schools["trip_class"], sheet.motor_a / line_dial)
    start = "holds the start" if on_start is None else f"trips {figure(on_start)} s into a start"
    if full is None:
        return f"{start}; protects above {figure(120 * line_dial / sheet.motor_a)} %; {_stall(sheet)}"
    return f"{start}; trips at full load after {figure(full)} s; {_stall(sheet)}"


def _breaker_means(sheet: Sheet) -> str:
    says, warning = holds_start(sheet)
    return warning or says


def _contactor_means(sheet: Sheet) -> str:
    rating = sheet.contactor_a(sheet.relay_share)
    share = rating and rating / (sheet.relay_share * sheet.feed_a)
    return "no size is large enough" if not share else f"{share:.2f} times what flows through it"


_BESIDE: Final = {
    "dial": (_dial, _relay_means),
    "trip_class": (_stall, _relay_means),
    "breaker_multiple": (_breaker, _breaker_means),
    "curve": (_breaker, _breaker_means),
    "contactor_multiple": (_contactor, _contactor_means),
}


@dataclass(frozen=True)
class Chart:
    """Curves of current and time, each with what it is; marks say where something is wrong."""

    curves: Mapping[str, Points]
    dial_a: float
    start_s: float | None
    marks: tuple[str, ...]


def chart(sheet: Sheet) -> Chart:
    """The time-current chart."""
    line_dial = sheet.dial_a / sheet.relay_share
    hot, cold = band_points(sheet.schools["trip_class"], line_dial)
    curves: dict[str, Points] = {
        # In star the relay carries the whole of the line, in delta a root-3rd: the start is drawn as the relay sees it.
        "start": tuple((amperes / sheet.relay_share, at) for amperes, at in sheet.start.points()),
        "overload_hot": hot,
        "overload": cold,
        "limit": thermal_limit_points(sheet.plate),
    }
    if sheet.breaker_a is not None:
        curves["breaker_curve"] = breaker_points(sheet.at_once_a, sheet.breaker_a)
    own = cable_laid(sheet)
    if own is not None:
        curves["cable"] = cable_points(own.total_mm2, short_time_k(sheet))
    marks = [
        line.warning
        for line in lines_of(sheet)
        if line.warning and line.key in ("dial", "breaker_rating", "fuse_rating", "fault")
    ]
    if line_dial > 1.25 * sheet.motor_a:
        marks.append(f"Between {figure(sheet.motor_a)} and {figure(1.2 * line_dial)} A nothing protects the motor.")
    return Chart(curves, line_dial, sheet.start.seconds, tuple(marks))
