"""Each way of starting on the sheet: currents, torque, time, relay, and what a circuit says of itself."""

import math

import pytest

from tests.core.sheets import PUMP, sheet, shown
from wiretrace.library import library_circuit
from wiretrace.sizing.buying import to_buy
from wiretrace.sizing.carry import carried
from wiretrace.sizing.nameplates import motor_plates
from wiretrace.sizing.plate import read_plate
from wiretrace.sizing.report import SizingData, answer
from wiretrace.sizing.starting import WAYS
from wiretrace.sizing.worked import lines_of

BIG = {**PUMP, "power": "30 kW", "current": "55 A", "efficiency": "93", "connection": "delta", "length": "10 m"}


@pytest.mark.parametrize("way", WAYS)
def test_every_way_of_starting_gives_a_sheet_and_something_to_buy(way: str) -> None:
    made = sheet({**BIG, "start": way, "rotor_voltage": "220", "rotor_current": "80"})
    lines = lines_of(made)
    keys = [line.key for line in lines]
    assert len(set(keys)) == len(keys)
    bought = to_buy(made, lines)
    titles = [item.title for item in bought]
    assert {switch.title for switch in made.way.contactors} <= set(titles)
    assert len(set(titles)) == len(titles)
    assert made.start.seconds is not None


def test_the_current_of_a_soft_start_never_passes_its_limit_and_falls_at_the_end() -> None:
    made = sheet({**BIG, "start": "soft_start", "start_limit": "3"})
    course = made.start.course
    assert max(course) == pytest.approx(3 * 55, rel=1e-3)
    assert course[0] == pytest.approx(3 * 55, rel=1e-3)
    assert course[-1] < 3 * 55
    direct = sheet(BIG).start.seconds
    assert direct is not None
    assert made.start.seconds is not None
    # A ninth to a quarter of the torque at first takes several times as long.
    assert made.start.seconds > 3 * direct


def test_a_limit_above_the_direct_start_changes_nothing() -> None:
    made, direct = sheet({**BIG, "start": "soft_start", "start_limit": "9"}), sheet(BIG)
    assert made.start_a == pytest.approx(direct.start_a)
    assert made.start.seconds == pytest.approx(direct.start.seconds)


def test_an_autotransformer_at_the_root_third_takes_from_the_line_what_star_delta_does() -> None:
    """At a tap of 57.7 % the motor has what it has in star, the line a third; the relay at the motor carries more."""
    tapped = sheet({**BIG, "start": "by_tap", "tap": f"{100 / math.sqrt(3):.4f} %"})
    star = sheet({**BIG, "start": "star_delta"})
    assert tapped.start_a == pytest.approx(star.start_a, rel=1e-4)
    assert tapped.start.seconds == pytest.approx(star.start.seconds, rel=1e-4)
    assert tapped.start.relay_times == pytest.approx(math.sqrt(3), rel=1e-4)
    # Each relay's own heating is the same: the one at the motor is set to the line's current, the other to a root-3rd.
    assert tapped.dial_a == pytest.approx(star.dial_a * math.sqrt(3))


def test_a_wound_rotor_starts_by_torque_and_not_by_voltage() -> None:
    """Held at (2 + 1.2) / 2 = 1.6 rated torques; the fan takes 0.9 of it at full speed and 2 % at standstill."""
    made = sheet({**BIG, "start": "wound_rotor"})
    drive, rise = made.start.drive, made.start.rise
    assert drive is not None
    assert rise is not None
    sync = drive.machine.plate.sync_rpm * math.pi / 30
    torque = drive.machine.plate.torque_nm
    at_rest = (1.6 - 0.02) * torque / (drive.load.inertia_kgm2 * sync)
    ahead = rise.after(0.0, 1e-4)[0] / 1e-4
    assert ahead == pytest.approx(at_rest, rel=1e-3)
    assert made.start.current_a(0.1) == pytest.approx(2 * 55)


def test_a_converter_takes_less_than_its_motor_and_protects_it() -> None:
    found = {line.key: line for line in lines_of(sheet({**BIG, "start": "converter"}))}
    # 55 x 0.84 / (0.93 x 0.97)
    assert found["converter_in"].shown == "51.2"
    # 1.25 x 51.2 = 64.0 against 1.25 x 55 = 68.75 of the motor; a contactor of 63 A either way, and of 1.5 times none.
    assert found["breaker_wanted"].shown == "64"
    assert found["contactor_line_wanted"].shown == "51.2"
    assert found["dial"].title == "Motor current in the converter"
    assert "fault" not in found
    assert "screened" in found["cable"].choice
    titles = [item.title for item in to_buy(sheet({**BIG, "start": "converter"}), list(found.values()))]
    assert "Overload relay" not in titles
    assert "or manual motor starter" not in titles


