"""What sizing takes: figures as people write them, contradictions, own sizes, circuits, files."""

import json
from itertools import combinations
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from tests.core.sheets import PUMP, sheet
from wiretrace.cli.main import main
from wiretrace.document.checked import check_circuit, check_consistent, install
from wiretrace.errors import MalformedDocument
from wiretrace.library import library_circuit
from wiretrace.sizing.carry import carried, taken_over
from wiretrace.sizing.places import Place, places
from wiretrace.sizing.plate import Plate, read_plate
from wiretrace.sizing.quantities import COUNT, CURRENT, FACTOR, LENGTH, POWER, NotUnderstood, read
from wiretrace.sizing.report import SizingData, answer, read_sizing
from wiretrace.sizing.schools import QUESTIONS, chosen_rules
from wiretrace.sizing.series import HEADS, read_series, series_csv, shipped


@pytest.mark.parametrize(
    ("text", "what", "value"),
    [
        ("5,5 kW", POWER, 5.5),
        ("7 1/2 hp", POWER, 7.5 * 0.746),
        ("7-1/2 HP", POWER, 7.5 * 0.746),
        ("1/2hp", POWER, 0.373),
        ("750 w", POWER, 0.75),
        (" 14.5 ", CURRENT, 14.5),
        ("1.2kA", CURRENT, 1200.0),
        ("90", FACTOR, 0.9),
        ("0,86", FACTOR, 0.86),
        ("86 %", FACTOR, 0.86),
        ("100 ft", LENGTH, 30.48),
    ],
)
def test_figures_as_people_write_them(text: str, what: Any, value: float) -> None:
    assert read(text, what) == pytest.approx(value)


@pytest.mark.parametrize(
    ("text", "what", "says"),
    [
        ("0", POWER, "between 0.05 and 2000 kW is expected"),
        ("-5", POWER, "between 0.05 and 2000 kW is expected"),
        ("5 parsec", POWER, "'parsec' is no unit for this: kW, W, hp, MW."),
        ("much", POWER, "'much' is no figure"),
        ("1/0 hp", POWER, "Nothing can be divided by 0."),
        ("1e9", CURRENT, "is no"),
        ("7 8", COUNT, "is no figure"),
        ("", COUNT, "is no figure"),
    ],
)
def test_figures_that_cannot_be_are_refused_with_what_is_expected(text: str, what: Any, says: str) -> None:
    with pytest.raises(NotUnderstood) as error:
        read(text, what)
    assert says in str(error.value)


def test_contradictions_are_pointed_out_with_by_how_much() -> None:
    plate, troubles = read_plate({**PUMP, "current": "24"})
    assert isinstance(plate, Plate)
    told = {trouble.field: trouble.message for trouble in troubles}
    # 24 / 14.303 = 1.678
    assert told["current"].startswith("24 A is 68% more than the 14.3 A that")
    _, troubles = read_plate({**PUMP, "speed": "1500", "supply_voltage": "230"})
    assert {trouble.field for trouble in troubles} == {"speed", "supply_voltage"}
    _, troubles = read_plate({"voltage": "400", "power": "", "phases": "7", "nonsense": "1", "v12": "400"})
    assert {trouble.field for trouble in troubles if trouble.error} == {"phases", "nonsense"}
    assert {trouble.field for trouble in troubles if not trouble.error} == {"power"}


def test_what_is_missing_is_estimated_and_marked() -> None:
    found = answer(SizingData(fields={"power": "5.5", "voltage": "400"}))
    assert set(found.estimates) >= {"efficiency", "power_factor", "current", "speed", "locked_ratio", "length"}
    assert found.estimates["efficiency"] == "89.6 %"
    assert next(line for line in found.lines if line.key == "full_load").estimated
    assert answer(SizingData(fields={"power": "5.5"})).lines == ()


def test_no_size_that_is_large_enough_is_said_at_the_line() -> None:
    own = {"breakers-iec": "rating_a\n6\n10\n"}
    found = answer(SizingData(fields=PUMP, series=own))
    breaker = next(line for line in found.lines if line.key == "breaker_rating")
    assert (breaker.shown, breaker.warning) == ("none", "No standard size is large enough: they end at 10 A.")
    huge = answer(SizingData(fields={"power": "1500 kW", "voltage": "400"}))
    warnings = {line.key: line.warning for line in huge.lines if line.warning}
    assert {"breaker_rating", "contactor_line", "range", "cable_current"} <= set(warnings)


@pytest.mark.parametrize("name", HEADS)
def test_every_series_goes_out_and_comes_in_as_it_was(name: str) -> None:
    assert read_series(name, series_csv(name, shipped(name))) == shipped(name)


