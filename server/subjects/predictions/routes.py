"""/api/jobs/ID/predictions: prediction sheets of a job, attempts at them, and marks."""

import json
from typing import Any, Final

from apiflask import APIBlueprint

from server.connection import connection
from server.person import is_mine, me, only_mine
from server.problems import NotYours, Withheld
from server.store.errors import Refused
from server.subjects.predictions import store
from server.subjects.predictions.bodies import (
    Answers,
    AttemptBody,
    AttemptLine,
    AttemptList,
    Believed,
    Change,
    CompareState,
    Ended,
    FitData,
    Key,
    MarkData,
    NewAttempt,
    NewSheet,
    Positions,
    PositionsRequest,
    ProposalRequest,
    ProposedMeters,
    SheetBody,
    SheetFile,
    SheetLine,
    SheetList,
    SheetRead,
    TellingData,
)
from wiretrace.catalogue.machinery.status import words
from wiretrace.document.checked import kept_circuit
from wiretrace.document.circuit import Circuit
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.faults.text import fault_words
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.prediction.belief import asked, believed, tells_apart
from wiretrace.training.prediction.marking import Mark, mark_state, mark_upgrades
from wiretrace.training.prediction.misconceptions import misconception
from wiretrace.training.prediction.models import Course
from wiretrace.training.prediction.positions import telling, useless
from wiretrace.training.prediction.proposing import proposed
from wiretrace.training.prediction.sheet import NEXT, PredictionSheet, Spot, kept_sheet, misfits, sheet_from_data

blueprint = APIBlueprint("predictions", __name__, url_prefix="/api/jobs/<int:job_id>/predictions")
marks = APIBlueprint("marks", __name__, url_prefix="/api/predictions")

TRIES: Final = 3
"""Times that an attempt is marked anew, where something is written meanwhile."""


@blueprint.get("")
@blueprint.output(SheetList)
def list_sheets(job_id: int) -> Any:
    """All prediction sheets of a job, the last first."""
    return {"sheets": [line.__dict__ for line in store.list_sheets(connection(), job_id)]}


@blueprint.post("")
@blueprint.input(NewSheet, arg_name="body")
@blueprint.output(SheetLine, status_code=201)
def keep_sheet(job_id: int, body: NewSheet) -> Any:
    """Keep a sheet with the circuit as it is now. One that asks for what is not in the circuit is refused."""
    _checked(body.sheet, Assembly(body.circuit))
    sheet, circuit = body.sheet.model_dump(mode="json"), body.circuit.model_dump(mode="json")
    return store.keep_sheet(connection(), job_id, me(), sheet, circuit).__dict__


@blueprint.get("/<int:sheet_id>")
@blueprint.output(SheetBody)
def read_sheet(job_id: int, sheet_id: int) -> SheetBody:
    """One sheet with its circuit, and who attempted it. What they wrote is asked for by itself."""
    kept = store.read_sheet(connection(), job_id, sheet_id)
    sheet, circuit = _opened(kept)
    told = is_mine(kept.owner) and not store.anybody_writes(connection(), kept.id)
    hides = bool(sheet.faults) and not sheet.told and not told
    assembly = Assembly(circuit)
    return SheetBody(
        id=kept.id,
        told=told,
        made_at=kept.made_at,
        sheet=sheet if told else sheet.model_copy(update={"next": "", **({"faults": ()} if hides else {})}),
        circuit=circuit,
        faults=() if hides else tuple(fault_words(assembly, fault) for fault in sheet.faults),
        hides=hides,
        attempts=tuple(AttemptLine(**_line(one)) for one in kept.attempts),
    )


@blueprint.delete("/<int:sheet_id>")
@blueprint.output({}, status_code=204)
def delete_sheet(job_id: int, sheet_id: int) -> Any:
    """Forget a sheet and all attempts at it for good."""
    only_mine(store.read_sheet(connection(), job_id, sheet_id).owner, "This sheet")
    store.delete_sheet(connection(), job_id, sheet_id)
    return ""


@blueprint.post("/<int:sheet_id>/attempts")
@blueprint.input(NewAttempt, arg_name="body")
@blueprint.output(AttemptBody, status_code=201)
def begin_attempt(job_id: int, sheet_id: int, body: NewAttempt) -> AttemptBody:
    """Begin to fill in a sheet."""
    return _attempt(store.begin_attempt(connection(), job_id, sheet_id, me(), body.who))


@blueprint.get("/<int:sheet_id>/attempts")
@blueprint.output(AttemptList)
def list_attempts(job_id: int, sheet_id: int) -> AttemptList:
    """All attempts with what was written and its marks. 403 while anybody still writes."""
    kept = _told_now(job_id, sheet_id)
    return AttemptList(attempts=tuple(_attempt(_whole(kept, one)) for one in store.attempts_of(connection(), kept.id)))


@blueprint.get("/<int:sheet_id>/attempts/<int:attempt_id>")
@blueprint.output(AttemptBody)
def read_attempt(job_id: int, sheet_id: int, attempt_id: int) -> AttemptBody:
    """One attempt with what was written; to whoever writes it."""
    return _attempt(_whole(*_own(job_id, sheet_id, attempt_id)))


