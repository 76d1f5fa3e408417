"""What stands beside a figure of the sheet, and its edges: each worked out by hand."""

import pytest

from tests.core.sheets import PUMP, sheet
from tests.core.test_sizing import BIG
from wiretrace.sizing.buying import to_buy
from wiretrace.sizing.line import Line
from wiretrace.sizing.schools import QUESTIONS, chosen_rules
from wiretrace.sizing.worked import lines_of

HUGE = {**PUMP, "power": "500 kW", "current": "900"}


def told(fields: dict[str, str], **schools: str) -> dict[str, Line]:
    return {line.key: line for line in lines_of(sheet(fields, **schools))}


@pytest.mark.parametrize(
    ("fields", "most", "heat", "warning"),
    [
        # 90 s at 7 dials, the rest at one: (90 x 49 + 3510) / 3600 = 2.2; 1200 x 0.3225 / 48 = 8.06
        ({**PUMP, "start_time": "3", "starts": "30"}, 8, "2.2", "So many starts trip it."),
        # At the edge it is still carried: (24 x 49 + 3576) / 3600 = 1.32.
        ({**PUMP, "start_time": "3", "starts": "8"}, 8, "1.32", ""),
        # A dial of 25 A: s = 93.73 / 25 = 3.7492, r = 23.192 / 25 = 0.92768.
        # (120 x 14.056 + 3480 x 0.86059) / 3600 = 1.3004; 600 x (1.3225 - 0.86059) / (14.056 - 0.86059) = 21.003
        ({**BIG, "dial": "25", "start_time": "6", "starts": "20"}, 21, "1.3", ""),
        # A start below what trips: no more than follow each other, 3600 / 6.
        # (600 x 0.87852 + 3000 x 0.053787) / 3600 = 0.1912
        ({**BIG, "dial": "100", "start_time": "6", "starts": "100"}, 600, "0.191", ""),
        # Starting without a rest: 3600 s at 7 dials, and one second at one: (3600 x 49 + 1) / 3601 = 48.99
        ({**PUMP, "start_time": "30", "starts": "120"}, 0, "49", "So many starts trip it."),
    ],
)
def test_starts_an_hour_and_what_those_of_the_plate_come_to(
    fields: dict[str, str], most: int, heat: str, warning: str
) -> None:
    line = told(fields)["starts"]
    assert (line.value, line.warning) == (most, warning)
    assert f"the relay comes to heat {heat}; it trips at 1.32." in line.choice


def test_what_stands_beside_the_dial() -> None:
    found = told(BIG)
    # 23.192 x 1.7321 = 40.17
    assert found["dial"].choice.endswith("one that stands in the line is set to 40.2 A.")
    assert found["dial"].choice.startswith(QUESTIONS["dial"].rules["nameplate"].reason)
    assert (found["dial"].formula, told(PUMP)["dial"].formula) == ("I_dial = rule × I / √3", "I_dial = rule × I")
    # 14.5 less and more a fifth
    assert "a common window is 11.6 to 17.4 A" in told(PUMP)["range"].choice
    # 20.3 A for 14.5: 40 per cent too much
    assert told({**PUMP, "dial": "20.3"})["dial_set"].choice == "+40 % of the full-load current."
    # 1.5 x 14.5 = 21.75
    assert told(PUMP)["trip_1.5"].choice == "At 21.8 A."
    # 1.2 x 23.192 behind the line contactor is 1.2 x 40.17 in the line; 1.3 x 63
    assert (found["band"].put_in, found["band"].shown) == ("1.2 × 40.2, 1.3 × 63", "48.2 to 81.9")


def test_the_service_factor_is_told_of_the_dial_alone_that_goes_by_it() -> None:
    plate = {**PUMP, "service_factor": "1.15"}
    by_it = told(plate, dial="service")["dial"].choice
    assert by_it != QUESTIONS["dial"].rules["service"].reason
    assert by_it.startswith(QUESTIONS["dial"].rules["service"].reason)
    assert told(plate, dial="nameplate")["dial"].choice == QUESTIONS["dial"].rules["nameplate"].reason


