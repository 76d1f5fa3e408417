"""Currents on a prediction sheet: what a clamp shows, answers as people write them, and who leaves a fault out."""

import math

import pytest

from tests.core.test_predict import LET_GO, LINE, marks, names, sheet
from wiretrace.errors import MalformedDocument
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.written import NotAReading, Unit, written
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.prediction.answers import Between, Unclear, amperes
from wiretrace.training.prediction.belief import asked, believed
from wiretrace.training.prediction.marking import mark_state
from wiretrace.training.prediction.models import Course
from wiretrace.training.prediction.sheet import NEXT, Halt, Jaw, PredictionSheet, misfits, sheet_from_data

WIRES = ("p1-motor", "p2-motor", "p3-motor")
RUNS_A = 3.19
"""1.5 kW at 400 V at its rated load."""


def currents(*faults: str, at_s: float = 3.0, **more: object) -> PredictionSheet:
    """Clamps P, Q, R around the wires to the motor, after the start button was pressed and let go."""
    circuit = library_circuit(LINE)
    jaws = tuple(Jaw(letter=letter, conductor=wire) for letter, wire in zip("PQR", WIRES, strict=True))
    put_in = tuple(fault_from_text(circuit, text) for text in faults)
    return sheet(("start:13", "start:14"), hands=LET_GO, at_s=at_s, clamps=jaws, faults=put_in, **more)


@pytest.mark.parametrize(
    ("text", "means"),
    [
        ("3.2", Between(3.2, 3.2)),
        ("3,2 A", Between(3.2, 3.2)),
        ("500 mA", Between(0.5, 0.5)),
        ("3-3.4 amps", Between(3.0, 3.4)),
        ("<0.1", Between(0.0, 0.1)),
        ("-", Between(0.0, 0.0)),
        ("none", Between(0.0, 0.0)),
        (" ", None),
    ],
)
def test_currents_are_understood_as_people_write_them(text: str, means: object) -> None:
    found = amperes(text)
    assert found == means or (
        isinstance(found, Between)
        and isinstance(means, Between)
        and (found.low, found.high) == pytest.approx((means.low, means.high))
    )


@pytest.mark.parametrize("text", ["3.2 V", "3 ohm", "OL A", "full", "beeps", "0-20", "more than 3", "x" * 300])
def test_what_is_no_current_is_asked_back(text: str) -> None:
    assert isinstance(amperes(text), Unclear)
    mark = marks(LINE, currents(), P=text)["P"]
    assert (mark.right, mark.expected) == (None, text)
    assert mark.question


def test_a_clamp_does_not_take_volts_and_a_voltmeter_no_amperes() -> None:
    with pytest.raises(NotAReading, match="is not what a clamp shows"):
        written("230 V", Unit.AMPERES)
    with pytest.raises(NotAReading, match="is not what a voltmeter shows"):
        written("3 A", Unit.VOLTS)
    with pytest.raises(NotAReading, match="What does the clamp show, in amperes"):
        written("OL", Unit.AMPERES)


@pytest.mark.parametrize(
    ("text", "right"), [("3.2", True), ("3.4 A", True), ("2.9", True), ("3.6", False), ("0", False)]
)
def test_the_current_of_a_running_motor_is_that_of_its_plate_within_a_tenth(text: str, right: bool) -> None:
    found = marks(LINE, currents(), P=text)["P"]
    assert (found.right, found.shown) == (right, f"={RUNS_A} A")


def test_where_only_full_and_part_count_a_current_may_be_off_by_more() -> None:
    assert marks(LINE, currents(counts="about"), P="4")["P"].right is True
    assert marks(LINE, currents(counts="about"), P="4.7")["P"].right is False


def test_with_a_wire_off_one_line_carries_nothing_and_the_others_more() -> None:
    """On two lines a motor that runs on takes about root 3 times its current, or more, in each; it slows down."""
    found = marks(LINE, currents("p2-motor=open", at_s=1.45), P="0", Q="0", R="3.2")
    assert found["Q"].right is True
    assert found["R"].right is False
    assert float(found["P"].shown[1:-2]) > math.sqrt(3) * RUNS_A


