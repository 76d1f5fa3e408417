"""Contacts that stay where they are put: emergency stop, selectors, switches in the field."""

from collections.abc import Mapping
from typing import ClassVar, Final

from wiretrace.catalogue.command.two_position import TwoPosition
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
    When,
)


def _parts(nc_symbol: str, no_symbol: str) -> tuple[Part, ...]:
    return (
        Part("11-12", "Contact 11-12, NC", nc_symbol, Does.NORMALLY_CLOSED, ("11", "12"), ("11-12",)),
        Part("13-14", "Contact 13-14, NO", no_symbol, Does.NORMALLY_OPEN, ("13", "14"), ("13-14",)),
    )


SECOND_NC: Final = When("second_block", ("NC",))
SECOND_NO: Final = When("second_block", ("NO",))


class TwoBlocks(TwoPosition):
    """With place for a second contact on the same movement: for the second channel of a safety relay."""

    params: ClassVar[tuple[Param, ...]] = (
        Param(
            "second_block",
            "Second contact block",
            "none",
            choices=("none", "NC", "NO"),
            titles={"NC": "NC, 21-22", "NO": "NO, 23-24"},
        ),
    )
    terminals = (
        *TwoPosition.terminals,
        *(Terminal(name, when=SECOND_NC) for name in ("21", "22")),
        *(Terminal(name, when=SECOND_NO) for name in ("23", "24")),
    )
    branches = (
        *TwoPosition.branches,
        Branch("21-22", "21", "22", Role.CONTACT, SECOND_NC),
        Branch("23-24", "23", "24", Role.CONTACT, SECOND_NO),
    )

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        first = super().values(params, state)
        second = {"11-12": "21-22", "13-14": "23-24"}
        return {**first, **{second[name]: value for name, value in first.items()}}


def _two_blocks(nc_symbol: str, no_symbol: str) -> tuple[Part, ...]:
    return (
        *_parts(nc_symbol, no_symbol),
        Part("21-22", "Contact 21-22, NC", nc_symbol, Does.NORMALLY_CLOSED, ("21", "22"), ("21-22",), SECOND_NC),
        Part("23-24", "Contact 23-24, NO", no_symbol, Does.NORMALLY_OPEN, ("23", "24"), ("23-24",), SECOND_NO),
    )


class EmergencyStop(TwoBlocks):
    """Latches when struck and stays until it is released (ISO 13850)."""

    name = "emergency_stop"
    title = "Emergency stop"
    rank = 20
    group = "command"
    letter = "S"
    letter_nema = "ES"
    mounting = "door"
    parts = _two_blocks("emergency_nc", "emergency_no")
    actuator = Actuator.HANDLE
    operations = (Operation("strike", "Struck", "toggle", handle=True),)
    statuses = ("released", "struck")
    warns = True

    def is_stop(self, params: Params) -> bool:
        return True


class OnOffSwitch(TwoPosition):
    """Maintained switch of two positions."""

    name = "selector_two"
    title = "Selector, two positions"
    rank = 30
    group = "command"
    letter = "S"
    letter_nema = "SS"
    mounting = "door"
    parts = _parts("turn_nc", "turn_no")
    actuator = Actuator.HANDLE
    operations = (Operation("turn", "On", "toggle", handle=True),)
    statuses = ("=0", "=1")


class LimitSwitch(TwoBlocks):
    """Actuated while something stands against it."""

    name = "limit_switch"
    title = "Limit switch"
    rank = 60
    group = "command"
    letter = "B"
    letter_nema = "LS"
    mounting = "field"
    parts = _two_blocks("limit_nc", "limit_no")
    actuator = Actuator.PROCESS
    operations = (Operation("actuate", "Actuated", "toggle"),)
    statuses = ("free", "actuated")


class FloatSwitch(TwoPosition):
    """Actuated while the level is high."""

    name = "float_switch"
    title = "Float switch"
    rank = 70
    group = "command"
    letter = "B"
    letter_nema = "FS"
    mounting = "field"
    parts = _parts("float_nc", "float_no")
    actuator = Actuator.PROCESS
    operations = (Operation("raise", "Level high", "toggle"),)
    statuses = ("low", "high")


class PressureSwitch(TwoPosition):
    """Actuated while the pressure is high."""

    name = "pressure_switch"
    title = "Pressure switch"
    rank = 80
    group = "command"
    letter = "B"
    letter_nema = "PS"
    mounting = "field"
    parts = _parts("pressure_nc", "pressure_no")
    actuator = Actuator.PROCESS
    operations = (Operation("press", "Pressure high", "toggle"),)
    statuses = ("low", "high")


class TemperatureSwitch(TwoPosition):
    """Actuated while it is hot."""

    name = "temperature_switch"
    title = "Temperature switch"
    rank = 90
    group = "command"
    letter = "B"
    letter_nema = "TS"
    mounting = "field"
    parts = _parts("temperature_nc", "temperature_no")
    actuator = Actuator.PROCESS
    operations = (Operation("heat", "Hot", "toggle"),)
    statuses = ("cool", "hot")


class HandOffAuto(Kind):
    """Maintained selector of three positions: 13-14 closed in hand, 23-24 in auto, nothing in off."""

    name = "hand_off_auto"
    title = "Selector, hand-off-auto"
    rank = 40
    group = "command"
    letter = "S"
    letter_nema = "SS"
    mounting = "door"
    terminals = tuple(Terminal(name) for name in ("13", "14", "23", "24"))
    branches = (Branch("13-14", "13", "14", Role.CONTACT), Branch("23-24", "23", "24", Role.CONTACT))
    parts = (
        Part("13-14", "Contact 13-14, hand", "turn_no", Does.NORMALLY_OPEN, ("13", "14"), ("13-14",)),
        Part("23-24", "Contact 23-24, auto", "turn_no", Does.NORMALLY_OPEN, ("23", "24"), ("23-24",)),
    )
    actuator = Actuator.HANDLE
    operations = tuple(Operation(position, f"Turn to {position}", "pulse") for position in ("hand", "off", "auto"))
    off = "off"

    def initial(self, params: Params) -> DeviceState:
        return {"position": "off"}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        contact = {"hand": "13-14", "auto": "23-24"}.get(str(state["position"]))
        return {} if contact is None else {contact: Value(CONTACT_OHM)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {"position": operation}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = {operation.name: operation.name == state["position"] for operation in self.operations}
        return View(str(state["position"]), state["position"] != "off", on=on)
