"""A line of the sheet: formula, numbers put in, result, and what it is made of, so that slips can be computed."""

import math
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Factor:
    """Something that a line multiplies or, with a negative power, divides by.

    `instead` are values that are put in its place by mistake, each with what the mistake is.
    """

    name: str
    value: float
    power: int = 1
    instead: tuple[tuple[str, float], ...] = ()
    can_be_left_out: bool = True


@dataclass(frozen=True)
class Line:
    """One line: `value` in `unit`, None where there is none; `choice` tells why that, or what it means.

    `shown` is what is printed of it. A `warning` is something that does not hold. `sizes` are the standard sizes that
    it was chosen from, `wanted` what was looked up there.
    """

    key: str
    group: str
    title: str
    formula: str
    put_in: str
    value: float | None
    unit: str
    shown: str
    choice: str = ""
    source: str = ""
    warning: str = ""
    estimated: bool = False
    factors: tuple[Factor, ...] = ()
    sizes: tuple[float, ...] = ()
    wanted: float | None = None


def figure(value: float | None) -> str:
    """Four figures at most; no more than a person writes down."""
    if value is None:
        return "none"
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else "never"
    digits = max(0, 2 - math.floor(math.log10(abs(value))))
    text = f"{value:.{min(digits, 4)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def product_of(factors: Sequence[Factor]) -> float:
    return math.prod(factor.value**factor.power for factor in factors)


def put_in(factors: Sequence[Factor]) -> str:
    """The numbers as they are put in: 1000 × 7.5 / (1.732 × 400 × 0.86 × 0.9)."""
    above = [_number(factor) for factor in factors if factor.power > 0]
    below = [_number(factor) for factor in factors if factor.power < 0]
    top = " × ".join(above) or "1"
    if not below:
        return top
    return f"{top} / {below[0]}" if len(below) == 1 else f"{top} / ({' × '.join(below)})"


def _number(factor: Factor) -> str:
    text = f"{factor.value:.4g}" if factor.value < 1e4 else f"{factor.value:.0f}"
    return text if abs(factor.power) == 1 else f"{text}^{abs(factor.power)}"


def product(
    key: str, group: str, title: str, formula: str, unit: str, factors: Sequence[Factor], **more: str | bool
) -> Line:
    """A line that is a product."""
    value = product_of(factors)
    return Line(
        key,
        group,
        title,
        formula,
        put_in(factors),
        value,
        unit,
        figure(value),
        factors=tuple(factors),
        **more,  # type: ignore[arg-type]
    )
