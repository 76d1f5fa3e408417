"""Sizing: worked examples by hand, slips that are recognised, schools, the simulation beside it, and bad input."""

import math

import pytest

from tests.core.sheets import PUMP, sheet, shown
from wiretrace.library import library_circuit
from wiretrace.sizing.ampacity import AMBIENT, step
from wiretrace.sizing.cable import drop_v
from wiretrace.sizing.carry import carried
from wiretrace.sizing.conductors import derating, source_ohm
from wiretrace.sizing.curves import (
    start_of,
    trips_on_start,
)
from wiretrace.sizing.line import figure
from wiretrace.sizing.own import Verdict, check
from wiretrace.sizing.schools import QUESTIONS
from wiretrace.sizing.series import next_up
from wiretrace.sizing.worked import beside, lines_of

# Each worked by hand, with a pocket calculator, to the digit that is printed.
IEC: list[tuple[dict[str, str], dict[str, str], dict[str, str]]] = [
    (
        PUMP,
        {},
        {
            # 7500 / (1.7321 x 400 x 0.84 x 0.901) = 7500 / 524.36 = 14.303
            "calculated": "14.3",
            # 1.7321 x 400 x 14.5 x 0.84 / 1000 = 8.4386
            "input": "8.44",
            # 14.5 / 1.7321 = 8.3716
            "winding_a": "8.37",
            # 7 x 14.5
            "locked": "102",
            "dial": "14.5",
            "range": "12 to 18",
            # 1.25 x 14.5 = 18.125
            "breaker_wanted": "18.1",
            "breaker_rating": "20",
            # 1.6 x 14.5
            "fuse_wanted": "23.2",
            "fuse_rating": "25",
            "contactor_line": "16",
            "ct": "20/5",
            # 21 A x 0.87 = 18.3 A for 2.5 mm2 in conduit at 40 degC; 15.5 x 0.87 = 13.5 A is too little.
            "cable_current": "2.5",
            # 1.7321 x 30 x 14.5 x (0.0225/2.5 x 0.84 + 0.00008 x 0.5426) = 5.728 V of 400
            "drop_running": "1.43",
        },
    ),
    (
        {"power": "22 kW", "voltage": "400", "power_factor": "0,85", "efficiency": "93", "start": "star_delta"},
        {},
        {
            # 22000 / (1.7321 x 400 x 0.85 x 0.93) = 22000 / 547.68 = 40.170
            "calculated": "40.2",
            # 7 x 40.17 = 281.19, a third of it 93.73
            "locked": "281",
            "star_start": "93.7",
            # 40.17 / 1.7321 = 23.192
            "dial": "23.2",
            "range": "23 to 32",
            # 1.25 x 40.17 = 50.21
            "breaker_wanted": "50.2",
            "breaker_rating": "63",
            # 0.5774 x 40.17 = 23.19; a third 13.39
            "contactor_line_wanted": "23.2",
            "contactor_line": "25",
            "contactor_delta": "25",
            "contactor_star_wanted": "13.4",
            "contactor_star": "16",
        },
    ),
    (
        {"power": "4 kW", "voltage": "400", "current": "8.2", "v12": "400", "v23": "392", "v31": "408"},
        {"dial": "cautious", "breaker_multiple": "150", "contactor_multiple": "150"},
        {
            # 0.85 x 8.2
            "dial": "6.97",
            "range": "5.5 to 8",
            # 1.5 x 8.2
            "breaker_wanted": "12.3",
            "breaker_rating": "13",
            "contactor_line": "16",
            # mean 400, largest deviation 8
            "unbalance": "2",
            "derating": "95",
        },
    ),
]
AMERICAN: list[tuple[dict[str, str], dict[str, str], dict[str, str]]] = [
    (
        {
            "power": "10 hp",
            "voltage": "460",
            "current": "14",
            "frequency": "60",
            "code_letter": "G",
            "service_factor": "1.15",
        },
        {"dial": "service", "breaker_multiple": "250"},
        {
            # 6.29 kVA x 10 hp = 62.9 kVA; / (1.7321 x 460) = 78.95 A
            "locked": "78.9",
            # 1.25 x 14
            "dial": "17.5",
            # 1.25 x 14 = 17.5 A: 20 A x 0.88 = 17.6 A at 40 degC is enough.
            "cable_current": "12 AWG",
            # 2.5 x 14 = 35, which is a size
            "breaker_rating": "35",
            # 1.75 x 14 = 24.5
            "fuse_wanted": "24.5",
            "fuse_rating": "25",
            # Size 1 by its horsepower: size 0 ends at 5 hp.
            "contactor_line": "27",
        },
    ),
    (
        {"power": "7 1/2 hp", "voltage": "230", "current": "22", "frequency": "60"},
        {"dial": "service", "breaker_multiple": "250"},
        {
            # Without a service factor of 1.15: 1.15 x 22
            "dial": "25.3",
            # 2.5 x 22
            "breaker_wanted": "55",
            "breaker_rating": "60",
            "contactor_line": "27",
            # 7.5 x 0.746
            "input": figure(math.sqrt(3) * 230 * 22 * 0.8202 / 1000),
        },
    ),
    (
        {
            "power": "40 hp",
            "voltage": "460",
            "current": "52",
            "frequency": "60",
            "code_letter": "F",
            "service_factor": "1,15",
        },
        {"dial": "service", "breaker_multiple": "250", "trip_class": "NEMA 20"},
        {
            # 5.59 x 40 = 223.6 kVA / (1.7321 x 460) = 280.6
            "locked": "281",
            "dial": "65",
            "breaker_wanted": "130",
            "breaker_rating": "150",
            "contactor_line": "90",
        },
    ),
]


