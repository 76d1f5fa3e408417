"""Prediction sheets: answers as people write them, and the misconception behind each wrong one."""

import random
from typing import Any

import pytest

from tests.core.circuits import end
from wiretrace.document.circuit import End
from wiretrace.errors import MalformedDocument
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.prediction.answers import Between, Share, Unclear, Volts, device_is_on, understood
from wiretrace.training.prediction.marking import Mark, mark_state
from wiretrace.training.prediction.misconceptions import MISCONCEPTIONS
from wiretrace.training.prediction.models import Course
from wiretrace.training.prediction.positions import telling, useless
from wiretrace.training.prediction.sheet import Halt, Hand, PredictionSheet, Spot, misfits, sheet_from_data

LINE = "start-stop-overload-line"
START = (Hand(at_us=1_000_000, device="start", operation="press"),)
LET_GO = (*START, Hand(at_us=1_500_000, device="start", operation="press", value=False))


def sheet(*meters: tuple[str, str], hands: tuple[Hand, ...] = (), at_s: float = 3.0, **more: Any) -> PredictionSheet:
    """Meters A, B, ... in one state of a circuit."""
    spots = tuple(Spot(letter="ABCDEFGH"[n], red=end(a), black=end(b)) for n, (a, b) in enumerate(meters))
    halt = Halt(title="Then", at_us=round(at_s * 1e6))
    return PredictionSheet(title="Sheet", meters=spots, hands=hands, states=(halt,), **more)


def marks(circuit: str, asked: PredictionSheet, **answers: str) -> dict[str, Mark]:
    given = {key.replace("_", "-"): text for key, text in answers.items()}
    return mark_state(Course(asked, Assembly(library_circuit(circuit))), 0, given)


def names(mark: Mark) -> set[str]:
    return {fit.name for fit in mark.fits}


@pytest.mark.parametrize(
    ("text", "means"),
    [
        ("230", Volts(230.0)),
        ("230,5 V", Volts(230.5)),
        (" ~ 230.9 v ac", Volts(230.9)),
        ("0,4 kV", Volts(400.0)),
        ("-24", Volts(-24.0)),
        ("500 mV", Volts(0.5)),
        ("full", Share(1.0)),
        ("Mains", Share(1.0)),
        ("zero", Share(0.0)),
        ("-", Share(0.0)),
        ("OL", Share(0.0)),
        ("half", Share(0.5)),
        ("1/2", Share(0.5)),
        ("part", Share(None)),
        ("<1 V", Between(0.0, 1.0)),
        ("225-235", Between(225.0, 235.0)),
        ("225 to 235 V", Between(225.0, 235.0)),
        ("floating", Share(0.0)),
        ("", None),
        ("   ", None),
    ],
)
def test_answers_are_understood_as_people_write_them(text: str, means: object) -> None:
    assert understood(text) == means


@pytest.mark.parametrize("text", ["a lot", "23O", "1/0", "3/2", "230 A", "230 230", "?", "=2+2", "é" * 500])
def test_what_is_not_understood_is_asked_about_and_never_dropped(text: str) -> None:
    answer = understood(text)
    assert isinstance(answer, Unclear)
    assert "full, part, 0" in answer.question
    mark = marks(LINE, sheet(("start:13", "start:14")), A=text)["A"]
    assert (mark.right, mark.expected) == (None, text)
    assert mark.question


@pytest.mark.parametrize("text", ["230/400", "230 or 400 V"])
def test_of_several_figures_one_is_asked_for(text: str) -> None:
    answer = understood(text)
    assert isinstance(answer, Unclear)
    assert "which of them" in answer.question


@pytest.mark.parametrize("text", ["0-230", "100 to 400", "more than 10", "about 0-400"])
def test_a_range_that_leaves_all_open_is_no_answer(text: str) -> None:
    assert isinstance(understood(text), Unclear)


@pytest.mark.parametrize(
    ("text", "right"), [("225-235", True), ("230-240", True), ("200-210", False), ("<1", False), ("<2 V", False)]
)
def test_a_range_is_right_where_the_figure_lies_in_it(text: str, right: bool) -> None:
    assert marks(LINE, sheet(("start:13", "start:14")), A=text)["A"].right is right
    assert marks(LINE, sheet(("stop:11", "stop:12")), A="<1")["A"].right is True


def test_devices_are_in_or_out_lit_or_dark() -> None:
    assert [device_is_on(text) for text in ("in", "Lit", "1", "out", "DARK", "0", "")] == [
        *(True, True, True),
        *(False, False, False),
        None,
    ]
    assert isinstance(device_is_on("maybe"), Unclear)


@pytest.mark.parametrize("text", ["230", "231", "230,9 V", "full", "mains"])
def test_the_supply_stands_across_an_open_start_button(text: str) -> None:
    """400 V by root 3 is 230.9 V; the coil carries the neutral to the far side."""
    mark = marks(LINE, sheet(("start:13", "start:14")), A=text)["A"]
    assert (mark.right, mark.shown, mark.fits) == (True, "=230.9 V", ())


