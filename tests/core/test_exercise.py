"""What every fault would have shown along a course, hidden faults from a seed, work orders, and answers."""

import math
from collections.abc import Sequence
from dataclasses import replace

import pytest

from tests.core.circuits import end, lamp
from tests.sweep import todays
from wiretrace.diagnosis.hypotheses import hypotheses
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.diagnosis.repertoire import spots
from wiretrace.document.circuit import Circuit
from wiretrace.errors import UnknownTarget
from wiretrace.faults.fault import Fault, Sort
from wiretrace.faults.kinds.elements import HighResistance, Open
from wiretrace.faults.kinds.terminals import LooseTerminal
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.measures import Ohmmeter, Shown, Voltmeter
from wiretrace.library import library_circuit, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state
from wiretrace.training.exercise.answers import against, mended, proved
from wiretrace.training.exercise.bench import checked, go, with_faults
from wiretrace.training.exercise.following import Observed, Runs, follow, observed
from wiretrace.training.exercise.hidden import LEVELS, Chance, draw
from wiretrace.training.exercise.hints import UNEXPLAINED, _alone, hint, outcomes
from wiretrace.training.exercise.order import looks_under, work_order
from wiretrace.training.exercise.review import review_step
from wiretrace.training.exercise.risks import Care
from wiretrace.training.exercise.steps import (
    Begin,
    BridgeOver,
    Course,
    Leg,
    Lift,
    Note,
    Read,
    Step,
    Wait,
    Work,
    advance,
)
from wiretrace.training.exercise.thinking import Thinking
from wiretrace.training.exercise.tries import best_try

LAMP = lamp()
PRESS = Work(device="s1", operation="press")


def volts(red: str, black: str) -> Read:
    return Read(measure=Voltmeter(red=end(red), black=end(black)))


class Taken:
    """A panel with hidden faults, and what was observed on the way; `noise` is by how much the meter is off."""

    def __init__(self, circuit: Circuit, hidden: Sequence[Fault], steps: Sequence[Step], noise: float = 0.0) -> None:
        self.circuit, self.assembly = circuit, Assembly(circuit)
        self.legs, self.seen = list[Leg](), list[Observed]()
        course, state = Course(), initial_state(with_faults(self.assembly, hidden, ()))
        for number, step in enumerate((Begin(), *steps)):
            course, leg = checked(self.assembly, course, step)
            state, outcome = go(with_faults(self.assembly, hidden, leg.own), state, leg)
            what = observed(self.assembly, outcome)
            if what.shown is not None and what.shown.value is not None and math.isfinite(what.shown.value):
                off = what.shown.value * (1 + (noise if number % 2 else -noise))
                what = replace(what, shown=what.shown.model_copy(update={"value": off}))
            self.legs.append(leg)
            self.seen.append(what)
        self.course = course

    def thinking(self) -> Thinking:
        where, every = spots(self.assembly), hypotheses(self.assembly)
        runs = Runs(self.assembly)
        known = {n: follow(runs, self.legs, self.seen, where, one) for n, one in enumerate(every)}
        return Thinking(self.circuit, where, every, known, len(self.legs), any(leg.own for leg in self.legs))

    def left(self) -> list[Fault | None]:
        thinking = self.thinking()
        return [thinking.every[number].fault for number in thinking.possible(thinking.legs - 1)]


def test_a_step_takes_the_time_that_it_takes() -> None:
    course, leg = advance(Course(), Begin())
    assert (course.at_us, leg.hands) == (60_000_000, ())
    course, leg = advance(course, PRESS)
    assert leg.hands == ((62_000_000, "s1", "press", True),)
    course, leg = advance(course, volts("h1:X1", "h1:X2"))
    # The door is opened once, 20 s; both probes 20 s, one of them 12 s, none 3 s.
    assert course.at_us == 104_000_000
    course, _ = advance(course, volts("h1:X1", "g1:N"))
    assert course.at_us == 116_000_000
    course, _ = advance(course, volts("h1:X1", "g1:N"))
    assert course.at_us == 119_000_000
    other, _ = advance(course, Read(measure=Ohmmeter(red=end("h1:X1"), black=end("g1:N"))))
    assert other.at_us == 139_000_000
    course, _ = advance(course, Note(text="nothing"))
    assert course.at_us == 119_000_000


