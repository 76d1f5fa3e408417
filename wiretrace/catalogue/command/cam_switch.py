"""Cam switch: any contacts closed in any position, by a table of its own."""

from collections.abc import Iterator, Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
)

CONTACTS: Final = tuple((str(2 * n - 1), str(2 * n)) for n in range(1, 7))
POSITIONS: Final = ("0", "1", "2", "3", "4")


class TableError(ValueError):
    """A closing table that cannot be read."""


def closing_table(text: str) -> Mapping[str, frozenset[str]]:
    """From "0: -; 1: 1-2 3-4" the contacts that are closed in each position. Raises TableError."""
    known = {f"{a}-{b}" for a, b in CONTACTS}
    table: dict[str, frozenset[str]] = {}
    for line in filter(str.strip, text.split(";")):
        position, colon, closed = (part.strip() for part in line.partition(":"))
        names = frozenset(closed.split()) - {"-"}
        if not colon or position not in POSITIONS:
            raise TableError(
                f"the closing table names no position in {line.strip()!r}; write one from 0 to 4, then a colon."
            )
        if position in table:
            raise TableError(f"the closing table has position {position} twice.")
        if names - known:
            raise TableError(f"the closing table has contacts that do not exist: {', '.join(sorted(names - known))}.")
        table[position] = names
    if not table:
        raise TableError("the closing table is empty.")
    return table


class CamSwitch(Kind):
    """Six contacts, up to five positions; the table says which are closed where. Between two positions all are open
    that are not closed in both.
    """

    name = "cam_switch"
    title = "Cam switch, with closing table"
    rank = 50
    group = "command"
    letter = "S"
    letter_nema = "SS"
    mounting = "door"
    params = (
        Param(
            "table",
            "Closing table",
            "0: -; 1: 1-2 5-6; 2: 3-4 5-6",
            help="Position, colon, closed contacts; semicolon.",
        ),
    )
    terminals = tuple(Terminal(name) for pair in CONTACTS for name in pair)
    branches = tuple(Branch(f"{a}-{b}", a, b, Role.CONTACT) for a, b in CONTACTS)
    parts = tuple(
        Part(f"{a}-{b}", f"Contact {a}-{b}", "turn_no", Does.NORMALLY_OPEN, (a, b), (f"{a}-{b}",)) for a, b in CONTACTS
    )
    actuator = Actuator.HANDLE
    operations = tuple(Operation(position, f"Turn to {position}", "pulse") for position in POSITIONS)

    TURNS_US: Final = 50_000

    def contradictions(self, params: Params) -> Iterator[str]:
        try:
            closing_table(str(params["table"]))
        except TableError as error:
            yield str(error)

    def initial(self, params: Params) -> DeviceState:
        return {"stands": "0", "goes_to": "0", "turns_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        table = closing_table(str(params["table"]))
        closed = table.get(str(state["stands"]), frozenset()) & table.get(str(state["goes_to"]), frozenset())
        return {name: Value(CONTACT_OHM) for name in sorted(closed)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation not in closing_table(str(params["table"])) or operation == state["stands"]:
            return {**state, "goes_to": state["stands"], "turns_at_us": None}
        return {**state, "goes_to": operation, "turns_at_us": now_us + self.TURNS_US}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["turns_at_us"] != now_us:
            return state
        return {**state, "stands": state["goes_to"], "turns_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        turning = state["turns_at_us"] is not None
        on = {position: not turning and position == state["stands"] for position in POSITIONS}
        return View("turning" if turning else f"={state['stands']}", state["stands"] != "0", on=on)
