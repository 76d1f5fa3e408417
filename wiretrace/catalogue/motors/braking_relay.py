"""Braking relay: direct current into a motor that has been switched off, for as long as it is set."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    amount,
    number,
)
from wiretrace.catalogue.supply.direct import AGREES


class BrakingRelay(Kind):
    """Rectifies what stands at L1 and L2 and lets it flow from T1 to T2 through two leads of a motor.

    A contact at B1 and B2, closed while the motor's contactor is out, tells it: once that has opened and closed again,
    and the residual voltage has died away, it brakes. 11-12 opens for as long, for the coil of that contactor: were
    both in at one time, the lines would come to its output and destroy it.
    """

    remedies = {
        "output_destroyed": "Contactor and brake were in at one time. Lead 11-12 into its coil, then replace it.",
    }
    name = "braking_relay"
    title = "Braking relay, direct current"
    rank = 70
    group = "switching"
    letter = "T"
    letters_known = ("K", "A")
    letter_nema = "BR"
    mounting = "plate"
    params = (
        Param("line_voltage_v", "Voltage of its input", 400.0, "V", 100.0, 690.0),
        Param("current_a", "Direct current", 7.0, "A", 0.2, 500.0, set_on_site=True),
        Param("brakes_s", "Brakes for", 2.0, "s", 0.2, 60.0, set_on_site=True),
        Param("waits_s", "Waits for the residual voltage", 0.4, "s", 0.05, 5.0),
        Param("idle_power_w", "Power taken at rest", 3.0, "W", 0.2, 50.0),
    )
    terminals = tuple(Terminal(name) for name in ("L1", "T1", "L2", "T2", "B1", "B2", "11", "12", "14"))
    branches = (
        Branch("input", "L1", "L2", Role.LOAD),
        Branch("brake", "T2", "T1", Role.SOURCE),
        Branch("start", "B2", "B1", Role.SOURCE),
        Branch("11-12", "11", "12", Role.CONTACT),
        Branch("11-14", "11", "14", Role.CONTACT),
    )
    parts = (
        Part(
            *("power", "Input and output", "braking_relay", Does.CONVERTS),
            ("L1", "L2", "T1", "T2"),
            ("input", "brake"),
        ),
        Part("start", "Start", "braking_input", Does.TAKES_SIGNALS, ("B1", "B2"), ("start",)),
        changeover("11", "12", "14"),
    )
    poles = {"T1": ("live", "brake"), "T2": ("neutral", "brake")}
    operations = (
        Operation(
            *("replace", "Replace the relay", "pulse", "First find out how the lines came to its output."),
            repairs="output_destroyed",
        ),
    )
    electronic = True
    limits_current = True
    off_contact = "11-12"
    actuator = Actuator.SUPPLY
    made_for = {"input": ("line_voltage_v", "idle_power_w")}
    momentary = frozenset({"input_ohm", "limit_ohm", "gives_v"})

    WORKS_FROM: Final = 0.75
    WAKES_US: Final = 100_000
    MEAN: Final = 0.45
    """Direct voltage of a half wave, in the alternating one (IEC 60146)."""
    OWN_OHM: Final = 0.05
    ASKS_V: Final = 24.0
    ASKS_OHM: Final = 4_800.0
    CLOSED_A: Final = 0.0025
    """Current at B1 from which the contact there counts as closed: half of what a sound one lets flow."""
    DESTROYS: Final = 2.0
    """Alternating current through its output, in the direct one that it is set to, that destroys it."""
    DESTROYS_US: Final = 5_000

    def initial(self, params: Params) -> DeviceState:
        return {
            **dict.fromkeys(("fed", "closed", "armed", "brakes", "destroyed"), False),
            "input_ohm": number(params, "line_voltage_v") ** 2 / number(params, "idle_power_w"),
            "gives_v": 0.0,
            "limit_ohm": 0.0,
            **dict.fromkeys(("wakes_at_us", "starts_at_us", "ends_at_us", "breaks_at_us")),
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = {"input": Value(amount(state, "input_ohm"))}
        if state["fed"]:
            values["start"] = Value(self.ASKS_OHM, emf_dc_v=self.ASKS_V)
        if state["brakes"]:
            values["brake"] = Value(self.OWN_OHM + amount(state, "limit_ohm"), emf_dc_v=amount(state, "gives_v"))
        values["11-14" if state["brakes"] else "11-12"] = Value(CONTACT_OHM)
        return values

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return {**state, "destroyed": False}

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """All that follows from one look at the line and at what hangs on the output, each with the others.

        The less voltage there is at the input, the less resistance it has: so looks come nearer from one side, and do
        not swing where a bad joint before it leaves little.
        """
        line_v = abs(signals["input"].voltage_v)
        load_ohm = self._load_ohm(state, signals["brake"].dc_a)
        gives = self.MEAN * line_v if state["brakes"] else 0.0
        current_a = number(params, "current_a")
        limit = max(0.0, gives / current_a - load_ohm - self.OWN_OHM)
        # The current in that which a volt of the line drives, then its share of the power.
        per_volt = min(self.MEAN / (load_ohm + self.OWN_OHM), current_a / max(line_v, 1e-6))
        taken_s = per_volt**2 * load_ohm if state["brakes"] and math.isfinite(load_ohm) else 0.0
        idle_s = number(params, "idle_power_w") / max(line_v, 0.3 * number(params, "line_voltage_v")) ** 2
        wanted = {"gives_v": gives, "limit_ohm": limit, "input_ohm": 1 / (idle_s + taken_s)}
        least = {"gives_v": 1.0, "limit_ohm": self.OWN_OHM, "input_ohm": 0.0}
        return {
            **state,
            **{
                name: value
                for name, value in wanted.items()
                if abs(value - amount(state, name)) > AGREES * max(least[name], value)
            },
        }

    def _load_ohm(self, state: DeviceState, current_a: float) -> float:
        """What hangs on the output, by what the last look gave it; infinite where nothing flows."""
        if abs(current_a) < 1e-9:
            return math.inf
        inside_ohm = self.OWN_OHM + amount(state, "limit_ohm")
        return max(0.0, amount(state, "gives_v") / abs(current_a) - inside_ohm)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed = abs(signals["input"].voltage_v) >= self.WORKS_FROM * number(params, "line_voltage_v")
        closed = bool(state["fed"]) and abs(signals["start"].dc_a) >= self.CLOSED_A
        # The contactor has come in since it was fed: there is something to brake.
        armed = bool(state["fed"]) and (bool(state["armed"]) or not closed)
        starts = armed and closed and not state["brakes"] and not state["destroyed"]
        ruins = abs(signals["brake"].current_a) > self.DESTROYS * number(params, "current_a")
        return {
            **state,
            "closed": closed,
            "armed": armed,
            "wakes_at_us": _planned(state["wakes_at_us"], fed != state["fed"], now_us + self.WAKES_US),
            "starts_at_us": _planned(state["starts_at_us"], starts, now_us + round(1e6 * number(params, "waits_s"))),
            "breaks_at_us": _planned(state["breaks_at_us"], ruins, now_us + self.DESTROYS_US),
        }

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["wakes_at_us"] == now_us:
            state = {**self._rests(state), "fed": not state["fed"], "armed": False, "wakes_at_us": None}
        if state["starts_at_us"] == now_us:
            ends_at = now_us + round(1e6 * number(params, "brakes_s"))
            state = {**state, "brakes": True, "armed": False, "starts_at_us": None, "ends_at_us": ends_at}
        if state["breaks_at_us"] == now_us:
            return {**self._rests(state), "destroyed": True, "breaks_at_us": None}
        return self._rests(state) if state["ends_at_us"] == now_us else state

    @staticmethod
    def _rests(state: DeviceState) -> DeviceState:
        return {**state, "brakes": False, "limit_ohm": 0.0, "gives_v": 0.0, "ends_at_us": None, "starts_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["destroyed"]:
            return View("output_destroyed", False, attention=True)
        if not state["fed"]:
            return View("off", False)
        if not state["brakes"]:
            return View("waiting" if state["starts_at_us"] is not None else "ready", False)
        return View("brakes", True, figures=(Figure("Direct current", abs(signals["brake"].dc_a), "A"),))


def _planned(planned: object, wanted: bool, at_us: int) -> int | None:
    """A time that was planned stays; where nothing is wanted any more there is none."""
    if not wanted:
        return None
    return planned if isinstance(planned, int) else at_us