def test_what_is_lifted_and_bridged_stays_until_it_is_put_back() -> None:
    course, leg = advance(Course(), Lift(wire="w1"))
    assert leg.own == (Open(place="w1"),)
    course, leg = advance(course, BridgeOver(red=end("s1:13"), black=end("s1:14")))
    assert len(leg.own) == 2
    course, leg = advance(course, Lift(wire="w1", off=False))
    assert [type(one).__name__ for one in leg.own] == ["Bridge"]


@pytest.mark.parametrize("text", ["H1/lamp=open", "w1=open", "F1:2=open", "S1/13-14=open", "w3=open"])
def test_every_reading_leaves_the_hidden_fault_among_what_fits(text: str) -> None:
    hidden = fault_from_text(LAMP, text)
    steps = [PRESS, volts("h1:X1", "h1:X2"), volts("s1:13", "g1:N"), volts("s1:14", "g1:N"), volts("f1:2", "g1:N")]
    course = Taken(LAMP, [hidden], steps, noise=0.01)
    left = course.left()
    assert hidden in left
    assert len(left) <= 7


def test_a_joint_with_ohms_that_no_row_has_is_found() -> None:
    # 700 ohm lies between the values that stand for the range, 300 and 3000.
    hidden = HighResistance(place="w1", resistance_ohm=700.0)
    course = Taken(LAMP, [hidden], [PRESS, volts("f1:2", "s1:13"), volts("s1:13", "g1:N")])
    assert {type(one) for one in course.left() if one} == {HighResistance}
    assert [one.where for one in course.left() if one] == ["w1"]


def test_two_faults_at_once_are_explained_by_neither_alone() -> None:
    two = [fault_from_text(LAMP, "w1=open"), fault_from_text(LAMP, "H1/lamp=open")]
    bridge = BridgeOver(red=end("f1:2"), black=end("s1:13"))
    course = Taken(LAMP, two, [PRESS, volts("s1:13", "g1:N"), bridge, volts("h1:X1", "h1:X2"), Wait(seconds=1)])
    thinking = course.thinking()
    assert thinking.possible(thinking.legs - 1) == ()
    assert hint(thinking, Runs(course.assembly), Course(), 1, Care()) == UNEXPLAINED
    # With the first reading alone it was the first of the two.
    assert two[0] in [thinking.every[n].fault for n in thinking.possible(2)]


def test_an_intermittent_fault_leaves_nothing_that_fits_once_it_has_gone() -> None:
    away = LooseTerminal(place="h1", terminal="X1", slot_us=1_000_000, seed=3)
    course = Taken(LAMP, [away], [PRESS, *(volts("s1:14", "g1:N") for _ in range(6)), Wait(seconds=20)])
    assert course.left() == []


def test_what_somebody_lifted_is_off_for_every_fault_that_is_followed() -> None:
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    course = Taken(LAMP, [hidden], [PRESS, Lift(wire="w2"), volts("h1:X1", "g1:N"), volts("s1:14", "g1:N")])
    assert [what.shown.value for what in course.seen if what.shown] == pytest.approx([0.0, 230.0], abs=0.1)
    assert hidden in course.left()


def test_faults_that_are_alike_share_a_run_and_nothing_else() -> None:
    """Also where a wire is lifted on the way and put back: from there each goes its own."""
    pump = library_circuit("two-wire-float")
    hidden = fault_from_text(pump, "K1/coil=300ohm")
    coil = next(wire for wire in pump.conductors if "A1" in (wire.a.terminal, wire.b.terminal))
    read = Read(measure=Voltmeter(red=coil.a, black=coil.b))
    lifted = [Lift(wire=coil.id), read, Lift(wire=coil.id, off=False), read]
    course = Taken(pump, [hidden], [Wait(seconds=5), read, *lifted])
    where, shared = spots(course.assembly), Runs(course.assembly)
    left, every = 0, hypotheses(Assembly(pump))
    for one in [*(one for one in every if one.fault == hidden), *todays(every, 3)]:
        together = follow(shared, course.legs, course.seen, where, one)
        alone = follow(Runs(course.assembly), course.legs, course.seen, where, one)
        assert (together.fits, together.looked) == (alone.fits, alone.looked), one.fault
        left += any(together.fits[-1]) and len(together.fits) == len(course.legs)
        for leg, moment in alone.moments.items():
            # Where a value does not fit, what it would show is of no account.
            fits = list(alone.looked[leg])
            assert together.moments[leg].volts[fits] == pytest.approx(moment.volts[fits], abs=0.01)
    assert left > 0


