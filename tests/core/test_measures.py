"""Every instrument by its data: what it shows, in figures that a hand works out, and when it refuses."""

from typing import ClassVar

import pytest
from pydantic import TypeAdapter

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.catalogue.machinery.element import Signal
from wiretrace.errors import UnknownTarget
from wiretrace.explain.measured import why_measured
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.measures import (
    Clamp,
    InsulationTester,
    LowImpedanceVoltmeter,
    Measure,
    Ohmmeter,
    PhaseSequenceTester,
    Shown,
    TwoPoleTester,
    Voltmeter,
    measure,
)
from wiretrace.library import library_circuit

COIL = {"red": end("contactor:A1"), "black": end("contactor:A2")}
START = {"red": end("start:13"), "black": end("start:14")}


def live() -> Bench:
    return Bench(library_circuit("start-stop-overload-line"))


def dead() -> Bench:
    bench = live()
    bench.do("isolator", "switch", False)
    return bench


def running() -> Bench:
    bench = live()
    bench.do("start", "press", True)
    bench.wait(0.1)
    bench.do("start", "press", False)
    bench.wait(5)
    return bench


def shows(bench: Bench, what: Measure) -> Shown:
    return measure(bench.assembly, bench.frame, what)


def test_meters_of_volts_show_the_supply_across_an_open_start_button() -> None:
    """The coil behind the button carries the neutral to its far side."""
    high, low = shows(live(), Voltmeter(**START)), shows(live(), LowImpedanceVoltmeter(**START))
    assert (high.display, high.unit, high.note) == ("230.9", "V AC", "")
    # The coil and the lamp, 0.65 kohm together, take their share beside 3.3 kohm.
    assert low.value is not None
    assert 180 < low.value < 215
    assert low.unit == "V AC"
    tester = shows(live(), TwoPoleTester(**START))
    assert (tester.display, tester.note) == ("230 V AC", "A live pole at the red probe.")


def test_a_dark_tester_says_that_it_proves_nothing() -> None:
    assert shows(dead(), TwoPoleTester(**START)).note == "Dark proves nothing: prove the tester before and after."


def test_ohms_of_a_coil_and_the_lamp_beside_it_and_why() -> None:
    bench = dead()
    seen = shows(bench, Ohmmeter(**COIL))
    assert seen.value == pytest.approx(1 / (1 / 529.0 + 1 / 22041.7), rel=1e-3)
    assert (seen.display, seen.unit, seen.beeps, seen.refused) == ("516.6", "Ω", False, False)
    assert "K1" in why_measured(bench.assembly, bench.frame, Ohmmeter(**COIL))


def test_continuity_beeps_and_an_open_contact_does_not() -> None:
    bench = dead()
    stop = Ohmmeter(red=end("stop:11"), black=end("stop:12"))
    assert shows(bench, stop).beeps
    assert not shows(bench, Ohmmeter(**START)).beeps


@pytest.mark.parametrize("what", [Ohmmeter(**START), InsulationTester(**START)])
def test_what_must_not_be_put_on_a_live_circuit_is_refused_with_the_reason(what: Measure) -> None:
    seen = shows(live(), what)
    assert (seen.refused, seen.value) == (True, None)
    assert "live circuit" in seen.note


def test_insulation_from_a_line_to_earth_is_beyond_the_range() -> None:
    seen = shows(dead(), InsulationTester(red=end("motor:U1"), black=end("motor:PE"), test_v=1000))
    assert (seen.display, seen.value, seen.note) == ("> 20 GΩ", None, "")


def test_the_field_turns_clockwise_and_the_other_way_round_when_two_lines_are_taken_in_turn() -> None:
    lines = (end("isolator:1"), end("isolator:3"), end("isolator:5"))
    assert shows(live(), PhaseSequenceTester(ends=lines)).display == "clockwise"
    assert shows(live(), PhaseSequenceTester(ends=(lines[1], lines[0], lines[2]))).display == "counter-clockwise"


