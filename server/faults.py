"""The faults of a request, and errors that tell nothing of faults that are hidden."""

from typing import Annotated, Final

from pydantic import TypeAdapter

from wiretrace.bounds import Most
from wiretrace.errors import SingularNetwork, TooManyEvents, UnstableInstant, WiretraceError
from wiretrace.faults.registry import AnyFault

Faults = Annotated[tuple[AnyFault, ...], Most(500)]

FAULTS: Final = TypeAdapter(tuple[AnyFault, ...])


def without_places(error: WiretraceError) -> WiretraceError:
    """An error under hidden faults: that of a run says what happened, and not where."""
    if isinstance(error, SingularNetwork):
        return SingularNetwork("The circuit has no operating point in this state.")
    if isinstance(error, UnstableInstant):
        return UnstableInstant("Something would change without end at one instant.")
    return TooManyEvents("Too much changes; ask for a shorter run.") if isinstance(error, TooManyEvents) else error
