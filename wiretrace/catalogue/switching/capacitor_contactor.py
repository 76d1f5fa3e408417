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

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = super().values(params, state)
        if state["position"] != travel.UNDER_WAY or not state["driven"]:
            return values
        return {**values, **dict.fromkeys(LEADING, Value(number(params, "leading_ohm")))}


LEADING: Final = tuple(f"{a}-{b}" for a, b in POLES)
