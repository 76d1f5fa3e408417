"""First-order heating of three phases with the square of the current, as in a bimetal.

``tau d(heat)/dt = (I / dial)^2 - heat``, heat 1 being steady operation at the dial. It trips at
heat 1.15^2, so never at 1.05 times the dial, and always at 1.2 times (IEC 60947-4-1, table 3). `tau`
follows from the class: the time to trip from cold at 7.2 times the dial lies inside the band of table 2.
"""

import math
from collections.abc import Mapping, Sequence
from typing import Final

from wiretrace.catalogue.device import DeviceState, Param, Scalar

TRIP_HEAT: Final = 1.15**2
RESET_HEAT: Final = 1.0
SECONDS_AT_7_2: Final = {"10A": 5.0, "10": 6.5, "20": 13.0, "30": 20.0}

CLASS_PARAM: Final = Param("trip_class", "Trip class", "10", choices=tuple(SECONDS_AT_7_2))
COLD: Final[Mapping[str, Scalar]] = {"heat_1": 0.0, "heat_2": 0.0, "heat_3": 0.0}


def tau_s(trip_class: str) -> float:
    """Time constant of a class, seconds."""
    return SECONDS_AT_7_2[trip_class] / math.log(7.2**2 / (7.2**2 - TRIP_HEAT))


def final_heats(currents_a: Sequence[float], dial_a: float) -> list[float]:
    """Heats that the phases come to if the currents stay."""
    return [(current / dial_a) ** 2 for current in currents_a]


def heats(state: DeviceState) -> list[float]:
    """Present heats of the three phases."""
    return [float(state[f"heat_{phase}"] or 0.0) for phase in (1, 2, 3)]


def heated(state: DeviceState, finals: Sequence[float], tau: float, span_us: int) -> DeviceState:
    """The state after `span_us` under steady currents."""
    decay = math.exp(-span_us / 1e6 / tau)
    now = {
        f"heat_{phase}": final + (heat - final) * decay
        for phase, (heat, final) in enumerate(zip(heats(state), finals, strict=True), start=1)
    }
    return {**state, **now}


def seconds_to_trip(state: DeviceState, finals: Sequence[float], tau: float) -> float | None:
    """Seconds until the first phase reaches the trip heat under steady currents; None for never."""
    reached = [
        tau * math.log((final - heat) / (final - TRIP_HEAT)) if heat < TRIP_HEAT else 0.0
        for heat, final in zip(heats(state), finals, strict=True)
        if final > TRIP_HEAT
    ]
    return min(reached, default=None)


def seconds_to_cool(state: DeviceState, finals: Sequence[float], tau: float) -> float | None:
    """Seconds until all phases are cool enough to reset; None while the currents do not let them."""
    if max(finals) >= RESET_HEAT:
        return None
    return max(
        tau * math.log((heat - final) / (RESET_HEAT - final)) if heat > RESET_HEAT else 0.0
        for heat, final in zip(heats(state), finals, strict=True)
    )


def is_hot(state: DeviceState) -> bool:
    """Too hot to be reset?"""
    return max(heats(state)) > RESET_HEAT
