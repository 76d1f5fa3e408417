"""A motor with one tapped winding: what stands on its plate at both speeds, and what wrong joints make of it."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit
from wiretrace.instruments.ohmmeter import read_resistance

CORNERS, TAPS = ("1U", "1V", "1W"), ("2U", "2V", "2W")
JOINED = [("m1:1U", "m1:1V"), ("m1:1V", "m1:1W")]


def fed_at(leads: tuple[str, str, str], *joints: tuple[str, str], **more: object) -> Circuit:
    parts = [device("g1", "supply_three_phase"), device("m1", "motor_tapped_winding", **more)]
    ways = [*((f"g1:L{n}", f"m1:{lead}") for n, lead in enumerate(leads, 1)), *joints]
    return circuit(parts, [wire(f"w{n}", a, b, length_m=0.001) for n, (a, b) in enumerate(ways, 1)])


def line_a(bench: Bench, number: int = 1) -> float:
    return abs(bench.assembly.conductor_a(bench.frame.point.ac, f"w{number}"))


def rpm(bench: Bench) -> float:
    return {figure.title: figure.value for figure in bench.frame.views["m1"].figures}["Speed"]


def running(made: Circuit, seconds: float = 6.0) -> Bench:
    bench = Bench(made)
    bench.wait(seconds)
    return bench


def test_in_delta_it_is_the_slow_motor_of_its_plate() -> None:
    """A constant torque of 0.37 kW at 705 rpm is 5.01 Nm, half the 10.05 Nm of the fast plate: 49.9 %."""
    bench = running(fed_at(CORNERS, load="constant", load_percent=49.9))
    assert rpm(bench) == pytest.approx(705, abs=1)
    assert [line_a(bench, n) for n in (1, 2, 3)] == pytest.approx([1.15] * 3, rel=0.005)


def test_in_double_star_it_is_the_fast_motor_of_its_plate() -> None:
    bench = running(fed_at(TAPS, *JOINED, load="constant", load_percent=100.0))
    assert rpm(bench) == pytest.approx(1425, abs=1)
    assert [line_a(bench, n) for n in (1, 2, 3)] == pytest.approx([3.5] * 3, rel=0.005)
    halves = [bench.frame.signals["m1"][name].rms_a for name in ("1U-2U", "2U-1V", "1W-2W")]
    assert halves == pytest.approx([1.75] * 3, rel=0.005)


def test_both_start_with_their_locked_rotor_current() -> None:
    """4.5 times the rated current: 5.18 A in delta, 15.75 A in double star."""
    assert line_a(running(fed_at(CORNERS), 0.002)) == pytest.approx(5.175, rel=0.01)
    assert line_a(running(fed_at(TAPS, *JOINED), 0.002)) == pytest.approx(15.75, rel=0.01)


def test_it_turns_the_same_way_at_both_speeds_and_the_other_with_two_lines_exchanged() -> None:
    for leads, joints in ((CORNERS, []), (TAPS, JOINED)):
        assert rpm(running(fed_at(leads, *joints))) > 0
        crossed = (leads[1], leads[0], leads[2])
        assert rpm(running(fed_at(crossed, *joints))) < 0


def test_taps_without_the_joint_leave_it_far_below_its_fast_speed() -> None:
    """What a star contactor that does not pull in makes of it: less than half the torque, no 1,400 rpm."""
    bench = running(fed_at(TAPS, load="constant", load_percent=100.0))
    assert abs(rpm(bench)) < 750
    assert "high_speed" not in bench.frame.views["m1"].status or bench.frame.views["m1"].attention


def test_an_ohmmeter_reads_the_same_between_any_two_corners_and_a_quarter_between_two_joined_taps() -> None:
    """Six equal halves r: between corners 2r beside 4r, 4/3 r; between taps with the corners joined r/2 + r/2 = r."""
    free = circuit([device("m1", "motor_tapped_winding")], [])
    bench = Bench(free)

    def ohms(one: str, other: str) -> float:
        read = read_resistance(bench.assembly, bench.frame, end(f"m1:{one}"), end(f"m1:{other}"))
        return float(read.resistance_ohm or 0.0)

    assert ohms("1U", "1V") == pytest.approx(ohms("1V", "1W"), rel=1e-6)
    assert ohms("1U", "2U") / ohms("1U", "1V") == pytest.approx((5 / 6) / (4 / 3), rel=1e-3)


def test_speeds_that_no_tapped_winding_has_contradict_themselves() -> None:
    made = KINDS["motor_tapped_winding"]
    good = made.defaults()
    assert not list(made.contradictions(good))
    told = list(made.contradictions({**good, "low_rated_speed_rpm": 940.0, "low_rated_power_kw": 0.5}))
    assert any("2 to 1" in one for one in told)
