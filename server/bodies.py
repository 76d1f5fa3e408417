"""What several resources take."""

from typing import Annotated, Any

from pydantic import BeforeValidator, Field, StringConstraints

from server.store.order import Order
from wiretrace.document.checked import circuit_from_data
from wiretrace.document.circuit import NO_NUL, Circuit, Frozen


def _checked(data: Any) -> Circuit:
    return data if isinstance(data, Circuit) else circuit_from_data(data)


CheckedCircuit = Annotated[Circuit, BeforeValidator(_checked)]
"""A circuit that is refused with the core's own errors, which name device and terminal."""

Writer = Annotated[str, StringConstraints(min_length=1, max_length=64, pattern=NO_NUL)]
Serial = Annotated[int, Field(ge=1, le=2**53)]


class Save(Frozen):
    """What every save carries: the version it was made from, the window that saves, and its count of changes."""

    based_on: Annotated[int, Field(ge=0, le=2**31 - 1)]
    writer: Writer
    serial: Serial

    @property
    def order(self) -> Order:
        return Order(self.based_on, self.writer, self.serial)


class SavedVersion(Frozen):
    """The version that there is now: made by this save, or by a newer one of the same window."""

    version: int
