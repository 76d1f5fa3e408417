"""What a cage motor of three phases does: windings, torque, speed and heat."""

import math
from collections.abc import Iterator, Mapping
from typing import ClassVar, Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Tone, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    NETWORK_HZ,
    DeviceState,
    Figure,
    Params,
    Scalar,
    View,
    amount,
    due_us,
    network_hz,
    number,
)
from wiretrace.catalogue.machinery.temperature_sensors import SENSORS, Sensor
from wiretrace.catalogue.motors import equivalent, motion, residual, settling, tuned
from wiretrace.catalogue.motors.equivalent import TURN
from wiretrace.catalogue.motors.machine import ContradictoryNameplate, Nameplate, fit
from wiretrace.catalogue.motors.motor_remedies import REMEDIES
from wiretrace.catalogue.motors.run_up import NEAR, Acceleration, Drive, acceleration, next_mark

CHANGED_BY: Final = 0.02
"""Change of a sequence voltage, as a share of the rated, that makes it look at its speed anew."""
RATED_RISE_K: Final = 80.0
"""Winding temperature rise at rated current (IEC 60034-1, thermal class 130)."""
HOT_K: Final = 110.0
THERMOSTAT_K: Final = (100.0, 80.0)
"""Rise at which a winding thermostat opens, and at which it closes again."""
SWITCHES: Final = (0.08, 0.05)
"""Speed from which a zero-speed switch closes, and at which it opens."""
NAMEPLATE_TOLERANCE: Final = 0.1


