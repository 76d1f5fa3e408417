"""/api/jobs/ID/sequences and /api/sequence: operating sequences of a job, and the state tables that they make."""

from datetime import datetime

from apiflask import APIBlueprint
from flask import Response

from server.bodies import CheckedCircuit, Save
from server.connection import connection
from server.subjects.interchange.routes import FILE
from server.subjects.sequences import store
from server.subjects.versions.routes import Name
from wiretrace.document.circuit import Frozen
from wiretrace.sequences.sequence import Sequence, kept_sequence
from wiretrace.sequences.state_table import StateTable, differences, state_table, table_csv

blueprint = APIBlueprint("sequences", __name__, url_prefix="/api/jobs/<int:job_id>/sequences")
tables = APIBlueprint("tables", __name__, url_prefix="/api/sequence")


class NewSequence(Frozen):
    name: Name
    sequence: Sequence


class SaveSequence(Save):
    name: Name
    sequence: Sequence


class SequenceBody(Frozen):
    id: int
    name: str
    sequence: Sequence
    version: int
    updated_at: datetime


class SequenceList(Frozen):
    sequences: tuple[SequenceBody, ...]


class TableRequest(Frozen):
    """With a circuit `against` it is taken through the same sequence too."""

    circuit: CheckedCircuit
    sequence: Sequence
    against: CheckedCircuit | None = None


class CellData(Frozen):
    row: int
    device: str


class TableAnswer(Frozen):
    """`different` are the cells in which the two circuits say something else, the first one first."""

    table: StateTable
    against: StateTable | None
    different: tuple[CellData, ...]


@blueprint.get("")
@blueprint.output(SequenceList)
def list_sequences(job_id: int) -> SequenceList:
    """All operating sequences of a job."""
    return SequenceList(sequences=tuple(map(_body, store.list_sequences(connection(), job_id))))


@blueprint.post("")
@blueprint.input(NewSequence, arg_name="body")
@blueprint.output(SequenceBody, status_code=201)
def keep_sequence(job_id: int, body: NewSequence) -> SequenceBody:
    """Keep a sequence with the job."""
    return _body(store.keep_sequence(connection(), job_id, body.name, body.sequence.model_dump(mode="json")))


@blueprint.put("/<int:sequence_id>")
@blueprint.input(SaveSequence, arg_name="body")
@blueprint.output(SequenceBody)
def change_sequence(job_id: int, sequence_id: int, body: SaveSequence) -> SequenceBody:
    """Put another in the place of a sequence. 409 when another window did since."""
    sequence = body.sequence.model_dump(mode="json")
    return _body(store.change_sequence(connection(), job_id, sequence_id, body.order, body.name, sequence))


@blueprint.delete("/<int:sequence_id>")
@blueprint.output({}, status_code=204)
def delete_sequence(job_id: int, sequence_id: int) -> str:
    """Forget a sequence for good."""
    store.delete_sequence(connection(), job_id, sequence_id)
    return ""


def _body(kept: store.KeptSequence) -> SequenceBody:
    return SequenceBody(**{**vars(kept), "sequence": kept_sequence(kept.sequence)})


@tables.post("/table")
@tables.input(TableRequest, arg_name="body")
@tables.output(TableAnswer)
def make_table(body: TableRequest) -> TableAnswer:
    """The state table of a circuit, and where another one differs from it under the same hands."""
    table = state_table(body.circuit, body.sequence)
    against = state_table(body.against, body.sequence) if body.against else None
    cells = differences(table, against) if against else ()
    return TableAnswer(
        table=table, against=against, different=tuple(CellData(row=row, device=device) for row, device in cells)
    )


@tables.post("/table.csv")
@tables.input(TableRequest, arg_name="body")
@tables.doc(responses=FILE)
def write_table(body: TableRequest) -> Response:
    """The state table as CSV."""
    return Response(table_csv(state_table(body.circuit, body.sequence)), mimetype="text/csv")
