"""/api/faults: which single faults a circuit can have, in words and as data."""

from typing import Annotated

from apiflask import APIBlueprint
from pydantic import StringConstraints

from server.api.bodies import CheckedCircuit
from wiretrace.circuit.document import Frozen
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.kinds import AnyFault
from wiretrace.faults.possible import possible_faults
from wiretrace.formats.fault_text import fault_from_text
from wiretrace.formats.fault_words import fault_words
from wiretrace.simulation.assembly import Assembly

blueprint = APIBlueprint("faults", __name__, url_prefix="/api")


class FaultsRequest(Frozen):
    """With `text` the one fault that it names, such as `K1/coil=open` or `K1:A1=to F1:2`; else all single faults."""

    circuit: CheckedCircuit
    text: Annotated[str, StringConstraints(max_length=300)] | None = None


class FaultLine(Frozen):
    """A fault, what it is in words, and the device or conductor that it is at."""

    fault: AnyFault
    words: str
    place: str


class FaultList(Frozen):
    faults: tuple[FaultLine, ...]


@blueprint.post("/faults")
@blueprint.input(FaultsRequest, arg_name="body")
@blueprint.output(FaultList)
def list_faults(body: FaultsRequest) -> FaultList:
    """Faults that can be put into a circuit."""
    whole = Assembly(body.circuit)
    if body.text is None:
        found = list(possible_faults(body.circuit, whole.devices))
    else:
        try:
            found = [fault_from_text(body.circuit, body.text)]
        except ValueError as error:
            raise UnknownTarget(str(error), (Problem("fault_not_understood", str(error)),)) from None
        Assembly(body.circuit, tuple(found))
    return FaultList(
        faults=tuple(FaultLine(fault=fault, words=fault_words(whole, fault), place=fault.where) for fault in found)
    )
