"""/api/trace: where is the fault, and what to measure next."""

from typing import Final

from apiflask import APIBlueprint
from flask import Response

from server.assemblies import likeness
from server.bodies import SavedVersion
from server.connection import connection
from server.problems import Withheld
from server.store.errors import NotFound
from server.subjects.diagnosis import find_store
from server.subjects.diagnosis import panel_store as store
from server.subjects.diagnosis.advice import advice, observed
from server.subjects.diagnosis.bodies import (
    AdviceAnswer,
    AdviceRequest,
    Book,
    EntryData,
    KeptFind,
    KeptPanel,
    NewFind,
    PanelData,
    Progress,
    Reach,
    SavePanel,
    TraceRequest,
    WorkRequest,
)
from server.subjects.diagnosis.dictionaries import Plan, engine_of, pairs_plan_of, plan_of, rare_plan_of, work
from server.subjects.interchange.routes import FILE
from server.subjects.numbers.store import goes_on
from wiretrace.diagnosis.book import CAUTION, Entry, fault_book
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.learning import expected_shares
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.registry import KINDS
from wiretrace.interchange.lists import csv_text
from wiretrace.simulation.assembly import Assembly
from wiretrace.upgrading import Upgrades
from wiretrace.work import unbounded

blueprint = APIBlueprint("trace", __name__, url_prefix="/api/trace")
kept = APIBlueprint("panels", __name__, url_prefix="/api/jobs/<int:job_id>/panel")

finds = APIBlueprint("finds", __name__, url_prefix="/api/jobs/<int:job_id>/finds")

panel_upgrades: Final = Upgrades("panel")

NOT_MADE: Final = "The fault dictionary of this circuit is not made yet."
REACHES: Final[tuple[Reach, ...]] = ("pairs", "rare", "likely")
"""The farthest first."""


@kept.get("")
@kept.output(KeptPanel)
def read_panel(job_id: int) -> KeptPanel:
    """What was seen and read at the real panel of a job."""
    version, writer, panel = store.read_panel(connection(), job_id)
    return KeptPanel(version=version, writer=writer, panel=PanelData.model_validate(panel_upgrades(panel or {})))


@kept.put("")
@kept.input(SavePanel, arg_name="body")
@kept.output(SavedVersion)
def save_panel(job_id: int, body: SavePanel) -> SavedVersion:
    """Keep it. 409 when another window kept something since."""
    version = store.keep_panel(connection(), job_id, body.order, body.panel.model_dump(mode="json"))
    return SavedVersion(version=version)


@finds.post("")
@finds.input(NewFind, arg_name="body")
@finds.output(KeptFind)
def keep_find(job_id: int, body: NewFind) -> KeptFind:
    """Keep what was found at the real panel: kinds of fault that are found often are likelier from then on."""
    _nobody_looks(body)
    if unknown := [kind for kind in body.kinds if kind not in KINDS]:
        raise UnknownTarget(f"There is no kind of fault {unknown[0]}.", (Problem("unknown_kind", unknown[0]),))
    return KeptFind(id=find_store.keep(connection(), job_id, body.kinds, expected_shares(Assembly(body.circuit))))


@finds.delete("/<int:find_id>")
@finds.output({}, status_code=204)
def forget_find(job_id: int, find_id: int) -> str:
    """Take it back."""
    find_store.forget(connection(), job_id, find_id)
    return ""


@blueprint.post("/work")
@blueprint.input(WorkRequest, arg_name="body")
@blueprint.output(Progress)
def work_on(body: WorkRequest) -> Progress:
    """Work on the fault dictionary of a circuit for a second; ask again until all is done.

    404 for what reaches farther before the dictionary of the likely faults is done.
    """
    _nobody_looks(body)
    plan = _plans(body)[-1]
    return Progress(done=work(connection(), plan), all=len(plan.task.rows))


@blueprint.post("/advice")
@blueprint.input(AdviceRequest, arg_name="body")
@blueprint.output(AdviceAnswer)
def advise(body: AdviceRequest) -> AdviceAnswer:
    """Which faults fit what was observed, and what to observe next. 404 until the dictionary is done."""
    _nobody_looks(body)
    reach, found = _farthest(body)
    return advice(found, body, reach, find_store.counts(connection()))


def _plans(body: WorkRequest) -> list[Plan]:
    """The dictionaries that are asked for, the likely faults first. Raises NotFound."""
    plans = [plan_of(body.circuit, body.sequence)]
    if body.reach != "likely":
        plans.append(rare_plan_of(plans[0]))
    if body.reach == "pairs":
        engine, assembly = _ready(plans[0]), Assembly(body.circuit)
        plans.append(pairs_plan_of(plans[0], engine, observed(engine, assembly, body.observations)))
    return plans


def _farthest(body: WorkRequest) -> tuple[Reach, Engine]:
    """What is done of what was asked for. Raises NotFound where not even the likely faults are."""
    for reach in REACHES[REACHES.index(body.reach) :]:
        plans = _plans(body.model_copy(update={"reach": reach}))
        engine = engine_of(connection(), *plans)
        if engine is not None:
            return reach, engine
    raise NotFound(NOT_MADE)


@blueprint.post("/book")
@blueprint.input(TraceRequest, arg_name="body")
@blueprint.output(Book)
def book(body: TraceRequest) -> Book:
    """The fault book: symptom, the reading that parts each fault best from those that look alike, how it is set."""
    return Book(entries=tuple(EntryData(**vars(entry)) for entry in _entries(body)), caution=CAUTION)


@blueprint.post("/book.csv")
@blueprint.input(TraceRequest, arg_name="body")
@blueprint.doc(responses=FILE)
def book_file(body: TraceRequest) -> Response:
    """The same as CSV."""
    heads = ("Fault", "Symptom", "Told apart by", "Shows", "To set it on a board")
    rows = [(one.fault, one.symptom, one.told_by, one.shows, one.setting) for one in _entries(body)]
    return Response(csv_text(heads, rows), mimetype="text/csv")


def _nobody_looks(body: TraceRequest | NewFind) -> None:
    """Raises Withheld while somebody looks for a hidden fault in this very circuit: this would find it for him."""
    if goes_on(connection(), likeness(body.circuit)):
        raise Withheld("An exercise with a hidden fault in this circuit is going on: end it first.")


def _entries(body: TraceRequest) -> list[Entry]:
    """404 until the dictionary is done."""
    _nobody_looks(body)
    engine = _ready(plan_of(body.circuit, body.sequence))
    with unbounded():
        return list(fault_book(engine, Assembly(body.circuit)))


def _ready(plan: Plan) -> Engine:
    engine = engine_of(connection(), plan)
    if engine is None:
        raise NotFound(NOT_MADE)
    return engine
