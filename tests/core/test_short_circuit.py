"""What a short circuit asks of breaker, cable and starter, and conductors in parallel: worked by hand."""

import math

import pytest

from tests.core.sheets import PUMP, sheet, shown
from wiretrace.sizing.ampacity import by_current, needed_a
from wiretrace.sizing.buying import to_buy
from wiretrace.sizing.cable import cable_laid
from wiretrace.sizing.conductors import fault_a
from wiretrace.sizing.line import Line
from wiretrace.sizing.worked import lines_of

LARGE = {
    "power": "160 kW",
    "voltage": "400",
    "current": "281 A",
    "locked_ratio": "7",
    "length": "20 m",
    "fault_current": "25 kA",
}


def told(fields: dict[str, str], **schools: str) -> dict[str, Line]:
    return {line.key: line for line in lines_of(sheet(fields, **schools))}


def test_above_125_amperes_a_breaker_has_releases_that_are_set() -> None:
    """kappa = 1.02 + 0.98 exp(-3 x 0.4 / 0.9165) = 1.2846; 1.2 x 1.2846 x 7 x 281 A = 3032 A."""
    found = told(LARGE)
    assert found["release"].value == pytest.approx(1.2 * 1.2846 * 1967, rel=1e-3)
    assert "thermal release is set to 281 A" in found["release"].choice
    assert "an adjustable breaker holds it" in found["breaker_rating"].choice
    bought = {item.title: item.shown for item in to_buy(sheet(LARGE), list(found.values()))}
    assert bought["Breaker"] == "400 A, adjustable, release at 3032 A"
    assert "release" not in told(PUMP)
    assert "release" not in told(LARGE, sizes="na")


def test_a_change_over_may_be_a_direct_start_once_more() -> None:
    star = told({**LARGE, "start": "star_delta"})
    assert star["release"].value == told(LARGE)["release"].value
    soft = told({**LARGE, "start": "soft_start", "start_limit": "3"})
    # 1.2 x 1.2846 x 3 x 281 A
    assert soft["release"].value == pytest.approx(1299, abs=1)


def test_a_release_above_the_least_fault_is_warned_of() -> None:
    weak = {**LARGE, "fault_current": "6 kA", "length": "200 m"}
    made = sheet(weak)
    laid = cable_laid(made)
    assert laid is not None
    least = fault_a(made, laid)[1]
    assert least < 1.2 * made.magnetic_a
    assert told(weak)["release"].warning.startswith("The least fault, ")
    assert told(LARGE)["release"].warning == ""


@pytest.mark.parametrize(
    ("fields", "practice", "shown_as", "says"),
    [
        # (115 x 2.5 / 6000)² = 2.296 ms; the fuse of 25 A melts with 3 kA²s, and 82.7 kA²s are withstood.
        (
            PUMP,
            {},
            ("2.3", "ms"),
            "hold its maker's figure for 6 kA against it. The fuse melts with 3 kA²s at most, less than",
        ),
        # Class 3, curve C, 16 to 32 A at 6 kA: 55 kA²s.
        (PUMP, {"curve": "C"}, ("2.3", "ms"), "one of class 3 lets through 55 kA²s at most."),
        # 1.5 mm² withstands 29.8 kA²s: less than class 3 may let through.
        ({**PUMP, "area": "1.5"}, {"curve": "C"}, ("0.827", "ms"), "hold its maker's figure"),
        # (143 x 16 / 6000)² = 0.1454 s; half a period is 360 kA²s, and 5.23 MA²s are withstood.
        (
            {**PUMP, "area": "16", "insulation": "XLPE"},
            {},
            ("145", "ms"),
            "half a period of the whole fault is 360 kA²s.",
        ),
        # (76 x 240 / 6000)² = 9.24 s
        ({**PUMP, "area": "240", "material": "aluminium"}, {}, ("9.24", "s"), "half a period"),
    ],
)
def test_how_long_a_cable_withstands_a_fault(
    fields: dict[str, str], practice: dict[str, str], shown_as: tuple[str, str], says: str
) -> None:
    line = told({**fields, "fault_current": "6 kA"}, **practice)["let_through"]
    assert (line.shown, line.unit) == shown_as
    assert says in line.choice


def test_a_fault_too_weak_for_the_breaker_is_warned_of() -> None:
    assert told({**PUMP, "fault_current": "0.2 kA"})["let_through"].warning.startswith("The breaker does not open")


