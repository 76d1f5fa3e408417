"""Sizing for a single phase, and for what a nameplate does not say: worked by hand."""

import math

import pytest

from tests.core.sheets import PUMP, sheet, shown
from wiretrace.sizing.worked import lines_of

FAN = {
    "power": "1.5 kW", "voltage": "230", "current": "9.6", "power_factor": "0.93", "efficiency": "73", "phases": "1",
    "fault_current": "6 kA", "length": "30 m", "area": "2.5", "speed": "1400",
}  # fmt: skip


def value(fields: dict[str, str], key: str) -> float:
    found = next(line.value for line in lines_of(sheet(fields)) if line.key == key)
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("volts", "fault_ka", "length_m", "area_mm2"),
    [(230, 6.0, 30.0, 2.5), (230, 1.5, 60.0, 4.0), (120, 10.0, 15.0, 6.0)],
)
def test_a_fault_in_a_single_phase_goes_there_and_back(
    volts: float, fault_ka: float, length_m: float, area_mm2: float
) -> None:
    """230 V and 6 kA: the loop before has 38.3 mohm, 60 m of 2.5 mm2 have 414 mohm cold: 529 A."""
    fields = {
        **FAN,
        "voltage": f"{volts}",
        "fault_current": f"{fault_ka} kA",
        "length": f"{length_m} m",
        "area": f"{area_mm2}",
    }
    loop = volts / fault_ka / 1000
    ohm = complex(loop / 2, loop * math.sqrt(3) / 2) + 2 * length_m * complex(0.01724 / area_mm2, 0.08e-3)
    assert value(fields, "fault") == pytest.approx(volts / abs(ohm), rel=1e-6)


def test_the_worked_example_is_that_of_a_calculator() -> None:
    assert value(FAN, "fault") == pytest.approx(529, abs=1)
    # 2 x 30 m x 9.6 A x (0.0225 / 2.5 x 0.93 + 0.00008 x 0.3676) = 4.84 V;
    # before it 9.6 A x (0.01917 x 0.93 + 0.0332 x 0.3676) = 0.288 V.
    assert value(FAN, "motor_v") == pytest.approx(230 - 4.84 - 0.288, abs=0.02)
    assert value(FAN, "drop_running") == pytest.approx(100 * 4.84 / 230, abs=0.01)
    assert value(FAN, "start_v") < value(FAN, "motor_v")


def test_what_is_missing_of_a_single_phase_motor_is_typical_of_one() -> None:
    """1.5 kW at 230 V with a running capacitor: 73 %, 0.93, so 9.6 A."""
    plate = sheet({"power": "1.5 kW", "voltage": "230", "phases": "1"}).plate
    assert (plate.efficiency, plate.power_factor) == pytest.approx((0.73, 0.93))
    assert plate.current_a == pytest.approx(9.6, abs=0.05)


@pytest.mark.parametrize(
    ("power", "volts", "in_delta", "shown_as"),
    [
        ("0.75 kW", "400", False, "no"),
        ("7.5 kW", "400", True, "if it is wound so"),
        ("2.2 kW", "230", True, "if it is wound so"),
    ],
)
def test_a_connection_that_is_not_given_is_marked_as_assumed(
    power: str, volts: str, in_delta: bool, shown_as: str
) -> None:
    made = sheet({"power": power, "voltage": volts})
    assert made.plate.in_delta is in_delta
    line = next(line for line in lines_of(made) if line.key == "star_delta")
    assert (line.shown, line.estimated) == (shown_as, True)
    assert line.choice.startswith("The connection is not given")


def test_a_connection_that_is_given_is_taken_as_it_is() -> None:
    assert shown({**PUMP, "connection": "delta"})["star_delta"] == "yes"
    assert shown({**PUMP, "connection": "star"})["star_delta"] == "no"