@pytest.mark.parametrize(("fields", "schools", "expected"), IEC)
def test_worked_examples_of_iec_practice(
    fields: dict[str, str], schools: dict[str, str], expected: dict[str, str]
) -> None:
    found = shown(fields, **schools)
    assert {key: found[key] for key in expected} == expected


@pytest.mark.parametrize(("fields", "schools", "expected"), AMERICAN)
def test_worked_examples_of_american_practice(
    fields: dict[str, str], schools: dict[str, str], expected: dict[str, str]
) -> None:
    found = shown(fields, sizes="na", **schools)
    assert {key: found[key] for key in expected} == expected


def verdict(key: str, own: float, fields: dict[str, str] = PUMP, others: dict[str, float] | None = None) -> Verdict:
    made = sheet(fields)
    lines = lines_of(made)
    return check(made, lines, next(line for line in lines if line.key == key), own, others or {})


@pytest.mark.parametrize(
    ("key", "own", "kind", "words"),
    [
        ("calculated", 14.3, "right", "Right."),
        ("calculated", 14.0, "rounded", "Right but for rounding"),
        # 7500 / (400 x 0.84 x 0.901) = 24.77
        ("calculated", 24.8, "slip", "Root 3 was left out"),
        # 14.303 / 1.7321 = 8.258
        ("calculated", 8.26, "slip", "Root 3 was used twice"),
        # 14.303 x 0.84 = 12.01, x 0.901 = 12.89
        ("calculated", 12.0, "slip", "The power factor was left out"),
        ("calculated", 12.9, "slip", "The efficiency was left out"),
        # x 0.84 x 0.901 = 10.83
        ("calculated", 10.8, "slip", "The power factor and the efficiency were left out"),
        # 14.303 / 0.746 = 19.17
        ("calculated", 19.2, "slip", "Horsepower were put in for kilowatts"),
        ("calculated", 0.0143, "slip", "The 1000 from kilowatts to watts was left out"),
        ("calculated", 143.0, "slip", "The decimal point"),
        ("calculated", 13.4, "slip", "Two digits changed places"),
        ("calculated", 17.9, "wrong", "A slip in the arithmetic itself: 1000 × 7.5"),
        # Line for winding current.
        ("winding_a", 14.5, "slip", "Root 3 was left out"),
        ("winding_a", 25.1, "slip", "Root 3 was multiplied by, not the other way"),
        ("dial", 12.3, "slip", "The rule “85 % of it” was followed"),
        ("breaker_rating", 16, "slip", "The next size down was taken"),
        ("breaker_rating", 25, "slip", "One size too large"),
        ("breaker_rating", 21, "wrong", "21 A is no standard size."),
        ("breaker_wanted", 21.8, "slip", "1.5 was taken for the multiple"),
        ("contactor_line", 12, "slip", "The next size down was taken"),
        ("locked", 14.5, "slip", "The locked-rotor ratio was left out"),
    ],
)
def test_slips_are_named_by_the_step(key: str, own: float, kind: str, words: str) -> None:
    found = verdict(key, own)
    assert (found.kind, words in found.says) == (kind, True), found


def test_what_a_slip_costs_is_what_the_models_say() -> None:
    # A dial of 2 A: the relay is far over its trip heat within the start.
    low = verdict("dial", 2.0)
    trips = trips_on_start("10", 2.0, start_of(sheet(PUMP).plate))
    assert trips is not None
    assert low.cost == f"The relay trips {figure(trips)} s into a healthy start."
    assert verdict("dial", 12.3).cost.startswith("The relay trips a fully loaded motor after ")
    # 1.2 x 25.1 / 14.5 = 208 %
    assert verdict("dial", 25.1).cost == "The relay does not protect below 208 %."
    assert verdict("contactor_line", 12).cost.startswith("Too small for its category")
    assert verdict("breaker_rating", 6).cost.startswith("Opens ")
    assert verdict("cable", 1.5).cost.startswith("Too thin")


