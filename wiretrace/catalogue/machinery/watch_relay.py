"""What relays with a supply of their own have in common that watch something and drop when it is wrong."""

from collections.abc import Mapping
from dataclasses import replace
from typing import ClassVar, Final

from wiretrace.catalogue.machinery import watching
from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.status import coded
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
    number,
)

SUPPLY: Final = (
    Param("supply_voltage_v", "Supply voltage", 230.0, "V", 12.0, 400.0),
    Param("supply_power_w", "Power taken", 2.0, "W", 0.1, 20.0),
)
RESET: Final = Param(
    "reset", "Reset", "by_hand", choices=("by_hand", "automatic"), titles={"by_hand": "by hand"}, set_on_site=True
)
TERMINALS: Final = tuple(Terminal(name) for name in ("A1", "A2", "11", "12", "14"))
BRANCHES: Final = (
    Branch("supply", "A1", "A2", Role.LOAD),
    Branch("11-12", "11", "12", Role.CONTACT),
    Branch("11-14", "11", "14", Role.CONTACT),
)
PARTS: Final = (
    Part("supply", "Supply", "relay_supply", Does.CONSUMES, ("A1", "A2"), ("supply",)),
    changeover("11", "12", "14"),
)
UNFED: Final = "no supply"
TESTED: Final = "test"
READY: Final = "ready"
WORKS_FROM: Final = 0.8
"""Share of its supply voltage from which it works."""


WAKES_US: Final = 20_000
"""Time in which what is inside comes up with the supply, and goes with it."""


def wakes(params: Params, state: DeviceState, supply: Signal, now_us: int) -> tuple[bool, int | None]:
    """Does a relay work, and when does that change?"""
    fed, works = bool(state["fed"]), supply.rms_v >= WORKS_FROM * number(params, "supply_voltage_v")
    due = state["wakes_at_us"]
    if (works and supply.rms_a > 0) == fed:
        return fed, None
    return fed, due if isinstance(due, int) else now_us + WAKES_US


def woken(state: DeviceState, now_us: int) -> DeviceState:
    """The state in which a relay has come up, or gone down, if that is due now."""
    return {**state, "fed": not state["fed"], "wakes_at_us": None} if state["wakes_at_us"] == now_us else state


class WatchRelay(Kind):
    """Closed-circuit principle: its relay is in, 11-14 closed, while it is fed and all is well.

    Subclasses name their `findings` and tell which are there; each runs its own delay. What has tripped stays
    until it is reset by hand, or resets itself, as set.
    """

    remedies = {
        "tripped": "What it watches went over its limit. Find the cause, then reset it.",
    }
    group = "protection"
    letter = "K"
    letter_nema = "CR"
    mounting = "plate"
    actuator = Actuator.SUPPLY
    electronic = True
    made_for = {"supply": ("supply_voltage_v", "supply_power_w")}
    operations = (
        Operation("test", "Test", "momentary", mark="T", trips=True),
        Operation("reset", "Reset", "pulse", "First find out why it tripped.", resets=True),
    )

    findings: ClassVar[tuple[str, ...]]
    """What it may find, the gravest first."""
    READY_S: ClassVar[float] = 0.2
    """Time from supply, or from health, until it is ready."""

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        """The findings that are there, each with the seconds that it must last."""
        raise NotImplementedError

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        """What the branches are worth that are not supply and contact."""
        return {}

    def _driven(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        """What it puts out to measure with: nothing while it has no supply."""
        values = self.own_values(params, state)
        if state["fed"]:
            return values
        return {name: replace(value, emf_v=0j, emf_dc_v=0.0) for name, value in values.items()}

    def _all(self) -> tuple[str, ...]:
        return (UNFED, *self.findings, TESTED, READY)

    def initial(self, params: Params) -> DeviceState:
        return {
            "ready": False,
            "trip": "",
            "sees": "",
            "testing": False,
            "fed": False,
            "wakes_at_us": None,
            **watching.idle(self._all()),
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        contact = "11-14" if state["ready"] else "11-12"
        supply = Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w"))
        return {"supply": supply, contact: Value(CONTACT_OHM), **self._driven(params, state)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "testing": value} if operation == "test" else {**state, "trip": ""}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed, wakes_at = wakes(params, state, signals["supply"], now_us)
        found = dict(self.found(params, state, signals)) if fed else {UNFED: 0.02}
        if state["testing"] and fed:
            found[TESTED] = 0.02
        sees = next((name for name in self._all() if name in found), "")
        if state["ready"]:
            present: Mapping[str, float] = found
        else:
            present = {} if found or state["trip"] else {READY: self.READY_S}
        return {**state, "sees": sees, "wakes_at_us": wakes_at, **watching.timed(state, self._all(), present, now_us)}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        state = woken(state, now_us)
        over = watching.elapsed(state, self._all(), now_us)
        if not over:
            return state
        latched = params["reset"] == "by_hand" and over[0] not in (UNFED, READY)
        trip = over[0] if latched else state["trip"]
        return {**state, "ready": over == [READY], "trip": trip, **watching.idle(self._all())}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["sees"] == UNFED:
            return View("off", False)
        if state["trip"]:
            return View(f"tripped:{coded(state['trip'])}", False, attention=True)
        sees = coded(state["sees"])
        return View(sees or ("ready" if state["ready"] else "waiting"), bool(state["ready"]), attention=bool(sees))
