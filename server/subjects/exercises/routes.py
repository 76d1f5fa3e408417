"""/api/jobs/ID/exercises: hidden faults that are to be found at the panel, step by step."""

from typing import Any, Final, Literal

from apiflask import APIBlueprint
from flask import Response

from server.assemblies import likeness
from server.connection import connection
from server.faults import FAULTS
from server.person import is_mine, me, only_mine
from server.problems import Withheld
from server.store.errors import NotFound, Refused
from server.subjects.exercises import store
from server.subjects.exercises.bodies import (
    After,
    AnswerRequest,
    BestStep,
    EntriesFrom,
    ExerciseBody,
    ExerciseLine,
    ExerciseList,
    HintRequest,
    KeptReview,
    NewExercise,
    Reviewed,
    ReviewedStep,
    StepRequest,
    Thought,
    WeightLine,
)
from server.subjects.exercises.drawing import drawn
from server.subjects.exercises.exercise import (
    Exercise,
    claim,
    going_on,
    judge,
    new,
    opened,
    record,
    standing_of,
    take,
)
from server.subjects.exercises.marking import as_read, marked_by_rule
from server.subjects.exercises.thinking import think
from server.subjects.interchange.routes import FILE
from server.subjects.numbers import store as numbers
from wiretrace.diagnosis.isolation import isolation_words
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.faults.text import fault_words
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.answers import proved
from wiretrace.training.exercise.following import Runs
from wiretrace.training.exercise.hidden import LEVELS
from wiretrace.training.exercise.hints import COST_S, hint
from wiretrace.training.exercise.marks import RULE
from wiretrace.training.exercise.order import work_order
from wiretrace.training.exercise.record import Entry
from wiretrace.training.exercise.review import best_path, review_step
from wiretrace.training.exercise.steps import SECOND_US, Read
from wiretrace.training.exercise.told import ToldEntry, record_csv, told
from wiretrace.upgrading import Data, Upgrades


def _reasons(data: Data) -> dict[str, Any]:
    """Version 2 has codes where version 1 had sentences."""
    return {**data, "reasons": [{"code": "former", **one} for one in data["reasons"]]}


review_upgrades: Final = Upgrades("review", _reasons)

blueprint = APIBlueprint("exercises", __name__, url_prefix="/api/jobs/<int:job_id>/exercises")


@blueprint.get("")
@blueprint.output(ExerciseList)
def list_exercises(job_id: int) -> ExerciseList:
    """All exercises of a job, the last first."""
    rule = tuple(
        WeightLine(code=code, title=one.title, points=one.points, least=one.least, why=one.why)
        for code, one in RULE.items()
    )
    return ExerciseList(exercises=tuple(map(_line, store.list_exercises(connection(), job_id))), rule=rule)


@blueprint.post("")
@blueprint.input(NewExercise, arg_name="body")
@blueprint.output(ExerciseBody, status_code=201)
def begin_exercise(job_id: int, body: NewExercise) -> ExerciseBody:
    """Hide faults in the circuit, write the work order, and walk to the panel. One without a symptom is refused."""
    sound = Assembly(body.circuit)
    halts = halts_of(sound, body.sequence.steps)
    sorts = body.sorts or LEVELS[body.level]
    ref = likeness(body.circuit)
    hidden = body.faults or drawn(sound, halts, ref, body.number, sorts)
    sound.with_faults(hidden)
    order = work_order(sound, hidden, halts)
    entry, standing = new(sound, hidden)
    what = {
        "owner": me(),
        "ref": ref,
        "number": body.number,
        "who": body.who,
        "work_order": order,
        "circuit": body.circuit.model_dump(mode="json"),
        "sequence": body.sequence.model_dump(mode="json"),
        "faults": FAULTS.dump_python(tuple(hidden), mode="json"),
        "standing": standing,
        "weights": {code: points for code, points in body.weights.items() if points != RULE[code].points},
    }
    kept = store.keep_exercise(connection(), job_id, what, entry.model_dump(mode="json"))
    return _body(opened(connection(), job_id, kept.id))


@blueprint.get("/<int:exercise_id>")
@blueprint.input(EntriesFrom, location="query", arg_name="query")
@blueprint.output(ExerciseBody)
def read_exercise(job_id: int, exercise_id: int, query: EntriesFrom) -> ExerciseBody:
    """One exercise with its record, or the part of that which is new. 403 while it is somebody else's to find."""
    exercise = opened(connection(), job_id, exercise_id)
    if not _told(exercise):
        only_mine(exercise.kept.owner, "This exercise")
    return _body(exercise, query.after)


