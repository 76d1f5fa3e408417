"""Pole-changing motor: two windings on one shaft, one for each speed."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import ClassVar, Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Tone, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Ratings, Windings
from wiretrace.catalogue.machinery.structure import (
    NETWORK_HZ,
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
from wiretrace.catalogue.motors.motion import FED_FROM
from wiretrace.catalogue.motors.three_phase import ThreePhaseMotor

LOW: Final = "low"
HIGH: Final = "high"
OF_LOW: Final = {name: f"low_{name}" for name in ("rated_power_kw", "rated_current_a", "rated_speed_rpm")}


class Winding(ThreePhaseMotor):
    """One of the windings, as a motor by itself."""

    title = ""

    def __init__(self, phase: int, in_delta: bool) -> None:
        self.windings = (f"{phase}U", f"{phase}V", f"{phase}W")  # type: ignore[misc]
        self.in_delta = in_delta  # type: ignore[misc]


class TwoSpeedMotor(Kind):
    """Two separate windings, each in star inside: 1U 1V 1W for the low speed, 2U 2V 2W for the high one (IEC 60034-8).

    Fed at the low winding while it turns faster than that, it brakes into the line. Only the winding that is fed
    makes torque; fed at both at once, the one with more voltage counts. Both fed are a short circuit of two fields in
    a real one: they are interlocked.
    """

    name = "motor_two_speed"
    title = "Three-phase motor, two speeds"
    starts_motor = "two_speed"
    rank = 25
    group = "load"
    jams = True
    letter = "M"
    letter_nema = "MTR"
    mounting = "field"
    params: ClassVar[tuple[Param, ...]] = (
        Param("rated_voltage_v", "Rated line voltage", 400.0, "V", 24.0, 1000.0, sized="voltage_v"),
        Param("rated_power_kw", "Rated power, high speed", 1.5, "kW", 0.05, 500.0, sized="power_kw"),
        Param("rated_current_a", "Rated current, high speed", 3.5, "A", 0.05, 1000.0, sized="current_a"),
        Param("rated_speed_rpm", "Rated speed, high", 1425.0, "rpm", 100.0, 24000.0, sized="speed_rpm"),
        Param("low_rated_power_kw", "Rated power, low speed", 0.75, "kW", 0.05, 500.0, sized="low_power_kw"),
        Param("low_rated_current_a", "Rated current, low speed", 1.8, "A", 0.05, 1000.0, sized="low_current_a"),
        Param("low_rated_speed_rpm", "Rated speed, low", 700.0, "rpm", 100.0, 24000.0),
        Param("power_factor", "Power factor", 0.8, "", 0.05, 1.0, sized="power_factor"),
        Param("efficiency_percent", "Efficiency", 77.0, "%", 20.0, 99.0, sized="efficiency_percent"),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0, sized="frequency_hz"),
        Param("locked_rotor_ratio", "Locked-rotor current, times rated", 4.5, "", 2.0, 12.0, sized="locked_ratio"),
        Param("locked_rotor_power_factor", "Power factor with the rotor locked", 0.7, "", 0.1, 0.95),
        Param("load", "Load", "fan", choices=("fan", "constant", "none")),
        Param("load_percent", "Load torque at the high rated speed", 80.0, "%", 0.0, 1000.0, driven=True),
        Param("inertia_kgm2", "Inertia of motor and load", 0.02, "kg m2", 1e-4, 1000.0, sized="inertia_kgm2"),
        Param("winding_time_constant_s", "Thermal time constant of the windings", 1200.0, "s", 10.0, 36000.0),
    )
    terminals = (
        *(Terminal(f"{phase}{letter}") for phase in (1, 2) for letter in "UVW"),
        Terminal("PE", "GND", frame=True),
    )
    internal_nodes: ClassVar[tuple[str, ...]] = ("star 1", "star 2")
    branches = tuple(
        Branch(f"{phase}{letter}", f"{phase}{letter}", f"star {phase}", Role.LOAD)
        for phase in (1, 2)
        for letter in "UVW"
    )
    coupled: ClassVar[tuple[tuple[str, ...], ...]] = (("1U", "1V", "1W"), ("2U", "2V", "2W"))
    three_phase = Windings(("2U", "2V", "2W"), also=("1U", "1V", "1W"))
    parts = (
        Part(
            "motor",
            "Motor",
            "motor_6",
            Does.TURNS,
            ("1U", "1V", "1W", "2U", "2V", "2W", "PE"),
            tuple(f"{phase}{letter}" for phase in (1, 2) for letter in "UVW"),
            height=13,
        ),
    )
    momentary = ThreePhaseMotor.momentary

    of_low: ClassVar[Mapping[str, str]] = OF_LOW
    OF: ClassVar[Mapping[str, Winding]] = {LOW: Winding(1, in_delta=False), HIGH: Winding(2, in_delta=False)}

    def told(self, params: Params, which: str) -> Params:
        """The parameters of one winding as of a motor by itself."""
        own = {**params, "thermostat": False, "thermistors": False, "speed_switch": False}
        if which == HIGH:
            return own
        low = {name: params[other] for name, other in self.of_low.items()}
        # The same load, at the low rated speed and in the rated torque of this winding.
        times = number(params, "low_rated_speed_rpm") / number(params, "rated_speed_rpm")
        turning = times**2 if params["load"] == "fan" else 1.0
        torques = number(params, "rated_power_kw") / number(params, "low_rated_power_kw") * times
        return {**own, **low, "load_percent": number(params, "load_percent") * turning * torques}

    def on_network(self, params: Params, frequency_hz: float) -> Params:
        return {**params, NETWORK_HZ: frequency_hz}

    def operating(self, params: Params, branch: str) -> Operating | None:
        which = LOW if branch.startswith("1") else HIGH
        return self.OF[which].operating(self.told(params, which), branch)

    def ratings(self, params: Params) -> Ratings:
        low = number(params, "low_rated_current_a")
        return Ratings(current_a=number(params, "rated_current_a"), also_a=(low,))

    def contradictions(self, params: Params) -> Iterator[str]:
        for which, winding in self.OF.items():
            yield from (f"{which} speed: {told}" for told in winding.contradictions(self.told(params, which)))

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "rated_voltage_v")

    def initial(self, params: Params) -> DeviceState:
        return {**self.OF[HIGH].initial(self.told(params, HIGH)), "at": HIGH, "changes_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values: dict[str, Value] = {}
        for which, winding in self.OF.items():
            told = self.told(params, which)
            values |= winding.values(told, state if which == state["at"] else winding.initial(told))
        return {name: value for name, value in values.items() if name != "thermistors"}

    def felt(self, signals: Mapping[str, Signal]) -> Mapping[str, Signal]:
        """What each winding by itself sees of the signals of the branches."""
        return signals

    def _active(self, params: Params, state: DeviceState) -> tuple[Winding, Params]:
        which = str(state["at"])
        return self.OF[which], self.told(params, which)

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        winding, told = self._active(params, state)
        return winding.adapt(told, state, self.felt(signals), now_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        winding, told = self._active(params, state)
        signals = self.felt(signals)
        state = winding.sense(told, state, signals, now_us)
        other = LOW if state["at"] == HIGH else HIGH
        volts = {which: max(signals[name].rms_v for name in one.windings) for which, one in self.OF.items()}
        taken = volts[other] > max(volts[str(state["at"])], FED_FROM * number(params, "rated_voltage_v"))
        due = state["changes_at_us"] if taken else None
        return {**state, "changes_at_us": now_us + 1 if taken and due is None else due}

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        winding, told = self._active(params, state)
        return winding.evolve(told, state, self.felt(signals), span_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        winding, told = self._active(params, state)
        state = winding.advance(told, state, now_us)
        if state["changes_at_us"] != now_us:
            return state
        other = LOW if state["at"] == HIGH else HIGH
        here = winding.equivalent(told).machine.plate.sync_rpm
        fresh = self.OF[other].initial(self.told(params, other))
        there = self.OF[other].equivalent(self.told(params, other)).machine.plate.sync_rpm
        speed = float(state["speed"] or 0.0) * here / there
        kept = {name: value for name, value in state.items() if name.startswith("rise")}
        return {**fresh, **kept, "speed": speed, "held": speed, "at": other, "changes_at_us": None}

    def fading(self, params: Params, state: DeviceState) -> Mapping[str, Tone]:
        winding, told = self._active(params, state)
        return winding.fading(told, state)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        winding, told = self._active(params, state)
        seen = winding.view(told, state, self.felt(signals))
        return replace(seen, status=f"{seen.status}+{state['at']}_speed") if state["fed"] else seen
