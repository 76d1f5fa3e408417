"""A motor with a short in one winding: what it is seen to do while it still turns, and how hot it gets."""

import pytest

from tests.core.circuits import Bench, with_params
from wiretrace.catalogue.machinery.status import tells
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.library import library_circuit

LINES = ("p1-motor", "p2-motor", "p3-motor")


def running(**overload: float) -> Bench:
    bench = Bench(with_params(library_circuit("start-stop-overload-line"), {"overload": overload}))
    bench.do("start", "press", wait_s=0.3)
    bench.do("start", "press", False, wait_s=2.0)
    assert bench.frame.views["motor"].status == "turns_forward"
    return bench


@pytest.mark.parametrize("ohm", ["", " 0.5ohm", " 3ohm", " 10ohm", " 30ohm", " 100ohm"])
def test_a_short_in_a_winding_is_heard_while_the_motor_turns(ohm: str) -> None:
    bench = running()
    bench.fail(fault_from_text(bench.assembly.circuit, f"M1/U1=short{ohm}"))
    bench.wait(0.3)
    view = bench.frame.views["motor"]
    lines = [read_current(bench.assembly, bench.frame.point, [name]).current_a for name in LINES]
    assert max(lines) > 1.25 * min(lines)
    assert tells(view.status, "turns_forward")
    assert view.attention
    assert tells(view.status, "unbalanced") or tells(view.status, "draws_too_much")


def rise_k(bench: Bench) -> float:
    return next(one.value for one in bench.frame.views["motor"].figures if one.unit == "K")


def test_it_heats_several_times_as_fast_where_no_relay_trips() -> None:
    bench = running(dial_a=40.0)
    bench.fail(fault_from_text(bench.assembly.circuit, "M1/U1=short 10ohm"))
    bench.wait(60.0)
    sound = running(dial_a=40.0)
    sound.wait(60.0)
    assert rise_k(bench) > 4 * rise_k(sound) > 1.0


@pytest.mark.parametrize("percent", [98.0, 102.0])
def test_what_every_supply_has_of_unbalance_is_not_heard(percent: float) -> None:
    bench = Bench(with_params(library_circuit("start-stop-overload-line"), {"supply": {"l1_percent": percent}}))
    bench.do("start", "press", wait_s=2.0)
    assert bench.frame.views["motor"].status == "turns_forward"
