"""Reads values as people write them: 4k7, 10 µF, 1.5 mm², 300 ohm, 250ms."""

import re
from typing import Final

PREFIXES: Final = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "m": 1e-3, "": 1.0, "k": 1e3, "M": 1e6, "G": 1e9}
SAME_UNIT: Final = {
    "\N{OHM SIGN}": "ohm",
    "\N{GREEK CAPITAL LETTER OMEGA}": "ohm",
    "R": "ohm",
    "mm²": "mm2",
    "mm^2": "mm2",
}
OF_A_SECOND: Final = {"min": 60.0, "h": 3600.0}

_NUMBER = re.compile(r"^([+-]?\d+(?:[.,]\d+)?)\s*(\D.*)?$")
_BEGUN = re.compile(r"[+-]?\d")
_INFIX = re.compile(r"^(\d+)([pnuµmkMGR])(\d+)\s*(\D.*)?$")


LARGEST: Final = 1e18


def parse_quantity(text: str, unit: str) -> float:
    """The value of `text` in `unit`, which may carry an SI prefix or stand inside (4k7).

    Raises ValueError with a sentence when it is no number or of another unit.
    """
    text = text.strip()
    infix = _INFIX.match(text)
    if infix:
        whole, letter, decimals, rest = infix.groups()
        factor = 1.0 if letter == "R" else PREFIXES[letter]
        if rest and SAME_UNIT.get(rest.strip(), rest.strip()) != unit:
            raise ValueError(f"{text} is not in {unit}.")
        return _reasonable(float(f"{whole}.{decimals}") * factor, text)
    match = _NUMBER.match(text)
    if not match:
        raise ValueError(f"{text!r} is not a number with a unit.")
    suffix = (match[2] or "").strip()
    return _reasonable(float(match[1].replace(",", ".")) * _factor(suffix, unit, text), text)


def _reasonable(value: float, text: str) -> float:
    if abs(value) > LARGEST:
        raise ValueError(f"{text[:20]} is more than any quantity here can be.")
    return value


def _factor(suffix: str, unit: str, text: str) -> float:
    suffix = SAME_UNIT.get(suffix, suffix)
    if suffix in ("", unit):
        return 1.0
    if unit == "s" and suffix in OF_A_SECOND:
        return OF_A_SECOND[suffix]
    prefix, rest = suffix[0], SAME_UNIT.get(suffix[1:].strip(), suffix[1:].strip())
    if prefix in PREFIXES and rest in ("", unit):
        return PREFIXES[prefix]
    raise ValueError(f"{text} is not in {unit}.")


def quantity_or_none(text: str, unit: str) -> float | None:
    """The value of what begins as a number; None for words. Raises ValueError when it is of another unit."""
    return parse_quantity(text, unit) if _BEGUN.match(text) else None


def number_text(value: float) -> str:
    """A number as `parse_quantity` reads it, without an exponent."""
    return f"{value:.12f}".rstrip("0").rstrip(".")