def test_taken_farther_it_is_as_taken_at_once() -> None:
    hidden = fault_from_text(LAMP, "w1=open")
    course = Taken(LAMP, [hidden], [PRESS, volts("s1:13", "g1:N"), volts("f1:2", "g1:N")])
    where = spots(course.assembly)
    for one in hypotheses(Assembly(LAMP)):
        whole = follow(Runs(course.assembly), course.legs, course.seen, where, one)
        half = follow(Runs(course.assembly), course.legs[:2], course.seen[:2], where, one)
        rest = follow(Runs(course.assembly), course.legs, course.seen, where, one, half)
        assert (rest.fits, rest.looked) == (whole.fits, whole.looked)
        for leg in whole.moments:
            assert (rest.moments[leg].volts == whole.moments[leg].volts).all()


def test_a_reading_tells_what_it_leaves_and_the_best_tells_no_less() -> None:
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    course = Taken(LAMP, [hidden], [PRESS, volts("f1:1", "g1:N"), volts("h1:X1", "h1:X2")])
    thinking = course.thinking()
    first = review_step(thinking, course.assembly, 2, read=True, locked=False)
    second = review_step(thinking, course.assembly, 3, read=True, locked=False)
    assert first.best_bits >= first.bits
    assert second.bits > 1
    assert math.isclose(
        second.bits,
        math.log2(thinking.weight(thinking.possible(3, looked=True)) / thinking.weight(thinking.possible(3))),
    )
    assert set(second.places) == {"h1"}
    told = thinking.best(2, locked=False)
    assert told is not None
    assert sum(len(left) for _, left in outcomes(told[0], told[1].observation)) >= len(thinking.possible(2))


def test_a_button_is_advised_where_it_tells_no_less_than_a_reading() -> None:
    """Under power and nothing pressed: what H1 does then parts the faults; each is tried by itself here."""
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    course = Taken(LAMP, [hidden], [])
    thinking, runs = course.thinking(), Runs(course.assembly)
    found = best_try(thinking, runs, course.course)
    assert found is not None
    assert found.button.label == "S1"
    _, leg = advance(course.course, Work(device="s1", operation="press", briefly=True))
    lit = set()
    for number in thinking.possible(0):
        for fault in thinking.every[number].values or (None,):
            panel = course.assembly.with_faults(() if fault is None else (fault,))
            begun, _ = go(panel, initial_state(panel), course.legs[0])
            _, outcome = go(panel, begun, leg)
            if ("h1", "lit") in {(event.device, event.status) for event in outcome.events}:
                lit.add(number)
    told = [numbers for happens, numbers in found.leaves.items() if "H1 lit" in happens]
    assert {number for numbers in told for number in numbers} == lit
    assert 0 < len(lit) < len(thinking.possible(0))
    text = hint(thinking, runs, course.course, 2, Care())
    assert text.startswith(("Press S1, let it go", "Measure volts"))
    reading = thinking.best(0, locked=False)
    assert reading is not None
    assert text.startswith("Press") == (found.bits >= reading[1].bits)


def test_where_one_fault_is_left_a_hint_sends_nobody_to_measure() -> None:
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    steps = [PRESS, volts("f1:1", "g1:N"), volts("h1:X1", "h1:X2")]
    course = Taken(LAMP, [hidden], steps)
    thinking, runs = course.thinking(), Runs(course.assembly)
    left = thinking.possible(thinking.legs - 1)
    told = [hint(thinking, runs, course.course, step, Care()) for step in (1, 2, 3)]
    if len(left) == 1:
        assert told[0] == "One fault alone still explains all that was observed."
        assert told[1].startswith("Nothing more needs to be measured. Switch off, lock off, prove dead, and look at H1")
        assert told[2].startswith("It is this: ")
    else:
        assert told[0].startswith(f"{len(left)} faults still explain")
    alone = _alone(thinking, course.assembly, left[0], 2)
    assert "prove dead" in alone
    assert _alone(thinking, course.assembly, 0, 3) == UNEXPLAINED


def test_nobody_is_told_to_press_what_is_dead_or_has_tripped() -> None:
    """Three readings later the button tells more than any reading, but not there."""
    hidden = fault_from_text(LAMP, "S1/13-14=3000ohm")
    course = Taken(LAMP, [hidden], [volts("f1:2", "g1:N"), volts("s1:13", "g1:N"), volts("s1:14", "g1:N")])
    thinking, runs = course.thinking(), Runs(course.assembly)

    def said(step: int, care: Care) -> str:
        return hint(thinking, runs, course.course, step, care)

    assert said(2, Care()).startswith("Press S1, let it go, and watch")
    assert "H1 lit then dark: " in said(3, Care())
    assert said(2, Care(locked=True)).startswith("Measure ohms")
    assert said(2, Care(tripped=frozenset({"f1"}))).startswith("Measure volts")


