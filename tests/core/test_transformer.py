"""The control transformer: its voltages, its separation, its short circuit."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.document.circuit import Conductor
from wiretrace.explain.reading import explain_reading
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import Open
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.reach import Standing


def bench(load_w: float | None = None, faults: tuple[Fault, ...] = (), extra: tuple[Conductor, ...] = ()) -> Bench:
    devices = [device("g1", "supply_single_phase", voltage_v=400.0), device("t1", "control_transformer")]
    wires = [wire("w1", "g1:L", "t1:1.1"), wire("w2", "g1:N", "t1:1.2"), *extra]
    if load_w is not None:
        devices.append(device("h1", "lamp", rated_voltage_v=110.0, rated_power_w=load_w))
        wires += [wire("w3", "t1:2.1", "h1:X1"), wire("w4", "h1:X2", "t1:2.2")]
    return Bench(circuit(devices, wires), faults)


def volts(made: Bench, red: str, black: str) -> float:
    return read_voltage(made.assembly, made.frame.point, end(red), end(black)).voltage_v


def test_the_secondary_is_rated_at_full_load_and_stands_higher_without() -> None:
    assert volts(bench(160.0), "t1:2.1", "t1:2.2") == pytest.approx(110.0, rel=0.01)
    assert volts(bench(), "t1:2.1", "t1:2.2") == pytest.approx(110.0 * 1.05, rel=0.01)


def test_without_load_only_the_magnetising_current_flows() -> None:
    current = abs(bench().frame.signals["t1"]["primary"].current_a)
    assert current == pytest.approx(0.15 * 160 / 400, rel=0.03)


def test_power_goes_through_the_core() -> None:
    signals = bench(160.0).frame.signals
    primary, secondary = signals["t1"]["primary"], signals["t1"]["secondary"]
    taken = (primary.voltage_v * primary.current_a.conjugate()).real
    given = -(secondary.voltage_v * secondary.current_a.conjugate()).real
    assert given == pytest.approx(158.0, rel=0.02)
    assert taken > given
    assert taken - given == pytest.approx(0.05 * 160, rel=0.25)


def test_it_separates_until_somebody_earths_it() -> None:
    apart = bench(10.0)
    assert not read_voltage(apart.assembly, apart.frame.point, end("t1:2.1"), end("g1:PE")).joined
    earthed = bench(10.0, extra=(wire("w5", "t1:2.2", "g1:PE"),))
    assert volts(earthed, "t1:2.1", "g1:PE") == pytest.approx(volts(earthed, "t1:2.1", "t1:2.2"), rel=1e-6)


def test_a_short_circuit_is_limited_by_resistance_and_leakage() -> None:
    short = bench(extra=(wire("w5", "t1:2.1", "t1:2.2"),))
    rated = 160 / 110
    assert abs(short.frame.signals["t1"]["secondary"].current_a) == pytest.approx(rated / 0.0583, rel=0.12)


def test_an_open_primary_feeds_nothing() -> None:
    dead = bench(10.0, (Open("t1", "primary"),))
    assert volts(dead, "t1:2.1", "t1:2.2") == 0
    assert dead.says("t1") == "dead"
    told = explain_reading(dead.assembly, dead.frame, end("t1:2.1"), end("t1:2.2"))
    assert told.red.standing is not Standing.LIVE
