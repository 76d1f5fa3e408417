"""The mark of an exercise: what is lost for what, and why."""

from pathlib import Path

import pytest

from wiretrace.training.exercise.marks import RULE, Done, mark, reason_why, reason_words, weights_of
from wiretrace.training.exercise.record import Risk
from wiretrace.training.exercise.review import StepReview

ROOT = Path(__file__).resolve().parents[2]


def test_the_mark_gives_its_reasons() -> None:
    assert mark(Done(True, True, bound=3)).points == 100
    poor = mark(Done(False, False, risks=[Risk.LIVE, Risk.LIVE], hints=2, sound_parts=1))
    assert {reason_words(one): one.points for one in poor.reasons} == {
        "The fault was not found.": 50,
        "Ohms or insulation on a live circuit. 2 times.": 20,
        "2 steps of hints.": 6,
        "1 sound part named.": 10,
    }
    assert poor.points == 14
    assert all(len(reason_why(one)) > 30 for one in poor.reasons)


def test_the_page_on_marks_has_every_weight_and_why() -> None:
    rows = [
        tuple(cell.strip(" `") for cell in line.split("|")[1:-1])
        for line in (ROOT / "docs" / "marks.md").read_text(encoding="utf-8").splitlines()
        if line.startswith("| `")
    ]
    assert rows == [(code, str(one.points), str(one.most), one.why) for code, one in RULE.items()]


def test_an_instructor_weighs_otherwise() -> None:
    work = Done(False, False, risks=[Risk.LIVE], hints=2, sound_parts=1)
    usual, own = mark(work), mark(work, {"not_found": 30, "hints": 0, "sound_parts": 15})
    assert {one.code: one.points for one in own.reasons} == {"not_found": 30, "risk": 10, "hints": 0, "sound_parts": 15}
    assert own.points == 45 != usual.points
    # More than all of them would cost as usual: it costs what one costs.
    dear = mark(Done(True, True, [read(1, wasted=True)] * 3, 9, named_at=1), {"wasted": 40})
    assert [one.points for one in dear.reasons] == [40]


@pytest.mark.parametrize("kept", [{}, {"hints": 0}, {"hints": 1, "former": 3, "gone": 9}])
def test_of_weights_that_were_kept_those_of_today_count(kept: dict[str, int]) -> None:
    assert weights_of(kept) == {code: points for code, points in kept.items() if code == "hints"}


def read(after: int, *, wasted: bool = False) -> StepReview:
    return StepReview(9, after, 1.0, True, "", 0.0, wasted, ())


@pytest.mark.parametrize(
    ("named_at", "best_leaves", "points"), [(1, 1, 100), (3, 1, 100), (4, 1, 80), (8, 4, 100), (9, 4, 80)]
)
def test_what_is_named_before_the_readings_point_to_it_is_a_guess(named_at: int, best_leaves: int, points: int) -> None:
    made = mark(Done(True, True, [read(named_at)], 1, named_at=named_at, best_leaves=best_leaves))
    assert made.points == points
    told = [reason_words(one) for one in made.reasons]
    guess = f"Named while {named_at} faults fitted all that was observed: a guess."
    assert told == ([] if points == 100 else [guess])


def test_no_kind_of_reason_costs_more_than_the_rule_says() -> None:
    made = mark(Done(True, True, [read(1, wasted=True)] * 30, 1, hints=2, named_at=1))
    assert {one.code: one.points for one in made.reasons} == {
        "readings": RULE["readings"].most,
        "wasted": RULE["wasted"].most,
        "hints": 6,
    }
