"""Lines of the sheet for overload relay, breaker and fuse."""

import math
from collections.abc import Iterator
from typing import Final

from wiretrace.sizing.curves import (
    breaker_on_start,
    fuse_clears_s,
    mean_heat,
    overload_trips_s,
    trips_on_start,
)
from wiretrace.sizing.line import Factor, Line, figure, product
from wiretrace.sizing.plate import ROOT3
from wiretrace.sizing.schools import QUESTIONS, dial_times
from wiretrace.sizing.series import next_up
from wiretrace.sizing.sheet import Sheet, service_note

CLASSES: Final = (("10A", "10", "20", "30"), ("NEMA 10", "NEMA 20"))
"""Trip classes of either practice, each slower than the one before."""
MULTIPLES: Final = (1.05, 1.2, 1.5, 6.0, 7.2, 12.0)
WINDOW: Final = 0.2
FUSES: Final = {
    "iec": (
        "Fuse gG",
        "A gG link that carries a start of some seconds; aM links may be as small as the motor's current.",
        "IEC 60269-2, gates of gG",
    ),
    "na": (
        "Fuse with time delay",
        "The most for a dual-element fuse; it holds five times its rating for ten seconds.",
        "NFPA 70, 430.52",
    ),
}
"""Fuses of each convention: title, why, source."""
NEEDED_KW: Final = 0.37


def overload_lines(sheet: Sheet) -> Iterator[Line]:
    """Dial, range, trip times, and what there is an overload relay for."""
    yield from _dial_lines(sheet)
    yield _range(sheet)
    needed = sheet.plate.power_kw > NEEDED_KW
    yield Line(
        "needed",
        "Overload",
        "Overload protection asked for?",
        f"P > {NEEDED_KW} kW",
        figure(sheet.plate.power_kw),
        None,
        "",
        "yes" if needed else "by some codes",
        "Many codes ask for it above 0.37 kW (half a horsepower).",
        "Local code",
    )
    for multiple in MULTIPLES:
        seconds = overload_trips_s(sheet.schools["trip_class"], multiple)
        yield Line(
            f"trip_{multiple:g}",
            "Overload",
            f"Trips at {multiple:g} times the dial, from cold",
            "I = n × I_dial",
            f"{multiple:g} × {figure(sheet.dial_a)}",
            seconds,
            "" if seconds is None else "s",
            "never" if seconds is None else figure(seconds),
            f"At {figure(multiple * sheet.dial_a)} A.",
            "The heating of the simulation; IEC 60947-4-1, table 2",
        )
    yield _band(sheet)
    yield _starts(sheet)


def _dial_lines(sheet: Sheet) -> Iterator[Line]:
    plate, rule = sheet.plate, sheet.schools["dial"]
    times = dial_times(rule, plate.service_factor)
    others = tuple(
        (f"the rule “{other.title}” was followed", other.value)
        for name, other in QUESTIONS["dial"].rules.items()
        if name != rule and other.value != times
    )
    factors = [
        Factor("the full-load current", sheet.motor_a, can_be_left_out=False),
        Factor("the dial's rule", times, 1, others),
    ]
    if plate.star_delta:
        # The relay stands behind the line contactor, where each winding's own current flows.
        factors.append(Factor("root 3 of the winding's line", ROOT3, -1))
    why = QUESTIONS["dial"].rules[rule].reason + (f" {service_note(sheet)}" if rule == "service" else "")
    if plate.star_delta:
        in_line = figure(sheet.dial_a / sheet.relay_share)
        why += f" For a relay behind the line contactor; one that stands in the line is set to {in_line} A."
    if sheet.converter_a is not None:
        why = "Set in the converter as the motor's current: it protects the motor, and no relay stands between them."
    on_start = trips_on_start(sheet.schools["trip_class"], sheet.dial_a, sheet.start)
    yield product(
        "dial",
        "Overload",
        "Dial of the overload relay" if sheet.converter_a is None else "Motor current in the converter",
        "I_dial = rule × I" + (" / √3" if plate.star_delta else ""),
        "A",
        factors,
        choice=why,
        source="IEC 60947-4-1, 8.2.1.5; nameplate",
        warning="" if on_start is None else f"It trips {figure(on_start)} s into a healthy start.{_next_class(sheet)}",
    )
    if plate.dial_a is not None:
        off = 100 * (sheet.dial_a / sheet.relay_share / sheet.motor_a - 1)
        says = f"{off:+.0f} % of the full-load current."
        yield Line("dial_set", "Overload", "Dial as it is set", "", "", sheet.dial_a, "A", figure(sheet.dial_a), says)


