"""Phases lost and exchanged, and what the relay that watches them makes of it."""

import pytest

from tests.core.circuits import Bench, with_params
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly


def test_a_phase_can_be_lost_and_two_exchanged_by_hand() -> None:
    bench = Bench(library_circuit("phase-monitor"))
    bench.wait(1.0)
    bench.do("start", "press")
    bench.do("start", "press", False)
    assert (bench.says("monitor"), bench.says("motor")) == ("healthy", "turns forward")
    bench.do("supply", "l3", False, wait_s=0.9)
    # The turning motor feeds the lost phase back: what is left to see is too low a voltage, and that takes its time.
    assert (bench.says("supply"), bench.says("monitor"), bench.says("contactor")) == (
        "without L3",
        "undervoltage",
        "in",
    )
    bench.wait(0.3)
    assert (bench.says("monitor"), bench.says("contactor")) == ("phase lost", "out")
    bench.do("supply", "l3", True, wait_s=1.0)
    assert (bench.says("monitor"), bench.says("contactor")) == ("healthy", "out")
    bench.do("supply", "swap", True, wait_s=1.0)
    assert bench.says("monitor") == "wrong sequence"
    bench.wait(20.0)
    bench.do("start", "press")
    assert bench.says("motor") == "still"


@pytest.mark.parametrize(
    ("fault", "sees", "after_s"), [("G1/L2=open", "phase lost", 2.0), ("w1.b=with w3.b", "wrong sequence", 1.0)]
)
def test_a_lost_phase_and_a_wrong_sequence_have_delays_of_their_own(fault: str, sees: str, after_s: float) -> None:
    delays = {"loss_delay_s": 2.0, "sequence_delay_s": 1.0, "under_delay_s": 9.0, "unbalance_delay_s": 9.0}
    bench = Bench(with_params(library_circuit("phase-monitor"), {"monitor": delays}))
    bench.wait(1.0)
    bench.fail(fault)
    bench.wait(after_s - 0.02)
    assert (bench.says("monitor"), bench.frame.views["monitor"].active) == (sees, True)
    bench.wait(0.04)
    assert not bench.frame.views["monitor"].active


@pytest.mark.parametrize(
    ("change", "sees", "within_s"),
    [
        ({"line_voltage_v": 330.0}, "undervoltage", 1.0),
        ({"line_voltage_v": 470.0}, "overvoltage", 1.0),
        ({"l1_percent": 80.0}, "unbalance", 2.0),
        ({"l2_percent": 5.0}, "phase lost", 0.1),
        ({"l1_percent": 5.0}, "phase lost", 0.1),
    ],
)
def test_each_function_of_the_phase_monitor_has_its_delay(change: dict[str, float], sees: str, within_s: float) -> None:
    bench = Bench(library_circuit("phase-monitor"))
    bench.wait(1.0)
    assert bench.frame.views["monitor"].active
    bench.assembly = Assembly(with_params(library_circuit("phase-monitor"), {"supply": change}))
    bench.wait(within_s - 0.02)
    assert (bench.says("monitor"), bench.frame.views["monitor"].active) == (sees, True)
    bench.wait(0.04)
    assert not bench.frame.views["monitor"].active


def fed_with(percent: float, **params: float) -> Bench:
    return Bench(
        with_params(
            library_circuit("phase-monitor"),
            {"supply": {f"l{n}_percent": percent for n in (1, 2, 3)}, "monitor": params},
        )
    )


def goes_to(bench: Bench, percent: float, wait_s: float, **params: float) -> bool:
    """Is the relay in after so long at another voltage?"""
    bench.assembly = fed_with(percent, **params).assembly
    bench.wait(wait_s)
    return bench.frame.views["monitor"].active


def test_a_voltage_about_the_threshold_does_not_switch_the_phase_monitor_again_and_again() -> None:
    """Below 85 % it drops after its delay, and comes again only above 90 %."""
    bench = fed_with(100.0)
    bench.wait(1.0)
    switched = [goes_to(bench, 84.8 if n % 2 == 0 else 85.3, 1.5) for n in range(20)]
    assert switched == [False] * 20
    assert not goes_to(bench, 89.5, 3.0)
    assert goes_to(bench, 90.5, 1.0)
    # Put under power between the two it is ready: nothing was found yet.
    fresh = fed_with(87.0)
    fresh.wait(1.0)
    assert fresh.frame.views["monitor"].active


def test_overvoltage_has_a_delay_and_a_hysteresis_of_its_own() -> None:
    delays = {"under_delay_s": 30.0, "over_delay_s": 0.3}
    bench = fed_with(100.0, **delays)
    bench.wait(1.0)
    assert goes_to(bench, 116.0, 0.28, **delays)
    assert not goes_to(bench, 116.0, 0.04, **delays)
    assert not goes_to(bench, 111.0, 2.0, **delays)
    assert goes_to(bench, 109.0, 1.0, **delays)
    assert goes_to(bench, 80.0, 29.0, **delays)
    assert not goes_to(bench, 80.0, 2.0, **delays)