def test_who_takes_a_faulty_circuit_for_a_sound_one_is_told_so() -> None:
    asked_of = currents("K1/coil=open", devices=("contactor",))
    found = marks(LINE, asked_of, A="0", P="3.2", Q="3.2", contactor="in")
    assert names(found["P"]) == names(found["contactor"]) == {"fault_forgotten"}
    course = Course(asked_of, Assembly(library_circuit(LINE)))
    belief = believed(list(asked(course, {0: {"P": "3.2", "Q": "3.2", "R": "3.2", "contactor": "in"}})))
    assert belief.names == ("fault_forgotten",)
    # Who sees that nothing flows is accused of nothing.
    assert believed(list(asked(course, {0: {"P": "0", "Q": "0", "contactor": "out"}}))).names == ()


def test_who_forgets_the_seal_expects_no_current() -> None:
    course = Course(currents(devices=("contactor",)), Assembly(library_circuit(LINE)))
    assert "seal_forgotten" in names(mark_state(course, 0, {"P": "0"})["P"])
    assert believed(list(asked(course, {0: {"P": "0", "Q": "0", "contactor": "out"}}))).names == ("seal_forgotten",)


def test_star_and_delta_are_mixed_up_only_where_a_motor_has_both() -> None:
    assert "star_for_delta" not in names(marks(LINE, currents(), P=f"{RUNS_A / 3:.2f}")["P"])
    circuit = library_circuit("star-delta-relay")
    motor = next(item.id for item in circuit.devices if item.label == "M1")
    wire = next(one for one in circuit.conductors if motor in (one.a.device, one.b.device))
    both = PredictionSheet(
        title="At rest",
        meters=sheet(("x:1", "x:2")).meters,
        clamps=(Jaw(letter="P", conductor=wire.id),),
        states=(Halt(title="At rest", at_us=1_000),),
    )
    assert Course(both.model_copy(update={"meters": ()}), Assembly(circuit)).connects_both_ways


def test_what_to_measure_next_is_asked_at_the_end_and_not_marked() -> None:
    last = Halt(title="Later", at_us=9_000_000)
    first = currents(asks_next=True, next="Q2:4 to N: what feeds V1?")
    asked_of = first.model_copy(update={"states": (*first.states, last)})
    course = Course(asked_of, Assembly(library_circuit(LINE)))
    assert NEXT not in mark_state(course, 0, {NEXT: "no"})
    mark = mark_state(course, 1, {NEXT: "F2:4 to N"})[NEXT]
    assert (mark.expected, mark.shown, mark.right) == ("F2:4 to N", "Q2:4 to N: what feeds V1?", None)
    # It is no answer that tells how somebody thinks.
    assert list(asked(course, {1: {NEXT: "F2:4 to N"}})) == []


def test_a_clamp_around_a_wire_that_has_gone_is_told() -> None:
    asked_of = currents().model_copy(update={"clamps": (Jaw(letter="P", conductor="gone"),)})
    assert list(misfits(asked_of, Assembly(library_circuit(LINE)))) == [
        "Clamp P is around the wire gone, which is not there."
    ]


@pytest.mark.parametrize("name", ["P", NEXT])
def test_a_device_that_is_called_as_what_else_is_asked_cannot_be_asked_about(name: str) -> None:
    data = {**currents(asks_next=True).model_dump(mode="json"), "devices": [name]}
    with pytest.raises(MalformedDocument) as broken:
        sheet_from_data(data)
    assert "has the name of what else is asked" in str(broken.value.problems)


def test_a_clamp_has_no_letter_of_a_meter() -> None:
    data = {**currents().model_dump(mode="json"), "clamps": [{"letter": "A", "conductor": "p1-motor"}]}
    read, problems = sheet_from_data(data)
    assert (read.clamps, problems[0].path) == ((), "clamps.0.letter")


def test_a_sheet_of_before_whose_devices_have_such_names_is_still_read() -> None:
    old = sheet(("start:13", "start:14"), devices=("A", NEXT)).model_dump(mode="json")
    for name in ("clamps", "asks_next", "next"):
        del old[name]
    read, problems = sheet_from_data({**old, "version": 2})
    assert (read.devices, problems) == (("A", NEXT), ())
