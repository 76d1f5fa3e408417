"""What every question about a circuit under power carries, and how it is looked up."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Annotated, Any, Final, Self

from pydantic import StringConstraints, model_validator

from server.api.bodies import CheckedCircuit
from server.assemblies import Assemblies, reference
from server.faults import Faults, SealedName, sealed_faults, without_places
from server.frames import Frames
from server.problems import UnknownName
from wiretrace.circuit.document import Frozen
from wiretrace.errors import WiretraceError
from wiretrace.formats.report import StateData, state_from_data
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, checked_state, initial_state
from wiretrace.simulation.state import State

ASSEMBLIES = Assemblies()
FRAMES = Frames()

WITHHELD: Final = "Why a meter shows what it shows is not told while the faults are sealed."
UNKNOWN: dict[int | str, Any] = {204: {"description": "The circuit of this `ref` is not known here: send it whole"}}
MAX_ACTIONS: Final = 500


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


@contextmanager
def told(body: Asked) -> Iterator[None]:
    """Errors of a run, without their places where the faults are sealed."""
    try:
        yield
    except WiretraceError as error:
        raise (without_places(error) if body.sealed else error) from None


def frame_in(assembly: Assembly, data: StateData | None) -> Frame:
    return FRAMES.at(assembly, initial_state(assembly) if data is None else state_from_data(data))


def state_in(assembly: Assembly, data: StateData | None) -> State:
    return initial_state(assembly) if data is None else checked_state(assembly, state_from_data(data))


def assembly_of(body: Asked) -> tuple[Assembly, str]:
    """The assembly that is asked about and its name. Raises UnknownName when it is named and not known here."""
    ref = body.ref or reference(body.circuit)  # type: ignore[arg-type]
    circuit = body.circuit or ASSEMBLIES.circuit(ref)
    if circuit is None:
        raise UnknownName
    faults = sealed_faults(body.sealed, ref) if body.sealed else body.faults
    return ASSEMBLIES.assembly(ref, circuit, faults), ref
