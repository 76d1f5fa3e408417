"""/api/trace: where is the fault, and what to measure next."""

from typing import Final, Literal

from apiflask import APIBlueprint
from flask import Response

from server.assemblies import likeness
from server.bodies import SavedVersion
from server.connection import connection
from server.problems import Withheld
from server.store.errors import NotFound
from server.subjects.diagnosis import panel_store as store
from server.subjects.diagnosis.bodies import (
    AdviceAnswer,
    AdviceRequest,
    Book,
    EntryData,
    KeptPanel,
    LikelyData,
    LookData,
    NextData,
    ObservationData,
    PanelData,
    Progress,
    SavePanel,
    StatusData,
    TakenData,
    TraceRequest,
    WeightData,
)
from server.subjects.diagnosis.dictionaries import Plan, engine_of, plan_of, work
from server.subjects.interchange.routes import FILE
from server.subjects.numbers.store import goes_on
from wiretrace.catalogue.machinery.status import words
from wiretrace.diagnosis.advise import confirms, likely, next_of, standing
from wiretrace.diagnosis.book import CAUTION, Entry, fault_book
from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Engine, Outcome
from wiretrace.diagnosis.hypotheses import WEIGHTS
from wiretrace.diagnosis.repertoire import RISK, Kind, lookers
from wiretrace.diagnosis.words import (
    figure,
    hypothesis_words,
    observation_words,
    outcome_words,
    said,
)
from wiretrace.document.circuit import End
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.faults.registry import KINDS
from wiretrace.interchange.lists import csv_text
from wiretrace.simulation.assembly import Assembly
from wiretrace.upgrading import Upgrades
from wiretrace.work import unbounded

blueprint = APIBlueprint("trace", __name__, url_prefix="/api/trace")
kept = APIBlueprint("panels", __name__, url_prefix="/api/jobs/<int:job_id>/panel")

panel_upgrades: Final = Upgrades("panel")

MOST_LEFT: Final = 60
ADVICES: Final = 4


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


@blueprint.post("/work")
@blueprint.input(TraceRequest, arg_name="body")
@blueprint.output(Progress)
def work_on(body: TraceRequest) -> Progress:
    """Work on the fault dictionary of a circuit for a second; ask again until all is done."""
    _nobody_looks(body)
    plan = plan_of(body.circuit, body.sequence)
    return Progress(done=work(connection(), plan), all=len(plan.task.rows))


@blueprint.post("/advice")
@blueprint.input(AdviceRequest, arg_name="body")
@blueprint.output(AdviceAnswer)
def advise(body: AdviceRequest) -> AdviceAnswer:
    """Which faults fit what was observed, and what to observe next. 404 until the dictionary is done."""
    _nobody_looks(body)
    plan = plan_of(body.circuit, body.sequence)
    engine, assembly = _ready(plan).weighed(body.weights), Assembly(body.circuit)
    made = [_observed(engine, assembly, number, one) for number, one in enumerate(body.observations, 1)]
    now = standing(engine, made)
    observed = [what for what, _ in made]
    advices, confirming = next_of(engine, now, observed, ADVICES), confirms(engine, now, observed)
    return AdviceAnswer(
        halts=tuple(halt.text for halt in plan.task.halts),
        looks=_looks(engine, assembly),
        count=len(engine.left(now.possible)),
        of=len(engine.left(now.alive if confirming else now.possible)),
        confirming=confirming,
        confirmed=now.confirmed,
        likely=tuple(
            LikelyData(
                words=hypothesis_words(engine.known, assembly, number),
                likelihood=share,
                fits=fits,
                places=_places(plan, number),
            )
            for number, share, fits in likely(engine, now)[:MOST_LEFT]
        ),
        next=tuple(
            NextData(
                kind=one.observation.kind.value,
                halt=one.observation.halt,
                red=_end(engine, one.observation, "red"),
                black=_end(engine, one.observation, "black"),
                words=observation_words(engine.known, assembly, one.observation),
                bits=one.bits,
                leaves=one.leaves,
                caution=RISK[one.observation.kind],
            )
            for one in advices
        ),
        taken=tuple(
            TakenData(
                words=observation_words(engine.known, assembly, one.observation),
                shows=outcome_words(assembly, one.observation, one.outcome),
                before=one.before,
                after=one.after,
                bits=one.bits,
            )
            for one in now.taken
        ),
        unfitting=now.unfitting,
        weights=tuple(
            WeightData(
                kind=kind,
                title=KINDS[kind].about.title,
                weight=body.weights.get(kind, weight),
                why=KINDS[kind].about.why,
            )
            for kind, weight in sorted(WEIGHTS.items(), key=lambda item: -item[1])
        ),
    )


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


def _nobody_looks(body: TraceRequest) -> None:
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
        raise NotFound("The fault dictionary of this circuit is not made yet.")
    return engine


def _looks(engine: Engine, assembly: Assembly) -> tuple[LookData, ...]:
    known = engine.known
    return tuple(
        LookData(
            device=item.id,
            label=item.label,
            statuses=tuple(
                tuple(
                    StatusData(status=status, says=words(status))
                    for status in dict.fromkeys(looks[halt][at] for looks in known.looks if looks[halt][at])
                )
                for halt in range(engine.halts)
            ),
        )
        for at, item in enumerate(lookers(assembly))
    )


def _places(plan: Plan, number: int) -> tuple[str, ...]:
    fault = plan.task.every[number].fault
    return () if fault is None else (fault.where,)


def _end(engine: Engine, what: Observation, side: Literal["red", "black"]) -> End | None:
    if what.spot < 0:
        return None
    spot = engine.known.spots[what.spot]
    return spot.red if side == "red" else spot.black


def _observed(engine: Engine, assembly: Assembly, number: int, one: ObservationData) -> tuple[Observation, Outcome]:
    """An observation as the engine takes it. Raises MalformedDocument, UnknownTarget."""
    if one.halt >= engine.halts:
        raise _unknown(f"Observation {number}: there are {engine.halts} states.")
    if one.device is not None:
        ids = [item.id for item in lookers(assembly)]
        if one.device not in ids or one.halt < 0:
            raise _unknown(f"Observation {number}: of this device nothing is seen there.")
        which = ids.index(one.device)
        return Observation(Kind.WORD, one.halt, which), (said(engine, one.halt, which, one.text),)
    if one.red is None or one.black is None:
        raise MalformedDocument(f"Observation {number} names neither a device nor two terminals.")
    pair = {one.red, one.black}
    at = next((n for n, spot in enumerate(engine.known.spots) if {spot.red, spot.black} == pair), None)
    if at is None:
        raise _unknown(f"Observation {number}: measure across a device or a wire, or from a terminal to a pole.")
    kind = Kind.OHMS if one.halt < 0 else Kind.VOLTS
    return Observation(kind, one.halt, at), figure(number, one.text, one.text, kind)


def _unknown(message: str) -> UnknownTarget:
    return UnknownTarget(message, (Problem("no_such_observation", message),))