@blueprint.delete("/<int:exercise_id>")
@blueprint.output({}, status_code=204)
def delete_exercise(job_id: int, exercise_id: int) -> Any:
    """Forget an exercise and its record for good."""
    only_mine(store.read_exercise(connection(), job_id, exercise_id).owner, "This exercise")
    store.delete_exercise(connection(), job_id, exercise_id)
    return ""


@blueprint.post("/<int:exercise_id>/close")
@blueprint.output(ExerciseBody)
def close_number(job_id: int, exercise_id: int) -> ExerciseBody:
    """Close the number of an exercise: what it hides is told, and nobody begins under it any more.

    409 while somebody still looks for it.
    """
    kept = store.read_exercise(connection(), job_id, exercise_id)
    if kept.number is None:
        raise NotFound("This exercise has no number that could be closed.")
    numbers.close_number(connection(), kept.ref, kept.number)
    return _body(opened(connection(), job_id, exercise_id))


@blueprint.post("/<int:exercise_id>/steps")
@blueprint.input(StepRequest, arg_name="body")
@blueprint.output(ToldEntry, status_code=201)
def take_step(job_id: int, exercise_id: int, body: StepRequest) -> ToldEntry:
    """Do something at the panel: what is then seen, heard and read. 409 where something was recorded meanwhile."""
    exercise = going_on(connection(), job_id, exercise_id, body.known)
    return told(exercise.assembly, take(connection(), exercise, body.step))


@blueprint.post("/<int:exercise_id>/hints")
@blueprint.input(HintRequest, arg_name="body")
@blueprint.output(Thought)
def give_hint(job_id: int, exercise_id: int, body: HintRequest) -> Thought:
    """Think for a second about a hint; ask again until it comes. Where to think, what to measure, or why."""
    exercise = going_on(connection(), job_id, exercise_id, body.known)
    if exercise.mended:
        raise Refused("What was hidden is repaired: prove it by running the sequence.")
    runs = Runs(exercise.assembly)
    done, whole, thinking = think(connection(), exercise, runs)
    if thinking is None:
        return Thought(done=done, all=whole)
    words = hint(thinking, runs, exercise.course, body.step, exercise.care)
    entry = _said(exercise, "hint", COST_S[body.step - 1], words, None).model_copy(update={"hint": body.step})
    return Thought(done=done, all=whole, entry=told(exercise.assembly, record(connection(), exercise, entry)))


@blueprint.post("/<int:exercise_id>/answers")
@blueprint.input(AnswerRequest, arg_name="body")
@blueprint.output(ToldEntry, status_code=201)
def answer(job_id: int, exercise_id: int, body: AnswerRequest) -> ToldEntry:
    """Name what is wrong, and mend it. A wrong answer says which observation speaks against it.

    It is recorded before it is judged: who does not wait for the verdict has answered all the same.
    """
    exercise = going_on(connection(), job_id, exercise_id, body.known)
    # A fault that the circuit cannot have is refused before anything is told.
    exercise.assembly.with_faults((body.fault,))
    claimed = claim(connection(), exercise, body.fault)
    return told(exercise.assembly, judge(connection(), opened(connection(), job_id, exercise_id), claimed.number))


@blueprint.post("/<int:exercise_id>/proof")
@blueprint.input(After, arg_name="body")
@blueprint.output(ToldEntry, status_code=201)
def prove(job_id: int, exercise_id: int, body: After) -> ToldEntry:
    """Run the operating sequence from the beginning, and see whether all does as it should."""
    exercise = going_on(connection(), job_id, exercise_id, body.known)
    proof = proved(exercise.assembly, (*exercise.left, *exercise.course.own), exercise.halts)
    took = sum(halt.wait_us for halt in exercise.halts) // SECOND_US + 10 * len(exercise.halts)
    text = "All does as it should." if not proof.unmet else f"Not as it should be. {proof.unmet[0]}."
    entry = _said(exercise, "proof", took, text, not proof.unmet)
    return told(exercise.assembly, record(connection(), exercise, entry))


@blueprint.post("/<int:exercise_id>/end")
@blueprint.input(After, arg_name="body")
@blueprint.output(ExerciseBody)
def end(job_id: int, exercise_id: int, body: After) -> ExerciseBody:
    """End the exercise, found or not: what was hidden is told, under a number when that is closed."""
    exercise = going_on(connection(), job_id, exercise_id, body.known)
    number = exercise.kept.number
    hidden = f"Hidden was: {'; '.join(_hidden(exercise))}."
    text = hidden if number is None else f"What was hidden is told when number {number} is closed."
    entry = _said(exercise, "end", 0, text, exercise.mended)
    standing = standing_of(exercise.state, exercise.care, exercise.left)
    record(connection(), exercise, entry, standing, ends=True)
    return _body(opened(connection(), job_id, exercise_id))