class ThreePhaseMotor(Kind):
    """`windings` are three branches in the order of the phases.

    Each winding by its symmetrical components at the present slip: the positive sequence meets the
    rotor at the slip, the negative at two less the slip. The zero sequence meets the locked-rotor
    impedance, so that at standstill each winding is an impedance by itself.
    """

    remedies = REMEDIES
    may_be_seen = ("still", "hums", "turns_forward", "turns_backward", "turns_forward+unbalanced")
    group = "load"
    jams = True
    letter, letter_nema = "M", "MTR"
    mounting = "field"

    windings: ClassVar[tuple[str, str, str]]
    in_delta: ClassVar[bool]
    """Do the rated voltage and current hold with the windings in delta?"""
    actuator = Actuator.PROCESS
    momentary = frozenset(
        {
            "held",
            "final",
            "low",
            "high",
            "positive_v",
            "negative_v",
            "residual_re_v",
            "residual_im_v",
            "surge_a",
            "direct_a",
            "tone_hz",
        }
    )

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch == "thermistors":
            return Operating(2.5, 2.5**2 / self._sensor(params).cold_ohm, direct=True)
        if branch not in self.windings:
            return None
        plate = self.nameplate(params)
        return Operating(plate.winding_v, plate.winding_v * plate.winding_a, plate.power_factor)

    def ratings(self, params: Params) -> Ratings:
        return Ratings(current_a=number(params, "rated_current_a"))

    def contradictions(self, params: Params) -> Iterator[str]:
        plate, efficiency = self.nameplate(params), number(params, "efficiency_percent") / 100
        told = plate.input_w / plate.power_w * efficiency
        if not 1 / (1 + NAMEPLATE_TOLERANCE) <= told <= 1 + NAMEPLATE_TOLERANCE:
            needed = number(params, "rated_current_a") / told
            yield (
                f"the nameplate contradicts itself: power, voltage, power factor and efficiency give "
                f"{needed:.3g} A, not {number(params, 'rated_current_a'):g} A."
            )
        try:
            fit(plate)
        except ContradictoryNameplate as error:
            yield f"the nameplate contradicts itself: {error}"

    @staticmethod
    def _sensor(params: Params) -> Sensor:
        return SENSORS[str(params.get("sensors", "ptc"))]

    def tells_by(self, params: Params) -> str:
        return str(params.get("sensors", "ptc")) if params.get("thermistors") else ""

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "rated_voltage_v")

    def nameplate(self, params: Params) -> Nameplate:
        """The rated point, for one winding."""
        return equivalent.nameplate(self.in_delta, *(number(params, name) for name in equivalent.PLATE))

    def equivalent(self, params: Params) -> Drive:
        """Equivalent circuit and load: what follows from the parameters once and for all."""
        deciding = tuple([params.get(name, False) for name in equivalent.DECIDING])
        return equivalent.drive(self.in_delta, deciding, network_hz(params, "rated_frequency_hz"))

    def on_network(self, params: Params, frequency_hz: float) -> Params:
        return {**params, NETWORK_HZ: frequency_hz}

    def initial(self, params: Params) -> DeviceState:
        rises = {f"rise_{n}_k": 0.0 for n in (1, 2, 3)}
        return {
            "speed": 0.0,
            "held": 0.0,
            "positive_v": 0.0,
            "negative_v": 0.0,
            "residual_re_v": 0.0,
            "residual_im_v": 0.0,
            "surge_a": 0.0,
            "direct_a": 0.0,
            "final": 0.0,
            "tone_hz": 0.0,
            **settling.UNKNOWN,
            **rises,
            "fed": False,
            "anew": False,
            "fresh": False,
            "looks": 0,
            "hot": False,
            "switched": "",
            "switches_at_us": None,
            "steps_at_us": None,
            "heat_at_us": None,
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        machine = self.equivalent(tuned.params(params, state)).machine
        values = dict(equivalent.windings(machine, self.windings, float(state["held"] or 0.0)))
        if params["thermostat"] and not state["hot"]:
            values["thermostat"] = Value(CONTACT_OHM)
        sensor = self._sensor(params)
        values["thermistors"] = Value(sensor.hot_ohm if state["hot"] else sensor.cold_ohm)
        if state["switched"]:
            values[f"turns {state['switched']}"] = Value(CONTACT_OHM)
        return values

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """Choose the speed at which the windings are taken, `held`.

        Anew when the voltages have changed or a mark is reached: there the speed itself, or half way to the next mark.
        Near its final speed the motor is taken where that agrees with itself (`settling`). In one instant only so many
        times: where nothing quite agrees the motor stays with the last.
        """
        state = tuned.following(params, state, [signals[name] for name in self.windings])
        params = tuned.params(params, state)
        looks = int(state["looks"] or 0)
        volts = self._sequences(params, state, signals)
        rated_v = self.equivalent(params).machine.plate.winding_v
        planned = amount(state, "positive_v"), amount(state, "negative_v")
        changed = max(abs(now - then) for now, then in zip(volts, planned, strict=True)) > CHANGED_BY * rated_v
        speed, held = amount(state, "speed"), amount(state, "held")
        final, fresh = self._rates(params, volts, signals).final(speed), bool(state["fresh"])
        if (changed or abs(final - amount(state, "final")) > settling.MOVED) and not fresh and not state["anew"]:
            look: DeviceState = {**state, "held": speed, **settling.UNKNOWN}
        elif not fresh and not state["anew"]:
            return state  # Looking on the way, as where a run is cut, must change nothing.
        else:
            look = settling.closer(
                state, final, max(volts) > tuned.fed_from_v(self.equivalent(params).machine.plate, state)
            )
        if looks >= settling.LOOKS:
            looked: dict[str, Scalar] = {"held": held, "fresh": False, "looks": looks + 1}
        elif look["held"] != held:
            looked = {"fresh": True, "looks": looks + 1}
        else:
            looked = {"fresh": False, "looks": looks + 1}
        return {**look, **looked, "anew": False, "final": final, "positive_v": volts[0], "negative_v": volts[1]}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        params = tuned.params(params, state)
        volts = self._sequences(params, state, signals)
        fed = max(volts) > tuned.fed_from_v(self.equivalent(params).machine.plate, state)
        speed, steps_at = amount(state, "speed"), state["steps_at_us"]
        turns_in_s = self._seconds_to_turn(params, state, volts, signals)
        direct = self._direct_a(signals)
        braked = abs(direct - amount(state, "direct_a")) > CHANGED_BY * self.equivalent(params).machine.plate.winding_a
        if state["looks"] or braked or fed != state["fed"] or (steps_at is None and not fed and speed != 0):
            rates = self._rates(params, volts, signals)
            final = rates.final(speed)
            arrived = abs(final - speed) < NEAR and (fed or speed == 0)
            there = arrived or (state["closing"] and abs(final - amount(state, "held")) < NEAR)
            steps_at = (
                None if there else due_us(now_us, rates.seconds_to(speed, next_mark(speed, final) if fed else 0.0))
            )
        return {
            **state,
            "looks": 0,
            "fed": fed,
            "direct_a": direct if braked else state["direct_a"],
            "surge_a": self._surge_a(params, state, signals) if fed and not state["fed"] else state["surge_a"],
            "steps_at_us": steps_at,
            "heat_at_us": due_us(now_us, self._seconds_to_switch(params, state, signals), state["heat_at_us"]),
            "switches_at_us": due_us(now_us, turns_in_s, state["switches_at_us"]),
        }

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        params = tuned.params(params, state)
        seconds, rates = span_us / 1e6, self._rates(params, self._sequences(params, state, signals), signals)
        decay = math.exp(-seconds / number(params, "winding_time_constant_s"))
        rises = {
            f"rise_{n}_k": final + (amount(state, f"rise_{n}_k") - final) * decay
            for n, final in enumerate(self._final_rises(params, signals), 1)
        }
        speed = amount(state, "speed")
        after, mean = rates.after(speed, seconds)
        machine, windings = self.equivalent(params).machine, self._of_windings(state, signals)
        left = residual.left(machine, state, windings, seconds, (after, mean))
        return {**state, **rises, "residual_re_v": left.real, "residual_im_v": left.imag, "speed": after}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["heat_at_us"] == now_us:
            state = {**state, "hot": not state["hot"], "heat_at_us": None}
        if state["switches_at_us"] == now_us:
            way = "forward" if amount(state, "speed") > 0 else "backward"
            state = {**state, "switched": "" if state["switched"] else way, "switches_at_us": None}
        if state["steps_at_us"] == now_us:
            # A motor that has coasted to the end of its way stands still, whatever the last digit says.
            speed = amount(state, "speed")
            state = {**state, "speed": 0.0 if abs(speed) < 1e-5 else speed, "anew": True, "steps_at_us": None}
        return state

    def fading(self, params: Params, state: DeviceState) -> Mapping[str, Tone]:
        return residual.fading(self.equivalent(tuned.params(params, state)).machine, state, self.windings)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        params = tuned.params(params, state)
        machine = self.equivalent(params).machine
        positive, negative = self._sequences(params, state, signals)
        speed = amount(state, "speed")
        torque = machine.torque_nm_per_v2(1 - speed) * positive**2 - machine.torque_nm_per_v2(1 + speed) * negative**2
        direct = self._direct_a(signals)
        if direct and speed:
            torque -= math.copysign(machine.brake_nm_per_a2(speed), speed) * direct**2
        rates = self._rates(params, (positive, negative), signals)
        fed_from_v = tuned.fed_from_v(machine.plate, state)
        seen = motion.Seen(machine, self._rated_slip(params), rates, speed, torque, fed_from_v)
        status, turns, attention = seen.status(
            (positive, negative), [signals[name].rms_a for name in self.windings], direct
        )
        rise = max(amount(state, f"rise_{n}_k") for n in (1, 2, 3))
        if rise > HOT_K:
            status, attention = f"{status}+too_hot", True
        figures = (
            Figure("Speed", speed * machine.plate.sync_rpm, "rpm"),
            Figure("Torque", torque, "Nm"),
            Figure("Winding temperature rise", rise, "K"),
            Figure("Surge at the last closing, in a winding", amount(state, "surge_a"), "A"),
        )
        return View(status, turns, attention, figures=figures)

    def _rated_slip(self, params: Params) -> float:
        return self.equivalent(params).machine.plate.slip

    def _surge_a(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> float:
        return residual.surge_a(self.equivalent(params).machine, state, self._of_windings(state, signals))

    def _of_windings(self, state: DeviceState, signals: Mapping[str, Signal]) -> list[Signal]:
        """What the windings see of the frequency that the motor follows."""
        return [tuned.heard(state, signals[name]) for name in self.windings]

    def _sequences(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> tuple[float, float]:
        """Positive and negative sequence of the winding voltages, volts.

        From the currents, so that a winding which is open inside counts as one without current.
        """
        a, b, c = (one.current_a for one in self._of_windings(state, signals))
        machine, held = self.equivalent(params).machine, amount(state, "held")
        positive, negative = (
            (a + TURN * b + TURN**2 * c) / 3,
            (a + TURN**2 * b + TURN * c) / 3,
        )
        return (
            abs(positive * machine.impedance_ohm(1 - held)),
            abs(negative * machine.impedance_ohm(1 + held)),
        )

    def _seconds_to_turn(
        self, params: Params, state: DeviceState, volts: tuple[float, float], signals: Mapping[str, Signal]
    ) -> float | None:
        """Seconds until the zero-speed switch closes, or opens again, under steady voltages."""
        if not params["speed_switch"]:
            return None
        rates, speed = self._rates(params, volts, signals), amount(state, "speed")
        if state["switched"]:
            side = 1 if state["switched"] == "forward" else -1
            return 0.0 if side * speed <= SWITCHES[1] else rates.seconds_to(speed, side * SWITCHES[1])
        ways = [0.0 if side * speed >= SWITCHES[0] else rates.seconds_to(speed, side * SWITCHES[0]) for side in (1, -1)]
        return min((seconds for seconds in ways if seconds is not None), default=None)

    def _rates(self, params: Params, volts: tuple[float, float], signals: Mapping[str, Signal]) -> Acceleration:
        return acceleration(self.equivalent(params), *volts, self._direct_a(signals))

    def _direct_a(self, signals: Mapping[str, Signal]) -> float:
        """Direct current through the windings, as the balanced alternating current with the same field, amperes."""
        a, b, c = (signals[name].dc_a for name in self.windings)
        return abs(a + TURN * b + TURN**2 * c) * math.sqrt(2) / 3

    def _final_rises(self, params: Params, signals: Mapping[str, Signal]) -> list[float]:
        rated = self.equivalent(params).machine.plate.winding_a
        return [RATED_RISE_K * (signals[name].rms_a / rated) ** 2 for name in self.windings]

    def _seconds_to_switch(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> float | None:
        """Seconds until the winding thermostat changes over, under steady currents."""
        if not (params["thermostat"] or params["thermistors"]):
            return None
        rises = [amount(state, f"rise_{n}_k") for n in (1, 2, 3)]
        finals = self._final_rises(params, signals)
        tau, limit = number(params, "winding_time_constant_s"), THERMOSTAT_K[bool(state["hot"])]
        if state["hot"]:
            if max(finals) >= limit:
                return None
            return max(tau * math.log(max(1.0, (r - f) / (limit - f))) for r, f in zip(rises, finals, strict=True))
        return min(
            (tau * math.log(max(1.0, (f - r) / (f - limit))) for r, f in zip(rises, finals, strict=True) if f > limit),
            default=None,
        )