def _next_class(sheet: Sheet) -> str:
    """The next slower class that holds the start, with what it then takes; nothing where none does."""
    name = sheet.schools["trip_class"]
    classes = next(row for row in CLASSES if name in row)
    for one in classes[classes.index(name) + 1 :]:
        if trips_on_start(one, sheet.dial_a, sheet.start) is None:
            seconds = overload_trips_s(one, sheet.start_a * sheet.start.relay_times / sheet.dial_a)
            held = "" if seconds is None else f": it would trip after {figure(seconds)} s of it"
            return f" Class {one} holds it{held}."
    return ""


def _range(sheet: Sheet) -> Line:
    rows = sheet.series("overloads")
    found = sheet.range_a
    window = f"{figure((1 - WINDOW) * sheet.dial_a)} to {figure((1 + WINDOW) * sheet.dial_a)} A"
    if found is None:
        shown, warning = "none", f"No range holds {figure(sheet.dial_a)} A: they end at {rows[-1][1]:g} A."
    else:
        shown, warning = f"{found[0]:g} to {found[1]:g}", ""
    return Line(
        "range",
        "Overload",
        "Range of the overload relay",
        "from ≤ I_dial ≤ to",
        figure(sheet.dial_a),
        None if found is None else found[1],
        "A",
        shown,
        f"The dial stands well inside; a common window is {window}.",
        sheet.source("overloads"),
        warning,
    )


def _band(sheet: Sheet) -> Line:
    """The currents that the breaker never sees as overload."""
    breaker = sheet.breaker_a
    low, high = 1.2 * sheet.dial_a / sheet.relay_share, None if breaker is None else 1.3 * breaker
    empty = high is None or high <= low
    return Line(
        "band",
        "Overload",
        "Seen by the overload relay alone",
        "1.2 I_dial to 1.3 I_breaker",
        f"1.2 × {figure(sheet.dial_a / sheet.relay_share)}, 1.3 × {figure(breaker)}",
        high,
        "A",
        "none" if empty else f"{figure(low)} to {figure(high)}",
        "Why an overload relay besides a breaker: in this band the breaker never opens, and the winding burns.",
        "The two models of the simulation",
    )


def _starts(sheet: Sheet) -> Line:
    """How many starts an hour the relay carries at full load, by the heat that they come to."""
    seconds = sheet.start.seconds
    dial, relay_start_a = sheet.dial_a, sheet.start_a * sheet.start.relay_times
    if seconds is None:
        return Line(
            "starts",
            "Start",
            "Starts an hour that the relay carries",
            "",
            "",
            None,
            "",
            "none",
            warning="It does not start.",
        )
    # While it starts in star the relay carries the line's whole current, in delta a root-3rd of it.
    running, starting = (sheet.relay_share * sheet.motor_a / dial) ** 2, (relay_start_a / dial) ** 2
    # Mean heat below that at which it trips: z starts of so many seconds in 3600, and no more than follow each other.
    share = max(0.0, 1.15**2 - running) / (starting - running) if starting > running else 1.0
    most = 3600 / seconds * min(1.0, share)
    heat = mean_heat(
        [
            (relay_start_a / dial, seconds * sheet.plate.starts_h),
            (sheet.relay_share * sheet.motor_a / dial, max(1.0, 3600 - seconds * sheet.plate.starts_h)),
        ]
    )
    return Line(
        "starts",
        "Overload",
        "Starts an hour that the relay carries",
        "z = 3600/t × (1.15² − r²) / (s² − r²)",
        f"t = {figure(seconds)} s, r = {figure(math.sqrt(running))}, s = {figure(math.sqrt(starting))} dials",
        math.floor(most),
        "1/h",
        f"{math.floor(most)}",
        f"With {sheet.plate.starts_h:g} an hour at full load the relay comes to heat {figure(heat)}; it trips at 1.32.",
        "Mean of the square of the current; the relay of the simulation",
        "So many starts trip it." if sheet.plate.starts_h > most else "",
    )


