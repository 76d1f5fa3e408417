"""The one misconception behind a whole sheet: simulated learners with each are found out, nobody else is accused."""

import random
from collections import Counter

import pytest

from tests.core.circuits import end
from tests.core.test_predict import LET_GO, LINE, START, sheet
from wiretrace.document.circuit import Stray
from wiretrace.library import library_circuit, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.prediction.belief import HOLDS, SLIPS, _other_figures, asked, believed, tells_apart
from wiretrace.training.prediction.marking import supply_v
from wiretrace.training.prediction.misconceptions import MISCONCEPTIONS, misconception
from wiretrace.training.prediction.models import Case, Course
from wiretrace.training.prediction.proposing import proposed
from wiretrace.training.prediction.sheet import Halt, Hand, PredictionSheet, Spot

LEARNERS = 4
CIRCUITS = ("start-stop-overload-line", "control-transformer-earthed", "dc-control-pnp", "star-delta-relay")
OF_ONE_THING = ("contact_other_way", "other_pole", "program_other_way", "supply_across_closed")
"""What somebody with one of these takes for something else is one thing, the same in all his answers."""


def course_of(name: str, most: int = 6) -> Course:
    """The states of the operating sequence of a library circuit, asked about at the meters that are proposed."""
    circuit, now = library_circuit(name), 400_000
    ids = {item.label: item.id for item in circuit.devices}
    hands: list[Hand] = []
    states: list[Halt] = []
    for step in library_sequence(name).steps[:6]:
        hands += [Hand(at_us=now, device=ids[label], operation=what, value=value) for label, what, value in step.do]
        now += round(step.wait_s * 1e6)
        states.append(Halt(title=step.text, at_us=now))
        now += 1000
    wire = circuit.conductors[0]
    spot = Spot(letter="A", red=wire.a, black=wire.b)
    asked_of = PredictionSheet(title="Sheet", meters=(spot,), hands=tuple(hands), states=tuple(states))
    course = Course(asked_of, Assembly(circuit))
    return Course(asked_of.model_copy(update={"meters": proposed(course, most)}), course.assembly)


def answered(course: Course, name: str, chance: random.Random) -> tuple[dict[int, dict[str, str]], int]:
    """The sheet as somebody with this misconception fills it in, or with none; and how often he answers by it."""
    cases = [
        (index, spot.letter, Case(course, index, spot.red, spot.black))
        for index in range(len(course.sheet.states))
        for spot in course.sheet.meters
    ]
    figures = [_other_figures(case, name, supply_v(case)) if name else {} for _, _, case in cases]
    about = chance.choice(sorted({about for each in figures for about in each}) or [""])
    rows: dict[int, dict[str, str]] = {}
    by_it = 0
    for (index, letter, case), each in zip(cases, figures, strict=True):
        its = [volts for what, some in each.items() if name not in OF_ONE_THING or what == about for volts in some]
        supply = supply_v(case)
        if its and chance.random() < HOLDS:
            volts, by_it = chance.choice(its), by_it + 1
        elif chance.random() < SLIPS:
            volts = chance.choice([0.0, 0.0, supply, supply, 115.0, 24.0, 400.0])
        else:
            volts = case.reading.voltage_v
        rows.setdefault(index, {})[letter] = f"{abs(volts):.1f}"
    return rows, by_it


@pytest.mark.by_turns(4)
@pytest.mark.parametrize("name", CIRCUITS)
def test_learners_with_a_misconception_are_found_out_and_nobody_else_is_accused(name: str) -> None:
    course, chance = course_of(name), random.Random(name)
    found: Counter[bool] = Counter()
    for one in MISCONCEPTIONS:
        for _ in range(LEARNERS):
            rows, by_it = answered(course, one.name, chance)
            # Who answers by it less than three times has not shown it.
            if by_it >= 3:
                found[one.name in believed(list(asked(course, rows))).names] += 1
    assert found[True] >= 0.9 * found.total() > 20, found
    accused = [believed(list(asked(course, answered(course, "", chance)[0]))).names for _ in range(40)]
    assert sum(map(bool, accused)) <= 1


def test_one_wrong_answer_names_nothing_and_several_by_one_thing_do() -> None:
    asked_of = sheet(("contactor:A1", "contactor:A2"), hands=LET_GO, devices=("contactor", "run-lamp", "motor"))
    course = Course(asked_of, Assembly(library_circuit(LINE)))
    assert believed(list(asked(course, {0: {"A": "0"}}))).names == ()
    assert believed(list(asked(course, {0: {"A": "0", "contactor": "out", "run-lamp": "dark"}}))).names == (
        "seal_forgotten",
    )
    # Who answers rightly where it would lead to something else does not hold it.
    assert believed(list(asked(course, {0: {"A": "0", "contactor": "in", "run-lamp": "lit"}}))).names == ()
    # Not even by a figure that nobody writes by chance.
    rest = Course(sheet(("start:13", "start:14")), Assembly(library_circuit(LINE)))
    assert believed(list(asked(rest, {0: {"A": "326.5"}}))).names == ()
    assert believed([]).names == ()
    assert believed(list(asked(course, {0: {"A": "what?", "contactor": ""}}))).names == ()