@pytest.mark.parametrize("text", ["0", "-", "none", "0.2"])
def test_nothing_across_an_open_button_comes_from_forgetting_the_load_behind_it(text: str) -> None:
    mark = marks(LINE, sheet(("start:13", "start:14")), A=text)["A"]
    assert mark.right is False
    assert "no_reference" in names(mark)


def test_the_supply_across_a_closed_stop_button() -> None:
    mark = marks(LINE, sheet(("stop:11", "stop:12")), A="230")["A"]
    assert (mark.right, mark.shown) == (False, "=0.000 V")
    assert "supply_across_closed" in names(mark)
    assert next(fit for fit in mark.fits if fit.name == "supply_across_closed").about == "S0 11-12"


def test_who_forgets_the_seal_expects_the_coil_to_fall_out() -> None:
    asked = sheet(("contactor:A1", "contactor:A2"), hands=LET_GO, devices=("contactor", "run-lamp"))
    found = marks(LINE, asked, A="0", contactor="out", run_lamp="lit")
    assert names(found["A"]) >= {"seal_forgotten"}
    assert names(found["contactor"]) == {"seal_forgotten"}
    assert (found["run-lamp"].right, found["run-lamp"].shown) == (True, "lit")


def test_with_the_button_still_held_the_seal_makes_no_difference() -> None:
    asked = sheet(("contactor:A1", "contactor:A2"), hands=START, devices=("contactor",))
    found = marks(LINE, asked, A="0", contactor="out")
    assert "seal_forgotten" not in names(found["A"]) | names(found["contactor"])


def test_a_contact_thought_of_the_other_way_round_is_named() -> None:
    """The lamp "stopped" hangs behind K1 21-22: who takes that for normally open expects no voltage at the lamp."""
    mark = marks(LINE, sheet(("stopped-lamp:X1", "stopped-lamp:X2")), A="0")["A"]
    assert "contact_other_way" in names(mark)
    assert next(fit for fit in mark.fits if fit.name == "contact_other_way").about == "K1 21-22"


def test_live_and_neutral_side_confused() -> None:
    mark = marks(LINE, sheet(("stop:11", "contactor:A2")), A="0")["A"]
    assert (mark.right, mark.shown) == (False, "=230.9 V")
    assert "other_pole" in names(mark)


@pytest.mark.parametrize(
    ("meter", "text"), [(("isolator:1", "isolator:3"), "230"), (("isolator:1", "supply:N"), "400")]
)
def test_line_and_phase_voltage_confused(meter: tuple[str, str], text: str) -> None:
    mark = marks(LINE, sheet(meter), A=text)["A"]
    assert mark.right is False
    assert "line_for_phase" in names(mark)


def test_star_and_delta_mixed_up_only_where_a_motor_knows_both() -> None:
    mark = marks("star-delta-timer-first-closure", sheet(("isolator:1", "isolator:3")), A="133")["A"]
    assert "star_for_delta" in names(mark)
    assert "star_for_delta" not in names(marks(LINE, sheet(("isolator:1", "isolator:3")), A="133")["A"])


def test_the_meters_own_path_is_forgotten_where_a_wire_floats() -> None:
    """Behind an open contact with nothing beyond it only a leak holds a voltage, which the meter takes away."""
    asked = sheet(("start:14", "motor:PE"))
    course = Course(asked, Assembly(library_circuit(LINE)))
    assert mark_state(course, 0, {"A": "0"})["A"].right is True


def test_a_program_read_the_other_way_round() -> None:
    """The stop is normally closed, so its input is on; who reads it the other way expects nothing to start."""
    hands = (Hand(at_us=1_000_000, device="start", operation="press"),)
    asked = sheet(("k-line:A1", "k-line:A2"), hands=hands, at_s=2.0, devices=("k-line",))
    found = marks("star-delta-plc", asked, A="0", k_line="out")
    assert "program_other_way" in names(found["k-line"])
    assert "program_other_way" in names(found["A"])


def test_two_misconceptions_that_give_one_figure_are_both_named() -> None:
    found = names(marks(LINE, sheet(("stop:11", "stop:12")), A="230")["A"])
    assert {"supply_across_closed", "other_pole"} <= found


def test_a_figure_that_fits_nothing_is_wrong_without_a_reason() -> None:
    mark = marks(LINE, sheet(("start:13", "start:14")), A="77")["A"]
    assert (mark.right, mark.fits) == (False, ())


def test_about_counts_full_part_and_none() -> None:
    asked = sheet(("start:13", "start:14"), ("stop:11", "stop:12"), counts="about")
    found = marks(LINE, asked, A="210", B="2")
    assert (found["A"].right, found["B"].right) == (True, True)
    assert marks(LINE, asked, A="110")["A"].right is False


def test_nothing_written_is_no_mistake() -> None:
    mark = marks(LINE, sheet(("start:13", "start:14")))["A"]
    assert (mark.right, mark.shown, mark.fits) == (None, "=230.9 V", ())


