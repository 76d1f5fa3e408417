"""/api/faults: which single faults a circuit can have, in words and as data."""

from typing import Annotated, Final

from apiflask import APIBlueprint
from pydantic import StringConstraints, TypeAdapter, ValidationError

from server.bodies import CheckedCircuit
from wiretrace.document.circuit import Circuit, Frozen
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.registry import AnyFault
from wiretrace.faults.text import fault_from_text, fault_words
from wiretrace.simulation.assembly import Assembly

blueprint = APIBlueprint("faults", __name__, url_prefix="/api")


FAULT: Final[TypeAdapter[AnyFault]] = TypeAdapter(AnyFault)


class FaultsRequest(Frozen):
    """With `text` the one fault that it names, such as `K1/coil=open` or `K1:A1=to F1:2`; else all single faults."""

    circuit: CheckedCircuit
    text: Annotated[str, StringConstraints(max_length=300)] | None = None


class FaultLine(Frozen):
    """A fault, what its kind is called, what it is in words, and the device or conductor that it is at."""

    fault: AnyFault
    kind: str
    words: str
    place: str


class FaultList(Frozen):
    faults: tuple[FaultLine, ...]


def _understood(circuit: Circuit, text: str) -> AnyFault:
    """The fault that a text names, such as a run takes it. Raises UnknownTarget."""
    try:
        return FAULT.validate_python(FAULT.dump_python(fault_from_text(circuit, text)))
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        message = f"{first['loc'][-1]}: {first['msg']}."
    except ValueError as error:
        message = str(error)
    raise UnknownTarget(message, (Problem("fault_not_understood", message),))


@blueprint.post("/faults")
@blueprint.input(FaultsRequest, arg_name="body")
@blueprint.output(FaultList)
def list_faults(body: FaultsRequest) -> FaultList:
    """Faults that can be put into a circuit."""
    whole = Assembly(body.circuit)
    if body.text is None:
        found = list(possible_faults(body.circuit, whole.devices))
    else:
        found = [_understood(body.circuit, body.text)]
        Assembly(body.circuit, tuple(found))
    return FaultList(
        faults=tuple(
            FaultLine(fault=fault, kind=fault.about.title, words=fault_words(whole, fault), place=fault.where)
            for fault in found
        )
    )
