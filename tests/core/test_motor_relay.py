"""The electronic motor relay: its memory of heat, and what flows to earth."""

import math

import pytest

from tests.core.circuits import Bench
from wiretrace.library import library_circuit


def test_the_protection_relay_remembers_heat_without_current() -> None:
    """It cools with four times the time constant of its class, 1005 s for class 10."""
    made = Bench(library_circuit("motor-protection-relay"))
    made.do("start", "press", wait_s=4.0)
    made.do("start", "press", False, wait_s=600.0)
    warm = float(made.state.devices["relay"]["heat_1"])
    made.do("stop", "press", wait_s=0.5)
    made.do("stop", "press", False, wait_s=500.0)
    left = float(made.state.devices["relay"]["heat_1"])
    assert warm > 0.3
    assert left / warm == pytest.approx(math.exp(-500 / 1004), rel=0.02)


def test_the_protection_relay_sees_what_flows_to_earth_where_nothing_else_is_wrong() -> None:
    """60 ohm from a winding to earth on 231 V: 3.8 A, a quarter of the 15.5 A of the dial; set to 20 %, 0.5 s."""
    made = Bench(library_circuit("motor-protection-relay"))
    made.do("start", "press", wait_s=4.0)
    made.do("start", "press", False, wait_s=2.0)
    assert made.says("relay") == "ready"
    made.fail("M1:U1=to M1:PE 60ohm")
    made.wait(0.45)
    assert made.says("relay") == "ready"
    made.wait(0.1)
    assert made.says("relay") == "tripped: E6 earth fault"
    weak = Bench(library_circuit("motor-protection-relay"))
    weak.do("start", "press", wait_s=4.0)
    weak.fail("M1:U1=to M1:PE 90ohm")
    weak.wait(5.0)
    assert weak.says("relay") == "ready"