def test_every_misconception_says_what_it_leads_to_and_what_is_right() -> None:
    assert len({one.name for one in MISCONCEPTIONS}) == len(MISCONCEPTIONS) >= 20
    assert all(one.title and one.leads_to and one.right for one in MISCONCEPTIONS)


def test_a_sheet_survives_its_own_format() -> None:
    asked = sheet(("start:13", "start:14"), hands=LET_GO, devices=("contactor",), hints=True, counts="about")
    assert sheet_from_data(asked.model_dump(mode="json")) == (asked, ())


def test_a_broken_sheet_is_read_as_far_as_it_goes_and_each_problem_named() -> None:
    data = sheet(("start:13", "start:14"), ("stop:11", "stop:12")).model_dump(mode="json")
    data["meters"][1]["letter"] = "Q7"
    data["hands"] = [{"at_us": -5, "device": "start", "operation": "press"}]
    read, problems = sheet_from_data(data)
    assert [spot.letter for spot in read.meters] == ["A"]
    assert read.hands == ()
    assert {problem.path for problem in problems} == {"meters.1.letter", "hands.0.at_us"}


def test_states_follow_each_other_and_meters_have_letters_of_their_own() -> None:
    data = sheet(("start:13", "start:14"), ("stop:11", "stop:12")).model_dump(mode="json")
    for wrong in (
        {"states": [{"title": "Later", "at_us": 5}, {"title": "Earlier", "at_us": 5}]},
        {"meters": [data["meters"][0], data["meters"][0]]},
    ):
        with pytest.raises(MalformedDocument):
            sheet_from_data({**data, **wrong})


@pytest.mark.parametrize("data", [None, [], {}, {"meters": 3}, {"title": "x", "meters": [], "states": []}, "text"])
def test_what_is_no_sheet_is_told(data: object) -> None:
    with pytest.raises(MalformedDocument, match="no prediction sheet"):
        sheet_from_data(data)


def test_a_sheet_says_what_a_changed_circuit_has_lost() -> None:
    asked = sheet(("start:13", "start:14"), ("gone:1", "start:99"), devices=("ghost",), hands=START)
    told = list(misfits(asked, Assembly(library_circuit(LINE))))
    assert told == [
        "Meter B stands on gone:1, which is not there.",
        "Meter B stands on start:99, which is not there.",
        "The device ghost is not there.",
    ]


def test_both_probes_on_one_potential_in_every_state_tell_nothing() -> None:
    spots = (("stop:11", "stop:12"), ("start:13", "start:14"), ("contactor:A2", "run-lamp:X2"))
    course = Course(sheet(*spots, hands=START), Assembly(library_circuit(LINE)))
    # In this one state the start button is pressed: nothing stands across it either.
    assert useless(course) == ["A", "B", "C"]
    at_rest = Course(sheet(*spots), Assembly(library_circuit(LINE)))
    assert useless(at_rest) == ["A", "C"]


def test_a_meter_is_put_where_it_tells_two_states_apart() -> None:
    halts = (Halt(title="At rest", at_us=500_000), Halt(title="Held", at_us=2_000_000))
    asked = sheet(("stop:11", "stop:12"), hands=START).model_copy(update={"states": halts})
    found = telling(Course(asked, Assembly(library_circuit(LINE))), 0, 1)
    assert len(found) == 5
    # What hangs behind the contactor's poles differs most: 400 V between two lines.
    assert (found[0].first, round(float(found[0].second), -1)) == ("0.000", 400)
    apart = [abs(float(one.first) - float(one.second)) for one in found]
    assert apart == sorted(apart, reverse=True)


@pytest.mark.parametrize("name", library_names())
def test_any_answer_at_any_place_of_any_circuit_is_marked(name: str) -> None:
    """Random meters, hands and answers: every mark has a figure, and no error leaves without a name."""
    chance = random.Random(name)
    circuit = library_circuit(name)
    assembly = Assembly(circuit)
    ends = [
        End(device=item.id, terminal=t.name) for item in assembly.devices.values() for t in item.structure.terminals
    ]
    worked = [(item.id, operation.name) for item in assembly.devices.values() for operation in item.kind.operations]
    spots = tuple(Spot(letter=letter, red=chance.choice(ends), black=chance.choice(ends)) for letter in "ABCD")
    hands = tuple(
        Hand(at_us=at, device=device, operation=operation, value=chance.random() < 0.7)
        for at in sorted(chance.sample(range(3_000_000), 4))
        for device, operation in (chance.choice(worked),)
    )
    asked = PredictionSheet(
        title=name,
        meters=spots,
        hands=hands,
        states=tuple(Halt(title=str(at), at_us=at) for at in (1_000_000, 2_000_000, 4_000_000)),
        counts=chance.choice(("exact", "about")),
    )
    course = Course(asked, assembly)
    for index in range(3):
        answers = {
            letter: chance.choice(("0", "full", "part", "1/2", "230", "400", "24", "-", "???")) for letter in "ABCD"
        }
        for letter, mark in mark_state(course, index, answers).items():
            assert mark.shown.endswith(" V")
            assert (mark.right is None) == (answers[letter] == "???")
            assert not (mark.right and mark.fits)
