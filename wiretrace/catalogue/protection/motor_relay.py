"""Electronic motor protection relay: fed by current transformers, with a thermal memory and a code for each trip."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import thermal, watching
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Against, Does, Protects, Ratings
from wiretrace.catalogue.machinery.status import coded
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
    due_us,
    ends_of,
    number,
)
from wiretrace.catalogue.machinery.watch_relay import SUPPLY, WORKS_FROM

INPUTS: Final = (("1S1", "1S2"), ("2S1", "2S2"), ("3S1", "3S2"))
FINDINGS: Final = ("earth fault", "phase loss", "jam", "unbalance", "underload")
CODES: Final = {
    "overload": "E1",
    "phase loss": "E2",
    "unbalance": "E3",
    "jam": "E4",
    "underload": "E5",
    "earth fault": "E6",
}
STARTS_S: Final = 10.0


class MotorRelay(Kind):
    """Works out from three secondary currents what flows in the lines, and trips by each function in its own time.

    Overload heats as in `thermal` and cools with four times that time constant, which is its memory: it cannot be
    reset while it is hot. What the three currents add up to flows to earth: that is the earth fault, as exact as
    the transformers are. Jam and underload are not watched for the first ten seconds of a current. Without its supply
    it falls to tripped only as long as that is gone.
    """

    remedies = {
        "tripped": "Its code says why. Find the cause, let the motor cool where it was an overload, then reset it.",
    }
    name = "motor_protection_relay"
    title = "Motor protection relay, by current transformers"
    rank = 55
    group = "protection"
    letter = "F"
    letter_nema = "OL"
    mounting = "plate"
    params = (
        Param("dial_a", "Dial", 20.0, "A", 0.1, 1000.0, help="Set to the motor's nameplate current.", set_on_site=True),
        thermal.CLASS_PARAM,
        Param("ratio", "Ratio of the current transformers", 10.0, "", 0.2, 1000.0, set_on_site=True),
        Param("unbalance_percent", "Unbalance above", 30.0, "%", 5.0, 100.0, set_on_site=True),
        Param("unbalance_delay_s", "Delay for unbalance", 5.0, "s", 0.1, 60.0),
        Param("loss_delay_s", "Delay for a lost phase", 2.0, "s", 0.1, 60.0),
        Param("jam_times", "Jam above, times the dial", 3.0, "", 1.2, 10.0, set_on_site=True),
        Param("jam_delay_s", "Delay for a jam", 0.5, "s", 0.1, 60.0),
        Param("underload_percent", "Underload below, 0 for never", 0.0, "%", 0.0, 95.0, set_on_site=True),
        Param("underload_delay_s", "Delay for underload", 5.0, "s", 0.1, 600.0),
        Param("earth_percent", "Earth fault above, of the dial, 0 for never", 20.0, "%", 0.0, 100.0, set_on_site=True),
        Param("earth_delay_s", "Delay for an earth fault", 0.5, "s", 0.1, 60.0),
        Param("input_ohm", "Resistance of an input", 0.02, "ohm", 1e-4, 1.0),
        *SUPPLY,
    )
    terminals = tuple(
        Terminal(name) for name in ("A1", "A2", *(t for way in INPUTS for t in way), "95", "96", "97", "98")
    )
    branches = (
        Branch("supply", "A1", "A2", Role.LOAD),
        *(Branch(a, a, b, Role.PATH) for a, b in INPUTS),
        Branch("95-96", "95", "96", Role.CONTACT),
        Branch("97-98", "97", "98", Role.CONTACT),
    )
    parts = (
        Part(
            "inputs",
            "Inputs of the transformers",
            "motor_relay_inputs",
            Does.MEASURES,
            ends_of(INPUTS),
            tuple(a for a, _ in INPUTS),
        ),
        Part("supply", "Supply", "relay_supply", Does.CONSUMES, ("A1", "A2"), ("supply",)),
        Part("95-96", "Contact 95-96, NC", "thermal_nc", Does.NORMALLY_CLOSED, ("95", "96"), ("95-96",)),
        Part("97-98", "Contact 97-98, NO", "thermal_no", Does.NORMALLY_OPEN, ("97", "98"), ("97-98",)),
    )
    actuator = Actuator.CURRENT
    protects = Protects(frozenset({Against.OVERLOAD}), "dial_a", opens="95-96", closes="97-98")
    electronic = True
    made_for = {"supply": ("supply_voltage_v", "supply_power_w")}
    operations = (
        Operation("test", "Trip by hand", "pulse", trips=True),
        Operation("reset", "Reset", "pulse", "First find out why it tripped.", resets=True),
    )

    def ratings(self, params: Params) -> Ratings:
        return Ratings(ratio=number(params, "ratio"))

    FLOWS: Final = 0.1
    """Share of the dial from which the motor counts as running."""
    COOLS: Final = 4.0

    def initial(self, params: Params) -> DeviceState:
        due = {"heat_at_us": None, "started_at_us": None, "wakes_at_us": None}
        return {
            "trip": "",
            "awake": False,
            "runs": False,
            "started": False,
            **thermal.COLD,
            **due,
            **watching.idle(FINDINGS),
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        supply = Value(number(params, "supply_voltage_v") ** 2 / number(params, "supply_power_w"))
        contact = "95-96" if state["awake"] and not state["trip"] else "97-98"
        inputs = {a: Value(number(params, "input_ohm")) for a, _ in INPUTS}
        return {"supply": supply, contact: Value(CONTACT_OHM), **inputs}

    def lines_a(self, params: Params, signals: Mapping[str, Signal]) -> list[float]:
        """What flows in the lines as it works that out, amperes."""
        return [abs(signals[a].current_a) * number(params, "ratio") for a, _ in INPUTS]

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "test":
            return {**state, "trip": "test"}
        hot = state["trip"] == "overload" and thermal.is_hot(state)
        return state if hot else {**state, "trip": ""}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed = signals["supply"].rms_v >= WORKS_FROM * number(params, "supply_voltage_v")
        wakes = state["wakes_at_us"] if fed != state["awake"] else None
        if fed != state["awake"] and wakes is None:
            wakes = now_us + 50_000
        lines, dial = self.lines_a(params, signals), number(params, "dial_a")
        runs = max(lines) > self.FLOWS * dial
        started_at = state["started_at_us"]
        if runs != state["runs"]:
            started_at = now_us + round(STARTS_S * 1e6) if runs else None
        watches = fed and runs and not state["trip"]
        present = self._found(params, lines, bool(state["started"]) and runs) if watches else {}
        if watches and self._leaks(params, signals):
            present = {**present, "earth fault": number(params, "earth_delay_s")}
        finals = thermal.final_heats(lines, dial)
        seconds = None if state["trip"] else thermal.seconds_to_trip(state, finals, self._tau_s(params, finals))
        return {
            **state,
            "wakes_at_us": wakes,
            "runs": runs,
            "started": bool(state["started"]) and runs,
            "started_at_us": started_at,
            "heat_at_us": due_us(now_us, seconds, state["heat_at_us"]),
            **watching.timed(state, FINDINGS, present, now_us),
        }

    def _found(self, params: Params, lines: list[float], started: bool) -> Mapping[str, float]:
        dial, most, mean = number(params, "dial_a"), max(lines), sum(lines) / 3
        lost = watching.below(min(lines), 0.1 * most)
        uneven = max(abs(line - mean) for line in lines) / mean
        there = {
            "phase loss": lost,
            "jam": started and watching.above(most, dial * number(params, "jam_times")),
            "unbalance": not lost and watching.above(uneven, number(params, "unbalance_percent") / 100),
            "underload": started and watching.below(most, dial * number(params, "underload_percent") / 100),
        }
        delays = {"phase loss": "loss", "jam": "jam", "unbalance": "unbalance", "underload": "underload"}
        return {name: number(params, f"{delays[name]}_delay_s") for name, seen in there.items() if seen}

    def limits(self, params: Params) -> Mapping[str, str]:
        dial_a = number(params, "dial_a")

        def told(name: str, times: float, what: str) -> str:
            return f"its limit is {times * dial_a:.3g} A {what}, for {number(params, name):g} s"

        return {
            "e1_overload": f"its dial is at {dial_a:g} A, class {params['trip_class']}",
            "e2_phase_loss": f"its limit is a tenth of the largest current, for {params['loss_delay_s']:g} s",
            "e3_unbalance": f"its limit is {params['unbalance_percent']:g} % between the lines, "
            f"for {params['unbalance_delay_s']:g} s",
            "e4_jam": told("jam_delay_s", number(params, "jam_times"), "in a line"),
            "e5_underload": told("underload_delay_s", number(params, "underload_percent") / 100, "in a line"),
            "e6_earth_fault": told("earth_delay_s", number(params, "earth_percent") / 100, "to earth"),
        }

    def residual_a(self, params: Params, signals: Mapping[str, Signal]) -> float:
        """What the currents of the three lines add up to, amperes: it comes back by the earth."""
        return abs(sum(signals[a].current_a for a, _ in INPUTS)) * number(params, "ratio")

    def _leaks(self, params: Params, signals: Mapping[str, Signal]) -> bool:
        share = number(params, "earth_percent") / 100
        return share > 0 and watching.above(self.residual_a(params, signals), share * number(params, "dial_a"))

    def _tau_s(self, params: Params, finals: list[float]) -> float:
        """It heats by its class and cools more slowly."""
        tau = thermal.tau_s(str(params["trip_class"]))
        return tau if max(finals) > self.FLOWS**2 else self.COOLS * tau

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        finals = thermal.final_heats(self.lines_a(params, signals), number(params, "dial_a"))
        return thermal.heated(state, finals, self._tau_s(params, finals), span_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["wakes_at_us"] == now_us:
            state = {**state, "awake": not state["awake"], "wakes_at_us": None}
        if state["started_at_us"] == now_us:
            state = {**state, "started": True, "started_at_us": None}
        over = watching.elapsed(state, FINDINGS, now_us)
        if state["heat_at_us"] == now_us:
            over = ["overload", *over]
        if not over:
            return state
        return {**state, "trip": over[0], "heat_at_us": None, **watching.idle(FINDINGS)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        figures = (
            Figure("Largest line current", max(self.lines_a(params, signals)), "A"),
            Figure("Heat, of what trips", 100 * max(thermal.heats(state)) / thermal.TRIP_HEAT, "%"),
        )
        if state["trip"]:
            code = CODES.get(str(state["trip"]), "E0")
            trip = coded(f"{code} {state['trip']}")
            return View(f"tripped:{trip}", False, attention=True, figures=figures)
        return View("ready" if state["awake"] else "off", bool(state["awake"]), figures=figures)
