"""/api/simulation: from a circuit and a state to what happens, what a meter shows, and why."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Annotated, Any, Final, Self

from apiflask import APIBlueprint
from flask import Response
from pydantic import Field, StringConstraints, model_validator

from server.api.bodies import CheckedCircuit
from server.assemblies import Assemblies, reference
from server.faults import Faults, SealedName, seal, sealed_faults, without_places
from server.frames import Frames
from server.problems import UnknownName, Withheld
from wiretrace.circuit.document import End, Frozen
from wiretrace.errors import WiretraceError
from wiretrace.explain.measured import why_measured
from wiretrace.explain.reading import explain_reading
from wiretrace.formats.report import (
    ActionData,
    ExplanationData,
    Probes,
    ReadingData,
    RunData,
    StateData,
    Time,
    action_from_data,
    explanation_data,
    reading_data,
    run_data,
    state_from_data,
)
from wiretrace.instruments.measures import Measure, Shown, measure
from wiretrace.instruments.potentials import potentials
from wiretrace.instruments.voltmeter import display, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.difference import differences
from wiretrace.simulation.engine import Frame, checked_state, initial_state, run
from wiretrace.simulation.state import State

blueprint = APIBlueprint("simulation", __name__, url_prefix="/api/simulation")

MAX_ACTIONS: Final = 500
MAX_PROBES: Final = 26
PAGE: Final = 400
"""Frames of one answer at most."""
KEPT: Final = 4
"""Frames of a run that are likely to be probed: the last."""
PAGE_PARTS: Final = 150_000
"""Nodes and branches times frames of one answer, which keep it well under 5 MB and a second; 20 frames always."""

_assemblies = Assemblies()
_frames = Frames()

WITHHELD: Final = "Why a meter shows what it shows is not told while the faults are sealed."
UNKNOWN: dict[int | str, Any] = {204: {"description": "The circuit of this `ref` is not known here: send it whole"}}


class Asked(Frozen):
    """A circuit whole, or named by the `ref` that an earlier answer gave; `state` is what an answer gave back.

    Without a state the circuit is as first put under power. It has these `faults`, or those that were `sealed`.
    """

    circuit: CheckedCircuit | None = None
    ref: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")] | None = None
    state: StateData | None = None
    faults: Faults = ()
    sealed: SealedName | None = None

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.circuit is None) == (self.ref is None):
            raise ValueError("either circuit or ref")
        if self.faults and self.sealed:
            raise ValueError("either faults or sealed")
        return self


class RunRequest(Asked):
    """An answer may end earlier than `until_us`: go on from its `end`, with the actions that lie behind that."""

    actions: Annotated[tuple[ActionData, ...], Field(max_length=MAX_ACTIONS)] = ()
    until_us: Time
    probes: Annotated[tuple[Probes, ...], Field(max_length=MAX_PROBES)] = ()


class RunAnswer(RunData):
    """`ref` names the circuit in later requests."""

    ref: str


class SealRequest(Frozen):
    circuit: CheckedCircuit
    faults: Faults


class Sealed(Frozen):
    """The name of a sealed set of faults, and the `ref` of the circuit that it belongs to."""

    sealed: str
    ref: str


class ReadRequest(Asked):
    probes: Annotated[tuple[Probes, ...], Field(max_length=MAX_PROBES)]


class ReadAnswer(Frozen):
    readings: tuple[ReadingData, ...]


class MeasureRequest(Asked):
    """`why` asks for the reason as well, where the instrument has one of its own."""

    measures: Annotated[tuple[Measure, ...], Field(max_length=MAX_PROBES)]
    why: bool = False


class Measured(Frozen):
    shown: Shown
    reason: str


class MeasureAnswer(Frozen):
    """What each instrument shows, in the order asked."""

    measured: tuple[Measured, ...]


class MapRequest(Asked):
    reference: End


class PotentialData(Frozen):
    """What stands at a terminal to the reference; `display` is empty where no conducting path leads there."""

    end: End
    display: str


class MapAnswer(Frozen):
    """Every terminal, in the order of the document."""

    potentials: tuple[PotentialData, ...]


class PartingRequest(Asked):
    """The faults and the hands since the circuit was put under power."""

    actions: Annotated[tuple[ActionData, ...], Field(max_length=MAX_ACTIONS)] = ()
    until_us: Time


class PartingData(Frozen):
    at_us: Time
    device: str
    sound: str
    faulty: str


class PartingAnswer(Frozen):
    """Devices that say something else than in the sound circuit, each with the first moment, the first first."""

    partings: tuple[PartingData, ...]


class ExplainRequest(Asked):
    probes: Probes


@blueprint.post("/seal")
@blueprint.input(SealRequest, arg_name="body")
@blueprint.output(Sealed)
def seal_faults(body: SealRequest) -> Sealed:
    """Give faults of a circuit a name, by which it can be run under them while nobody is told of them again."""
    ref = reference(body.circuit)
    _assemblies.assembly(ref, body.circuit, body.faults)
    return Sealed(sealed=seal(ref, body.faults), ref=ref)


@blueprint.post("/run")
@blueprint.input(RunRequest, arg_name="body")
@blueprint.output(RunAnswer)
@blueprint.doc(responses=UNKNOWN)
def run_circuit(body: RunRequest) -> Response:
    """Everything that changes until `until_us`, with the readings of the probes in place.

    Frames after the first leave out what is as it was in the frame before.
    """
    # Written out here: a run is long, and going through plain Python values would take as long as the run itself.
    assembly, ref = _assembly(body)
    actions = [action_from_data(action) for action in body.actions]
    page = max(20, min(PAGE, PAGE_PARTS // (len(assembly.nodes) + len(assembly.branches) + 1)))
    with _told(body):
        trajectory = run(assembly, _state(assembly, body.state), actions, body.until_us, page)
        _frames.keep(assembly, trajectory.frames[-KEPT:])
        data = run_data(assembly, trajectory, body.probes, changes_only=True)
    text = RunAnswer.model_construct(**vars(data), ref=ref).model_dump_json()
    return Response(text, mimetype="application/json")


@blueprint.post("/read")
@blueprint.input(ReadRequest, arg_name="body")
@blueprint.output(ReadAnswer)
@blueprint.doc(responses=UNKNOWN)
def read_probes(body: ReadRequest) -> ReadAnswer:
    """What a 10 Mohm voltmeter shows at each pair of probes in a state."""
    assembly, _ = _assembly(body)
    with _told(body):
        frame = _frame(assembly, body.state)
        readings = tuple(reading_data(read_voltage(assembly, frame.point, p.red, p.black)) for p in body.probes)
    return ReadAnswer(readings=readings)


@blueprint.post("/measure")
@blueprint.input(MeasureRequest, arg_name="body")
@blueprint.output(MeasureAnswer)
@blueprint.doc(responses=UNKNOWN)
def measure_with(body: MeasureRequest) -> MeasureAnswer:
    """What instruments show in a state. Reasons are not told under sealed faults."""
    if body.sealed and body.why:
        raise Withheld(WITHHELD)
    assembly, _ = _assembly(body)
    with _told(body):
        frame = _frame(assembly, body.state)
        measured = tuple(
            Measured(
                shown=measure(assembly, frame, what), reason=why_measured(assembly, frame, what) if body.why else ""
            )
            for what in body.measures
        )
    return MeasureAnswer(measured=measured)


@blueprint.post("/map")
@blueprint.input(MapRequest, arg_name="body")
@blueprint.output(MapAnswer)
@blueprint.doc(responses=UNKNOWN)
def map_potentials(body: MapRequest) -> MapAnswer:
    """The hot and cold map of a state: every terminal to one of them, the larger of its two parts in volts."""
    assembly, _ = _assembly(body)
    with _told(body):
        found = potentials(assembly, _frame(assembly, body.state).point, body.reference)
    larger = [(one, one.dc_v if abs(one.dc_v) > one.ac_v else one.ac_v) for one in found]
    return MapAnswer(
        potentials=tuple(PotentialData(end=one.end, display=display(v) if one.joined else "") for one, v in larger)
    )


@blueprint.post("/partings")
@blueprint.input(PartingRequest, arg_name="body")
@blueprint.output(PartingAnswer)
@blueprint.doc(responses=UNKNOWN)
def partings(body: PartingRequest) -> PartingAnswer:
    """Where the circuit with its faults parts from the sound one under the same hands. Not told of sealed faults."""
    if body.sealed:
        raise Withheld(WITHHELD)
    faulty, ref = _assembly(body)
    actions = [action_from_data(action) for action in body.actions]
    sound = _assemblies.assembly(ref, faulty.circuit, ())
    found = differences(sound, faulty, actions, body.until_us)
    return PartingAnswer(partings=tuple(PartingData(**vars(one)) for one in found))


@blueprint.post("/explain")
@blueprint.input(ExplainRequest, arg_name="body")
@blueprint.output(ExplanationData)
@blueprint.doc(responses=UNKNOWN)
def explain(body: ExplainRequest) -> ExplanationData:
    """Why the meter shows what it shows in a state. Not told under sealed faults: the reason would tell of them."""
    if body.sealed:
        raise Withheld(WITHHELD)
    assembly, _ = _assembly(body)
    frame = _frame(assembly, body.state)
    return explanation_data(assembly, explain_reading(assembly, frame, body.probes.red, body.probes.black))


@contextmanager
def _told(body: Asked) -> Iterator[None]:
    """Errors of a run, without their places where the faults are sealed."""
    try:
        yield
    except WiretraceError as error:
        raise (without_places(error) if body.sealed else error) from None


def _frame(assembly: Assembly, data: StateData | None) -> Frame:
    return _frames.at(assembly, initial_state(assembly) if data is None else state_from_data(data))


def _state(assembly: Assembly, data: StateData | None) -> State:
    return initial_state(assembly) if data is None else checked_state(assembly, state_from_data(data))


def _assembly(body: Asked) -> tuple[Assembly, str]:
    """The assembly that is asked about and its name. Raises UnknownName when it is named and not known here."""
    ref = body.ref or reference(body.circuit)  # type: ignore[arg-type]
    circuit = body.circuit or _assemblies.circuit(ref)
    if circuit is None:
        raise UnknownName
    faults = sealed_faults(body.sealed, ref) if body.sealed else body.faults
    return _assemblies.assembly(ref, circuit, faults), ref
