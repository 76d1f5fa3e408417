"""First-order heating of three phases with the square of the current, as in a bimetal.

``tau d(heat)/dt = (I / dial)^2 - heat``, heat 1 being steady operation at the dial. It trips at
heat 1.15^2, so never at 1.05 times the dial, and always at 1.2 times (IEC 60947-4-1, table 3). `tau`
follows from the class: the time to trip from cold at 7.2 times the dial lies inside the band of table 2.
"""

import math
from collections.abc import Mapping, Sequence
from typing import Final

from wiretrace.catalogue.machinery.structure import DeviceState, Param, Params, Scalar, number

TRIP_HEAT: Final = 1.15**2
RESET_HEAT: Final = 1.0
PHASE_LOSS_HEAT: Final = 1.05**2
"""Heat at which a relay trips that feels a lost phase: at 1.15 times the dial on two poles (table 4)."""
PHASE_LOSS_SHARE: Final = 0.1
"""Heat of the weakest phase over the strongest below which a phase counts as lost."""

TIMES_DIAL: Final = {
    "5": (7.2, 3.0),
    "10A": (7.2, 5.0),
    "10": (7.2, 6.5),
    "20": (7.2, 13.0),
    "30": (7.2, 20.0),
    "NEMA 10": (6.0, 8.5),
    "NEMA 20": (6.0, 17.0),
    "NEMA 30": (6.0, 25.5),
}
"""For each class a multiple of the dial and the seconds to trip from cold there: inside the IEC band at 7.2
times, within the class at 6 times (NEMA ICS 2)."""

CLASS_PARAM: Final = Param("trip_class", "Trip class", "10", choices=tuple(TIMES_DIAL), sized="trip_class")
HEATER_W: Final = 2.0
"""What a bimetal's heater turns into heat at the dial: its wire is chosen for the current, not the other way round."""
HEATER_PARAM: Final = Param(
    "heater_resistance_ohm", "Resistance of a heater, 0: as the dial asks", 0.0, "ohm", 0.0, 200.0
)
COLD: Final[Mapping[str, Scalar]] = {"heat_1": 0.0, "heat_2": 0.0, "heat_3": 0.0}


def heater_ohm(params: Params) -> float:
    """Resistance of a heater: as given, or so that it has its watts at the dial."""
    given = number(params, HEATER_PARAM.name)
    return given if given > 0 else HEATER_W / number(params, "dial_a") ** 2


def tau_s(trip_class: str) -> float:
    """Time constant of a class, seconds."""
    times, seconds = TIMES_DIAL[trip_class]
    return seconds / math.log(times**2 / (times**2 - TRIP_HEAT))


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


def seconds_to_trip(
    state: DeviceState, finals: Sequence[float], tau: float, trip_heat: float = TRIP_HEAT
) -> float | None:
    """Seconds until the first phase reaches the trip heat under steady currents; None for never."""
    reached = [
        tau * math.log((final - heat) / (final - trip_heat)) if heat < trip_heat else 0.0
        for heat, final in zip(heats(state), finals, strict=True)
        if final > trip_heat
    ]
    return min(reached, default=None)


def biased(finals: Sequence[float]) -> float:
    """Trip heat of a relay that feels a lost phase, under these final heats."""
    lost = min(finals) < PHASE_LOSS_SHARE * max(finals)
    return PHASE_LOSS_HEAT if lost else TRIP_HEAT


def seconds_to_cool(
    state: DeviceState, finals: Sequence[float], tau: float, reset_heat: float = RESET_HEAT
) -> float | None:
    """Seconds until all phases are cool enough to reset; None while the currents do not let them."""
    if max(finals) >= reset_heat:
        return None
    return max(
        tau * math.log((heat - final) / (reset_heat - final)) if heat > reset_heat else 0.0
        for heat, final in zip(heats(state), finals, strict=True)
    )


def is_hot(state: DeviceState, reset_heat: float = RESET_HEAT) -> bool:
    """Too hot to be reset?"""
    return max(heats(state)) > reset_heat
