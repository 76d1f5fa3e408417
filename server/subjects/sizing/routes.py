"""/api/size and /api/jobs/ID/sizing: from a nameplate to sizes, and into the circuit."""

from datetime import datetime
from typing import Annotated, Any, Final

from apiflask import APIBlueprint
from flask import Response
from pydantic import BeforeValidator

from server.bodies import CheckedCircuit, Save, SavedVersion
from server.connection import connection
from server.subjects.interchange.routes import FILE
from server.subjects.sizing import store
from wiretrace.document.checked import kept_circuit
from wiretrace.document.circuit import Frozen
from wiretrace.interchange.lists import csv_text
from wiretrace.sizing.carry import Carried, carried, coils_of
from wiretrace.sizing.nameplates import motor_plates
from wiretrace.sizing.report import (
    SizingAnswer,
    SizingData,
    SizingForm,
    answer,
    form,
    kept_sizing,
    sheet_of,
    sizing_upgrades,
)

blueprint = APIBlueprint("sizing", __name__, url_prefix="/api/size")
kept = APIBlueprint("sizings", __name__, url_prefix="/api/jobs/<int:job_id>/sizing")

PLATE: Final = ("power", "voltage", "current", "speed")
"""Fields that tell one plate from another."""
HEADS = ("Group", "Line", "Formula", "Numbers put in", "Result", "Unit", "Reason", "Source", "Warning", "Estimated")


class KeptSizing(Frozen):
    """What is kept of a job, its version, 0 where nobody has filled in anything, and the window that saved it."""

    version: int
    writer: str
    sizing: SizingData


class SaveSizing(Save):
    sizing: SizingData


class EarlierSizing(Frozen):
    """What a sizing was before: when it was kept, and its plate in a few figures."""

    version: int
    kept_at: datetime
    plate: str


class EarlierSizings(Frozen):
    versions: tuple[EarlierSizing, ...]


class SizeRequest(Frozen):
    sizing: Annotated[SizingData, BeforeValidator(sizing_upgrades)]


class CarryRequest(SizeRequest):
    circuit: CheckedCircuit


class ProposalData(Frozen):
    """A parameter of a device, or a figure of a conductor, that the circuit has otherwise than the sheet."""

    device: str | None
    conductor: str | None
    name: str
    now: float | str | bool
    then: float | str | bool
    words: str
    larger: bool


class PlateOfMotor(Frozen):
    """A motor of the circuit, and the fields of the form that its nameplate fills."""

    label: str
    fields: dict[str, str]


class Proposals(Frozen):
    """What the circuit has otherwise, what cannot go over; what its coils take for a transformer; its motors."""

    proposals: tuple[ProposalData, ...]
    left_out: tuple[str, ...]
    coil_sealed_va: float
    coil_inrush_va: float
    motors: tuple[PlateOfMotor, ...]


@blueprint.get("/form")
@blueprint.output(SizingForm)
def sizing_form() -> SizingForm:
    """Fields, schools and standard sizes."""
    return form()


@blueprint.post("")
@blueprint.input(SizeRequest, arg_name="body")
@blueprint.output(SizingAnswer)
def size(body: SizeRequest) -> SizingAnswer:
    """The sheet with every line of arithmetic, what is wrong at which field, each school's result, and the chart."""
    return answer(body.sizing)


@blueprint.post("/carry")
@blueprint.input(CarryRequest, arg_name="body")
@blueprint.output(Proposals)
def carry(body: CarryRequest) -> Proposals:
    """What of a circuit the sheet says otherwise; nothing while the sheet is not complete."""
    sheet, _ = sheet_of(body.sizing)
    found = Carried((), ()) if sheet is None else carried(sheet, body.circuit)
    coils = coils_of(body.circuit)
    return Proposals(
        proposals=tuple(ProposalData(**vars(one)) for one in found.proposals),
        left_out=found.left_out,
        coil_sealed_va=coils.sealed_va,
        coil_inrush_va=coils.inrush_va,
        motors=tuple(PlateOfMotor(**vars(one)) for one in motor_plates(body.circuit)),
    )


@blueprint.post("/sheet.csv")
@blueprint.input(SizeRequest, arg_name="body")
@blueprint.doc(responses=FILE)
def sheet_file(body: SizeRequest) -> Response:
    """The sheet as CSV, with the line that local codes come first."""
    found = answer(body.sizing)
    rows = [
        (
            *(line.group, line.title, line.formula, line.put_in, line.shown, line.unit, line.choice, line.source),
            *(line.warning, "estimated" if line.estimated else ""),
        )
        for line in found.lines
    ]
    rows.append(("", found.caution, *("",) * 8))
    return Response(csv_text(HEADS, rows), mimetype="text/csv")


@kept.get("")
@kept.output(KeptSizing)
def read_sizing(job_id: int) -> Any:
    """What was filled in for a job; where nobody has, what the first motor of its circuit says of itself."""
    version, writer, sizing = store.read_sizing(connection(), job_id)
    found = _of_circuit(job_id) if sizing is None else kept_sizing(sizing)
    return KeptSizing(version=version, writer=writer, sizing=found)


def _of_circuit(job_id: int) -> SizingData:
    """A sizing that begins with the nameplate of a circuit's first motor; empty where it has none."""
    drawn = store.drawn_circuit(connection(), job_id)
    if drawn is None:
        return SizingData()
    circuit = kept_circuit(drawn)
    schools: dict[str, str] = {"sizes": "na"} if circuit.convention == "nema" else {}
    return next((SizingData(fields=one.fields, schools=schools) for one in motor_plates(circuit)), SizingData())


@kept.put("")
@kept.input(SaveSizing, arg_name="body")
@kept.output(SavedVersion)
def save_sizing(job_id: int, body: SaveSizing) -> SavedVersion:
    """Keep what was filled in. 409 when another window kept something since."""
    version = store.keep_sizing(connection(), job_id, body.order, body.sizing.model_dump(mode="json"))
    return SavedVersion(version=version)


@kept.get("/earlier")
@kept.output(EarlierSizings)
def earlier(job_id: int) -> EarlierSizings:
    """What the sizing was before: the last of every ten minutes in which somebody worked on it, the newest first."""
    found = store.earlier_sizings(connection(), job_id)
    return EarlierSizings(
        versions=tuple(
            EarlierSizing(version=one.version, kept_at=one.kept_at, plate=_plate(one.fields)) for one in found
        )
    )


@kept.get("/earlier/<int:version>")
@kept.output(KeptSizing)
def earlier_version(job_id: int, version: int) -> KeptSizing:
    """One of them. 404 when it is not kept any more."""
    found = store.earlier_sizing(connection(), job_id, version)
    return KeptSizing(version=version, writer="", sizing=kept_sizing(found))


def _plate(fields: dict[str, str]) -> str:
    return ", ".join(text for name in PLATE if (text := fields.get(name, "").strip()))
