"""Timer relays: on-delay, off-delay, interval, and star-delta with its dead time."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    due_us,
    number,
)

SUPPLY: Final = (
    Param("supply_voltage_v", "Supply voltage", 230.0, "V", 12.0, 400.0),
    Param("supply_power_w", "Power taken", 1.5, "W", 0.1, 20.0),
)
WORKS_FROM: Final = 0.8
"""Share of the supply voltage from which an electronic timer works."""
RELAY_S: Final = 0.01
"""Time in which the relay inside changes its contacts over; a pulse that is shorter comes to nothing."""

DELAYS: Final = {"on_delay": "on-delay", "off_delay": "off-delay", "one_shot": "one-shot"}
"""How people call what a timer does, by its id."""


class Timer(Kind):
    """A timer works while its supply A1-A2 is there; its contact has the states of `phase`.

    The relay in it takes RELAY_S from one phase to the next, `next_phase`.
    """

    group = "switching"
    letter = "K"
    letter_nema = "TR"
    mounting = "plate"
    actuator = Actuator.CLOCK
    electronic = True
    clock = "changes_at_us"

    made_for = {"coil": ("supply_voltage_v", "supply_power_w")}

    def ratings(self, params: Params) -> Ratings:
        return Ratings(holds_from=WORKS_FROM)

    def initial(self, params: Params) -> DeviceState:
        return {"energised": False, "phase": 0, "next_phase": 0, "changes_at_us": None}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        volts = signals["coil"].rms_v
        works = volts >= WORKS_FROM * number(params, "supply_voltage_v") and signals["coil"].rms_a > 0
        if works == state["energised"]:
            return state
        phase = int(state["phase"] or 0)
        wanted = self.wants(params, works, phase)
        if wanted != phase:
            due = due_us(now_us, RELAY_S)
            return {"energised": works, "phase": phase, "next_phase": wanted, "changes_at_us": due}
        return self._waiting(params, {**state, "energised": works}, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["changes_at_us"] != now_us:
            return state
        return self._waiting(params, {**state, "phase": state["next_phase"]}, now_us)

    def _waiting(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        """The state with what follows by itself."""
        phase = int(state["phase"] or 0)
        seconds, following = self.follows(params, bool(state["energised"]), phase) or (None, phase)
        return {**state, "next_phase": following, "changes_at_us": due_us(now_us, seconds)}

    def wants(self, params: Params, works: bool, phase: int) -> int:
        """Phase that it goes to without delay when the supply has come (`works`) or gone."""
        raise NotImplementedError

    def follows(self, params: Params, works: bool, phase: int) -> tuple[float, int] | None:
        """Seconds that it stays in a phase, and the phase after that; None when it stays for good."""
        raise NotImplementedError

    @staticmethod
    def supply_value(params: Params) -> Value:
        return Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w"))


class OneChangeover(Timer):
    """A timer with one changeover 15-16-18, over in phase 1."""

    terminals = tuple(Terminal(name) for name in ("A1", "A2", "15", "16", "18"))
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        Branch("15-16", "15", "16", Role.CONTACT),
        Branch("15-18", "15", "18", Role.CONTACT),
    )

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        contact = "15-18" if state["phase"] == 1 else "15-16"
        return {"coil": self.supply_value(params), contact: Value(CONTACT_OHM)}


class TimerRelay(OneChangeover):
    """One changeover 15-16-18, moved after, for, or until some time after its supply."""

    name = "timer_relay"
    title = "Timer relay"
    rank = 40
    params = (
        Param("mode", "Function", "on_delay", choices=("on_delay", "off_delay", "interval"), titles=DELAYS),
        Param("delay_s", "Time", 5.0, "s", 0.05, 36000.0, set_on_site=True),
        *SUPPLY,
    )
    parts = (
        Part("coil", "Supply", "timer_coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        changeover("15", "16", "18", timed=True),
    )

    def wants(self, params: Params, works: bool, phase: int) -> int:
        if params["mode"] == "off_delay":
            return 1 if works else phase
        return 1 if works and params["mode"] == "interval" else 0

    def follows(self, params: Params, works: bool, phase: int) -> tuple[float, int] | None:
        delay_s = number(params, "delay_s")
        return {
            ("on_delay", True, 0): (delay_s, 1),
            ("off_delay", False, 1): (delay_s, 0),
            ("interval", True, 1): (delay_s, 0),
        }.get((str(params["mode"]), works, phase))

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["changes_at_us"] is not None:
            return View("timing", state["phase"] == 1)
        return View("switched" if state["phase"] == 1 else "at_rest", state["phase"] == 1)


class StarDeltaTimer(Timer):
    """17-18 for star at once, then neither for the dead time, then 17-28 for delta."""

    name = "timer_star_delta"
    title = "Star-delta timer"
    rank = 50
    params = (
        Param("star_s", "Time in star", 5.0, "s", 0.1, 600.0, set_on_site=True),
        Param("dead_time_ms", "Dead time", 50.0, "ms", 10.0, 500.0, set_on_site=True),
        *SUPPLY,
    )
    terminals = tuple(Terminal(name) for name in ("A1", "A2", "17", "18", "28"))
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        Branch("17-18", "17", "18", Role.CONTACT),
        Branch("17-28", "17", "28", Role.CONTACT),
    )
    parts = (
        Part("coil", "Supply", "timer_coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        Part(
            "17-18-28",
            "Contacts 17-18, 17-28",
            "star_delta_contacts",
            Does.CHANGES_OVER,
            ("17", "18", "28"),
            ("17-18", "17-28"),
        ),
    )

    STAR: Final = 1
    DEAD: Final = 2
    DELTA: Final = 3

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = {"coil": self.supply_value(params)}
        contact = {self.STAR: "17-18", self.DELTA: "17-28"}.get(int(state["phase"] or 0))
        return values if contact is None else values | {contact: Value(CONTACT_OHM)}

    def wants(self, params: Params, works: bool, phase: int) -> int:
        return self.STAR if works else 0

    def follows(self, params: Params, works: bool, phase: int) -> tuple[float, int] | None:
        if not works or phase not in (self.STAR, self.DEAD):
            return None
        if phase == self.STAR:
            return number(params, "star_s"), self.DEAD
        return number(params, "dead_time_ms") / 1000, self.DELTA

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        statuses = {self.STAR: "star", self.DEAD: "dead_time", self.DELTA: "delta"}
        return View(statuses.get(int(state["phase"] or 0), "at_rest"), bool(state["phase"]))
