"""The diode test of a meter, by hand sums: which way a junction conducts, and what lies beside it."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.document.circuit import Circuit
from wiretrace.errors import MeasurementRefused
from wiretrace.instruments.diode_tester import DiodeReading, read_diode
from wiretrace.instruments.measures import DiodeTester, measure


def made(*ways: tuple[str, str]) -> Circuit:
    parts = [
        device("g1", "supply_single_phase"),
        device("t1", "rectifier"),
        device("d1", "suppressor", type="diode"),
        device("k1", "contactor", coil_kind="DC", coil_voltage_v=24.0),
    ]
    return circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)])


def read(bench: Bench, red: str, black: str) -> DiodeReading:
    return read_diode(bench.assembly, bench.frame, end(red), end(black))


def test_a_diode_conducts_one_way_and_blocks_the_other() -> None:
    """0.55 V and a milliampere in 10 ohm: 0.560 V."""
    bench = Bench(made())
    assert read(bench, "d1:2", "d1:1").volts == pytest.approx(0.56, abs=0.001)
    assert read(bench, "d1:1", "d1:2").display == "OL"


@pytest.mark.parametrize(
    ("red", "black", "volts"),
    [
        ("t1:~1", "t1:+", 0.56),
        ("t1:-", "t1:~2", 0.56),
        ("t1:-", "t1:+", 1.11),
        ("t1:+", "t1:-", None),
        ("t1:+", "t1:~1", None),
        ("t1:~1", "t1:~2", None),
    ],
)
def test_a_bridge_shows_one_junction_or_two_in_series(red: str, black: str, volts: float | None) -> None:
    """From minus to plus two ways share the milliampere, 2 (0.55 + 0.005) V; between the inputs no way leads."""
    reading = read(Bench(made()), red, black)
    if volts is None:
        assert reading.display == "OL"
    else:
        assert reading.volts == pytest.approx(volts, abs=0.003)


def test_a_coil_beside_a_diode_hides_it() -> None:
    """24 V and 3 W: 192 ohm take 0.19 V from a milliampere, less than a junction needs."""
    bench = Bench(made(("d1:1", "k1:A1"), ("d1:2", "k1:A2")))
    ohm = 24**2 / float(bench.assembly.devices["k1"].params["coil_power_w"])
    for red, black in (("d1:2", "d1:1"), ("d1:1", "d1:2")):
        assert read(bench, red, black).volts == pytest.approx(ohm / 1000, rel=0.01)


def test_a_shorted_diode_beeps_and_a_broken_one_is_open_both_ways() -> None:
    bench = Bench(made())
    bench.fail("D1/element=short")
    bench.wait(0.0)
    assert read(bench, "d1:1", "d1:2").beeps
    bench.fail("D1/element=open")
    bench.wait(0.0)
    assert {read(bench, *pair).display for pair in (("d1:1", "d1:2"), ("d1:2", "d1:1"))} == {"OL"}


def test_it_is_refused_on_a_live_circuit() -> None:
    bench = Bench(made(("g1:L", "d1:1")))
    with pytest.raises(MeasurementRefused, match="never test diodes"):
        read(bench, "d1:1", "d1:2")
    shown = measure(bench.assembly, bench.frame, DiodeTester(red=end("d1:1"), black=end("d1:2")))
    assert shown.refused


def test_both_probes_on_one_terminal_show_nothing_and_beep() -> None:
    assert read(Bench(made()), "d1:1", "d1:1") == DiodeReading(0.0, "0.000", True)