def test_what_belongs_to_another_way_is_estimated_for_its_own_alone() -> None:
    assert {"tap", "start_limit", "low_current"} & set(answer(SizingData(fields=BIG)).estimates) == set()
    assert answer(SizingData(fields={**BIG, "start": "by_tap"})).estimates["tap"] == "65 %"
    assert answer(SizingData(fields={**BIG, "start": "converter"})).estimates["start_limit"] == "1.5"
    assert "low_current" in answer(SizingData(fields={**BIG, "start": "two_speed"})).estimates


@pytest.mark.parametrize(
    ("name", "way", "more"),
    [
        ("start-stop-overload-line", None, {"power": "1.5 kW", "current": "3.4 A", "length": "24 m"}),
        ("star-delta-relay", "star_delta", {"power": "7.5 kW", "speed": "1450 rpm"}),
        ("autotransformer-starter", "by_tap", {"tap": "65 %"}),
        ("soft-starter-bypass", "soft_start", {"start_limit": "3.5"}),
        ("wound-rotor-starter", "wound_rotor", {"rotor_voltage": "220 V"}),
        ("two-speed-tapped-winding", "two_speed", {"low_power": "0.37 kW", "low_current": "1.15 A"}),
    ],
)
def test_a_plate_is_filled_from_the_motor_of_a_circuit(name: str, way: str | None, more: dict[str, str]) -> None:
    circuit = library_circuit(name)
    (found,) = motor_plates(circuit)
    assert (found.label, found.fields.get("start")) == ("M1", way)
    assert more.items() <= found.fields.items()
    plate, troubles = read_plate(found.fields)
    assert plate is not None
    assert troubles == ()
    # And the sheet made of it says nothing against the plate that it came from.
    names = {one.name for one in carried(sheet(found.fields), circuit).proposals if one.device == "motor"}
    assert not names & {"rated_power_kw", "rated_current_a", "rated_voltage_v", "tap_percent", "limit_times"}


def test_a_length_that_nobody_gave_is_not_taken_for_one() -> None:
    assert "length" not in motor_plates(library_circuit("autotransformer-starter"))[0].fields
    assert motor_plates(library_circuit("insulation-monitor"))
    assert all(one.fields.get("phases", "3") == "3" for one in motor_plates(library_circuit("two-speed-fan")))


def test_a_two_speed_starter_is_told_no_dial_for_the_relay_that_it_may_not_be() -> None:
    circuit = library_circuit("two-speed-fan")
    fields = {**motor_plates(circuit)[0].fields, "low_current": "1.9 A"}
    found = carried(sheet(fields), circuit).proposals
    assert not [one for one in found if one.name == "dial_a"]
    assert [one.then for one in found if one.name == "low_rated_current_a"] == [1.9]


def test_a_figure_of_ones_own_for_another_starter_is_judged_by_its_own_shares() -> None:
    fields = {**BIG, "start": "by_tap", "tap": "65 %"}
    found = {line.key: line for line in answer(SizingData(fields=fields, own={"tapped_start": "250.3"})).lines}
    # 0.65 x 385 = 250.25: the tap taken once.
    verdict = found["tapped_start"].verdict
    assert verdict is not None
    assert verdict.says == "The tap was taken once, not squared."
    assert shown(fields)["tapped_start"] == "163"


@pytest.mark.parametrize(
    ("more", "field", "says"),
    [
        ({"phases": "1", "start": "star_delta"}, "start", "A motor of a single phase is started direct"),
        ({"start": "two_speed", "low_current": "80"}, "low_current", "are the two exchanged?"),
        ({"sets": "2.5"}, "sets", "a whole number is expected; 2 is taken."),
        ({"circuits": "3.2"}, "circuits", "a whole number is expected; 3 is taken."),
    ],
)
def test_what_cannot_be_of_a_start_or_a_cable_is_told_at_its_field(more: dict[str, str], field: str, says: str) -> None:
    told = {trouble.field: trouble.message for trouble in answer(SizingData(fields={**BIG, **more})).troubles}
    assert says in told[field]
    assert field not in {trouble.field for trouble in answer(SizingData(fields=BIG)).troubles}
