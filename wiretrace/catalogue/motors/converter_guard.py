"""What a frequency converter trips at: currents, voltages, heat."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.structure import DeviceState, Params, amount, number
from wiretrace.catalogue.motors.converter_figures import Given, back_w, rated_w

BACKFED: Final = "mains at its output"
FINDINGS: Final = (BACKFED, "earth fault", "overcurrent", "overvoltage", "phase lost", "overload")
"""The gravest first."""
LIMIT: Final = 1.5
"""Multiple of its rated current at which it waits on its ramp up."""
TRIPS_AT: Final = 2.2
ASTRAY: Final = 0.3
"""Share of its rated current that does not come back, from which it finds an earth fault."""
FOREIGN: Final = 0.4
"""Share of the phase voltage that is taken for mains at an output which is off."""
STORES_S: Final = 0.04
"""Time for which its capacitors take back its rated power from a motor that its load drives."""
LOST_PHASE: Final = 0.6
TRIP_HEAT: Final = 1.1**2
TAU_S: Final = 78.0
"""Time constant of the motor's heat: 1.5 times its current for 60 s from cold."""


def present(params: Params, state: DeviceState, found: Given, lines_v: tuple[float, ...]) -> Mapping[str, float]:
    """The findings that are there, each with the seconds that it must last."""
    rated_a, line_v = number(params, "rated_current_a"), number(params, "line_voltage_v")
    there: dict[str, float] = {}
    if state["destroyed"]:
        return there
    if found.foreign_a > rated_a or (not state["way"] and found.foreign_v > FOREIGN * line_v / math.sqrt(3)):
        there[BACKFED] = 0.001
    if not state["way"]:
        return there
    if found.largest_a > TRIPS_AT * rated_a:
        there["overcurrent"] = 0.002
    if found.astray_a > ASTRAY * rated_a:
        there["earth fault"] = 0.001
    returned_w = back_w(params, found)
    if returned_w > 0:
        left_j = STORES_S * rated_w(params) - amount(state, "stored_j")
        there["overvoltage"] = max(0.0, left_j / returned_w)
    if min(lines_v) < LOST_PHASE * max(lines_v):
        there["phase lost"] = 1.0
    final, heat = final_heat(params, found), amount(state, "heat")
    if final > TRIP_HEAT:
        there["overload"] = TAU_S * math.log(max(1.0, (final - heat) / (final - TRIP_HEAT)))
    return there


def final_heat(params: Params, found: Given) -> float:
    """Heat that the motor comes to if this current stays; 1 at its rated current."""
    return (found.largest_a / number(params, "motor_current_a")) ** 2


def limits(params: Params) -> Mapping[str, str]:
    """From where on it trips, in words."""
    rated_a = number(params, "rated_current_a")
    return {
        "overcurrent": f"it trips at once above {TRIPS_AT * rated_a:.3g} A",
        "earth_fault": f"it trips at once above {ASTRAY * rated_a:.3g} A that do not come back",
        "phase_lost": f"it trips below {100 * LOST_PHASE:g} % of the largest voltage between lines, after 1 s",
        "overload": f"it is set to {number(params, 'motor_current_a'):g} A",
    }