@blueprint.post("/<int:sheet_id>/attempts/<int:attempt_id>")
@blueprint.input(Answers, arg_name="body")
@blueprint.output(AttemptBody)
def write_answers(job_id: int, sheet_id: int, attempt_id: int, body: Answers) -> AttemptBody:
    """Write answers; what was written before is kept with its time. 409 for what has been compared or has ended."""
    _own(job_id, sheet_id, attempt_id)
    written = [store.Written(**vars(one)) for one in body.answers]
    return _attempt(store.write_answers(connection(), sheet_id, attempt_id, body.writer, written))


@blueprint.post("/<int:sheet_id>/attempts/<int:attempt_id>/compare")
@blueprint.input(CompareState, arg_name="body")
@blueprint.output(AttemptBody)
def compare(job_id: int, sheet_id: int, attempt_id: int, body: CompareState) -> AttemptBody:
    """Compare one state with the circuit: it is marked for good, and what was written for it stays as it is."""
    kept, attempt = _own(job_id, sheet_id, attempt_id)
    sheet, _ = _opened(kept)
    if body.state >= len(sheet.states):
        raise _no_such_state(sheet)
    if str(body.state) in attempt.marks or attempt.ended_at is not None:
        return _attempt(attempt)
    return _attempt(_closed(kept, attempt, [body.state], ends=False))


@blueprint.patch("/<int:sheet_id>/attempts/<int:attempt_id>")
@blueprint.input(Ended, arg_name="body")
@blueprint.output(AttemptBody)
def end_attempt(job_id: int, sheet_id: int, attempt_id: int, body: Ended) -> AttemptBody:
    """Say that a sheet is filled in: all of it is marked, and stays as it is."""
    kept, attempt = _own(job_id, sheet_id, attempt_id)
    if attempt.ended_at is None:
        attempt = _closed(kept, attempt, _left(kept, attempt), ends=True)
    return _attempt(attempt)


@blueprint.get("/<int:sheet_id>/attempts/<int:attempt_id>/belief")
@blueprint.output(Believed)
def what_explains_it(job_id: int, sheet_id: int, attempt_id: int) -> Believed:
    """What explains the answers to the states that were compared: to whoever writes them, and who made the sheet."""
    kept = store.read_sheet(connection(), job_id, sheet_id)
    attempt = store.read_attempt(connection(), sheet_id, attempt_id)
    if not is_mine(attempt.owner):
        _told_now(job_id, sheet_id)
    sheet, circuit = _opened(kept)
    compared = sorted(int(state) for state in attempt.marks)
    if not compared:
        return Believed(named=(), apart=None)
    course = Course(sheet, Assembly(circuit))
    found = believed(list(asked(course, {index: attempt.answers.get(str(index), {}) for index in compared})))
    apart = tells_apart(course, found.names, compared) if len(found.names) == 2 else None
    return Believed(
        named=tuple(_fit(name, about) for name, about in zip(found.names, found.about, strict=True)), apart=apart
    )


@blueprint.get("/<int:sheet_id>/key")
@blueprint.output(Key)
def answer_key(job_id: int, sheet_id: int) -> Key:
    """What the circuit shows in every state. 403 while anybody still writes."""
    sheet, circuit = _opened(_told_now(job_id, sheet_id))
    course = Course(sheet, Assembly(circuit))
    marks = (mark_state(course, index, {}) for index in range(len(sheet.states)))
    return Key(states=tuple({place: _told(place, mark) for place, mark in row.items()} for row in marks))


def _opened(kept: store.KeptSheet) -> tuple[PredictionSheet, Circuit]:
    return kept_sheet(kept.sheet), kept_circuit(kept.circuit)


def _told_now(job_id: int, sheet_id: int) -> store.KeptSheet:
    """A sheet of which all may be told: to whoever made it, while nobody writes. Raises Withheld, NotYours."""
    kept = store.read_sheet(connection(), job_id, sheet_id)
    if not is_mine(kept.owner):
        raise NotYours("What others wrote, and the answers, are for whoever made the sheet.")
    if store.anybody_writes(connection(), sheet_id):
        raise Withheld("An attempt at this sheet is going on: end it first.")
    return kept


def _own(job_id: int, sheet_id: int, attempt_id: int) -> tuple[store.KeptSheet, store.Attempt]:
    """A sheet and one's attempt at it. Raises NotFound, NotYours."""
    kept = store.read_sheet(connection(), job_id, sheet_id)
    attempt = store.read_attempt(connection(), sheet_id, attempt_id)
    only_mine(attempt.owner, "This attempt")
    return kept, attempt


def _whole(kept: store.KeptSheet, attempt: store.Attempt) -> store.Attempt:
    """An attempt with all its marks: one that ended in an earlier release is marked when it is first asked for."""
    left = _left(kept, attempt)
    return _closed(kept, attempt, left, ends=True) if attempt.ended_at is not None and left else attempt


def _left(kept: store.KeptSheet, attempt: store.Attempt) -> list[int]:
    """States that are not marked yet."""
    return [index for index in range(len(kept.sheet["states"])) if str(index) not in attempt.marks]