@pytest.mark.parametrize(
    ("name", "text", "says"),
    [
        ("breakers-iec", "rating_a\n6\n16\n10\n", "line 4: sizes must rise; 10 follows 16."),
        ("breakers-iec", "rating_a\n6\n6\n", "sizes must rise"),
        ("breakers-iec", "amps\n6\n", "The first line of breakers-iec must be rating_a."),
        ("breakers-iec", "rating_a\n", "between 1 and 199 sizes"),
        ("breakers-iec", "rating_a\nsix\n", "only figures"),
        ("breakers-iec", "rating_a\n-6\n", "figures above 0"),
        ("breakers-iec", "rating_a\n6,7\n", "1 figures are expected, 2 are there"),
        ("overloads", "from_a,to_a\n1,2\n3,4\n", "there is a gap between 2 and 3 A."),
        ("overloads", "from_a,to_a\n2,1\n", "from the smaller figure to the larger"),
        ("swords", "rating_a\n6\n", "There is no series"),
    ],
)
def test_a_series_that_is_not_one_is_refused(name: str, text: str, says: str) -> None:
    with pytest.raises(MalformedDocument) as error:
        read_series(name, text)
    assert says in error.value.message


def test_into_a_circuit_goes_what_was_given_and_nothing_that_was_estimated() -> None:
    pump = library_circuit("start-stop-overload-line")
    found = {(one.device or one.conductor, one.name): one for one in carried(sheet(PUMP), pump).proposals}
    assert found["overload", "dial_a"].then == 14.5
    assert found["contactor", "rated_current_a"].then == 16
    assert found["motor-breaker", "rated_current_a"].then == 20
    assert found["motor", "rated_power_kw"].then == 7.5
    # The breaker of the control circuit has nothing to do with the motor's current.
    assert not any(device == "control-breaker" for device, _ in found)
    assert ("motor", "inertia_kgm2") not in found
    assert not any(name == "length_m" for _, name in found)
    longer = carried(sheet({**PUMP, "length": "50"}), pump).proposals
    assert sum(one.name == "length_m" for one in longer) == 3
    taken = taken_over(pump, found.values())
    # Nothing is said of it any more, neither of devices nor of wires.
    assert carried(sheet(PUMP), taken).proposals == ()


KNOWN = ("power", "voltage", "current", "power_factor", "efficiency", "speed", "locked_ratio")


@pytest.mark.parametrize("left_out", [few for n in range(6) for few in combinations(KNOWN[2:], n)])
def test_half_a_nameplate_never_makes_a_motor_that_contradicts_itself(left_out: tuple[str, ...]) -> None:
    """What is estimated goes over where the motor's own figure for it would not fit the plate."""
    pump = library_circuit("start-stop-overload-line")
    some = {name: text for name, text in PUMP.items() if name not in left_out}
    told = carried(sheet(some), pump)
    check_consistent(check_circuit(taken_over(pump, told.proposals)))
    assert told.left_out == ()
    motor = {one.name: one for one in told.proposals if one.device == "motor"}
    assert motor["rated_power_kw"].then == 7.5
    assert ("an estimate" in motor["rated_current_a"].words) == ("current" in left_out)


def test_a_nameplate_that_contradicts_itself_does_not_go_over() -> None:
    pump = library_circuit("start-stop-overload-line")
    told = carried(sheet({**PUMP, "current": "24"}), pump)
    assert [one.name for one in told.proposals if one.device == "motor"] == []
    (why,) = told.left_out
    assert why.startswith("M1 stays as it is: the nameplate contradicts itself")
    assert "not 24 A" in why
    # The rest of the sheet goes over all the same.
    assert any(one.device == "overload" and one.then == 24 for one in told.proposals)


def test_a_size_that_the_device_cannot_have_is_left_out_and_said() -> None:
    pump = library_circuit("start-stop-overload-line")
    huge = {"power": "315", "voltage": "400", "current": "556", "power_factor": "0.86", "efficiency": "95.2"}
    told = carried(sheet(huge), pump)
    assert any("Rated current is 800 A; it must lie from 0.5 to 125 A" in why for why in told.left_out)
    assert not any(one.device == "motor-breaker" and one.name == "rated_current_a" for one in told.proposals)


STAR_DELTA = {**PUMP, "power": "22", "current": "41", "start": "star_delta"}


