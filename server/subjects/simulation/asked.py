"""What every question about a circuit under power carries, and how it is looked up."""

from typing import Annotated, Any, Final, Self

from pydantic import StringConstraints, model_validator

from server.assemblies import Assemblies, reference
from server.bodies import CheckedCircuit
from server.faults import Faults
from server.problems import UnknownName
from server.subjects.simulation.frames import Frames
from wiretrace.document.circuit import Frozen
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, checked_state, initial_state
from wiretrace.simulation.fading import metered
from wiretrace.simulation.state import State
from wiretrace.transport.report import StateData, state_from_data

ASSEMBLIES = Assemblies()
FRAMES = Frames()

UNKNOWN: dict[int | str, Any] = {204: {"description": "The circuit of this `ref` is not known here: send it whole"}}
MAX_ACTIONS: Final = 500


class Asked(Frozen):
    """A circuit whole, or named by the `ref` that an earlier answer gave; `state` is what an answer gave back.

    Without a state the circuit is as first put under power. It has these `faults`.
    """

    circuit: CheckedCircuit | None = None
    ref: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")] | None = None
    state: StateData | None = None
    faults: Faults = ()

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.circuit is None) == (self.ref is None):
            raise ValueError("either circuit or ref")
        return self


def frame_in(assembly: Assembly, data: StateData | None) -> Frame:
    """The circuit in a state, as a meter finds it."""
    return metered(assembly, FRAMES.at(assembly, initial_state(assembly) if data is None else state_from_data(data)))


def state_in(assembly: Assembly, data: StateData | None) -> State:
    return initial_state(assembly) if data is None else checked_state(assembly, state_from_data(data))


def assembly_of(body: Asked) -> tuple[Assembly, str]:
    """The assembly that is asked about and its name. Raises UnknownName when it is named and not known here."""
    ref = body.ref or reference(body.circuit)  # type: ignore[arg-type]
    circuit = body.circuit or ASSEMBLIES.circuit(ref)
    if circuit is None:
        raise UnknownName
    return ASSEMBLIES.assembly(ref, circuit, body.faults), ref
