"""A person's own figure for a line: right, rounded, or wrong by what and at which step; and what that would cost.

Slips are computed and not listed: each factor of the line left out, used twice, put in upside down, or replaced by what
is often taken for it, alone or with the decimal point moved; the neighbouring standard sizes; and, where the figure
follows from another one that the person got wrong, the right arithmetic on that.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

from wiretrace.catalogue.protection.switchgear import Breaker
from wiretrace.sizing.curves import breaker_on_start, overload_trips_s, trips_on_start
from wiretrace.sizing.line import Factor, Line, figure, product_of
from wiretrace.sizing.series import next_up
from wiretrace.sizing.sheet import Sheet

EXACT: Final = 0.005
"""A figure that differs by less is right: it is written with three digits."""
ROUNDED: Final = 0.03
SLIP: Final = 0.012
"""How near a figure must lie to what a slip gives."""
GOES_INTO: Final[Mapping[str, tuple[str, ...]]] = {
    "breaker_rating": ("breaker_wanted",),
    "fuse_rating": ("fuse_wanted",),
    "contactor_line": ("contactor_line_wanted",),
    "contactor_delta": ("contactor_delta_wanted",),
    "contactor_star": ("contactor_star_wanted",),
    "dial": ("full_load",),
    "breaker_wanted": ("full_load",),
    "fuse_wanted": ("full_load",),
    "contactor_line_wanted": ("full_load",),
    "locked": ("full_load",),
    "star_start": ("locked",),
}
"""Lines that follow from others: a slip there is carried over and is not counted twice."""


@dataclass(frozen=True)
class Verdict:
    """`kind` is right, rounded, carried, slip or wrong; `says` names the step, `cost` what it would do at the panel."""

    kind: str
    says: str
    cost: str = ""


def check(sheet: Sheet, lines: Sequence[Line], line: Line, own: float, others: Mapping[str, float]) -> Verdict:
    """What is to be said of a person's own figure for a line; `others` are his figures for the other lines."""
    right = line.value
    if right is None:
        return Verdict("wrong", "This line has no figure.")
    off = own / right - 1 if right else math.inf
    if abs(off) <= EXACT or f"{own:g}" == line.shown:
        return Verdict("right", "Right.")
    if not line.sizes and abs(off) <= ROUNDED:
        return Verdict("rounded", f"Right but for rounding: {figure(right)} {line.unit}.")
    carried = _carried(line, lines, own, others)
    if carried is not None:
        return Verdict("carried", carried, cost(sheet, line, own))
    names = list(dict.fromkeys(words for words, value in slips(line) if value and abs(own / value - 1) <= SLIP))
    if names:
        return Verdict("slip", f"{_capital(' or '.join(names[:3]))}.", cost(sheet, line, own))
    return Verdict("wrong", _unexplained(line, own, off), cost(sheet, line, own))


def _unexplained(line: Line, own: float, off: float) -> str:
    size = f"{abs(off):.0%} too {'large' if off > 0 else 'small'}"
    if line.sizes:
        return (
            f"{own:g} {line.unit} is no standard size." if own not in line.sizes else f"{own:g} {line.unit} is {size}."
        )
    return f"A slip in the arithmetic itself: {line.put_in} is {line.shown} {line.unit}, and {own:g} is {size}."


def slips(line: Line) -> Iterator[tuple[str, float]]:
    """What a line would come to with each usual slip."""
    if line.sizes:
        yield from _size_slips(line)
        return
    for words, value in _factor_slips(line.factors):
        yield words, value
        yield f"{words}, and the decimal point slipped", value * 10
        yield f"{words}, and the decimal point slipped", value / 10
    right = line.value or 0.0
    for times in (10.0, 100.0, 1000.0):
        yield "the decimal point or a thousand slipped", right * times
        yield "the decimal point or a thousand slipped", right / times
    for swapped in _swapped(right):
        yield "two digits changed places", swapped