@pytest.mark.parametrize(
    ("name", "dial"),
    [
        ("star-delta-winding-overload", 23.67),
        ("star-delta-timer-first-closure", 41),
        ("star-delta-relay", 41),
        ("star-delta-plc", 41),
    ],
)
def test_in_star_delta_dial_and_contactors_go_by_the_current_where_they_stand(name: str, dial: float) -> None:
    """41 A in the line, 23.7 A in the windings (next contactor 25 A), 13.7 A while it starts in star (16 A)."""
    starter = library_circuit(name)
    told = carried(sheet(STAR_DELTA), starter).proposals
    labels = {device.id: device.label for device in starter.devices}
    found = {(labels[one.device], one.name): one.then for one in told if one.device}
    assert found["F2", "dial_a"] == dial
    told_of = next(line for line in answer(SizingData(fields=STAR_DELTA)).lines if line.key == "dial")
    assert (told_of.shown, "in the line is set to 41 A" in told_of.choice) == ("23.7", True)
    assert [found[contactor, "rated_current_a"] for contactor in ("K1", "K2", "K3")] == [25, 16, 25]
    # The six leads lie together as two circuits: 4 mm² carries 28 x 0.87 x 0.8 = 19.5 A, 6 mm² 36 x 0.696 = 25.1 A; in
    # a direct starter the line's 41 A want 10 mm².
    assert {one.then for one in told if one.name == "cross_section_mm2"} == {6}
    direct = carried(sheet(STAR_DELTA), library_circuit("start-stop-overload-line")).proposals
    assert {one.then for one in direct if one.name == "cross_section_mm2"} == {10}


def test_the_leads_of_a_star_delta_starter_by_hand() -> None:
    """41 A / root 3 = 23.67 A. Both leads of 5 m and 6 mm²: 10 m x 23.67 A x 3.193 mohm/m = 0.7559 V of 400 V; in star
    10 m x 95.67 A x 1.573 mohm/m = 1.505 V of 231 V."""
    lines = {line.key: line for line in answer(SizingData(fields={**STAR_DELTA, "length": "5"})).lines}
    assert (lines["cable"].shown, lines["cable_leads"].shown) == ("10", "6")
    assert lines["cable_leads"].put_in == "≥ 23.7 A, PVC, conduit, × 0.87 (at 40 °C) × 0.8 (2 circuits together)"
    assert lines["cable_leads"].choice == "Along both leads of a winding 0.189 % running, 0.652 % starting in star."
    thin = answer(SizingData(fields={**STAR_DELTA, "length": "5", "area": "2.5"}, own={"cable_leads": "2.5"}))
    (leads,) = (line for line in thin.lines if line.key == "cable_leads")
    assert leads.warning == "As given: 2.5 mm² carries too little or drops too much."
    assert "cable_leads" not in {line.key for line in answer(SizingData(fields=PUMP)).lines}


def test_a_contactor_for_the_other_direction_is_no_way_past() -> None:
    reversing = library_circuit("reversing-interlocked")
    found = places(reversing, [install(device) for device in reversing.devices])
    assert {found[one.id] for one in reversing.devices if one.label in ("Q1", "Q2", "K1", "K2", "F2")} == {Place.LINE}


def test_figures_at_the_edge_of_what_can_be_are_worked_out() -> None:
    equal = {**PUMP, "v12": "400", "v23": "400", "v31": "400", "locked_ratio": "1"}
    found = answer(SizingData(fields=equal, own={"unbalance": "1", "starts": "0"}))
    lines = {line.key: line for line in found.lines}
    assert lines["unbalance"].shown == "0"
    assert lines["unbalance"].verdict is not None
    # A start that takes no more than running does is only bounded by how long it takes.
    start_s = sheet(equal).start.seconds
    assert start_s is None or lines["starts"].shown == str(int(3600 / start_s))


def test_in_the_shell(tmp_path: Path) -> None:
    file = tmp_path / "plate.json"
    file.write_text(json.dumps({"fields": PUMP, "own": {"calculated": "24.8"}}), encoding="utf-8")
    run = CliRunner()
    told = run.invoke(main, ["size", str(file), "--circuit", "start-stop-overload-line"])
    assert told.exit_code == 0, told.output
    assert "1000 × 7.5 / (1.732 × 400 × 0.84 × 0.901) = 14.3 A" in told.output
    assert "your figure: Root 3 was left out" in told.output
    assert "F2, dial: 3.4 A → 14.5 A" in told.output
    as_json = json.loads(run.invoke(main, ["size", str(file), "--json"]).output)
    assert next(line for line in as_json["lines"] if line["key"] == "breaker_rating")["shown"] == "20"
    file.write_text("{", encoding="utf-8")
    broken = run.invoke(main, ["size", str(file)])
    assert (broken.exit_code, "This is no sizing" in broken.output) == (2, True)


def test_a_file_of_another_kind_is_refused() -> None:
    for text in ("[]", '{"format": "other"}', '{"schools": {"dial": "mine"}}', '{"fields": {"x": 1}}', "[" * 9000):
        with pytest.raises(MalformedDocument):
            read_sizing(text)


def test_every_default_is_a_rule() -> None:
    assert all(rule in QUESTIONS[name].rules for name, rule in chosen_rules({}).items())