def test_a_figure_that_follows_from_a_wrong_one_is_carried_and_not_counted_twice() -> None:
    others = {"full_load": 25.1, "breaker_wanted": 31.4}
    assert verdict("breaker_wanted", 31.4, others=others).kind == "carried"
    assert verdict("breaker_rating", 32, others=others).says == (
        "Right for your own figure of “breaker, before the next size”, which is wrong."
    )


def test_schools_stand_beside_each_other_with_what_they_mean() -> None:
    found = {(one.question, one.name): one for one in beside(sheet(PUMP))}
    assert set(found) == {
        (q, n)
        for q in ("dial", "trip_class", "breaker_multiple", "curve", "contactor_multiple")
        for n in QUESTIONS[q].rules
    }
    assert found["dial", "cautious"].result == "12.3 A"
    assert "trips at full load" in found["dial", "cautious"].means
    # 1.2 x 1.15 = 138 %
    assert "protects above 138 %" in found["dial", "service"].means
    assert found["breaker_multiple", "250"].result == "40 A"


def test_formulas_by_hand() -> None:
    made = sheet(PUMP)
    # 100 m of 10 mm2 at 50 A, cos 0.8: 1.7321 x 100 x 50 x (0.00225 x 0.8 + 0.00008 x 0.6) = 16.00 V
    plate = sheet({**PUMP, "length": "100"}).plate
    assert drop_v(plate, 10, 50, 0.8) == pytest.approx(16.004, abs=0.005)
    # Beyond the end of the table no conductor may lie.
    assert [step(AMBIENT["PVC"], c) for c in (25, 30, 31, 40, 61)] == [1.0, 1.0, 0.94, 0.87, 0.0]
    assert [derating(p) for p in (0.5, 2, 2.5, 5, 6)] == pytest.approx([1.0, 0.95, 0.915, 0.75, 0.0])
    # 400 / (1.7321 x 6000) = 0.03849 ohm
    assert abs(source_ohm(made.plate)) == pytest.approx(0.03849, abs=1e-5)
    assert next_up(((10.0,), (13.0,)), 10.0) == 10.0
    assert next_up(((10.0,),), 10.5) is None


def test_the_control_transformer_by_sealed_and_inrush() -> None:
    found = shown({**PUMP, "coil_sealed": "24 VA", "coil_inrush": "160 VA"})
    # 0.8 x 184 = 147.2
    assert found["transformer_rating"] == "160"


BIG = {"power": "22 kW", "voltage": "400", "power_factor": "0,85", "efficiency": "93", "start": "star_delta"}
"""40.17 A in the line, 23.19 A in each winding's line; the relay stands in the latter."""


def test_a_dial_behind_the_line_contactor_is_held_against_the_line_by_root_3() -> None:
    found = shown({**BIG, "dial": "26", "length": "30"})
    # 26 x 1.7321 = 45.03 A in the line: 45.03 / 40.17 = 1.121
    told = {line.key: line for line in lines_of(sheet({**BIG, "dial": "26", "length": "30"}))}
    assert told["dial_set"].choice == "+12 % of the full-load current."
    # 1.2 x 45.03 = 54.04; 1.3 x 63 = 81.9
    assert found["band"] == "54 to 81.9"
    # 10 mm2 carries 50 x 0.87 = 43.5 A, too little for 45.03; 16 mm2 68 x 0.87 = 59.2.
    assert (found["cable_current"], shown({**BIG, "length": "30"})["cable_current"]) == ("16", "10")


def test_starts_an_hour_by_the_heat_that_they_come_to() -> None:
    # In star-delta r = 1, s = 93.73 / 23.19 = 4.0415: 3600/6 x (1.3225 - 1) / (16.334 - 1) = 600 x 0.021032 = 12.6
    assert shown({**BIG, "start_time": "6"})["starts"] == "12"
    # Direct r = 1, s = 7: 3600/3 x 0.3225 / 48 = 8.06
    assert shown({**PUMP, "start_time": "3"})["starts"] == "8"


def test_what_a_wrong_full_load_current_costs_is_told_of_the_line() -> None:
    made = sheet(BIG)
    lines = list(lines_of(made))
    line = next(one for one in lines if one.key == "full_load")
    # 50 A put down for 40.17: the dial goes to 28.87 A, which is 50 A in the line; 1.2 x 50 / 40.17 = 149 %
    assert check(made, lines, line, 50.0, {}).cost == "The relay does not protect below 149 %."


@pytest.mark.parametrize(
    ("name", "dial"),
    [
        # In the line 26 x 1.7321 = 45.03; behind the line contactor as it is set.
        ("star-delta-timer-first-closure", 45.03),
        ("star-delta-winding-overload", 26.0),
    ],
)
def test_a_dial_goes_into_a_circuit_by_where_the_relay_stands(name: str, dial: float) -> None:
    found = carried(sheet({**BIG, "dial": "26"}), library_circuit(name)).proposals
    assert {one.name: one.then for one in found if one.device == "overload"}["dial_a"] == dial
