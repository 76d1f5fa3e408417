"""Readings as people write them: `230 V`, `-230`, `.5`, `1k2`, `<1 V`, `>20M`, `225-235`, `about 115`, `OL`, `230 V~`.

What is of another unit than the meter has, or is no figure at all, is asked back and never taken.
"""

import math
import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Unit(StrEnum):
    """What a meter shows."""

    VOLTS = "V"
    OHMS = "ohm"
    AMPERES = "A"


@dataclass(frozen=True)
class Span:
    """What a reading stands for: one figure, or from one to another, in volts, ohms or amperes; infinite for OL."""

    low: float
    high: float


class NotAReading(ValueError):
    """Why a text is no reading of this meter, as a question to whoever wrote it."""


LARGEST: Final = 1e12
ABOUT: Final = 0.1
"""Share by which a figure that is said to be about right may be off."""
OPEN: Final = frozenset(("ol", "o.l", "o.l.", "0l", "open", "infinite", "infinity", "no continuity"))
ZERO: Final = frozenset(("0", "zero"))
NOTHING: Final = frozenset(("nothing", "none", "no", "dead"))
THOUSANDS: Final = re.compile(r"^[+-]?\d{1,3},\d{3}$")
BEEPS: Final = frozenset(("beeps", "beep", "continuity", "through", "short"))
RESTLESS: Final = ("flicker", "jump", "unstable", "floating", "floats", "drift", "unsteady", "changes")
FACTORS: Final = {"": 1.0, "m": 1e-3, "k": 1e3, "K": 1e3, "M": 1e6, "meg": 1e6}
UNITS: Final = {
    "v": Unit.VOLTS,
    "volt": Unit.VOLTS,
    "volts": Unit.VOLTS,
    "ohm": Unit.OHMS,
    "ohms": Unit.OHMS,
    "r": Unit.OHMS,
    "a": Unit.AMPERES,
    "amp": Unit.AMPERES,
    "amps": Unit.AMPERES,
    "ampere": Unit.AMPERES,
    "amperes": Unit.AMPERES,
    "ω": Unit.OHMS,
}
METERS: Final = {Unit.VOLTS: "voltmeter show, in volts", Unit.AMPERES: "clamp show, in amperes"}
SHOWERS: Final = {Unit.VOLTS: "a voltmeter", Unit.OHMS: "an ohmmeter", Unit.AMPERES: "a clamp"}
EXAMPLES: Final = {
    Unit.VOLTS: "230 V, 0, <1 V, 225-235",
    Unit.OHMS: "520 ohm, 1.2k, OL, >20M, beeps",
    Unit.AMPERES: "3.4 A, 0, <0.1 A, 20-25",
}
_NUMBER: Final = r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)"
_TAIL: Final = r"\s*(?P<factor>m|k|K|M|meg)?\s*(?P<unit>[A-Za-zΩΩω]+)?\s*(?:[~=⎓]|ac|dc|AC|DC)?"
_ONE: Final = re.compile(rf"^(?P<about>about|ca\.?|approx\.?|circa|around|~|≈)?\s*(?P<number>{_NUMBER}){_TAIL}$", re.I)
_INFIX: Final = re.compile(r"^(?P<whole>\d+)(?P<factor>[kKMRr])(?P<rest>\d+)\s*(?P<unit>[A-Za-zΩΩω]+)?$")
_RANGE: Final = re.compile(rf"^(?P<low>{_NUMBER})\s*(?:-|\u2013|\.\.\.?|to)\s*(?P<high>{_NUMBER}){_TAIL}$")
_BOUND: Final = re.compile(r"^(?P<sign><=?|>=?|≤|≥|less than|more than|under|over|below|above)\s*(?P<rest>.+)$", re.I)


def written(text: str, unit: Unit) -> Span:
    """What somebody wrote of a meter with this unit; a sign tells nothing. Raises NotAReading."""
    plain = " ".join(text.split())
    lower = plain.lower()
    if lower in OPEN:
        if unit is Unit.OHMS:
            return Span(math.inf, math.inf)
        raise NotAReading(f"{plain} is what an ohmmeter shows. What does the {METERS[unit]}?")
    if lower in ZERO or (lower in NOTHING and unit is not Unit.OHMS):
        return Span(0.0, 0.0)
    if lower in NOTHING:
        raise NotAReading(f"{plain}: does the ohmmeter show 0, or OL?")
    if lower in BEEPS:
        if unit is Unit.OHMS:
            return Span(0.0, 0.0)
        raise NotAReading(f"{plain} is what an ohmmeter does. What does the {METERS[unit]}?")
    if any(word in lower for word in RESTLESS):
        raise NotAReading(f"{plain[:40]}: between which figures? Write the lowest and the highest, as 0-230.")
    return _bound(plain, unit) or _range(plain, unit) or _one(plain, unit)


def _bound(plain: str, unit: Unit) -> Span | None:
    match = _BOUND.match(plain)
    if match is None:
        return None
    figure = _one(match["rest"], unit).high
    less = match["sign"].lower() in ("<", "<=", "≤", "less than", "under", "below")
    return Span(0.0, figure) if less else Span(figure, math.inf)


def _range(plain: str, unit: Unit) -> Span | None:
    match = _RANGE.match(plain)
    if match is None:
        return None
    factor = _factor(match["factor"], match["unit"], unit, plain)
    low, high = sorted(_number(match[name]) * factor for name in ("low", "high"))
    return Span(0.0, max(-low, high)) if low < 0 < high else Span(*sorted((abs(low), abs(high))))


def _one(plain: str, unit: Unit) -> Span:
    infix = _INFIX.match(plain)
    if infix is not None and infix["factor"] in "kKMRr":
        number = float(f"{infix['whole']}.{infix['rest']}")
        ohms = unit if infix["factor"] in "kKM" else Unit.OHMS
        _same(infix["unit"], unit, plain)
        if ohms is not unit:
            raise _other(plain, unit)
        figure = number * FACTORS.get(infix["factor"], 1.0)
        return Span(figure, figure)
    match = _ONE.match(plain)
    if match is None:
        raise NotAReading(f"{plain[:40]!r} is no reading: write {EXAMPLES[unit]}.")
    figure = abs(_number(match["number"])) * _factor(match["factor"], match["unit"], unit, plain)
    if figure > LARGEST:
        raise NotAReading(f"{plain[:40]} is more than any meter shows.")
    off = ABOUT * figure if match["about"] else 0.0
    return Span(figure - off, figure + off)


def _number(text: str) -> float:
    if THOUSANDS.match(text):
        raise NotAReading(f"{text}: write {text.replace(',', '')}, or {text.replace(',', '.')}.")
    return float(text.replace(",", "."))


def _factor(factor: str | None, unit_text: str | None, unit: Unit, plain: str) -> float:
    _same(unit_text, unit, plain)
    return FACTORS[factor or ""] if factor in FACTORS else FACTORS[(factor or "").lower()]


def _same(unit_text: str | None, unit: Unit, plain: str) -> None:
    """Raises NotAReading for the unit of another meter."""
    if UNITS.get((unit_text or unit.value).lower()) is not unit:
        raise _other(plain, unit)


def _other(plain: str, unit: Unit) -> NotAReading:
    return NotAReading(
        f"{plain[:40]} is not what {SHOWERS[unit]} shows. Write {unit.value}, or change what was measured."
    )
