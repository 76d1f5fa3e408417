"""/api/simulation: from a circuit and a state to what happens, what a meter shows, and why."""

from functools import lru_cache
from typing import Annotated

from apiflask import APIBlueprint
from flask import Response
from pydantic import Field

from server.api.bodies import CheckedCircuit
from wiretrace.circuit.document import Circuit, Frozen
from wiretrace.explain.reading import explain_reading
from wiretrace.faults.fault import Fault
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
    faults_from_data,
    reading_data,
    run_data,
    state_from_data,
)
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.engine import checked_state, frame_of, initial_state, run
from wiretrace.simulation.plant import Plant
from wiretrace.simulation.state import State

blueprint = APIBlueprint("simulation", __name__, url_prefix="/api/simulation")

PLANTS_KEPT = 64
MAX_ACTIONS = 500
MAX_PROBES = 26


class RunRequest(Frozen):
    """`state` is what an earlier answer gave back; without one the circuit is as first put under power."""

    circuit: CheckedCircuit
    state: StateData | None = None
    actions: Annotated[tuple[ActionData, ...], Field(max_length=MAX_ACTIONS)] = ()
    until_us: Time
    probes: Annotated[tuple[Probes, ...], Field(max_length=MAX_PROBES)] = ()


class ReadRequest(Frozen):
    circuit: CheckedCircuit
    state: StateData | None = None
    probes: Annotated[tuple[Probes, ...], Field(max_length=MAX_PROBES)]


class ReadAnswer(Frozen):
    readings: tuple[ReadingData, ...]


class ExplainRequest(Frozen):
    circuit: CheckedCircuit
    state: StateData | None = None
    probes: Probes


@blueprint.post("/run")
@blueprint.input(RunRequest, arg_name="body")
@blueprint.output(RunData)
def run_circuit(body: RunRequest) -> Response:
    """Everything that changes until `until_us`, with the readings of the probes in place."""
    # Written out here: a run is long, and going through plain Python values would take as long as the run itself.
    plant = _plant(body.circuit, body.state)
    actions = [action_from_data(action) for action in body.actions]
    data = run_data(plant, run(plant, _state(plant, body.state), actions, body.until_us), body.probes)
    return Response(data.model_dump_json(), mimetype="application/json")


@blueprint.post("/read")
@blueprint.input(ReadRequest, arg_name="body")
@blueprint.output(ReadAnswer)
def read_probes(body: ReadRequest) -> ReadAnswer:
    """What a 10 Mohm voltmeter shows at each pair of probes in a state."""
    plant = _plant(body.circuit, body.state)
    frame = frame_of(plant, _state(plant, body.state))
    return ReadAnswer(
        readings=tuple(reading_data(read_voltage(plant, frame.point, p.red, p.black)) for p in body.probes)
    )


@blueprint.post("/explain")
@blueprint.input(ExplainRequest, arg_name="body")
@blueprint.output(ExplanationData)
def explain(body: ExplainRequest) -> ExplanationData:
    """Why the meter shows what it shows in a state."""
    plant = _plant(body.circuit, body.state)
    frame = frame_of(plant, _state(plant, body.state))
    return explanation_data(plant, explain_reading(plant, frame, body.probes.red, body.probes.black))


def _state(plant: Plant, data: StateData | None) -> State:
    return initial_state(plant) if data is None else checked_state(plant, state_from_data(data))


def _plant(circuit: Circuit, state: StateData | None) -> Plant:
    faults = faults_from_data(state.faults) if state else ()
    return _compiled(circuit.model_dump_json(exclude={"title", "sheets"}), faults)


@lru_cache(maxsize=PLANTS_KEPT)
def _compiled(text: str, faults: tuple[Fault, ...]) -> Plant:
    """The plant of a circuit without its layout; compiled once for all who ask about it."""
    return Plant(Circuit.model_validate_json(text[:1] + '"title":"",' + text[1:]), faults)
