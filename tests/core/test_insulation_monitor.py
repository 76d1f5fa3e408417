"""The insulation monitor: what leads to earth from an unearthed circuit, whatever voltage that has itself."""

import pytest

from tests.core.circuits import device
from tests.core.test_protection_relays import bench, resistance


@pytest.mark.parametrize(("kilohm", "low"), [(10.0, True), (60.0, False)])
def test_an_insulation_monitor_measures_what_leads_to_earth(kilohm: float, low: bool) -> None:
    """By itself it knows no alternating voltage: 20 V behind 120 kohm."""
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("k5", "insulation_monitor"),
            device("x1", "terminal"),
            resistance("r1", 1000 * kilohm),
        ],
        ("g1:L", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("g1:PE", "k5:E"),
        ("k5:L", "x1:a"),
        ("x1:b", "r1:X1"),
        ("r1:X2", "g1:PE"),
    )
    made.wait(1.5)
    insulation, own = made.frame.views["k5"].figures
    assert (insulation.value, own.value) == pytest.approx((kilohm, 0.0), rel=1e-3, abs=1e-6)
    assert made.frame.views["k5"].active is not low


@pytest.mark.parametrize("kilohm", [0.001, 1.0, 40.0, 200.0])
@pytest.mark.parametrize("pole", ["+", "-"])
@pytest.mark.parametrize("joined", ["+", "-"])
def test_an_insulation_monitor_is_not_misled_by_the_circuits_own_voltage(joined: str, pole: str, kilohm: float) -> None:
    """An unearthed battery of 24 V: the pole that the monitor is not joined to has a fault too."""
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("g2", "supply_dc", voltage_v=24.0, negative_earthed=False),
            device("k5", "insulation_monitor"),
            resistance("r1", 1000 * kilohm),
        ],
        ("g1:L", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("g1:PE", "k5:E"),
        (f"g2:L{joined}", "k5:L"),
        (f"g2:L{pole}", "r1:X1"),
        ("r1:X2", "g1:PE"),
    )
    made.wait(2.0)
    insulation, own = made.frame.views["k5"].figures
    assert insulation.value == pytest.approx(kilohm, rel=2e-3, abs=0.02)
    away = 0.0 if pole == joined else 24.0 if joined == "+" else -24.0
    assert own.value == pytest.approx(away, rel=2e-3, abs=0.01)
    assert made.says("k5") == ("tripped: insulation low" if kilohm < 50 else "ready")


def test_an_insulation_monitor_measures_both_ways_and_then_rests() -> None:
    made = bench(
        [device("g1", "supply_single_phase"), device("k5", "insulation_monitor")],
        ("g1:L", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("g1:PE", "k5:E"),
    )
    made.wait(2.0)
    state = made.frame.state.devices["k5"]
    assert (state["plus"], state["minus"], state["turns_at_us"]) == (True, True, None)