@pytest.mark.parametrize(
    ("current", "ratio", "span", "opens"),
    # 13 x 16 = 208 A against 1.2846 x 7 x 14.5 = 130.4; 13 x 6.3 = 81.9 against 1.2846 x 12 x 6 = 92.5
    [("14.5", "7", "10 to 16", False), ("6", "12", "4 to 6.3", True)],
)
def test_a_manual_motor_starter_stands_in_its_range_and_holds_the_first_peak(
    current: str, ratio: str, span: str, opens: bool
) -> None:
    line = told({"power": "3 kW", "voltage": "400", "current": current, "locked_ratio": ratio})["manual_starter"]
    assert (line.shown, bool(line.warning)) == (span, opens)


def test_a_motor_starter_ends_at_100_amperes_and_starts_direct_alone() -> None:
    assert told(LARGE)["manual_starter"].shown == "none"
    assert "manual_starter" not in told({**PUMP, "start": "soft_start"})
    assert "manual_starter" not in told(PUMP, sizes="na")


def test_coordination_is_told_in_words() -> None:
    assert told(PUMP)["coordination"].shown == "type 1"
    assert told(PUMP, coordination="2")["coordination"].choice.startswith("Contactor and relay go on")


def test_where_no_conductor_is_large_enough_several_lie_in_parallel() -> None:
    """500 kW: 900 A. Three of 240 in conduit are three circuits: 3 x 346 x 0.87 x 0.7 = 632 A. Each more costs more."""
    made = sheet(
        {"power": "500 kW", "voltage": "400", "current": "900 A", "length": "5 m", "laying": "air", "ambient": "30"}
    )
    found = by_current(made, needed_a(made), 1)
    assert found is not None
    # Two of 300 in free air: 2 x 497 x 0.8 = 795; three of 185: 3 x 364 x 0.7 = 764, of 240: 903.
    assert (found.sets, found.area_mm2) == (3, 240)
    assert found.carries_a == pytest.approx(3 * 430 * 0.7)
    line = told(
        {"power": "500 kW", "voltage": "400", "current": "900", "length": "5", "laying": "air", "ambient": "30"}
    )
    assert line["cable"].shown == "3 × 240"
    assert "3 in parallel, of one length and make" in line["cable"].choice


def test_in_north_america_each_of_several_has_a_raceway_of_its_own() -> None:
    """500 hp at 460 V: 590 x 1.25 = 737.5 A. Two of 500 kcmil: 2 x 380 = 760."""
    made = sheet({"power": "500 hp", "voltage": "460", "current": "540", "ambient": "30", "length": "3 m"}, sizes="na")
    found = by_current(made, needed_a(made), 1)
    assert found is not None
    assert (found.sets, found.area_mm2, found.carries_a) == (2, 253.0, 760.0)
    assert (
        shown({"power": "500 hp", "voltage": "460", "current": "540", "ambient": "30", "length": "3 m"}, sizes="na")[
            "cable_current"
        ]
        == "2 × 500 kcmil"
    )


def test_the_drop_along_two_in_parallel_is_half() -> None:
    one = sheet({**LARGE, "area": "120", "sets": "1"})
    two = sheet({**LARGE, "area": "120", "sets": "2"})
    single, both = (
        told({**LARGE, "area": "120"})["drop_running"],
        told({**LARGE, "area": "120", "sets": "2"})["drop_running"],
    )
    assert both.value == pytest.approx((single.value or 0) / 2)
    first, second = cable_laid(one), cable_laid(two)
    assert first is not None
    assert second is not None
    # 2 x 239 x 0.87 x 0.8 against 239 x 0.87
    assert second.carries_a / first.carries_a == pytest.approx(1.6)
    assert fault_a(two, second)[0] > fault_a(one, first)[0]


def test_a_conductor_that_does_not_fit_its_series_carries_nothing() -> None:
    tiny = told({**PUMP, "area": "0.75"})["cable"]
    assert tiny.warning == "0.75 mm² carries too little."
    hot = told({**PUMP, "ambient": "65"})
    assert hot["cable_current"].shown == "none"
    assert told({**PUMP, "ambient": "65", "insulation": "XLPE"})["cable_current"].shown != "none"


def test_the_peak_of_a_start_is_that_of_the_standard() -> None:
    """IEC 60909-0, equation 57, R/X of a locked rotor at a power factor of 0.4: 0.4364."""
    line = told(LARGE)["release"]
    peak = next(factor.value for factor in line.factors if factor.name == "the first peak")
    assert peak == pytest.approx(1.02 + 0.98 * math.exp(-3 * 0.43644), abs=1e-4)
