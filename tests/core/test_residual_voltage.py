"""The voltage that a motor still raises while it coasts: what a meter shows of it, why, and for how long."""

import math
from pathlib import Path

import pytest

from scripts.ngspice import judged
from tests.core.circuits import SECOND, Bench, end
from wiretrace.catalogue.motors.three_phase import ThreePhaseMotor
from wiretrace.errors import MeasurementRefused
from wiretrace.explain.reading import explain_reading
from wiretrace.instruments.measures import Voltmeter, measure
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.instruments.testers import read_phase_sequence, read_two_pole
from wiretrace.instruments.voltmeter import Reading, read_voltage
from wiretrace.library import library_circuit
from wiretrace.simulation.engine import Frame, run
from wiretrace.simulation.fading import STEP_US, metered, watched
from wiretrace.transport.report import Probes, run_data

LEADS = (end("motor:U1"), end("motor:V1"), end("motor:W1"))


@pytest.fixture
def stopped() -> Bench:
    """A motor of 1.5 kW at full speed that was switched off 20 ms ago; its contactor opens within that time."""
    bench = Bench(library_circuit("start-stop-overload-line"))
    bench.do("start", "press", wait_s=0.3)
    bench.do("start", "press", value=False, wait_s=3)
    assert bench.says("motor") == "turns forward"
    bench.do("stop", "press", wait_s=0.02)
    assert bench.says("motor") == "coasts forward"
    return bench


def seen(bench: Bench) -> Frame:
    return metered(bench.assembly, bench.frame)


def reading(bench: Bench) -> Reading:
    return read_voltage(bench.assembly, seen(bench).point, *LEADS[:2])


def test_it_is_three_quarters_of_the_line_voltage_first_and_dies_with_the_time_constant_of_the_rotor(
    stopped: Bench,
) -> None:
    motor = stopped.assembly.devices["motor"]
    assert isinstance(motor.kind, ThreePhaseMotor)
    machine = motor.kind.equivalent(motor.params).machine
    rotor = machine.rotor_running_ohm
    tau_s = (machine.magnetising_ohm.imag + rotor.imag) / (2 * math.pi * 50 * rotor.real)
    first = reading(stopped)
    assert 300 < first.voltage_v < 400
    assert first.frequency_hz is not None
    assert 45 < first.frequency_hz < 49
    stopped.wait(0.1)
    later = reading(stopped)
    assert later.frequency_hz is not None
    # Flux by the time constant, and the voltage that it raises by the speed.
    expected_v = first.voltage_v * math.exp(-0.1 / tau_s) * later.frequency_hz / first.frequency_hz
    assert later.voltage_v == pytest.approx(expected_v, rel=1e-6)
    stopped.wait(2.0)
    assert reading(stopped).voltage_v == 0.0


def test_ngspice_finds_the_same_at_the_frequency_of_the_rotor(stopped: Bench, tmp_path: Path) -> None:
    assert len(seen(stopped).point.fading) == 1
    assert list(judged([(stopped.assembly, seen(stopped))], tmp_path)) == []


def test_the_reason_names_the_motor_and_the_meter_the_frequency(stopped: Bench) -> None:
    told = explain_reading(stopped.assembly, seen(stopped), *LEADS[:2])
    assert "M1 still turns, and its rotor raises this residual voltage" in told.sentences[1]
    assert "no source" not in " ".join(told.sentences)
    assert told.influences == ()
    shown = measure(stopped.assembly, seen(stopped), Voltmeter(red=LEADS[0], black=LEADS[1]))
    assert shown.note.startswith("At 4")
    assert "not the frequency of the supply" in shown.note


def test_other_instruments_see_it_too(stopped: Bench) -> None:
    frame = seen(stopped)
    assert read_two_pole(stopped.assembly, frame.point, *LEADS[:2]).step_v == 230
    assert read_phase_sequence(stopped.assembly, frame.point, *LEADS).shows == "clockwise"
    with pytest.raises(MeasurementRefused, match="There is voltage between the probes"):
        read_resistance(stopped.assembly, frame, *LEADS[:2])


def test_a_motor_that_turned_backward_raises_it_in_the_other_sequence() -> None:
    bench = Bench(library_circuit("reversing-interlocked"))
    reverse = next(item.id for item in bench.assembly.devices.values() if item.label == "S2")
    motor = next(item.id for item in bench.assembly.devices.values() if item.kind.jams)
    bench.do(reverse, "press", wait_s=2)
    assert bench.says(motor) == "turns backward"
    bench.do(reverse, "press", value=False, wait_s=1)
    stop = next(item.id for item in bench.assembly.devices.values() if item.label == "S0")
    bench.do(stop, "press", wait_s=0.03)
    leads = [end(f"{motor}:{name}") for name in ("U1", "V1", "W1")]
    assert read_phase_sequence(bench.assembly, seen(bench).point, *leads).shows == "counter-clockwise"


def test_a_run_knows_nothing_of_it_and_a_meter_that_stays_there_shows_it_fall(stopped: Bench) -> None:
    assembly = stopped.assembly
    now = stopped.state.time_us
    trajectory = run(assembly, stopped.state, [], now + SECOND)
    assert len(trajectory.frames) < 4
    probes = [Probes(red=LEADS[0], black=LEADS[1])]
    volts = [(frame.time_us, frame.readings[0].voltage_v) for frame in run_data(assembly, trajectory, probes).frames]
    falls = [volt for _, volt in volts]
    assert falls == sorted(falls, reverse=True)
    assert falls[0] > 300
    assert falls[-1] < 1
    assert [then - now for then, _ in volts[:3]] == [0, STEP_US, 84_000]
    assert len(list(watched(assembly, trajectory))) == len(volts)
    assert len(run_data(assembly, trajectory, []).frames) == len(trajectory.frames)
