"""Sensors of three kinds in the windings, and relays that are set for one of them."""

import pytest

from tests.core.circuits import Bench, with_params
from wiretrace.catalogue.machinery.temperature_sensors import SENSORS
from wiretrace.library import library_circuit


def overloaded(sensors: str, relay: str) -> tuple[str, str]:
    """What a relay says of a motor with these sensors: cold, and after an hour at one and a half times its torque."""
    base = library_circuit("thermistor-relay")
    changes: dict[str, dict[str, bool | float | str]] = {
        "motor": {"sensors": sensors, "load": "constant", "load_percent": 150.0},
        "thermistor": {"sensors": relay},
        "overload": {"dial_a": 12.0},
    }
    bench = Bench(with_params(base, changes))
    bench.wait(1)
    cold = bench.says("thermistor")
    bench.do("start", "press", wait_s=1)
    bench.do("start", "press", value=False, wait_s=3600)
    return cold, bench.says("thermistor")


@pytest.mark.parametrize("sensors", list(SENSORS))
def test_set_for_its_own_sensor_it_is_ready_cold_and_trips_hot(sensors: str) -> None:
    assert overloaded(sensors, sensors) == ("ready", "tripped: too hot")


@pytest.mark.parametrize(
    ("sensors", "relay", "cold", "hot"),
    [
        ("pt100", "ptc", "ready", "ready"),  # It never sees 3.6 kohm: the motor burns.
        ("ntc", "ptc", "too hot", "too hot"),
        ("ptc", "pt100", "too hot", "too hot"),
        ("ntc", "pt100", "string open", "string open"),
        ("pt100", "ntc", "too hot", "too hot"),
        ("ptc", "ntc", "too hot", "too hot"),
    ],
)
def test_set_for_another_it_trips_at_once_or_never(sensors: str, relay: str, cold: str, hot: str) -> None:
    assert overloaded(sensors, relay) == (cold, hot)


def test_limits_lie_between_cold_and_hot_with_a_gap() -> None:
    for sensor in SENSORS.values():
        limits = [sensor.cold_ohm, sensor.cool_ohm, sensor.trips_ohm, sensor.hot_ohm]
        assert limits == sorted(limits, reverse=not sensor.rises)
        assert len(set(limits)) == 4
        assert sensor.shorted_ohm < min(limits) < max(limits) < sensor.open_ohm
