"""/api/jobs/ID/predictions: prediction sheets of a job, attempts at them, and marks."""

import json
from datetime import datetime
from typing import Annotated, Any, Literal

from apiflask import APIBlueprint
from pydantic import Field, StringConstraints

from server.api.bodies import CheckedCircuit
from server.connection import connection
from server.store import predictions as store
from wiretrace.circuit.document import NO_NUL, Circuit, End, Frozen, Id
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.predict.marking import Mark, mark_state
from wiretrace.predict.models import Course
from wiretrace.predict.positions import telling, useless
from wiretrace.predict.sheet import MOST_STATES, PredictionSheet, misfits, sheet_from_data
from wiretrace.simulation.assembly import Assembly

blueprint = APIBlueprint("predictions", __name__, url_prefix="/api/jobs/<int:job_id>/predictions")
marks = APIBlueprint("marks", __name__, url_prefix="/api/predictions")

Written = Annotated[str, StringConstraints(max_length=200, pattern=NO_NUL)]
StateNumber = Annotated[int, Field(ge=0, lt=MOST_STATES)]


class NewSheet(Frozen):
    sheet: PredictionSheet
    circuit: CheckedCircuit


class SheetLine(Frozen):
    id: int
    title: str
    made_at: datetime
    attempts: int


class SheetList(Frozen):
    sheets: tuple[SheetLine, ...]


class Change(Frozen):
    at: datetime
    state: int
    place: str
    text: str


class AttemptBody(Frozen):
    """`answers` by the number of the state, from 0, and by the letter of a meter or the id of a device."""

    id: int
    who: str
    started_at: datetime
    ended_at: datetime | None
    answers: dict[str, dict[str, str]]
    changes: tuple[Change, ...]


class SheetBody(Frozen):
    """A sheet with the circuit that it was made for, and all attempts at it."""

    id: int
    made_at: datetime
    sheet: PredictionSheet
    circuit: Circuit
    attempts: tuple[AttemptBody, ...]


class NewAttempt(Frozen):
    who: Annotated[str, StringConstraints(max_length=100, strip_whitespace=True, pattern=NO_NUL)] = ""


class Answer(Frozen):
    state: StateNumber
    place: Id
    text: Written


class Ended(Frozen):
    ended: Literal[True]


class MarkRequest(Frozen):
    circuit: CheckedCircuit
    sheet: PredictionSheet
    state: StateNumber
    answers: Annotated[dict[Id, Written], Field(max_length=20)]


class SheetFile(Frozen):
    """The text of a file that should be a prediction sheet."""

    text: Annotated[str, StringConstraints(max_length=500_000)]


class SheetRead(Frozen):
    """A sheet as far as it could be read, and what of it could not."""

    sheet: PredictionSheet
    problems: tuple[str, ...]


class PositionsRequest(Frozen):
    """With two states, by their numbers from 0, also where a meter would tell them apart."""

    circuit: CheckedCircuit
    sheet: PredictionSheet
    apart: tuple[StateNumber, StateNumber] | None = None


class TellingData(Frozen):
    """A position, and what a meter shows there in the first and in the second state."""

    red: End
    black: End
    first: str
    second: str


class Positions(Frozen):
    """Letters of meters that tell nothing in any state, and positions that tell two states apart, the best first."""

    useless: tuple[str, ...]
    telling: tuple[TellingData, ...]


class Marks(Frozen):
    """Marks by the letter of a meter or the id of a device."""

    marks: dict[str, Mark]


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
    return store.keep_sheet(connection(), job_id, sheet, circuit).__dict__


@blueprint.get("/<int:sheet_id>")
@blueprint.output(SheetBody)
def read_sheet(job_id: int, sheet_id: int) -> Any:
    """One sheet with its circuit and all attempts."""
    kept = store.read_sheet(connection(), job_id, sheet_id)
    return {**kept.__dict__, "attempts": [attempt.__dict__ for attempt in kept.attempts]}


@blueprint.delete("/<int:sheet_id>")
@blueprint.output({}, status_code=204)
def delete_sheet(job_id: int, sheet_id: int) -> Any:
    """Forget a sheet and all attempts at it for good."""
    store.delete_sheet(connection(), job_id, sheet_id)
    return ""


@blueprint.post("/<int:sheet_id>/attempts")
@blueprint.input(NewAttempt, arg_name="body")
@blueprint.output(AttemptBody, status_code=201)
def begin_attempt(job_id: int, sheet_id: int, body: NewAttempt) -> Any:
    """Begin to fill in a sheet."""
    return store.begin_attempt(connection(), job_id, sheet_id, body.who).__dict__


@blueprint.post("/<int:sheet_id>/attempts/<int:attempt_id>")
@blueprint.input(Answer, arg_name="body")
@blueprint.output(AttemptBody)
def write_answer(job_id: int, sheet_id: int, attempt_id: int, body: Answer) -> Any:
    """Write one answer; what was written before is kept with its time."""
    store.read_sheet(connection(), job_id, sheet_id)
    written = store.write_answer(connection(), sheet_id, attempt_id, body.state, body.place, body.text)
    return written.__dict__


@blueprint.patch("/<int:sheet_id>/attempts/<int:attempt_id>")
@blueprint.input(Ended, arg_name="body")
@blueprint.output(AttemptBody)
def end_attempt(job_id: int, sheet_id: int, attempt_id: int, body: Ended) -> Any:
    """Say that a sheet is filled in."""
    store.read_sheet(connection(), job_id, sheet_id)
    return store.end_attempt(connection(), sheet_id, attempt_id).__dict__


@marks.post("/mark")
@marks.input(MarkRequest, arg_name="body")
@marks.output(Marks)
def mark(body: MarkRequest) -> Any:
    """What was expected beside what the circuit shows in one state, and the misconceptions that fit."""
    assembly = Assembly(body.circuit)
    _checked(body.sheet, assembly)
    if body.state >= len(body.sheet.states):
        raise _no_such_state(body.sheet)
    # Only as far as the state that is asked about: what comes after it has no say.
    sheet = body.sheet.model_copy(update={"states": body.sheet.states[: body.state + 1]})
    return Marks(marks=mark_state(Course(sheet, assembly), body.state, body.answers))


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


def _no_such_state(sheet: PredictionSheet) -> UnknownTarget:
    message = f"The sheet has {len(sheet.states)} states."
    return UnknownTarget(message, (Problem("no_such_state", message),))


def _checked(sheet: PredictionSheet, assembly: Assembly) -> None:
    """Raises UnknownTarget for a sheet that asks for what is not in the circuit."""
    wrong = list(misfits(sheet, assembly))
    if wrong:
        raise UnknownTarget(wrong[0], tuple(Problem("not_in_the_circuit", message) for message in wrong))
