"""Circuits made by rules do what their pattern says, for every combination of choices."""

from collections import Counter
from itertools import product

import pytest

from tests.core.circuits import Bench
from wiretrace.checks.check import check
from wiretrace.document.circuit import Circuit
from wiretrace.patterns.choices import Choices, ControlSupply, Mains, OverloadSide, Pattern
from wiretrace.patterns.make import make

COMBINATIONS = [
    Choices(pattern=p, control=c, overload=o, stations=s, lamps=x, emergency_stop=x, phase_monitor=not x)
    for p, c, o, s, x in product(Pattern, ControlSupply, OverloadSide, (1, 3), (True, False))
] + [
    Choices(pattern=p, control=c, mains=Mains.AMERICAN, phase_monitor=True) for p, c in product(Pattern, ControlSupply)
]


def named(choices: Choices) -> str:
    rest = f"{choices.overload[:4]}-{choices.stations}-{choices.lamps}-{choices.mains[:3]}"
    return f"{choices.pattern}-{choices.control[:5]}-{rest}"


def made(choices: Choices) -> Circuit:
    return make("Made by rules", choices)


@pytest.mark.parametrize("choices", COMBINATIONS, ids=named)
def test_every_combination_passes_the_check_and_has_two_wires_a_terminal(choices: Choices) -> None:
    circuit = made(choices)
    found = {result.rule for result in check(circuit) if result.findings}
    by_itself = choices.pattern in (Pattern.TWO_WIRE, Pattern.HAND_OFF_AUTO)
    assert found == ({"automatic_restart"} if by_itself else set())
    ends = Counter((e.device, e.terminal) for wire in circuit.conductors for e in (wire.a, wire.b))
    assert max(ends.values()) <= 2
    assert circuit.sheets


@pytest.mark.parametrize("choices", COMBINATIONS, ids=named)
def test_every_combination_runs_and_stops(choices: Choices) -> None:
    bench = Bench(made(choices))
    bench.wait(2.0)
    last = f"-{choices.stations}" if f"s1-{choices.stations}" in bench.assembly.devices else ""
    if choices.pattern is Pattern.TWO_WIRE:
        bench.do("b1", "raise", wait_s=2.0)
    else:
        if choices.pattern is Pattern.HAND_OFF_AUTO:
            bench.do("s3", "hand")
        bench.do(f"s1{last}", "press")
        bench.do(f"s1{last}", "press", False, wait_s=2.0)
    assert bench.says("k1") == "in"
    assert bench.says("m1") == "turns forward"
    if choices.lamps:
        assert bench.says("h1") == "lit"
    bench.do("f2", "trip", wait_s=0.2)
    assert bench.says("k1") == "out"
    if choices.lamps:
        assert bench.says("h3") == "lit"
    bench.do("f2", "reset", wait_s=1.0)
    assert (bench.says("k1") == "in") == (choices.pattern is Pattern.TWO_WIRE)


def test_every_station_can_start_and_stop() -> None:
    choices = Choices(pattern=Pattern.START_STOP, stations=4, emergency_stop=True)
    for station in range(1, 5):
        bench = Bench(made(choices))
        bench.do(f"s1-{station}", "press")
        bench.do(f"s1-{station}", "press", False)
        assert bench.says("k1") == "in"
        bench.do(f"s0-{5 - station}", "press")
        assert bench.says("k1") == "out"
    bench.do(f"s0-{5 - station}", "press", False)
    bench.do("s1-1", "press")
    bench.do("s9", "strike")
    assert bench.says("k1") == "out"


def test_reversing_turns_both_ways_and_star_delta_goes_over() -> None:
    bench = Bench(made(Choices(pattern=Pattern.REVERSING)))
    bench.do("s2", "press", wait_s=2.0)
    assert bench.says("m1") == "turns backward"
    star = Bench(made(Choices(pattern=Pattern.STAR_DELTA, control=ControlSupply.TRANSFORMER)))
    star.do("s1", "press", wait_s=1.0)
    assert (star.says("k2"), star.says("k3")) == ("in", "out")
    star.do("s1", "press", False, wait_s=6.0)
    assert (star.says("k2"), star.says("k3")) == ("out", "in")


def test_jogging_does_not_seal() -> None:
    bench = Bench(made(Choices(pattern=Pattern.JOG)))
    bench.do("s2", "press")
    assert bench.says("k1") == "in"
    bench.do("s2", "press", False)
    assert bench.says("k1") == "out"


def test_the_phase_monitor_stops_it() -> None:
    bench = Bench(made(Choices(pattern=Pattern.START_STOP, phase_monitor=True)))
    bench.wait(1.0)
    bench.do("s1", "press")
    bench.do("s1", "press", False)
    assert bench.says("k1") == "in"
    bench.fail("G1/L3=open")
    bench.wait(3.0)
    assert bench.says("k1") == "out"
