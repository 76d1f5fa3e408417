"""Residual-current devices: what does not come back trips them, in their time, and what they cannot see does not."""

import pytest

from tests.core.circuits import Bench, device
from tests.core.test_protection_relays import bench, resistance

DEVICE = "residual_current_device"


def lamp_behind(kind: str = DEVICE, leak_ohm: float = 1e6, **params: object) -> Bench:
    """A lamp of 529 ohm behind it, and a leak from the live side of the lamp to earth, switched on by S1."""
    return bench(
        [
            device("g1", "supply_single_phase"),
            device("f1", kind, **params),  # type: ignore[arg-type]
            device("h1", "lamp", rated_power_w=100.0),
            device("s1", "selector_two"),
            resistance("r1", leak_ohm),
        ],
        ("g1:L", "f1:1"),
        ("g1:N", "f1:3"),
        ("f1:2", "h1:X1"),
        ("h1:X2", "f1:4"),
        ("f1:2", "s1:13"),
        ("s1:14", "r1:X1"),
        ("r1:X2", "g1:PE"),
    )


def residual_a(made: Bench) -> float:
    return made.frame.views["f1"].figures[-1].value


@pytest.mark.parametrize("kind", [DEVICE, "residual_current_breaker"])
def test_what_the_load_takes_does_not_trip_it(kind: str) -> None:
    made = lamp_behind(kind)
    made.wait(10.0)
    assert made.says("f1") == "on"
    assert residual_a(made) == pytest.approx(0.0, abs=1e-6)


@pytest.mark.parametrize("kind", [DEVICE, "residual_current_breaker"])
@pytest.mark.parametrize(
    ("milliamperes", "rated", "within_s"),
    [
        (14.0, 30, None),
        (31.0, 30, 0.3),
        (61.0, 30, 0.15),
        (155.0, 30, 0.04),
        (48.0, 100, None),
        (310.0, 300, 0.3),
        (1600.0, 300, 0.04),
    ],
)
def test_it_trips_at_its_rated_residual_current_and_not_at_half(
    kind: str, milliamperes: float, rated: int, within_s: float | None
) -> None:
    """IEC 61008-1, 5.3.4 and table 1; the leak by Ohm's law from 230 V behind 0.1 ohm."""
    made = lamp_behind(kind, 230 / milliamperes * 1000, residual_ma=rated)
    made.do("s1", "turn", wait_s=0.005)
    made.wait(0.005)
    assert residual_a(made) == pytest.approx(milliamperes / 1000, rel=2e-3)
    made.wait(within_s if within_s is not None else 5.0)
    assert made.says("f1") == ("on" if within_s is None else "tripped")


@pytest.mark.parametrize(
    ("milliamperes", "not_before_s", "within_s"), [(31.0, 0.13, 0.5), (61.0, 0.06, 0.2), (155.0, 0.05, 0.15)]
)
def test_type_s_waits_for_those_behind_it(milliamperes: float, not_before_s: float, within_s: float) -> None:
    made = lamp_behind(leak_ohm=230 / milliamperes * 1000, selective=True)
    made.do("s1", "turn", wait_s=not_before_s)
    assert made.says("f1") == "on"
    made.wait(within_s - not_before_s)
    assert made.says("f1") == "tripped"


@pytest.mark.parametrize(("kind", "poles"), [(DEVICE, 2), (DEVICE, 4), ("residual_current_breaker", 2)])
def test_its_button_lets_twice_the_rated_current_past_its_window(kind: str, poles: int) -> None:
    neutral = ("3", "4") if poles == 2 else ("7", "8")
    made = bench(
        [device("g1", "supply_single_phase"), device("f1", kind, poles=poles), device("h1", "lamp")],
        ("g1:L", "f1:1"),
        ("g1:N", f"f1:{neutral[0]}"),
        ("f1:2", "h1:X1"),
        ("h1:X2", f"f1:{neutral[1]}"),
    )
    made.do("f1", "test", wait_s=0.02)
    assert residual_a(made) == pytest.approx(0.06, rel=2e-3)
    made.wait(0.2)
    assert made.says("f1") == "tripped"
    assert made.says("h1") == "dark"
    made.do("f1", "test", False)
    # From tripped to off, and on: then its lamp is lit again.
    made.do("f1", "switch", False)
    made.do("f1", "switch", True)
    assert made.says("h1") == "lit"


def test_its_button_does_nothing_without_the_neutral_that_it_takes() -> None:
    made = bench(
        [device("g1", "supply_single_phase"), device("f1", DEVICE, poles=4), device("h1", "lamp")],
        ("g1:L", "f1:1"),
        ("g1:N", "f1:5"),
        ("f1:2", "h1:X1"),
        ("h1:X2", "f1:6"),
    )
    made.do("f1", "test", wait_s=1.0)
    assert made.says("f1") == "on"


def test_a_neutral_that_goes_round_it_trips_it() -> None:
    made = bench(
        [device("g1", "supply_single_phase"), device("f1", DEVICE), device("h1", "lamp", rated_power_w=100.0)],
        ("g1:L", "f1:1"),
        ("g1:N", "f1:3"),
        ("f1:2", "h1:X1"),
        ("h1:X2", "g1:N"),
    )
    made.wait(0.5)
    assert made.says("f1") == "tripped"


@pytest.mark.parametrize(
    ("kind", "milliamperes", "trips"), [("AC", 60, False), ("A", 60, False), ("B", 60, True), ("B", 20, False)]
)
def test_smooth_direct_current_is_seen_by_type_b_alone(kind: str, milliamperes: float, trips: bool) -> None:
    made = bench(
        [
            device("g1", "supply_dc", voltage_v=240.0),
            device("f1", DEVICE, residual_type=kind),
            resistance("r1", 240 / milliamperes * 1000),
        ],
        ("g1:L+", "f1:1"),
        ("g1:L-", "f1:3"),
        ("f1:2", "r1:X1"),
        ("r1:X2", "g1:PE"),
    )
    made.wait(1.0)
    assert made.says("f1") == ("tripped" if trips else "on")


@pytest.mark.parametrize(("kind", "trips"), [("AC", False), ("A", False), ("B", True)])
def test_direct_current_besides_blinds_it_to_an_earth_fault(kind: str, trips: bool) -> None:
    """10 mA direct and 9 mA alternating above its threshold: no more than the direct current by itself pulsates."""
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("g2", "supply_dc", voltage_v=240.0),
            device("f1", DEVICE, residual_type=kind, residual_ma=10),
            resistance("r1", 230 / 0.02),
            resistance("r2", 240 / 0.03),
        ],
        ("g1:L", "f1:1"),
        ("g2:L+", "f1:3"),
        ("f1:2", "r1:X1"),
        ("r1:X2", "g1:PE"),
        ("f1:4", "r2:X1"),
        ("r2:X2", "g2:PE"),
    )
    made.wait(1.0)
    assert made.says("f1") == ("tripped" if trips else "on")


def test_the_breaker_trips_on_a_short_circuit_too_and_keeps_its_residual_release() -> None:
    made = lamp_behind("residual_current_breaker")
    made.fail("H1:X1=to H1:X2")
    made.wait(0.1)
    assert made.says("f1") == "tripped"
    made.fail()
    made.do("f1", "switch", False)
    made.do("f1", "switch", True)
    assert made.says("f1") == "on"
    made.do("f1", "test", wait_s=0.3)
    assert made.says("f1") == "tripped"
