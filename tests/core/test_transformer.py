"""The control transformer: its voltages, its separation, its short circuit."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.document.circuit import Conductor
from wiretrace.explain.reading import explain_reading
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import HighResistance, Open
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


def behind_a_breaker(curve: str) -> Bench:
    """A transformer of 400 VA, 1 A, behind a breaker of 2 A that is off."""
    parts = [
        device("g1", "supply_single_phase", voltage_v=400.0),
        device("f1", "breaker", poles=2, rated_current_a=2.0, curve=curve),
        device("t1", "control_transformer", rating_va=400.0),
    ]
    ways = [("g1:L", "f1:1"), ("f1:2", "t1:1.1"), ("t1:1.2", "f1:4"), ("f1:3", "g1:N")]
    made = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))
    made.do("f1", "switch", value=False, wait_s=1)
    return made


@pytest.mark.parametrize(("curve", "says"), [("B", "tripped"), ("D", "on")])
def test_its_inrush_trips_a_breaker_that_is_too_quick(curve: str, says: str) -> None:
    made = behind_a_breaker(curve)
    made.do("f1", "switch", wait_s=0.5)
    assert made.says("f1") == says


def test_the_inrush_is_twenty_times_its_current_and_gone_in_less_than_a_tenth_of_a_second() -> None:
    made = behind_a_breaker("D")
    made.do("f1", "switch", wait_s=0.2)
    amperes = [abs(frame.signals["f1"]["1-2"].current_a) for frame in made.trajectory.frames]
    assert max(amperes) == pytest.approx(20.0, rel=0.03)
    assert amperes == sorted(amperes[:1]) + sorted(amperes[1:], reverse=True)
    times = [frame.state.time_us for frame in made.trajectory.frames]
    assert times[-1] - times[0] < 100_000
    assert amperes[-1] == pytest.approx(0.15, rel=0.05)
    # Its core keeps its flux over a break that is shorter than a wave, and not over a longer one.
    for gap_s, again in ((0.01, 0.2), (0.05, 20.0)):
        made.do("f1", "switch", value=False, wait_s=gap_s)
        made.do("f1", "switch", wait_s=0.005)
        assert abs(made.frame.signals["f1"]["1-2"].current_a) == pytest.approx(again, abs=max(0.1, 0.03 * again))
        made.wait(0.5)


@pytest.mark.parametrize("ohm", [1.0, 30.0, 100.0, 300.0, 1000.0, 3000.0, 20_000.0])
@pytest.mark.parametrize("load_w", [None, 20.0, 160.0])
def test_behind_a_bad_joint_its_inrush_comes_once_and_not_for_ever(ohm: float, load_w: float | None) -> None:
    """The inrush takes the voltage away from itself; that is not as if somebody had switched off and on again."""
    made = bench(load_w, (HighResistance("w1", resistance_ohm=ohm),))
    made.do("g1", "switch", value=False, wait_s=1)
    made.do("g1", "switch", wait_s=20)
    late = [frame for frame in made.trajectory.frames if frame.state.time_us > 1_500_000]
    assert late == []