@pytest.mark.parametrize("level", LEVELS)
@pytest.mark.parametrize("name", todays(["start-stop-overload-line", "reversing-interlocked", "two-wire-float"], 3))
def test_what_is_drawn_has_a_symptom_and_comes_again(name: str, level: int) -> None:
    circuit = library_circuit(name)
    halts = halts_of(Assembly(circuit), library_sequence(name).steps)
    for seed in (1, 2):
        hidden = draw(Assembly(circuit), halts, seed, LEVELS[level])
        assert draw(Assembly(circuit), halts, seed, LEVELS[level]) == hidden
        assert looks_under(Assembly(circuit), hidden, halts) != looks_under(Assembly(circuit), (), halts)
        order = work_order(Assembly(circuit), hidden, halts)
        assert order.endswith("Find the cause and repair it.")
        assert not any(word in order for word in (" is open", "loose", "short-circuited", "300 ohm"))


def test_draws_follow_from_the_seed_alone() -> None:
    first, again = Chance(42), Chance(42)
    drawn = [first.below(1000) for _ in range(50)]
    # Kept for good: a number that an instructor has given must give the same fault in years.
    assert drawn[:4] == [494, 98, 945, 633]
    assert drawn == [again.below(1000) for _ in range(50)]
    assert len(set(drawn)) > 40


def test_two_drawn_at_once_are_two() -> None:
    halts = halts_of(Assembly(LAMP))
    for seed in range(10):
        one, other = draw(Assembly(LAMP), halts, seed, [Sort.TWO])
        assert one != other


def test_an_answer_that_nothing_tells_from_the_fault_counts_as_it() -> None:
    halts = halts_of(Assembly(LAMP))
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    assert mended(Assembly(LAMP), [hidden], hidden, halts) is hidden
    assert mended(Assembly(LAMP), [hidden], fault_from_text(LAMP, "H1:X2=open"), halts) is hidden
    assert mended(Assembly(LAMP), [hidden], fault_from_text(LAMP, "w2=open"), halts) is None
    joint = HighResistance(place="w1", resistance_ohm=700.0, slot_us=20_000, seed=1)
    assert mended(Assembly(LAMP), [joint], HighResistance(place="w1", resistance_ohm=300.0), halts) is joint
    assert mended(Assembly(LAMP), [joint], Open(place="w1"), halts) is None
    # Beside another fault too.
    assert mended(Assembly(LAMP), [joint, hidden], fault_from_text(LAMP, "H1:X2=open"), halts) is hidden
    assert mended(Assembly(LAMP), [joint, hidden], fault_from_text(LAMP, "w2=open"), halts) is None


def test_against_a_wrong_answer_speaks_the_first_observation_that_does_not_fit() -> None:
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    course = Taken(LAMP, [hidden], [PRESS, volts("f1:1", "g1:N"), volts("h1:X1", "h1:X2")])
    assert against(Assembly(LAMP), course.legs, course.seen, fault_from_text(LAMP, "w2=open")) == 3
    assert against(Assembly(LAMP), course.legs, course.seen, hidden) is None


def test_the_proof_sees_what_was_left_at_the_panel() -> None:
    halts = halts_of(Assembly(LAMP))
    assert proved(Assembly(LAMP), (), halts).unmet == ()
    assert proved(Assembly(LAMP), (Open(place="w2"),), halts).unmet == ("Hold S1: H1 dark, should be lit",)


@pytest.mark.parametrize(
    "step",
    [
        Work(device="s1", operation="fly"),
        Work(device="s9", operation="press"),
        Lift(wire="w9"),
        Lift(wire="w1", off=False),
    ],
)
def test_what_cannot_be_done_is_refused(step: Step) -> None:
    with pytest.raises(UnknownTarget):
        checked(Assembly(LAMP), Course(), step)


def test_readings_that_are_refused_fit_only_where_they_would_be_refused() -> None:
    refused = Shown(display="- - -", note="live", refused=True)
    hidden = fault_from_text(LAMP, "H1/lamp=open")
    course = Taken(LAMP, [hidden], [PRESS, Read(measure=Ohmmeter(red=end("h1:X1"), black=end("h1:X2")))])
    assert course.seen[-1].shown is not None
    assert course.seen[-1].shown.refused == refused.refused
    assert hidden in course.left()
