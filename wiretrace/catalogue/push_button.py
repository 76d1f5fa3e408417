"""Momentary push button with a normally open contact, a normally closed one, or both."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue import travel
from wiretrace.catalogue.device import (
    CONTACT_OHM,
    Branch,
    DeviceState,
    Kind,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Signal,
    Terminal,
    Value,
    View,
    When,
)

HAS_NC: Final = When("contacts", ("NC", "NO + NC"))
HAS_NO: Final = When("contacts", ("NO", "NO + NC"))


class PushButton(Kind):
    """Both blocks move together: normally closed opens first, then normally open closes."""

    name = "push_button"
    title = "Push button"
    group = "command"
    letter = "S"
    letter_nema = "PB"
    mounting = "door"
    params = (
        Param("contacts", "Contacts", "NO", choices=("NO", "NC", "NO + NC")),
        Param("colour", "Colour", "green", choices=("green", "red", "black", "white", "yellow", "blue")),
    )
    terminals = (
        Terminal("11", "1", HAS_NC),
        Terminal("12", "2", HAS_NC),
        Terminal("13", "3", HAS_NO),
        Terminal("14", "4", HAS_NO),
    )
    branches = (
        Branch("11-12", "11", "12", Role.CONTACT, HAS_NC),
        Branch("13-14", "13", "14", Role.CONTACT, HAS_NO),
    )
    parts = (
        Part("11-12", "Contact 11-12, NC", "push_nc", ("11", "12"), ("11-12",), HAS_NC),
        Part("13-14", "Contact 13-14, NO", "push_no", ("13", "14"), ("13-14",), HAS_NO),
    )
    operations = (Operation("press", "Press", "momentary"),)

    FIRST_US: Final = 2_000
    SECOND_US: Final = 15_000
    """The way of a finger; a contactor drops out within it, or jogging would seal."""

    def initial(self, params: Params) -> DeviceState:
        return travel.AT_REST

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        if travel.nc_closed(state):
            return {"11-12": closed}
        return {"13-14": closed} if travel.no_closed(state) else {}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return travel.drive(state, value, self.FIRST_US, self.SECOND_US, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        return travel.step(state, self.SECOND_US, now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("pressed" if state["driven"] else "released", bool(state["driven"]))