@pytest.mark.parametrize(("power", "shown"), [("0,37 kW", "by some codes"), ("0,38 kW", "yes")])
def test_above_which_power_an_overload_relay_is_asked_for(power: str, shown: str) -> None:
    assert told({"power": power, "voltage": "400", "current": "1.1"})["needed"].shown == shown


def test_a_series_that_ends_says_where() -> None:
    found = told(HUGE)
    assert found["range"].warning == "No range holds 900 A: they end at 630 A."
    assert found["breaker_rating"].warning == "No standard size is large enough: they end at 1000 A."
    assert (found["breaker_rating"].choice, found["breaker_rating"].shown) == ("", "none")
    assert found["band"].shown == "none"


def test_what_holds_a_start_says_by_how_much() -> None:
    # 7 x 14.5 = 101.5; 101.5 / 20 = 5.075
    assert told(PUMP)["breaker_rating"].choice == "The start is 5.1 times its rating; curve D holds it."
    # 1.25 x 12.8 = 16; 7 x 12.8 / 16 = 5.6, and curve C opens at once from 5 to 10 times.
    small = told({**PUMP, "current": "12.8"}, curve="C")["breaker_rating"]
    assert small.choice == "The start is 5.6 times its rating; curve C does not hold it."
    # 93.73 A on a link of 80 A is less than what melts it.
    assert (
        told({**BIG, "start_time": "6"})["fuse_rating"].choice
        == "It withstands 93.7 A continuously; the start takes 6 s."
    )


def test_contactors_are_told_by_their_own_category() -> None:
    assert told(PUMP)["contactor_line"].choice.startswith("AC-3; AC-4 for inching")
    assert told(PUMP, sizes="na")["contactor_line"].choice == "By the motor current of NEMA sizes."
    # 40.17 x 0.5774 = 23.19; a third: 13.39
    assert [told(BIG)[f"contactor_{name}_wanted"].shown for name in ("line", "delta", "star")] == [
        "23.2",
        "23.2",
        "13.4",
    ]


def test_what_to_buy_and_set_is_told_in_a_line_each() -> None:
    made = sheet(PUMP)
    lines = lines_of(made)
    told = {item.title: item.shown for item in to_buy(made, lines)}
    by_key = {line.key: line for line in lines}
    assert told["Breaker"] == f"{by_key['breaker_rating'].shown} A, curve D"
    assert told["Contactor"] == f"{by_key['contactor_line'].shown} A AC-3"
    assert told["Overload relay"] == f"{by_key['range'].shown} A, class 10, dial at 14.5 A"
    assert told["Cable"] == f"{by_key['cable'].shown} mm² copper"
    assert {item.line for item in to_buy(made, lines)} <= set(by_key)


def test_what_to_buy_for_star_delta_and_in_north_america() -> None:
    star = sheet({**PUMP, "start": "star_delta", "connection": "delta"})
    titles = [item.title for item in to_buy(star, lines_of(star))]
    assert titles[2:5] == ["Line contactor", "Delta contactor", "Star contactor"]
    assert "Six leads to the motor" in titles
    american = sheet({"power": "10 hp", "voltage": "460", "current": "13.1"}, sizes="na")
    told = {item.title: item.shown for item in to_buy(american, lines_of(american))}
    assert told["Breaker"] == "35 A, inverse-time"
    assert told["Contactor"] == "27 A, NEMA size 1"
    assert told["Cable"].endswith("AWG copper")


def test_what_does_not_hold_is_told_beside_what_to_buy() -> None:
    heavy = sheet({**PUMP, "start_time": "12 s"}, trip_class="10")
    relay = next(item for item in to_buy(heavy, lines_of(heavy)) if item.title == "Overload relay")
    assert "into a healthy start" in relay.warning


def test_north_american_rules_are_usual_where_sizes_are_and_whoever_chooses_has_his_way() -> None:
    assert chosen_rules({})["breaker_multiple"] == "125"
    american = chosen_rules({"sizes": "na"})
    assert (american["breaker_multiple"], american["dial"]) == ("250", "service")
    assert chosen_rules({"sizes": "na", "dial": "cautious"})["dial"] == "cautious"
