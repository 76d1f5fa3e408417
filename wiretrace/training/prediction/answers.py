"""What a person writes into a prediction sheet, understood: `230`, `230,5 V`, `full`, `0`, `-`, `OL`, `1/2`."""

import math
import re
from dataclasses import dataclass
from typing import Final

from wiretrace.instruments.written import NotAReading, Unit, written

FULL: Final = frozenset(("full", "mains", "supply", "all", "line", "full voltage", "f"))
NONE: Final = frozenset(
    ("-", "--", "---", "0", "zero", "none", "nothing", "no", "ol", "o.l", "dead", "floating", "floats")
)
PART: Final = frozenset(("part", "some", "partial", "partly", "p"))
SHARES: Final = {"half": 0.5, "third": 1 / 3, "quarter": 0.25, "½": 0.5, "⅓": 1 / 3, "¼": 0.25}
ON: Final = frozenset(("in", "on", "1", "lit", "yes", "runs", "closed", "pulled in", "x"))
OFF: Final = frozenset(("out", "off", "0", "dark", "no", "still", "open", "-", "dropped out"))

_FIGURE: Final = re.compile(r"^(?:ca\.?|about|~|≈)?\s*([+-]?\d+(?:[.,]\d+)?)\s*(mv|v|kv|volts?)?(?:\s*(?:ac|dc))?$")
_SEVERAL: Final = re.compile(r"^\d\d+(?:[.,]\d+)?\s*(?:/|or)\s*\d\d+(?:[.,]\d+)?\s*v?$")
_FRACTION: Final = re.compile(r"^(\d)\s*/\s*(\d)$")
UNITS: Final = {"mv": 1e-3, "kv": 1e3}


@dataclass(frozen=True)
class Volts:
    """A figure, in volts."""

    volts: float


@dataclass(frozen=True)
class Between:
    """From one figure to another, in volts or amperes: `225-235`, `<1`."""

    low: float
    high: float


@dataclass(frozen=True)
class Share:
    """A share of the supply: 1 for full, 0 for none; None for some part of it."""

    share: float | None


@dataclass(frozen=True)
class Unclear:
    """What cannot be understood, with what would be."""

    question: str


Understood = Volts | Between | Share | Unclear
WIDE: Final = 0.25
"""Share of its upper end from which a range says too little; below a few volts, or half an ampere, any says enough."""
FEW_V: Final = 5.0
FEW_A: Final = 0.5


def understood(text: str) -> Understood | None:
    """What an answer for a meter means; None where nothing is written."""
    words = " ".join(text.strip().lower().split())
    if not words:
        return None
    if words in NONE:
        return Share(0.0)
    if words in FULL:
        return Share(1.0)
    if words in PART:
        return Share(None)
    if words in SHARES:
        return Share(SHARES[words])
    if (fraction := _FRACTION.match(words)) and int(fraction[2]) and int(fraction[1]) <= int(fraction[2]):
        return Share(int(fraction[1]) / int(fraction[2]))
    if figure := _FIGURE.match(words):
        return Volts(float(figure[1].replace(",", ".")) * UNITS.get(figure[2] or "", 1.0))
    return _between(words) or Unclear(
        f"{text.strip()[:40]!r} is not understood. Write volts, full, part, 0, - or a share such as 1/2."
    )


def amperes(text: str) -> Between | Unclear | None:
    """What an answer for a clamp means, in amperes; None where nothing is written."""
    words = " ".join(text.strip().split())
    if not words:
        return None
    if words.lower() in NONE:
        return Between(0.0, 0.0)
    try:
        span = written(words, Unit.AMPERES)
    except NotAReading as error:
        return Unclear(str(error))
    if math.isinf(span.high) or span.high - span.low > max(FEW_A, WIDE * span.high):
        return Unclear(f"{words[:40]!r} leaves too much open. Write the figure that the clamp shows.")
    return Between(span.low, span.high)


def _between(words: str) -> Understood | None:
    if _SEVERAL.match(words):
        return Unclear(f"{words[:40]!r}: which of them does the meter show?")
    try:
        span = written(words, Unit.VOLTS)
    except NotAReading:
        return None
    if math.isinf(span.high) or span.high - span.low > max(FEW_V, WIDE * span.high):
        return Unclear(f"{words[:40]!r} leaves too much open. Write the figure that the meter shows.")
    return Between(span.low, span.high)


def device_is_on(text: str) -> bool | Unclear | None:
    """What an answer for a device means; None where nothing is written."""
    words = " ".join(text.strip().lower().split())
    if not words:
        return None
    if words in ON:
        return True
    if words in OFF:
        return False
    return Unclear(f"{text.strip()[:40]!r} is not understood. Write in or out, lit or dark, 1 or 0.")
