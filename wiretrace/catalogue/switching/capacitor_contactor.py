"""Capacitor contactor: leading contacts with resistors charge the capacitors before its poles close."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.structure import DeviceState, Param, Params, number
from wiretrace.catalogue.switching.contactor import POLES, Contactor


class CapacitorContactor(Contactor):
    """A contactor whose poles close in two steps: some milliseconds through resistors, then without.

    So the inrush of empty capacitors is a few times their current, where a plain contactor makes it a hundred and its
    poles weld in time (IEC 60947-4-1, utilisation category AC-6b).
    """

    name = "contactor_capacitor"
    title = "Capacitor contactor"
    rank = 15
    params = (
        *Contactor.params,
        Param("leading_ohm", "Resistance before the leading contacts", 8.0, "ohm", 0.1, 100.0),
    )

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), "leads": False}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        moved = super().advance(params, state, now_us)
        begins = state["position"] == travel.REST and bool(state["driven"])
        return {**moved, "leads": moved["position"] == travel.UNDER_WAY and (begins or bool(state["leads"]))}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = super().values(params, state)
        if not state["leads"]:
            return values
        return {**values, **dict.fromkeys(LEADING, Value(number(params, "leading_ohm")))}


LEADING: Final = tuple(f"{a}-{b}" for a, b in POLES)
