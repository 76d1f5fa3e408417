"""All kinds of fault, told apart in data by `kind`."""

from typing import Annotated, TypeAlias

from pydantic import Field

from wiretrace.faults.devices import Operated, Stuck, WrongSetting
from wiretrace.faults.elements import Bridge, HighResistance, LooseTerminal, Open, Short, Welded, WrongContact
from wiretrace.faults.wires import Exchanged, Moved

AnyFault: TypeAlias = Annotated[
    Open
    | HighResistance
    | Short
    | Welded
    | WrongContact
    | LooseTerminal
    | Bridge
    | Moved
    | Exchanged
    | Stuck
    | WrongSetting
    | Operated,
    Field(discriminator="kind"),
]
