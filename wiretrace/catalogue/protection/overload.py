"""Overload relays: what they sense is in the motor circuit, their contacts are in the control circuit."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import thermal
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Against, Does, Protects
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
    due_us,
    ends_of,
    names_of,
    number,
)

HEATERS: Final = (("1", "2"), ("3", "4"), ("5", "6"))


BIMETAL: Final = "bimetal"
MELTING_ALLOY: Final = "melting_alloy"
ELECTRONIC: Final = "electronic"
DASHPOT: Final = "dashpot"
TITLES: Final = {MELTING_ALLOY: "melting alloy", DASHPOT: "magnetic with dashpot"}

SOLID_HEAT: Final = 0.6
"""Heat below which the alloy has set, so that its ratchet holds again."""
PHASE_LOSS_S: Final = 3.0
"""Seconds in which an electronic relay trips on a lost phase."""
PISTON_AT: Final = 7.2
PISTON_S: Final = {
    "5": 1.8,
    "10A": 2.3,
    "10": 4.5,
    "20": 8.5,
    "30": 12.5,
    "NEMA 10": 4.5,
    "NEMA 20": 8.5,
    "NEMA 30": 12.5,
}
"""Seconds that the piston of a dashpot needs at this multiple of the dial: so that it trips there, at 1.5 and at 1.2
times within what its class allows (IEC 60947-4-1, 8.2.1.5.1, and NEMA ICS 2: at 6 times within the class)."""
PISTON_LIFTS: Final = 1.1
"""Multiple of the dial above which its magnet lifts the piston."""
PISTON_FALLS_S: Final = 2.0
"""Time in which it falls from the top."""


DIAL_HELP: Final = "Set to the motor's nameplate current."


class OverloadRelay(Kind):
    """Overload relay of four kinds, trip-free.

    Bimetal: heating as in `thermal`, manual or automatic reset. Melting alloy: a ratchet that holds
    again once the alloy has set. Electronic: the same heat worked out, and a lost phase trips within seconds. Magnetic
    with dashpot: a piston that rises in oil while the current is well above the dial, so that it rides through the
    start; it remembers no heat. Pilot duty: it opens the control circuit, never the motor circuit.
    """

    remedies = {
        "tripped": "The motor took more than the dial allows, for too long. Find out why, let it cool, then reset.",
    }
    name = "overload_relay"
    title = "Overload relay"
    rank = 50
    group = "protection"
    letter = "F"
    letter_nema = "OL"
    mounting = "plate"
    params = (
        Param("dial_a", "Dial", 4.0, "A", 0.1, 630.0, help=DIAL_HELP, set_on_site=True, sized="dial"),
        Param("works_by", "Kind", BIMETAL, choices=(BIMETAL, MELTING_ALLOY, ELECTRONIC, DASHPOT), titles=TITLES),
        thermal.CLASS_PARAM,
        Param("automatic_reset", "Automatic reset", False, help="Never on a machine that can hurt.", set_on_site=True),
        Param("feels_phase_loss", "Sensitive to phase loss", True),
        Param("ambient_c", "Ambient temperature", 20.0, "degC", -25.0, 70.0),
        Param("ambient_compensated", "Compensated for the ambient", True),
        thermal.HEATER_PARAM,
    )
    terminals = (
        *(
            Terminal(name, nema)
            for pair, nemas in zip(HEATERS, (("L1", "T1"), ("L2", "T2"), ("L3", "T3")), strict=True)
            for name, nema in zip(pair, nemas, strict=True)
        ),
        Terminal("95"),
        Terminal("96"),
        Terminal("97"),
        Terminal("98"),
    )
    branches = (
        *(Branch(f"{a}-{b}", a, b, Role.PATH) for a, b in HEATERS),
        Branch("95-96", "95", "96", Role.CONTACT),
        Branch("97-98", "97", "98", Role.CONTACT),
    )
    parts = (
        Part(
            "heaters",
            "Heaters",
            "heater_3",
            Does.FEELS_CURRENT,
            ends_of(HEATERS),
            names_of(HEATERS),
        ),
        Part("95-96", "Contact 95-96, NC", "thermal_nc", Does.NORMALLY_CLOSED, ("95", "96"), ("95-96",)),
        Part("97-98", "Contact 97-98, NO", "thermal_no", Does.NORMALLY_OPEN, ("97", "98"), ("97-98",)),
    )
    actuator = Actuator.CURRENT
    clock = "changes_at_us"
    protects = Protects(frozenset({Against.OVERLOAD}), "dial_a", opens="95-96", closes="97-98")
    operations = (
        Operation("trip", "Trip by hand", "pulse", trips=True),
        Operation("reset", "Reset", "pulse", "First find out why it tripped.", resets=True),
    )

    def initial(self, params: Params) -> DeviceState:
        return {"tripped": False, **thermal.COLD, "lift": 0.0, "loss_since_us": -1, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        heater = Value(thermal.heater_ohm(params))
        contact = "97-98" if state["tripped"] else "95-96"
        return {f"{a}-{b}": heater for a, b in HEATERS} | {contact: Value(CONTACT_OHM)}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "trip":
            return {**state, "tripped": True}
        # Trip-free: a relay that is still hot cannot be reset or held in.
        hot = params["works_by"] != DASHPOT and thermal.is_hot(state, self._reset_heat(params))
        return {**state, "tripped": bool(state["tripped"]) and hot}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        finals = self._finals(params, signals)
        lost = params["works_by"] == ELECTRONIC and self._phase_lost(params, finals)
        since = -1 if not lost else now_us if state["loss_since_us"] == -1 else int(state["loss_since_us"] or 0)
        seconds = self._seconds(params, state, finals)
        if lost and not state["tripped"]:
            left = PHASE_LOSS_S - (now_us - since) / 1e6
            seconds = left if seconds is None else min(seconds, left)
        at_us = due_us(now_us, seconds, state["changes_at_us"])
        if state["changes_at_us"] == at_us and state["loss_since_us"] == since:
            return state
        return {**state, "changes_at_us": at_us, "loss_since_us": since}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        finals = self._finals(params, signals)
        lift = float(state["lift"] or 0.0) + span_us / 1e6 * self._piston_per_s(params, finals)
        warm = thermal.heated(state, finals, thermal.tau_s(str(params["trip_class"])), span_us)
        return {**warm, "lift": min(1.0, max(0.0, lift))}

    def _seconds(self, params: Params, state: DeviceState, finals: list[float]) -> float | None:
        """Seconds until it trips, or until it resets by itself, under steady currents."""
        tau = thermal.tau_s(str(params["trip_class"]))
        if params["works_by"] == DASHPOT:
            speed, lift = self._piston_per_s(params, finals), float(state["lift"] or 0.0)
            if not state["tripped"]:
                return (1 - lift) / speed if speed > 0 else None
            return lift / -speed if params["automatic_reset"] and speed < 0 else None
        if not state["tripped"]:
            trip_heat = thermal.biased(finals) if params["feels_phase_loss"] else thermal.TRIP_HEAT
            return thermal.seconds_to_trip(state, finals, tau, trip_heat - self._ambient_heat(params))
        if not params["automatic_reset"] or params["works_by"] == MELTING_ALLOY:
            return None
        return thermal.seconds_to_cool(state, finals, tau)

    @staticmethod
    def _piston_per_s(params: Params, finals: list[float]) -> float:
        """Speed of the piston in shares of its way; it falls where the current does not lift it."""
        over = max(finals) - PISTON_LIFTS**2
        seconds = PISTON_S[str(params["trip_class"])]
        return over / (PISTON_AT**2 - PISTON_LIFTS**2) / seconds if over > 0 else -1 / PISTON_FALLS_S

    @staticmethod
    def _phase_lost(params: Params, finals: list[float]) -> bool:
        lost = max(finals) > 0.05 and min(finals) < thermal.PHASE_LOSS_SHARE * max(finals)
        return bool(params["feels_phase_loss"]) and lost

    @staticmethod
    def _reset_heat(params: Params) -> float:
        return SOLID_HEAT if params["works_by"] == MELTING_ALLOY else thermal.RESET_HEAT

    @staticmethod
    def _ambient_heat(params: Params) -> float:
        """What the ambient above 20 degrees adds to a relay that is not compensated; the heater's own rise is 60 K."""
        return 0.0 if params["ambient_compensated"] else (number(params, "ambient_c") - 20) / 60

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "tripped": not state["tripped"], "changes_at_us": None}

    def has_electronics(self, params: Params) -> bool:
        return params["works_by"] == ELECTRONIC

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        tripped = bool(state["tripped"])
        near = amount(state, "lift") if params["works_by"] == DASHPOT else max(thermal.heats(state)) / thermal.TRIP_HEAT
        figures = (Figure("Of the way to its trip", 100 * near, "%"),)
        return View("tripped" if tripped else "set", tripped, attention=tripped, figures=figures)

    @staticmethod
    def _finals(params: Params, signals: Mapping[str, Signal]) -> list[float]:
        currents = [signals[f"{a}-{b}"].rms_a for a, b in HEATERS]
        return thermal.final_heats(currents, number(params, "dial_a"))


