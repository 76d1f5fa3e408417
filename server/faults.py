"""The faults of a request: said openly, or sealed so that only the server knows them."""

from collections import OrderedDict
from typing import Annotated, Final

from pydantic import Field, StringConstraints, TypeAdapter

from server.connection import connection
from server.store import sealed
from wiretrace.errors import SingularNetwork, TooManyEvents, UnstableInstant, WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds import AnyFault

Faults = Annotated[tuple[AnyFault, ...], Field(max_length=500)]
SealedName = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{32}$")]

FAULTS: Final = TypeAdapter(tuple[AnyFault, ...])
REMEMBERED: Final = 1000

_opened: OrderedDict[tuple[str, str], tuple[Fault, ...]] = OrderedDict()


def sealed_faults(name: str, ref: str) -> tuple[Fault, ...]:
    """The faults behind a name, for the circuit with this hash. Raises NotFound."""
    known = _opened.get((name, ref))
    if known is None:
        known = _opened[name, ref] = FAULTS.validate_python(sealed.opened(connection(), name, ref))
        while len(_opened) > REMEMBERED:
            _opened.popitem(last=False)
    return known


def seal(ref: str, faults: Faults) -> str:
    """A name for these faults of a circuit, by which a run can be made under them."""
    return sealed.seal(connection(), ref, FAULTS.dump_python(faults, mode="json"))


def without_places(error: WiretraceError) -> WiretraceError:
    """An error under sealed faults: that of a run says what happened, and not where."""
    if isinstance(error, SingularNetwork):
        return SingularNetwork("The circuit has no operating point in this state.")
    if isinstance(error, UnstableInstant):
        return UnstableInstant("Something would change without end at one instant.")
    return TooManyEvents("Too much changes; ask for a shorter run.") if isinstance(error, TooManyEvents) else error
