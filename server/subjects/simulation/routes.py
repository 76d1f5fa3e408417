"""/api/simulation: from a circuit and a state to what happens, what a meter shows, and why."""

from typing import Annotated, Final

from apiflask import APIBlueprint
from flask import Response

from server.subjects.simulation.asked import (
    FRAMES,
    MAX_ACTIONS,
    UNKNOWN,
    Asked,
    assembly_of,
    frame_in,
    state_in,
)
from wiretrace.bounds import Most
from wiretrace.document.circuit import End, Frozen
from wiretrace.explain.measured import why_measured
from wiretrace.instruments.measures import Measure, Shown, measure
from wiretrace.instruments.potentials import potentials
from wiretrace.instruments.voltmeter import display, read_voltage
from wiretrace.simulation.engine import run
from wiretrace.transport.report import (
    ActionData,
    Probes,
    ReadingData,
    RunData,
    Time,
    action_from_data,
    reading_data,
    run_data,
)

blueprint = APIBlueprint("simulation", __name__, url_prefix="/api/simulation")

MAX_PROBES: Final = 26
PAGE: Final = 400
"""Frames of one answer at most."""
KEPT: Final = 4
"""Frames of a run that are likely to be probed: the last."""
PAGE_PARTS: Final = 150_000
"""Nodes and branches times frames of one answer, which keep it well under 5 MB and a second; 20 frames always."""


class RunRequest(Asked):
    """An answer may end earlier than `until_us`: go on from its `end`, with the actions that lie behind that."""

    actions: Annotated[tuple[ActionData, ...], Most(MAX_ACTIONS)] = ()
    until_us: Time
    probes: Annotated[tuple[Probes, ...], Most(MAX_PROBES)] = ()


class RunAnswer(RunData):
    """`ref` names the circuit in later requests."""

    ref: str


class ReadRequest(Asked):
    probes: Annotated[tuple[Probes, ...], Most(MAX_PROBES)]


class ReadAnswer(Frozen):
    readings: tuple[ReadingData, ...]


class MeasureRequest(Asked):
    """`why` asks for the reason as well, where the instrument has one of its own."""

    measures: Annotated[tuple[Measure, ...], Most(MAX_PROBES)]
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


@blueprint.post("/run")
@blueprint.input(RunRequest, arg_name="body")
@blueprint.output(RunAnswer)
@blueprint.doc(responses=UNKNOWN)
def run_circuit(body: RunRequest) -> Response:
    """Everything that changes until `until_us`, with the readings of the probes in place.

    Frames after the first leave out what is as it was in the frame before.
    """
    # Written out here: a run is long, and going through plain Python values would take as long as the run itself.
    assembly, ref = assembly_of(body)
    actions = [action_from_data(action) for action in body.actions]
    page = max(20, min(PAGE, PAGE_PARTS // (len(assembly.nodes) + len(assembly.branches) + 1)))
    trajectory = run(assembly, state_in(assembly, body.state), actions, body.until_us, page)
    FRAMES.keep(assembly, trajectory.frames[-KEPT:])
    data = run_data(assembly, trajectory, body.probes, changes_only=True)
    text = RunAnswer.model_construct(**vars(data), ref=ref).model_dump_json()
    return Response(text, mimetype="application/json")


@blueprint.post("/read")
@blueprint.input(ReadRequest, arg_name="body")
@blueprint.output(ReadAnswer)
@blueprint.doc(responses=UNKNOWN)
def read_probes(body: ReadRequest) -> ReadAnswer:
    """What a 10 Mohm voltmeter shows at each pair of probes in a state."""
    assembly, _ = assembly_of(body)
    frame = frame_in(assembly, body.state)
    readings = tuple(reading_data(read_voltage(assembly, frame.point, p.red, p.black)) for p in body.probes)
    return ReadAnswer(readings=readings)


@blueprint.post("/measure")
@blueprint.input(MeasureRequest, arg_name="body")
@blueprint.output(MeasureAnswer)
@blueprint.doc(responses=UNKNOWN)
def measure_with(body: MeasureRequest) -> MeasureAnswer:
    """What instruments show in a state."""
    assembly, _ = assembly_of(body)
    frame = frame_in(assembly, body.state)
    measured = tuple(
        Measured(shown=measure(assembly, frame, what), reason=why_measured(assembly, frame, what) if body.why else "")
        for what in body.measures
    )
    return MeasureAnswer(measured=measured)


@blueprint.post("/map")
@blueprint.input(MapRequest, arg_name="body")
@blueprint.output(MapAnswer)
@blueprint.doc(responses=UNKNOWN)
def map_potentials(body: MapRequest) -> MapAnswer:
    """The hot and cold map of a state: every terminal to one of them, the larger of its two parts in volts."""
    assembly, _ = assembly_of(body)
    found = potentials(assembly, frame_in(assembly, body.state).point, body.reference)
    larger = [(one, one.dc_v if abs(one.dc_v) > one.ac_v else one.ac_v) for one in found]
    return MapAnswer(
        potentials=tuple(PotentialData(end=one.end, display=display(v) if one.joined else "") for one, v in larger)
    )
