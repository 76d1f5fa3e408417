"""Figures as people write them, with their units: `5,5 kW`, `7 1/2 hp`, `400`, `1 1/2`."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

HP_KW: Final = 0.746
"""A horsepower in kilowatts, as it is counted in this trade (0.7457 by definition)."""


@dataclass(frozen=True)
class Quantity:
    """What a figure stands for: its units with what each is in the first, and between what it makes sense."""

    units: Mapping[str, float]
    least: float
    most: float

    @property
    def unit(self) -> str:
        """The unit that figures are kept in."""
        return next(iter(self.units))


POWER: Final = Quantity({"kW": 1.0, "W": 0.001, "hp": HP_KW, "MW": 1000.0}, 0.05, 2000.0)
VOLTAGE: Final = Quantity({"V": 1.0, "kV": 1000.0}, 12.0, 1000.0)
CURRENT: Final = Quantity({"A": 1.0, "mA": 0.001, "kA": 1000.0}, 0.05, 4000.0)
FAULT_CURRENT: Final = Quantity({"kA": 1.0, "A": 0.001}, 0.05, 200.0)
APPARENT: Final = Quantity({"kVA": 1.0, "VA": 0.001, "MVA": 1000.0}, 1.0, 10_000.0)
SMALL_APPARENT: Final = Quantity({"VA": 1.0, "kVA": 1000.0, "W": 1.0}, 1.0, 20_000.0)
FACTOR: Final = Quantity({"": 1.0, "%": 0.01}, 0.05, 1.0)
PERCENT: Final = Quantity({"%": 1.0}, 0.0, 100.0)
SPEED: Final = Quantity({"rpm": 1.0, "r/min": 1.0, "1/min": 1.0, "min-1": 1.0}, 50.0, 24_000.0)
FREQUENCY: Final = Quantity({"Hz": 1.0}, 16.0, 400.0)
TIMES: Final = Quantity({"": 1.0, "x": 1.0, "times": 1.0}, 1.0, 20.0)
SERVICE: Final = Quantity({"": 1.0}, 1.0, 2.0)
TEMPERATURE: Final = Quantity({"°C": 1.0, "C": 1.0, "degC": 1.0}, -25.0, 70.0)
LENGTH: Final = Quantity({"m": 1.0, "ft": 0.3048, "km": 1000.0}, 0.1, 5000.0)
AREA: Final = Quantity({"mm2": 1.0, "mm²": 1.0, "sq mm": 1.0}, 0.5, 400.0)
SECONDS: Final = Quantity({"s": 1.0, "ms": 0.001, "min": 60.0}, 0.05, 300.0)
CIRCUITS: Final = Quantity({"": 1.0}, 1.0, 20.0)
SETS: Final = Quantity({"": 1.0}, 1.0, 6.0)
COUNT: Final = Quantity({"": 1.0, "/h": 1.0, "per hour": 1.0}, 0.0, 1000.0)
INERTIA: Final = Quantity({"kg m2": 1.0, "kgm2": 1.0, "kg m²": 1.0, "kgm²": 1.0}, 1e-4, 1000.0)

_FIGURE: Final = re.compile(
    r"""^\s*(?:(?P<whole>\d+)[ -]+)?(?:(?P<top>\d+)/(?P<bottom>\d+)|(?P<plain>[+-]?(?:\d+(?:[.,]\d+)?|[.,]\d+)))
    \s*(?P<unit>[^\d\s].*?)?\s*$""",
    re.VERBOSE,
)


class NotUnderstood(ValueError):
    """A figure that cannot be read, or that cannot be; the message says what is expected."""


def read(text: str, what: Quantity) -> float:
    """The figure in the quantity's own unit. Raises NotUnderstood."""
    match = _FIGURE.match(text)
    if match is None or (match["whole"] and not match["top"]):
        raise NotUnderstood(f"{text.strip()[:40]!r} is no figure: write {_example(what)}.")
    if match["top"]:
        if int(match["bottom"]) == 0:
            raise NotUnderstood("Nothing can be divided by 0.")
        number = int(match["whole"] or 0) + int(match["top"]) / int(match["bottom"])
    else:
        number = float(match["plain"].replace(",", "."))
    factor = _factor(match["unit"] or what.unit, what)
    if what is FACTOR and not match["unit"] and 1 < number <= 100:
        factor = 0.01  # Nobody writes 90 and means 9000 %.
    value = number * factor
    if not what.least <= value <= what.most:
        bounds = f"between {what.least:g} and {what.most:g} {what.unit}".strip()
        raise NotUnderstood(f"{text.strip()[:40]} cannot be: {bounds} is expected.")
    return value


def _factor(unit: str, what: Quantity) -> float:
    for name, factor in what.units.items():
        if unit.lower() == name.lower():
            return factor
    known = ", ".join(name for name in what.units if name) or "no unit"
    raise NotUnderstood(f"{unit[:20]!r} is no unit for this: {known}.")


def _example(what: Quantity) -> str:
    return f"{'5,5' if what is POWER else '12.5'} {what.unit}".strip()