@blueprint.post("/<int:exercise_id>/review")
@blueprint.output(Reviewed)
def review(job_id: int, exercise_id: int) -> Reviewed:
    """Think for a second about the review of an exercise that has ended; ask again until it comes."""
    exercise = opened(connection(), job_id, exercise_id)
    if not exercise.ended:
        raise Refused("An exercise is reviewed when it has ended.")
    if not _told(exercise):
        raise Withheld(f"It is reviewed when number {exercise.kept.number} is closed.")
    if exercise.kept.review is not None:
        count = len(exercise.kept.review["steps"])
        kept = KeptReview.model_validate(review_upgrades(exercise.kept.review))
        return Reviewed(done=count, all=count, review=as_read(exercise, kept))
    done, whole, thinking = think(connection(), exercise, Runs(exercise.assembly))
    if thinking is None:
        return Reviewed(done=done, all=whole)
    entries, _, _ = exercise.legs()
    steps = [
        review_step(thinking, exercise.assembly, leg, isinstance(entry.step, Read), entry.locked_off)
        for leg, entry in enumerate(entries)
    ]
    first = next((leg for leg, entry in enumerate(entries) if isinstance(entry.step, Read)), None)
    single = exercise.hidden[0] if len(exercise.hidden) == 1 else None
    locked = first is not None and entries[first].locked_off
    best = best_path(thinking, exercise.assembly, first, single, locked)
    marked = marked_by_rule(exercise, list(zip(entries, steps, strict=True)), best or ())
    found = KeptReview(
        steps=tuple(
            ReviewedStep(number=entry.number, **vars(step)) for entry, step in zip(entries, steps, strict=True)
        ),
        best=tuple(BestStep(**vars(one)) for one in best or ()),
        none_needed=best == (),
        points=marked.points,
        reasons=marked.reasons,
        took_s=sum(entry.took_s for entry in exercise.entries),
    )
    store.keep_review(connection(), exercise.id, found.model_dump(mode="json"))
    return Reviewed(done=done, all=whole, review=as_read(exercise, found))


@blueprint.get("/<int:exercise_id>/record.csv")
@blueprint.doc(responses=FILE)
def record_file(job_id: int, exercise_id: int) -> Response:
    """The record as CSV."""
    exercise = opened(connection(), job_id, exercise_id)
    if not _told(exercise):
        only_mine(exercise.kept.owner, "This exercise")
    return Response(record_csv(exercise.assembly, exercise.entries), mimetype="text/csv")


def _said(
    exercise: Exercise,
    kind: Literal["hint", "proof", "end"],
    took_s: int,
    text: str,
    right: bool | None,
) -> Entry:
    return Entry(
        number=len(exercise.entries),
        kind=kind,
        took_s=took_s,
        at_us=exercise.course.at_us,
        text=text,
        right=right,
        locked_off=exercise.care.locked,
    )


def _hidden(exercise: Exercise) -> list[str]:
    return [fault_words(exercise.assembly, fault) for fault in exercise.hidden]


def _told(exercise: Exercise) -> bool:
    """May what was hidden be told? When it has ended; under a number when that is closed: others look for it too."""
    kept = exercise.kept
    return exercise.ended and (kept.number is None or numbers.is_closed(connection(), kept.ref, kept.number))


def _line(one: store.ExerciseLine) -> ExerciseLine:
    return ExerciseLine(
        id=one.id,
        mine=is_mine(one.owner),
        number=one.number,
        who=one.who,
        work_order=one.work_order,
        made_at=one.made_at,
        ended_at=one.ended_at,
    )


def _body(exercise: Exercise, after: int = 0) -> ExerciseBody:
    kept, all_told = exercise.kept, _told(exercise)
    return ExerciseBody(
        **vars(_line(kept)),
        number_closed=kept.number is not None and numbers.is_closed(connection(), kept.ref, kept.number),
        stays_live=isolation_words(exercise.assembly),
        circuit=exercise.circuit,
        entries=tuple(told(exercise.assembly, entry) for entry in exercise.entries[after:]),
        mended=exercise.mended,
        hidden=tuple(_hidden(exercise)) if all_told else (),
    )
