"""/api/jobs: the list, one job, and saving its circuit."""

from datetime import datetime
from typing import Annotated, Any

from apiflask import APIBlueprint
from pydantic import StringConstraints

from server.bodies import CheckedCircuit, Save, Serial, Writer
from server.connection import connection
from server.person import me
from server.problems import NotYours
from server.store.errors import NotFound
from server.subjects.jobs import store
from server.subjects.sequences import store as sequences
from wiretrace.document.checked import kept_circuit
from wiretrace.document.circuit import NO_NUL, Circuit, Frozen, Sheet, Text
from wiretrace.library import library_circuit, library_sequence
from wiretrace.patterns.choices import Choices
from wiretrace.patterns.make import make

blueprint = APIBlueprint("jobs", __name__, url_prefix="/api/jobs")

Title = Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True, pattern=NO_NUL)]


class JobLine(Frozen):
    id: int
    title: str
    place: str
    version: int
    updated_at: datetime


class JobList(Frozen):
    jobs: tuple[JobLine, ...]


class JobBody(JobLine):
    """`writer` is the window that saved last."""

    circuit: Circuit
    writer: str


class NewJob(Frozen):
    """`template` names a circuit of the library, `pattern` has the choices of one made by rules.

    With `circuit` the job starts from that circuit: a copy that somebody keeps. With none of them the sheets are
    empty.
    """

    title: Title
    place: Text = ""
    template: Text | None = None
    pattern: Choices | None = None
    circuit: CheckedCircuit | None = None


class Names(Frozen):
    title: Title
    place: Text = ""
    writer: Writer
    serial: Serial


class SaveCircuit(Save):
    circuit: CheckedCircuit


@blueprint.get("")
@blueprint.output(JobList)
def list_jobs() -> Any:
    """All jobs."""
    return {"jobs": [line.__dict__ for line in store.list_jobs(connection())]}


@blueprint.post("")
@blueprint.input(NewJob, arg_name="body")
@blueprint.output(JobBody, status_code=201)
def create_job(body: NewJob) -> JobBody:
    """Make a job from a circuit, by a pattern, from a template, or empty."""
    circuit = body.circuit or (make(body.title, body.pattern) if body.pattern else _template(body))
    job = store.create_job(connection(), body.title, body.place, circuit.model_dump(mode="json"))
    if body.template is not None and body.circuit is None and body.pattern is None:
        sequence = library_sequence(body.template).model_dump(mode="json")
        sequences.keep_sequence(connection(), job.id, sequences.SHIPPED, sequence)
    return _body(job)


@blueprint.get("/<int:job_id>")
@blueprint.output(JobBody)
def read_job(job_id: int) -> JobBody:
    """One job with its circuit."""
    return _body(store.read_job(connection(), job_id))


@blueprint.put("/<int:job_id>/circuit")
@blueprint.input(SaveCircuit, arg_name="body")
@blueprint.output(JobLine)
def save_circuit(job_id: int, body: SaveCircuit) -> Any:
    """Save a circuit; 409 when somebody saved another one since `based_on`."""
    circuit = body.circuit.model_dump(mode="json")
    return store.save_circuit(connection(), job_id, body.order, circuit).__dict__


@blueprint.patch("/<int:job_id>")
@blueprint.input(Names, arg_name="body")
@blueprint.output(JobLine)
def rename_job(job_id: int, body: Names) -> Any:
    """Another title or place."""
    return store.rename_job(connection(), job_id, body.writer, body.serial, body.title, body.place).__dict__


@blueprint.delete("/<int:job_id>")
@blueprint.output({}, status_code=204)
def delete_job(job_id: int) -> Any:
    """Delete a job for good. 403 while somebody else has an exercise or an attempt going on in it."""
    if store.anybody_else_works(connection(), job_id, me()):
        raise NotYours("Somebody else has an exercise or an attempt going on in this job.")
    store.delete_job(connection(), job_id)
    return ""


def _body(job: store.Job) -> JobBody:
    return JobBody(**{**vars(job), "circuit": kept_circuit(job.circuit)})


def _template(body: NewJob) -> Circuit:
    if body.template is None:
        sheets = (
            Sheet(id="power", title="Power", kind="power"),
            Sheet(id="control", title="Control", kind="control"),
        )
        return Circuit(title=body.title, sheets=sheets)
    try:
        return library_circuit(body.template).model_copy(update={"title": body.title})
    except KeyError as error:
        raise NotFound(f"No circuit ships under the name {body.template}.") from error
