"""Illuminated push button: a button with a lamp in its head."""

from collections.abc import Mapping

from wiretrace.catalogue.command.push_button import PushButton
from wiretrace.catalogue.loads.loads import Lamp
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)


class LitButton(PushButton):
    """Contacts as a push button; the lamp X1-X2 is wired by itself and says what somebody lets it say."""

    name = "push_button_lit"
    title = "Push button, illuminated"
    rank = 15
    params = (
        *PushButton.params,
        Param("rated_voltage_v", "Rated voltage of the lamp", 230.0, "V", 6.0, 690.0),
        Param("rated_power_w", "Rated power of the lamp", 1.0, "W", 0.05, 10.0),
    )
    terminals = (*PushButton.terminals, Terminal("X1"), Terminal("X2"))
    branches = (*PushButton.branches, Branch("lamp", "X1", "X2", Role.LOAD))
    parts = (*PushButton.parts, Part("lamp", "Lamp", "lamp", Does.SHOWS, ("X1", "X2"), ("lamp",)))
    electronic = True
    made_for = {"lamp": ("rated_voltage_v", "rated_power_w")}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        lamp = Value(number(params, "rated_voltage_v") ** 2 / number(params, "rated_power_w"))
        return {**super().values(params, state), "lamp": lamp}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        status = super().view(params, state, signals).status
        lit = signals["lamp"].rms_v >= Lamp.VISIBLE["LED"] * number(params, "rated_voltage_v")
        return View(f"{status}+{'lit' if lit else 'dark'}", lit)
