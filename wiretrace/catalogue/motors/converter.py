"""Frequency converter: a motor at any speed, from a voltage whose frequency it makes itself."""

import math
from collections.abc import Iterator, Mapping
from typing import Final

from wiretrace.catalogue.machinery import watching
from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Against, Breaks, Does, Leaks, Operating, Protects, Ratings
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
    When,
    amount,
    due_us,
    number,
)
from wiretrace.catalogue.motors import converter_figures as figures
from wiretrace.catalogue.motors import converter_guard as guard
from wiretrace.catalogue.motors import converter_ramp as ramp
from wiretrace.catalogue.motors.converter_figures import OUTPUTS
from wiretrace.catalogue.motors.converter_ramp import INPUT_V, INPUTS

INPUT_MA: Final = 6.0

_THREE: Final = When("lines", ("three",))
_ENABLES: Final = When("enabling_input", (True,))


class FrequencyConverter(Kind):
    """Makes of alternating voltage one of another frequency: the motor turns as fast as that asks, at a voltage that
    goes with it.

    24 V at RF or RR starts it one way or the other, both together stop it; F2 chooses the second frequency, RS resets.
    EN, where it is fitted, must be fed or the output is off at once. It trips by itself and tells so at 11-12-14:
    11-14 is closed while it is fed and sound. 23-24 is closed while its output is on. A contactor between it and the
    motor may switch only while the output is off, and mains must never come to the output. Its own capacitors stay
    charged for minutes after it is switched off: wait as its plate says, and prove dead.

    A stand-in: no harmonics and no losses of switching; the middle of its output is held to PE through some ohms, so
    that an earth fault draws a current, which a real one draws through its input.
    """

    remedies = {
        "waits_for_a_new_start": "The command stood already when it became ready: take it away, and give it anew.",
        "output_destroyed": "Mains came to its output. Find how they could, part both ways, and replace it.",
        "overcurrent": "Its output was shorted, or a motor was switched on to it while it ran. Find which.",
        "earth_fault": "One of its outputs, or the motor, has a way to earth. Take the motor off and measure.",
        "overvoltage": "The load drove the motor while it slowed down. Set a longer ramp down.",
        "phase_lost": "A line is missing at its input. Look for the fuse or the pole that is open.",
        "overload": "The motor took more than its current is set to, for too long. Look for what holds it.",
    }
    name = "frequency_converter"
    title = "Frequency converter"
    starts_motor = "converter"
    rank = 65
    group = "switching"
    letter = "T"
    letters_known = ("U", "A")
    letter_nema = "AFD"
    mounting = "plate"
    params = (
        Param(
            "lines", "Fed by", "three", choices=("three", "one"), titles={"three": "three lines", "one": "one phase"}
        ),
        Param("line_voltage_v", "Voltage of its input", 400.0, "V", 100.0, 690.0),
        Param("rated_current_a", "Rated output current", 4.1, "A", 0.3, 1000.0),
        Param("motor_current_a", "Current of the motor", 3.4, "A", 0.1, 1000.0, set_on_site=True, sized="current_a"),
        Param("base_hz", "Rated frequency of the motor", 50.0, "Hz", 16.0, 200.0, set_on_site=True),
        Param("first_hz", "First frequency", 50.0, "Hz", 1.0, 200.0, set_on_site=True),
        Param("second_hz", "Second frequency, with F2", 20.0, "Hz", 1.0, 200.0, set_on_site=True),
        Param("up_s", "Ramp up, to the rated frequency", 3.0, "s", 0.1, 600.0, set_on_site=True),
        Param("down_s", "Ramp down, from the rated frequency", 3.0, "s", 0.1, 600.0, set_on_site=True),
        Param(
            *("stops", "Stops", "by_ramp"),
            choices=("by_ramp", "coasting"),
            titles={"by_ramp": "by the ramp"},
            set_on_site=True,
        ),
        Param("restarts", "Starts again by itself when the supply returns", False, set_on_site=True),
        Param("enabling_input", "Input EN must be fed", False),
        Param("idle_power_w", "Power taken without load", 15.0, "W", 1.0, 500.0),
    )
    terminals = (
        *(Terminal("L1"), Terminal("L2"), Terminal("L3", when=_THREE)),
        *(Terminal(name) for name in OUTPUTS),
        Terminal("PE", "GND", frame=True),
        *(Terminal(name) for name in ("24V", *INPUTS)),
        Terminal("EN", when=_ENABLES),
        *(Terminal(name) for name in ("0V", "11", "12", "14", "23", "24")),
    )
    internal_nodes = ("bridge", "middle")
    branches = (
        Branch("L1", "L1", "bridge", Role.LOAD, breaks=(Breaks.OPENS,)),
        Branch("L2", "L2", "bridge", Role.LOAD, breaks=(Breaks.OPENS,)),
        Branch("L3", "L3", "bridge", Role.LOAD, _THREE, (Breaks.OPENS,)),
        *(Branch(name, "middle", name, Role.SOURCE) for name in OUTPUTS),
        Branch("middle", "middle", "PE", Role.SOURCE),
        Branch("control", "0V", "24V", Role.SOURCE),
        *(Branch(name, name, "0V", Role.LOAD) for name in INPUTS),
        Branch("EN", "EN", "0V", Role.LOAD, _ENABLES),
        Branch("11-12", "11", "12", Role.CONTACT),
        Branch("11-14", "11", "14", Role.CONTACT),
        Branch("23-24", "23", "24", Role.CONTACT),
    )
    parts = (
        Part(
            *("power", "Input and output", "converter_3", Does.CONVERTS),
            ("L1", "U", "L2", "V", "L3", "W", "PE"),
            ("L1", "L2", "L3", *OUTPUTS, "middle"),
            _THREE,
        ),
        Part(
            *("power", "Input and output", "converter_1", Does.CONVERTS),
            ("L1", "U", "L2", "V", "W", "PE"),
            ("L1", "L2", *OUTPUTS, "middle"),
            When("lines", ("one",)),
        ),
        Part(
            *("inputs", "Inputs", "converter_inputs", Does.TAKES_SIGNALS),
            ("24V", *INPUTS, "0V"),
            ("control", *INPUTS),
            When("enabling_input", (False,)),
        ),
        Part(
            *("inputs", "Inputs", "converter_inputs_enabled", Does.TAKES_SIGNALS),
            ("24V", *INPUTS, "EN", "0V"),
            ("control", *INPUTS, "EN"),
            _ENABLES,
        ),
        changeover("11", "12", "14"),
        Part("23-24", "Runs 23-24, NO", "contact_no", Does.NORMALLY_OPEN, ("23", "24"), ("23-24",)),
    )
    poles = {
        **{name: ("live", name) for name in OUTPUTS},
        "24V": ("live", "control"),
        "0V": ("neutral", "control"),
    }
    operations = (
        Operation("reset", "Reset", "pulse", "First find out why it tripped.", resets=True),
        Operation(
            *("replace", "Replace the converter", "pulse", "First find out how mains came to its output."),
            repairs="output_destroyed",
        ),
    )
    electronic = True
    limits_current = True
    starts_by = ("RF", "RR")
    actuator = Actuator.SUPPLY
    protects = Protects(frozenset({Against.OVERLOAD}), dial="motor_current_a")
    momentary = frozenset({"input_ohm", "input_v"})

    WORKS_FROM: Final = 0.75
    HOLDS_US: Final = 20_000
    """Failure of its supply that it rides through."""
    WAKES_US: Final = 200_000
    RESETS_US: Final = 10_000
    CONTROL_OHM: Final = 10.0

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch in (*INPUTS, "EN"):
            return Operating(INPUT_V, INPUT_V * INPUT_MA / 1000, direct=True)
        if branch not in figures.INPUTS:
            return None
        lines, volts = (2, 2.0) if params["lines"] == "one" else (3, math.sqrt(3))
        return Operating(number(params, "line_voltage_v") / volts, number(params, "idle_power_w") / lines)

    def leaks(self, params: Params) -> Leaks | None:
        return Leaks.SMOOTH if params["lines"] == "three" else Leaks.PULSATING

    def ratings(self, params: Params) -> Ratings:
        return Ratings(feeds_direct=True)

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "line_voltage_v") if params["lines"] == "three" else None

    def contradictions(self, params: Params) -> Iterator[str]:
        if number(params, "motor_current_a") > number(params, "rated_current_a"):
            yield (
                f"the motor takes {number(params, 'motor_current_a'):g} A, and the converter gives "
                f"{number(params, 'rated_current_a'):g} A for good."
            )

    def initial(self, params: Params) -> DeviceState:
        volts = number(params, "line_voltage_v")
        return {
            **dict.fromkeys(("fed", "destroyed", "armed", "limited"), False),
            **dict.fromkeys(("trip", "way", "wants", "asked"), ""),
            "on": 0,
            "mhz": 0,
            "heat": 0.0,
            "stored_j": 0.0,
            "input_ohm": volts**2 / number(params, "idle_power_w") / (2 if params["lines"] == "one" else 1),
            "input_v": 0.0,
            "wakes_at_us": None,
            "steps_at_us": None,
            "resets_at_us": None,
            **watching.idle(guard.FINDINGS),
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        taken = Value(amount(state, "input_ohm"))
        values = dict.fromkeys(figures.INPUTS, taken)
        values |= dict.fromkeys((*INPUTS, "EN"), Value(INPUT_V / (INPUT_MA / 1000)))
        values["middle"] = Value(figures.MIDDLE_OHM)
        sound = state["fed"] and not state["trip"] and not state["destroyed"]
        values["11-14" if sound else "11-12"] = Value(CONTACT_OHM)
        if state["fed"]:
            values["control"] = Value(self.CONTROL_OHM, emf_dc_v=INPUT_V)
        if state["way"]:
            values |= {**figures.outputs(params, state), "23-24": Value(CONTACT_OHM)}
        return values

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "replace":
            return {**state, "trip": "", "destroyed": False, "armed": False}
        return state if state["destroyed"] else {**state, "trip": "", "armed": False}

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        lines = figures.lines_v(params, signals)
        volts, found = sum(lines) / len(lines), figures.given(state, signals)
        ohm, before = amount(state, "input_ohm"), amount(state, "input_v")
        wanted = figures.input_ohm(params, volts, found.watts, before)
        return {
            **state,
            "input_ohm": ohm if abs(wanted - ohm) <= figures.AGREES * ohm else wanted,
            "input_v": before if abs(volts - before) <= figures.AGREES * max(volts, 1.0) else volts,
        }

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        found, lines = figures.given(state, signals), figures.lines_v(params, signals)
        limited = found.largest_a > guard.LIMIT * number(params, "rated_current_a")
        resets = ramp.is_on(state, "RS")
        state = ramp.commanded(params, {**state, "limited": limited}, signals)
        least_v = self.WORKS_FROM * number(params, "line_voltage_v")
        # A line that is lost while it works it finds by itself.
        works = (max(lines) if state["fed"] else min(lines)) >= least_v
        wakes_at = state["wakes_at_us"] if works != state["fed"] else None
        if works != state["fed"] and wakes_at is None:
            wakes_at = now_us + (self.WAKES_US if works else self.HOLDS_US)
        present = guard.present(params, state, found, lines)
        pressed = ramp.is_on(state, "RS") and not resets and state["trip"]
        return {
            **state,
            "wakes_at_us": wakes_at,
            "resets_at_us": now_us + self.RESETS_US if pressed else state["resets_at_us"],
            "steps_at_us": ramp.steps_at_us(params, state, now_us),
            **watching.timed(state, guard.FINDINGS, present, now_us),
            **{
                f"{name}_at_us": due_us(now_us, present.get(name), state[f"{name}_at_us"])
                for name in ("overload", "overvoltage")
            },
        }

    def limits(self, params: Params) -> Mapping[str, str]:
        return guard.limits(params)

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        found, seconds = figures.given(state, signals), span_us / 1e6
        final = guard.final_heat(params, found) if state["way"] else 0.0
        return {
            **state,
            "heat": final + (amount(state, "heat") - final) * math.exp(-seconds / guard.TAU_S),
            "stored_j": max(0.0, amount(state, "stored_j") + figures.back_w(params, found) * seconds),
        }

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["wakes_at_us"] == now_us:
            state = {**state, "fed": not state["fed"], "wakes_at_us": None}
            state = {**state, "trip": "", "armed": bool(params["restarts"])} if state["fed"] else ramp.off(state)
        over = watching.elapsed(state, guard.FINDINGS, now_us)
        if over:
            destroyed = bool(state["destroyed"]) or over[0] == guard.BACKFED
            state = {**ramp.off(state), "trip": over[0], "destroyed": destroyed, **watching.idle(guard.FINDINGS)}
        if state["resets_at_us"] == now_us:
            state = {**state, "trip": "", "resets_at_us": None}
        return ramp.stepped(params, state) if state["steps_at_us"] == now_us else state

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["destroyed"]:
            return View("output_destroyed", False, attention=True)
        if not state["fed"]:
            return View("off", False)
        if state["trip"]:
            return View(f"tripped:{coded(state['trip'])}", False, attention=True)
        if not state["way"]:
            return View("waits_for_a_new_start" if state["asked"] and not state["armed"] else "ready", False)
        shown = (
            Figure("Output frequency", figures.hertz(state), "Hz"),
            Figure("Output voltage, line", math.sqrt(3) * figures.windings_v(params, state), "V"),
            Figure("Output current", figures.given(state, signals).largest_a, "A"),
        )
        at_it = ramp.target_mhz(params, state) == state["mhz"]
        return View(f"{'runs' if at_it else 'ramps'}_{state['way']}", True, figures=shown)
