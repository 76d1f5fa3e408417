"""What every button and switch of two positions has in common."""

from collections.abc import Mapping
from typing import ClassVar

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.structure import Branch, DeviceState, Params, Role, Terminal, View


class TwoPosition(Kind):
    """One normally closed and one normally open contact on one movement, closed contact first to open."""

    terminals: ClassVar[tuple[Terminal, ...]] = (
        Terminal("11", "1"),
        Terminal("12", "2"),
        Terminal("13", "3"),
        Terminal("14", "4"),
    )
    branches: ClassVar[tuple[Branch, ...]] = (
        Branch("11-12", "11", "12", Role.CONTACT),
        Branch("13-14", "13", "14", Role.CONTACT),
    )

    FIRST_US: ClassVar[int] = 2_000
    SECOND_US: ClassVar[int] = 3_000
    """Microseconds to the first contact change, and from there to the second."""

    statuses: ClassVar[tuple[str, str]]
    """What is said of it at rest and when actuated."""
    warns: ClassVar[bool] = False

    def initial(self, params: Params) -> DeviceState:
        return travel.AT_REST

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        if travel.nc_closed(state):
            return {"11-12": closed}
        return {"13-14": closed} if travel.no_closed(state) else {}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return travel.drive(state, value, self.FIRST_US, self.second_us(params), now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        return travel.step(state, self.second_us(params), now_us)

    def second_us(self, params: Params) -> int:
        """Microseconds from the first contact change to the second."""
        return self.SECOND_US

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        actuated = bool(state["driven"])
        return View(self.statuses[actuated], actuated, attention=actuated and self.warns)