def _closed(kept: store.KeptSheet, attempt: store.Attempt, states: list[int], ends: bool) -> store.Attempt:
    """Mark states for good as they are written; anew where something was written meanwhile. Raises Refused."""
    sheet, circuit = _opened(kept)
    for _ in range(TRIES):
        found = store.keep_marks(connection(), kept.id, attempt, _marked(sheet, circuit, attempt, states), ends)
        if found is not None:
            return found
        attempt = store.read_attempt(connection(), kept.id, attempt.id)
    raise Refused("Something is being written here: compare when that is done.")


def _marked(sheet: PredictionSheet, circuit: Circuit, attempt: store.Attempt, states: list[int]) -> dict[str, Any]:
    """Marks of some states for what is written, as plain data."""
    if not states:
        return {}
    # Only as far as the last state that is asked about: what comes after it has no say.
    asked_of = sheet.states[: max(states) + 1]
    whole = len(asked_of) == len(sheet.states)
    asked = sheet.model_copy(update={"states": asked_of, "asks_next": sheet.asks_next and whole})
    course = Course(asked, Assembly(circuit))
    return {
        str(index): {
            place: mark.model_dump(mode="json")
            for place, mark in mark_state(course, index, attempt.answers.get(str(index), {})).items()
        }
        for index in states
    }


def _told(place: str, mark: Mark) -> MarkData:
    """A mark as people read it."""
    return MarkData(
        expected=mark.expected,
        # What one would measure next is no status, but what whoever made the sheet wrote.
        shown=mark.shown if place == NEXT else words(mark.shown),
        right=mark.right,
        question=mark.question,
        fits=tuple(_fit(fit.name, fit.about) for fit in mark.fits),
    )


def _fit(name: str, about: str) -> FitData:
    one = misconception(name)
    return FitData(name=one.name, title=one.title, leads_to=one.leads_to, right=one.right, about=about)


def _line(one: store.AttemptLine) -> dict[str, Any]:
    return {
        "id": one.id,
        "who": one.who,
        "mine": is_mine(one.owner),
        "started_at": one.started_at,
        "ended_at": one.ended_at,
    }


def _attempt(one: store.Attempt) -> AttemptBody:
    return AttemptBody(
        **_line(one),
        answers=one.answers,
        changes=tuple(
            Change(at=each["at"], state=each["state"], place=each["place"], text=each["text"]) for each in one.changes
        ),
        marks={
            state: {place: _told(place, Mark.model_validate(mark_upgrades(mark))) for place, mark in row.items()}
            for state, row in one.marks.items()
        },
    )


@marks.post("/file")
@marks.input(SheetFile, arg_name="body")
@marks.output(SheetRead)
def read_file(body: SheetFile) -> Any:
    """A prediction sheet from a file, read as far as it goes."""
    try:
        data = json.loads(body.text)
    except ValueError:
        message = "This is no JSON, so no prediction sheet."
        raise MalformedDocument(message, (Problem("not_json", message),)) from None
    sheet, problems = sheet_from_data(data)
    return SheetRead(sheet=sheet, problems=tuple(problem.message for problem in problems))


@marks.post("/positions")
@marks.input(PositionsRequest, arg_name="body")
@marks.output(Positions)
def positions(body: PositionsRequest) -> Any:
    """Which meters of a sheet can never tell anything, and where one would tell two states apart."""
    assembly = Assembly(body.circuit)
    _checked(body.sheet, assembly)
    course = Course(body.sheet, assembly)
    if body.apart and max(body.apart) >= len(course.frames):
        raise _no_such_state(body.sheet)
    found = telling(course, *body.apart) if body.apart else []
    return Positions(useless=tuple(useless(course)), telling=tuple(TellingData(**vars(one)) for one in found))


@marks.post("/proposed")
@marks.input(ProposalRequest, arg_name="body")
@marks.output(ProposedMeters)
def propose_meters(body: ProposalRequest) -> ProposedMeters:
    """The six meters that tell most of how somebody thinks, in the states that are asked about."""
    if not body.circuit.conductors:
        message = "Nothing is wired yet: there is nothing to be asked about."
        raise UnknownTarget(message, (Problem("not_in_the_circuit", message),))
    wire, assembly = body.circuit.conductors[0], Assembly(body.circuit)
    anywhere = Spot(letter="A", red=wire.a, black=wire.b)
    sheet = PredictionSheet(title="Proposed", meters=(anywhere,), hands=body.hands, states=body.states)
    _checked(sheet, assembly)
    return ProposedMeters(meters=proposed(Course(sheet, assembly)))


def _no_such_state(sheet: PredictionSheet) -> UnknownTarget:
    message = f"The sheet has {len(sheet.states)} states."
    return UnknownTarget(message, (Problem("no_such_state", message),))


def _checked(sheet: PredictionSheet, assembly: Assembly) -> None:
    """Raises UnknownTarget for a sheet that asks for what is not in the circuit."""
    wrong = list(misfits(sheet, assembly))
    if wrong:
        raise UnknownTarget(wrong[0], tuple(Problem("not_in_the_circuit", message) for message in wrong))
