"""/api/simulation: why meters and devices show what they show, and where faults make a difference."""

from typing import Annotated, Final

from apiflask import APIBlueprint

from server.subjects.simulation.asked import ASSEMBLIES, MAX_ACTIONS, UNKNOWN, Asked, assembly_of, frame_in
from wiretrace.bounds import Most
from wiretrace.document.circuit import End, Frozen
from wiretrace.explain.device import why_device
from wiretrace.explain.event import why_event
from wiretrace.explain.reading import explain_reading
from wiretrace.simulation.difference import differences
from wiretrace.transport.report import (
    ActionData,
    ExplanationData,
    Probes,
    StateData,
    Time,
    action_from_data,
    explanation_data,
)

blueprint = APIBlueprint("reasons", __name__, url_prefix="/api/simulation")

MAX_BEFORE: Final = 60
"""States before that are looked at for causes."""


class FirstDifferencesRequest(Asked):
    """The faults and the hands since the circuit was put under power."""

    actions: Annotated[tuple[ActionData, ...], Most(MAX_ACTIONS)] = ()
    until_us: Time


class FirstDifference(Frozen):
    at_us: Time
    device: str
    sound: str
    faulty: str


class FirstDifferences(Frozen):
    """Devices that say something else than in the sound circuit, each with the first moment, the first first."""

    differences: tuple[FirstDifference, ...]


class ExplainRequest(Asked):
    probes: Probes


class WhyRequest(Asked):
    """`before` are the states in which something changed before, under the same faults, oldest first."""

    device: str
    before: Annotated[tuple[StateData, ...], Most(MAX_BEFORE)] = ()
    actions: Annotated[tuple[ActionData, ...], Most(MAX_ACTIONS)] = ()


class LeadingData(Frozen):
    """A way on the sheet, from a device to a pole, and whether it is whole."""

    terminals: tuple[End, ...]
    conductors: tuple[str, ...]
    whole: bool


class PlaceData(Frozen):
    place: str
    branch: str


class CauseData(Frozen):
    at_us: Time
    device: str
    sentence: str
    conductors: tuple[str, ...]


class WhyAnswer(Frozen):
    """Why a device is as it is, what is missing for it on its ways, and the causes back to a hand, nearest first.

    `depends` are devices on which it depends.
    """

    sentences: tuple[str, ...]
    ways: tuple[LeadingData, ...]
    missing: tuple[PlaceData, ...]
    depends: tuple[str, ...]
    causes: tuple[CauseData, ...]


@blueprint.post("/first-differences")
@blueprint.input(FirstDifferencesRequest, arg_name="body")
@blueprint.output(FirstDifferences)
@blueprint.doc(responses=UNKNOWN)
def first_differences(body: FirstDifferencesRequest) -> FirstDifferences:
    """Where the circuit with its faults parts from the sound one under the same hands."""
    faulty, ref = assembly_of(body)
    actions = [action_from_data(action) for action in body.actions]
    sound = ASSEMBLIES.assembly(ref, faulty.circuit, ())
    found = differences(sound, faulty, actions, body.until_us)
    return FirstDifferences(differences=tuple(FirstDifference(**vars(one)) for one in found))


@blueprint.post("/explain")
@blueprint.input(ExplainRequest, arg_name="body")
@blueprint.output(ExplanationData)
@blueprint.doc(responses=UNKNOWN)
def explain(body: ExplainRequest) -> ExplanationData:
    """Why the meter shows what it shows in a state."""
    assembly, _ = assembly_of(body)
    frame = frame_in(assembly, body.state)
    return explanation_data(assembly, explain_reading(assembly, frame, body.probes.red, body.probes.black))


@blueprint.post("/why")
@blueprint.input(WhyRequest, arg_name="body")
@blueprint.output(WhyAnswer)
@blueprint.doc(responses=UNKNOWN)
def why(body: WhyRequest) -> WhyAnswer:
    """Why a device is as it is in a state, and what made it so."""
    assembly, _ = assembly_of(body)
    frames = [*(frame_in(assembly, state) for state in body.before), frame_in(assembly, body.state)]
    reason = why_device(assembly, frames[-1], body.device)
    causes = why_event(assembly, frames, [action_from_data(action) for action in body.actions], body.device)
    return WhyAnswer(
        sentences=reason.sentences,
        ways=tuple(LeadingData(**vars(way)) for way in reason.ways),
        missing=tuple(PlaceData(place=place, branch=branch) for place, branch in reason.missing),
        depends=reason.depends,
        causes=tuple(CauseData(**vars(cause)) for cause in causes),
    )
