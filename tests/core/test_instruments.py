"""Ohms, continuity and clamp, each with its own effect on the circuit."""

import pytest
from click.testing import CliRunner

from tests.core.circuits import Bench, end
from wiretrace.cli.main import main
from wiretrace.errors import MeasurementRefused, UnknownTarget
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import Open
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.ohmmeter import Resistance, read_resistance
from wiretrace.instruments.voltmeter import LOW_IMPEDANCE_OHM, read_voltage
from wiretrace.library import library_circuit

LINE = "start-stop-overload-line"


def dead(*faults: Fault) -> Bench:
    bench = Bench(library_circuit(LINE), faults)
    bench.do("isolator", "switch", False)
    return bench


def ohms(bench: Bench, red: str, black: str) -> Resistance:
    return read_resistance(bench.assembly, bench.frame, end(red), end(black))


def test_a_coil_reads_its_wire_and_what_lies_in_parallel() -> None:
    """Four fifths of the 661 ohm of a 60 VA coil at power factor 0.75 are wire; the run lamp of 22 kohm lies across."""
    reading = ohms(dead(), "contactor:A1", "contactor:A2")
    assert reading.resistance_ohm == pytest.approx(1 / (1 / 529.0 + 1 / 22041.7), rel=1e-3)
    assert (reading.display, reading.beeps) == ("516.6", False)


def test_an_open_coil_reads_what_is_left_beside_it() -> None:
    reading = ohms(dead(Open("contactor", "coil")), "contactor:A1", "contactor:A2")
    assert reading.display == "22.04 k"


def test_closed_contacts_beep_and_open_ones_do_not() -> None:
    bench = dead()
    assert ohms(bench, "stop:11", "stop:12").beeps
    assert not ohms(bench, "start:13", "start:14").beeps
    bench.do("stop", "press")
    assert not ohms(bench, "stop:11", "stop:12").beeps


def test_nothing_between_the_probes_is_over_the_range() -> None:
    reading = ohms(dead(), "motor:U1", "contactor:A1")
    assert (reading.resistance_ohm, reading.display) == (None, "OL")


def test_motor_windings_read_twice_one_phase() -> None:
    bench = dead()
    bench.do("overload", "trip")
    reading = ohms(bench, "motor:U1", "motor:V1")
    # Copper is 60 % of the resistance with the rotor locked at most, here nine tenths of that (catalogue/machine.py).
    locked_ohm = 400 / 3**0.5 / (5.5 * 3.4)
    assert reading.resistance_ohm == pytest.approx(2 * 0.9 * 0.6 * 0.7 * locked_ohm, rel=1e-3)


def test_on_a_live_circuit_it_refuses() -> None:
    bench = Bench(library_circuit(LINE))
    for red, black in (("stop:11", "stop:12"), ("contactor:A1", "start:13")):
        with pytest.raises(MeasurementRefused, match="never measure resistance on a live circuit"):
            ohms(bench, red, black)


def test_a_clamp_adds_phasors() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press", wait_s=3.0)
    one = read_current(bench.assembly, bench.frame.point, ["p1-motor"])
    assert one.current_a == pytest.approx(3.190, abs=0.002)
    all_three = read_current(bench.assembly, bench.frame.point, ["p1-motor", "p2-motor", "p3-motor"])
    assert (all_three.current_a, all_three.display) == (pytest.approx(0, abs=1e-6), "0.00")
    with pytest.raises(UnknownTarget):
        read_current(bench.assembly, bench.frame.point, ["p9"])


def test_a_meter_of_low_impedance_loads_what_it_measures() -> None:
    """Across the open start the 3.3 kohm meter shares the voltage with the coil behind it."""
    bench = Bench(library_circuit(LINE))
    spot = (end("start:13"), end("start:14"))
    high = read_voltage(bench.assembly, bench.frame.point, *spot).voltage_v
    low = read_voltage(bench.assembly, bench.frame.point, *spot, LOW_IMPEDANCE_OHM).voltage_v
    assert high == pytest.approx(230.9, abs=0.1)
    coil, lamp = 661.25 + 583.17j, 22041.7
    behind = coil * lamp / (coil + lamp)
    assert low == pytest.approx(230.94 * 3300 / abs(3300 + behind), rel=1e-3)


def test_the_command_line_reads_all_of_them() -> None:
    words = ["measure", LINE, "--do", "Q1.switch=off@0s", "--ohms", "K1:A1,K1:A2", "--volts", "K1:A1,K1:A2"]
    done = CliRunner().invoke(main, [*words, "--amperes", "p1-motor,p2-motor"])
    assert done.output.splitlines() == ["K1:A1,K1:A2: 0.000 V", "K1:A1,K1:A2: 516.6 ohm", "p1-motor,p2-motor: 0.00 A"]
    live = CliRunner().invoke(main, ["measure", LINE, "--ohms", "S0:11,S0:12"])
    assert (live.exit_code, "S0:11 is live" in live.stderr) == (2, True)


def test_behind_one_load_it_refuses_too_though_there_is_no_voltage_between_the_probes() -> None:
    """The neutral is off: both ends of the coil's wire to the neutral stand at 230 V to earth, through the coil."""
    bench = Bench(library_circuit("start-stop-overload-line"))
    bench.do("start", "press")
    neutral = [
        w
        for w in bench.assembly.circuit.conductors
        if {w.a.device, w.b.device} & {"supply"} and "N" in (w.a.terminal, w.b.terminal)
    ]
    bench.fail(*(Open(wire.id) for wire in neutral))
    bench.wait(0.2)
    for pair in (("contactor:A2", "run-lamp:X2"), ("run-lamp:X2", "contactor:A2")):
        assert abs(read_voltage(bench.assembly, bench.frame.point, end(pair[0]), end(pair[1])).voltage_v) < 0.01
        with pytest.raises(MeasurementRefused, match=r"stands at 23\d V to earth"):
            read_resistance(bench.assembly, bench.frame, end(pair[0]), end(pair[1]))