def full_load(sheet: Sheet) -> Factor:
    """The current that breaker, fuse and contactor go by; by North American practice not that of the nameplate."""
    wrong = (
        () if sheet.table_a is None else (("the nameplate's current was taken for that of the table", sheet.motor_a),)
    )
    if sheet.converter_a is not None:
        wrong = (("the motor's current was taken for what the converter takes", sheet.motor_a),)
    return Factor("the full-load current", sheet.feed_a, 1, wrong, can_be_left_out=False)


def breaker_lines(sheet: Sheet) -> Iterator[Line]:
    """Breaker and fuse: the multiple, the next standard size, and whether it holds the start."""
    rule = sheet.schools["breaker_multiple"]
    times = sheet.rule("breaker_multiple")
    others = tuple(
        (f"{other.title} was taken for the multiple", other.value)
        for name, other in QUESTIONS["breaker_multiple"].rules.items()
        if name != rule
    )
    factors = [
        Factor("the multiple", times, 1, others),
        full_load(sheet),
    ]
    wanted = product(
        "breaker_wanted",
        "Breaker",
        "Breaker, before the next size",
        "I = multiple × I",
        "A",
        factors,
        choice=QUESTIONS["breaker_multiple"].rules[rule].reason,
        source="School chosen",
    )
    yield wanted
    yield rated(
        "breaker_rating", "Breaker", "Breaker, next standard size", sheet, "breakers", wanted, holds_start(sheet)
    )
    yield from _fuse_lines(sheet)


def _fuse_lines(sheet: Sheet) -> Iterator[Line]:
    """A gG link, and in North America one with time delay, which holds a start by its nature."""
    title, why, source = FUSES[sheet.schools["sizes"]]
    times = sheet.fuse_times
    factors = [Factor(f"the {times:g}", times), full_load(sheet)]
    fuse = product(
        "fuse_wanted",
        "Breaker",
        f"{title}, before the next size",
        f"I = {times:g} × I",
        "A",
        factors,
        choice=why,
        source=source,
    )
    yield fuse
    holds = ("", "") if sheet.american else _fuse_holds(sheet, sheet.fuse_a)
    yield rated("fuse_rating", "Breaker", f"{title}, next standard size", sheet, "fuse-links", fuse, holds)


def rated(key: str, group: str, title: str, sheet: Sheet, series: str, wanted: Line, holds: tuple[str, str]) -> Line:
    sizes = tuple(row[0] for row in sheet.series(series))
    rating = next_up(sheet.series(series), wanted.value or 0.0)
    if key == "contactor_line" and rating is not None and sheet.way.across_the_line:
        rating = sheet.contactor_a(1.0)
    says, warning = holds
    if rating is None:
        warning = f"No standard size is large enough: they end at {sizes[-1]:g} A."
    return Line(
        key,
        group,
        title,
        "the next size that is not below",
        f"≥ {wanted.shown}",
        rating,
        "A",
        figure(rating),
        says if rating else "",
        sheet.source(series),
        warning,
        factors=wanted.factors,
        sizes=sizes,
        wanted=wanted.value,
    )


def holds_start(sheet: Sheet) -> tuple[str, str]:
    """Whether the breaker holds the start, in words, and a warning where it does not."""
    if sheet.breaker_a is None:
        return "", ""
    opens = breaker_on_start(sheet.at_once_a, sheet.breaker_a, sheet.start)
    times = sheet.start_a / sheet.breaker_a
    kind = sheet.breaker_kind if sheet.breaker_kind.startswith("curve") else f"an {sheet.breaker_kind} breaker"
    says = f"The start is {times:.1f} times its rating; {kind} "
    if opens is None:
        return says + "holds it.", ""
    return says + "does not hold it.", f"It opens {figure(opens)} s into a healthy start."


def _fuse_holds(sheet: Sheet, rating: float | None) -> tuple[str, str]:
    seconds = sheet.start.seconds
    if rating is None or seconds is None:
        return "", ""
    melts = fuse_clears_s(rating, sheet.start_a)
    if melts is None or melts > seconds:
        long = "continuously" if melts is None else f"for {figure(melts)} s"
        return f"It withstands {figure(sheet.start_a)} A {long}; the start takes {figure(seconds)} s.", ""
    return "", f"It melts {figure(melts)} s into a healthy start of {figure(seconds)} s."