def _factor_slips(factors: Sequence[Factor]) -> Iterator[tuple[str, float]]:
    right = product_of(factors)
    for factor in factors:
        if not factor.value:
            continue  # Nothing can be told from a product that is 0.
        own = factor.value**factor.power
        if factor.can_be_left_out and abs(own - 1) > EXACT:
            yield f"{factor.name} was left out", right / own
            yield f"{factor.name} was used twice", right * own
        yield (
            f"{factor.name} was {'multiplied' if factor.power < 0 else 'divided'} by, not the other way",
            right / own**2,
        )
        for words, value in factor.instead:
            yield words, right / own * value**factor.power
    out = [factor for factor in factors if factor.can_be_left_out]
    for number, one in enumerate(out):
        for other in out[number + 1 :]:
            yield f"{one.name} and {other.name} were left out", right / one.value**one.power / other.value**other.power


def _size_slips(line: Line) -> Iterator[tuple[str, float]]:
    """The neighbours of the right size, and the sizes that slips of what was looked up lead to."""
    right = line.value or 0.0
    at = min(range(len(line.sizes)), key=lambda n: abs(line.sizes[n] - right))
    if at > 0:
        yield "the next size down was taken, not the next one up", line.sizes[at - 1]
    for number, words in ((1, "one size too large"), (2, "two sizes too large")):
        if at + number < len(line.sizes):
            yield words, line.sizes[at + number]
    rows = tuple((size,) for size in line.sizes)
    for words, wanted in _factor_slips(line.factors):
        size = next_up(rows, wanted)
        if size is not None and size != right:
            yield f"{words}, before the size was looked up", size


def _carried(line: Line, lines: Sequence[Line], own: float, others: Mapping[str, float]) -> str | None:
    """The right arithmetic on a wrong figure of the person's own, or None."""
    for key in GOES_INTO.get(line.key, ()):
        before = next((one for one in lines if one.key == key), None)
        if key not in others or before is None or not before.value or not line.value:
            continue
        ratio = others[key] / before.value
        if abs(ratio - 1) <= EXACT:
            continue
        expected: float | None = line.value * ratio
        if line.sizes:
            expected = next_up(tuple((size,) for size in line.sizes), (line.wanted or 0.0) * ratio)
        if expected and abs(own / expected - 1) <= SLIP:
            return f"Right for your own figure of “{before.title.lower()}”, which is wrong."
    return None


def _swapped(value: float) -> Iterator[float]:
    """The figure with two neighbouring digits changed, as it is shown."""
    text = figure(value)
    digits = [at for at, letter in enumerate(text) if letter.isdigit()]
    for one, other in pairwise(digits):
        if text[one] != text[other]:
            letters = list(text)
            letters[one], letters[other] = letters[other], letters[one]
            yield float("".join(letters))


def cost(sheet: Sheet, line: Line, own: float) -> str:
    """What a figure would do at the panel, by the models of the simulation; empty where nothing can be said."""
    if line.key == "dial":
        return _dial_costs(sheet, own)
    if line.key in ("breaker_rating", "breaker_wanted"):
        at_once = sheet.at_once_a if sheet.adjustable else Breaker.INSTANTANEOUS[sheet.curve] * own
        opens = breaker_on_start(at_once, own, sheet.start) if own > 0 else 0.0
        if opens is not None:
            return f"Opens {figure(opens)} s into a healthy start."
        return f"Holds the start, and sees nothing below {figure(1.3 * own)} A."
    if line.key.startswith("contactor_") and line.value:
        if own >= (line.wanted or line.value) * (1 - EXACT):
            return "Larger than needed."
        return "Too small for its category: it wears out or welds on the start."
    if line.key in ("cable", "cable_current", "cable_drop") and line.value:
        return "Too thin: it gets too hot, or the motor too little." if own < line.value else "Thicker than needed."
    if line.key == "full_load" and line.value:
        return _dial_costs(sheet, own * sheet.dial_a / line.value)
    return ""


def _dial_costs(sheet: Sheet, own: float) -> str:
    if own <= 0:
        return ""
    line_dial = own / sheet.relay_share
    trip_class = sheet.schools["trip_class"]
    on_start = trips_on_start(trip_class, own, sheet.start)
    if on_start is not None:
        return f"The relay trips {figure(on_start)} s into a healthy start."
    full = overload_trips_s(trip_class, sheet.motor_a / line_dial)
    if full is not None:
        return f"The relay trips a fully loaded motor after {figure(full)} s."
    return f"The relay does not protect below {120 * line_dial / sheet.motor_a:.0f} %."


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]