def test_of_two_that_explain_the_same_the_reading_is_named_that_would_tell() -> None:
    states = tuple(Halt(title=f"State {n}", at_us=round(at * 1e6)) for n, at in enumerate((0.5, 1.2, 3.0)))
    asked_of = sheet(("start:13", "start:14"), ("stop:11", "stop:12"), hands=START).model_copy(
        update={"states": states}
    )
    course = Course(asked_of, Assembly(library_circuit(LINE)))
    at, letter = tells_apart(course, ("no_reference", "supply_across_closed"), [0]) or (-1, "")
    assert (at, letter) == (1, "B")
    assert tells_apart(course, ("no_reference", "no_reference"), [0]) is None


SENSED = (Hand(at_us=1_000_000, device="sensor", operation="actuate"),)
dc = "dc-control-pnp"
FIGURES: list[tuple[str, str, tuple[str, str], tuple[Hand, ...], float, float]] = [
    # Misconception, circuit, meter, hands, seconds, what is written.
    ("drops_along", LINE, ("stop:11", "supply:N"), START, 3.0, 230.94 * 3 / 6),
    ("as_drawn", LINE, ("start:13", "start:14"), START, 3.0, 230.9),
    ("no_current_no_voltage", LINE, ("start:13", "start:14"), (), 3.0, 0.0),
    ("peak_for_rms", LINE, ("start:13", "start:14"), (), 3.0, 326.5),
    ("earth_is_nothing", LINE, ("start:13", "supply:PE"), (), 3.0, 0.0),
    ("phases_added", LINE, ("supply:L1", "supply:L2"), (), 3.0, 461.9),
    (
        "other_supply",
        dc,
        ("relay:A1", "relay:A2"),
        (Hand(at_us=1_000_000, device="sensor", operation="actuate"),),
        3.0,
        230.9,
    ),
    (
        "stop_ignored",
        LINE,
        ("contactor:A1", "contactor:A2"),
        (*LET_GO, Hand(at_us=2_000_000, device="stop", operation="press")),
        3.0,
        230.9,
    ),
    ("delay_other_way", "star-delta-relay", ("k-delta:A1", "supply:N"), START, 3.0, 229.9),
    ("timer_at_once", "star-delta-relay", ("k-star:A1", "supply:N"), START, 3.0, 0.0),
]


@pytest.mark.parametrize(
    ("name", "circuit", "meter", "hands", "at_s", "volts"), FIGURES, ids=[f"{case[0]}" for case in FIGURES]
)
def test_a_wrong_model_writes_its_figure(
    name: str, circuit: str, meter: tuple[str, str], hands: tuple[Hand, ...], at_s: float, volts: float
) -> None:
    course = Course(sheet(meter, hands=hands, at_s=at_s), Assembly(library_circuit(circuit)))
    case = Case(course, 0, end(meter[0]), end(meter[1]))
    figures = [abs(figure.value) for figure in misconception(name).figures(case)]
    assert any(figure == pytest.approx(volts, rel=0.01, abs=1.0) for figure in figures), (figures, case.reading.display)
    assert abs(abs(case.reading.voltage_v) - volts) > 5


def test_stray_voltage_is_not_there_for_who_does_not_know_of_it() -> None:
    line = library_circuit(LINE)
    cut = line.model_copy(
        update={
            "conductors": tuple(wire for wire in line.conductors if wire.id not in ("n-feed", "c5")),
            "strays": (Stray(id="s", a=end("supply:L2"), b=end("contactor:A2"), capacitance_nf=2.0),),
        }
    )
    course = Course(sheet(("contactor:A2", "supply:N")), Assembly(cut))
    case = Case(course, 0, end("contactor:A2"), end("supply:N"))
    assert abs(case.reading.voltage_v) > 5
    assert [figure.value for figure in misconception("stray_is_nothing").figures(case)] == [0.0]


def test_a_proposed_sheet_asks_for_what_tells_and_for_nothing_twice() -> None:
    course = course_of(LINE)
    places = [(spot.red, spot.black) for spot in course.sheet.meters]
    assert len(set(places)) == len(places) == 6
    assert [spot.letter for spot in course.sheet.meters] == list("ABCDEF")
    told = {name for index in range(6) for spot in course.sheet.meters for name in _told(course, index, spot)}
    assert len(told) >= 10
    assert proposed(Course(course.sheet, Assembly(library_circuit("feeder-order"))), 2)


def _told(course: Course, index: int, spot: Spot) -> set[str]:
    case = Case(course, index, spot.red, spot.black)
    return {one.name for one in MISCONCEPTIONS if _other_figures(case, one.name, supply_v(case))}


def test_who_forgets_the_meter_expects_what_stands_there_without_it() -> None:
    """Behind 0.1 nF, 32 megohm, a meter of ten shows a third of what is there."""
    line = library_circuit(LINE)
    cut = line.model_copy(
        update={
            "conductors": tuple(wire for wire in line.conductors if wire.id not in ("n-feed", "c5")),
            "strays": (Stray(id="s", a=end("supply:L2"), b=end("contactor:A2"), capacitance_nf=0.1),),
        }
    )
    course = Course(sheet(("contactor:A2", "supply:N")), Assembly(cut))
    case = Case(course, 0, end("contactor:A2"), end("supply:N"))
    (figure,) = misconception("meter_forgotten").figures(case)
    assert figure.value == pytest.approx(230.9, rel=0.02)
    assert abs(case.reading.voltage_v) < 0.5 * figure.value