class ShellDisc(Kind):
    """Protector on the shell of a small motor, line duty: a disc that snaps open when hot and closes when cool.

    It opens the motor circuit itself, and resets itself: the motor may start without warning.
    """

    remedies = {
        "hot": "The winding is too hot. It closes by itself once it has cooled.",
    }
    name = "shell_disc"
    title = "Motor protector, self-resetting"
    rank = 60
    group = "protection"
    letter = "F"
    letter_nema = "OL"
    mounting = "field"
    params = (
        Param("dial_a", "Rated current", 3.0, "A", 0.1, 60.0),
        thermal.CLASS_PARAM,
        Param("resistance_ohm", "Resistance", 0.05, "ohm", 1e-4, 5.0),
    )
    terminals = (Terminal("1"), Terminal("2"))
    actuator = Actuator.CURRENT
    protects = Protects(frozenset({Against.OVERLOAD}))
    branches = (Branch("1-2", "1", "2", Role.CONTACT),)
    parts = (Part("disc", "Disc", "thermal_nc", Does.SWITCHES_LOAD, ("1", "2"), ("1-2",)),)

    def initial(self, params: Params) -> DeviceState:
        return {"open": False, **thermal.COLD, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {} if state["open"] else {"1-2": self.contact_value(params)}

    def contact_value(self, params: Params) -> Value:
        return Value(number(params, "resistance_ohm"))

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        finals, tau = self._finals(params, signals), thermal.tau_s(str(params["trip_class"]))
        seconds = (
            thermal.seconds_to_cool(state, finals, tau, SOLID_HEAT)
            if state["open"]
            else thermal.seconds_to_trip(state, finals, tau)
        )
        at_us = due_us(now_us, seconds, state["changes_at_us"])
        return state if state["changes_at_us"] == at_us else {**state, "changes_at_us": at_us}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        tau = thermal.tau_s(str(params["trip_class"]))
        return thermal.heated(state, self._finals(params, signals), tau, span_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return {**state, "open": not state["open"], "changes_at_us": None}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("open+hot" if state["open"] else "closed", not state["open"], attention=bool(state["open"]))

    @staticmethod
    def _finals(params: Params, signals: Mapping[str, Signal]) -> list[float]:
        return thermal.final_heats([signals["1-2"].rms_a] * 3, number(params, "dial_a"))
