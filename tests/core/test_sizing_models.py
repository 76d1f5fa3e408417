"""The sheet beside the simulation: trip times, start, dip and curves come from one and the same models."""

import math

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from tests.core.sheets import PUMP, sheet
from tests.core.test_protection import trip_s
from wiretrace.catalogue.machinery import thermal
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.sizing.conductors import at_motor_v, source_ohm
from wiretrace.sizing.curves import (
    breaker_on_start,
    breaker_trips_s,
    fuse_clears_s,
    mean_heat,
    overload_trips_s,
    trips_on_start,
)
from wiretrace.sizing.line import figure
from wiretrace.sizing.plate import LOCKED_FACTOR
from wiretrace.sizing.protection import MULTIPLES
from wiretrace.sizing.sheet import Sheet
from wiretrace.sizing.worked import chart, lines_of


@pytest.mark.parametrize("trip_class", thermal.TIMES_DIAL)
def test_the_trip_times_are_those_of_the_simulated_relay(trip_class: str) -> None:
    for multiple in MULTIPLES:
        told, simulated = overload_trips_s(trip_class, multiple), trip_s(multiple, trip_class=trip_class)
        if told is None:
            assert simulated is None
        else:
            assert simulated == pytest.approx(told, rel=0.003), multiple


def bench(fields: dict[str, str]) -> tuple[Bench, Sheet]:
    """The motor of a sheet behind its supply and cable, switched on at once."""
    made = sheet(fields)
    plate = made.plate
    source = source_ohm(plate)
    supply = device("g1", "supply_three_phase", source_resistance_ohm=source.real, source_reactance_ohm=source.imag)
    motor = device(
        "m1",
        "motor_three_phase",
        rated_power_kw=plate.power_kw,
        rated_current_a=plate.current_a,
        power_factor=plate.power_factor,
        efficiency_percent=100 * plate.efficiency,
        rated_speed_rpm=plate.speed_rpm,
        locked_rotor_ratio=plate.locked_ratio,
        locked_rotor_power_factor=LOCKED_FACTOR,
        inertia_kgm2=plate.inertia_kgm2,
    )
    area = made.plate.area_mm2 or 2.5
    wires = [
        wire(f"w{n}", f"g1:L{n + 1}", f"m1:{end}").model_copy(
            update={"length_m": plate.length_m, "cross_section_mm2": area}
        )
        for n, end in enumerate(("U1", "V1", "W1"))
    ]
    return Bench(circuit([supply, motor], wires)), made


def test_the_dip_at_the_start_is_what_the_voltmeter_reads_on_the_bench() -> None:
    under_power, made = bench({**PUMP, "area": "2.5", "length": "40", "fault_current": "3 kA", "connection": "star"})
    told = at_motor_v(made, 1.0)
    frame = under_power.trajectory.frames[0]
    reading = read_voltage(under_power.assembly, frame.point, end("m1:U1"), end("m1:V1"))
    assert reading.voltage_v == pytest.approx(told, rel=2e-3)


def test_the_start_takes_as_long_as_in_the_simulation() -> None:
    stiff = {**PUMP, "area": "120", "length": "0.1", "fault_current": "100 kA", "connection": "star"}
    under_power, made = bench(stiff)
    told = made.start.seconds
    assert told is not None
    under_power.wait(told)
    speed = float(str(under_power.state.devices["m1"]["speed"]))
    assert speed == pytest.approx(0.97 * made.plate.speed_rpm / made.plate.sync_rpm, abs=0.02)


def test_the_curves_are_those_of_the_devices() -> None:
    assert breaker_trips_s(7.5, 7.6) == 0.01
    assert breaker_trips_s(7.5, 7.4) == pytest.approx(70 * math.log(7.4**2 / (7.4**2 - 1.69)))
    assert breaker_trips_s(15.0, 1.2) is None
    assert fuse_clears_s(25, 20) is None
    slow, quick = fuse_clears_s(25, 100), fuse_clears_s(25, 200)
    assert slow is not None
    assert quick is not None
    assert slow > quick
    assert overload_trips_s("10", 7.2) == pytest.approx(6.5)
    assert overload_trips_s("NEMA 10", 6.0) == pytest.approx(8.5)
    assert mean_heat([(6.0, 10.0), (0.0, 350.0)]) == pytest.approx(1.0)


def test_a_heavy_start_trips_a_quick_class_and_not_a_slow_one() -> None:
    heavy = {**PUMP, "start_time": "12 s"}
    quick, slow = sheet(heavy, trip_class="10"), sheet(heavy, trip_class="30")
    tripped = trips_on_start("10", quick.dial_a, quick.start)
    assert tripped == pytest.approx(overload_trips_s("10", 7.0), rel=1e-6)
    assert trips_on_start("30", slow.dial_a, slow.start) is None
    warning = next(line.warning for line in lines_of(quick) if line.key == "dial")
    held = figure(overload_trips_s("20", 7.0))
    assert warning == (
        f"It trips {figure(tripped)} s into a healthy start. Class 20 holds it: it would trip after {held} s of it."
    )
    slowest = sheet({**PUMP, "start_time": "40 s"}, trip_class="30")
    assert next(line.warning for line in lines_of(slowest) if line.key == "dial").endswith("into a healthy start.")
    assert any("into a healthy start" in mark for mark in chart(quick).marks)


def test_a_curve_that_does_not_hold_the_start_is_said() -> None:
    made = sheet({**PUMP, "locked_ratio": "11"}, curve="C")
    assert breaker_on_start(7.5 * 20, 20, made.start) == 0.01
    assert next(line.warning for line in lines_of(made) if line.key == "breaker_rating").startswith(
        "It opens 0.01 s into"
    )