def test_a_clamp_shows_one_line_and_nothing_around_all_three() -> None:
    bench = running()
    lines = [
        c.id
        for c in bench.assembly.circuit.conductors
        for one, other in ((c.a, c.b), (c.b, c.a))
        if one.device == "motor" and one.terminal in ("U1", "V1", "W1")
    ]
    assert len(lines) == 3
    one = shows(bench, Clamp(conductors=(lines[0],)))
    assert one.value == pytest.approx(3.2, abs=0.4)
    assert one.unit == "A"
    assert "M1" in why_measured(bench.assembly, bench.frame, Clamp(conductors=(lines[0],)))
    every = shows(bench, Clamp(conductors=tuple(lines)))
    assert every.value == pytest.approx(0, abs=1e-6)
    assert every.note == "Going and coming conductors cancel in the jaw."


@pytest.mark.parametrize(
    "data",
    [
        {"instrument": "voltmeter", "red": {"device": "start", "terminal": "99"}, "black": START["black"].model_dump()},
        {"instrument": "clamp", "conductors": ["nowhere"]},
    ],
)
def test_what_is_put_on_nothing_is_an_error_with_a_name(data: dict[str, object]) -> None:
    what = TypeAdapter[Measure](Measure).validate_python(data)
    with pytest.raises(UnknownTarget):
        shows(live(), what)


def test_what_has_both_parts_is_the_root_of_their_squares() -> None:
    both = Signal(voltage_v=3 + 0j, current_a=0 + 6j, dc_v=4.0, dc_a=-8.0)
    assert (both.rms_v, both.rms_a) == (5.0, 10.0)
    assert (Signal(-3 + 4j, 1j).rms_v, Signal(0j, 0j, -2.0, -7.0).rms_a) == (5.0, 7.0)


def test_a_clamp_takes_both_parts_of_a_current_together() -> None:
    class Wires:
        """Two wires of 3 A alternating each, and 4 A direct in one of them."""

        devices: ClassVar = {"g1": None, "k1": None}
        circuit = circuit([], [wire("a", "g1:L", "k1:A1"), wire("b", "k1:A2", "g1:N")])

        def conductor_a(self, point: str, name: str) -> complex:
            return {"ac": {"a": 3j, "b": 3j}, "dc": {"a": 4 + 0j, "b": 0j}}[point][name]

    class Point:
        parts = ("ac", "dc")

    def read(*wires: str) -> str:
        return read_current(Wires(), Point(), wires).display  # type: ignore[arg-type]

    assert (read("a"), read("b"), read("a", "b")) == ("5.00", "3.00", "4.00")


@pytest.mark.parametrize("flip", [(), ("w1",), ("w2",), ("w3",), ("w1", "w2", "w3")])
def test_which_end_of_a_wire_was_drawn_first_has_no_say_in_a_clamp(flip: tuple[str, ...]) -> None:
    """Two lamps in series between L1 and neutral: what goes through one wire comes back through the next."""
    drawn = {"w1": ("g1:L1", "h1:X1"), "w2": ("h1:X2", "h2:X1"), "w3": ("h2:X2", "g1:N")}
    wires = [wire(name, *(ends[::-1] if name in flip else ends)) for name, ends in drawn.items()]
    bench = Bench(circuit([device("g1", "supply_three_phase"), device("h1", "lamp"), device("h2", "lamp")], wires))

    def read(*names: str, turned: tuple[str, ...] = ()) -> float:
        return read_current(bench.assembly, bench.frame.point, names, turned).current_a

    alone = read("w1")
    assert alone > 0.001
    # A go and its return, in either order: at the supply, and at the first lamp.
    for pair in (("w1", "w3"), ("w3", "w1"), ("w1", "w2"), ("w2", "w1")):
        assert read(*pair) == pytest.approx(0.0, abs=1e-9)
        assert read(*pair, turned=pair[1:]) == pytest.approx(2 * alone)
    assert read("w1", turned=("w1",)) == pytest.approx(alone)


def test_a_clamp_around_nothing_that_is_there_is_refused() -> None:
    bench = Bench(circuit([device("g1", "supply_three_phase")], []))
    with pytest.raises(UnknownTarget, match="There is no conductor w9"):
        read_current(bench.assembly, bench.frame.point, ["w9"])
