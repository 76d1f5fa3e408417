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
    delays = {"loss_delay_s": 2.0, "sequence_delay_s": 1.0, "voltage_delay_s": 9.0, "unbalance_delay_s": 9.0}
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
