"""What a cage motor of three phases does: windings, torque, speed and heat."""

import cmath
import math
from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import ClassVar, Final

from wiretrace.catalogue.device import Kind
from wiretrace.catalogue.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machine import ContradictoryNameplate, Machine, Nameplate, fit
from wiretrace.catalogue.purpose import Against, Moved, Operating, Protects, Ratings
from wiretrace.catalogue.run_up import FRICTION, NEAR, Acceleration, Drive, Load, acceleration, next_mark
from wiretrace.catalogue.structure import (
    DeviceState,
    Figure,
    Params,
    View,
    number,
)

TURN: Final = cmath.exp(2j * math.pi / 3)
FED_FROM: Final = 0.05
"""Share of the rated winding voltage from which a motor counts as fed."""
UNBALANCED_FROM: Final = 0.05
"""Negative sequence, as a share of the positive, from which it is heard."""
CHANGED_BY: Final = 0.02
"""Change of a sequence voltage, as a share of the rated, that makes it look at its speed anew."""
STEP: Final = 2e-4
"""Change of the final speed that the windings are told of."""
TURNS_FROM: Final = 0.004
RATED_RISE_K: Final = 80.0
"""Winding temperature rise at rated current (IEC 60034-1, thermal class 130)."""
HOT_K: Final = 110.0
THERMOSTAT_K: Final = (100.0, 80.0)
"""Rise at which a winding thermostat opens, and at which it closes again."""
NAMEPLATE_TOLERANCE: Final = 0.1


class ThreePhaseMotor(Kind):
    """`windings` are three branches in the order of the phases.

    Each winding by its symmetrical components at the present slip: the positive sequence meets the
    rotor at the slip, the negative at two less the slip. The zero sequence meets the locked-rotor
    impedance, so that at standstill each winding is an impedance by itself.
    """

    group = "load"
    letter = "M"
    letter_nema = "MTR"
    mounting = "field"

    windings: ClassVar[tuple[str, str, str]]
    in_delta: ClassVar[bool]
    """Do the rated voltage and current hold with the windings in delta?"""
    moved = Moved.BY_PROCESS
    protects = Protects(frozenset({Against.OVERLOAD}), opens="thermostat")

    def operating(self, params: Params, branch: str) -> Operating | None:
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

    def made_for_line_v(self, params: Params) -> float | None:
        return number(params, "rated_voltage_v")

    def nameplate(self, params: Params) -> Nameplate:
        """The rated point, for one winding."""
        return _nameplate(self.in_delta, *(number(params, name) for name in _PLATE))

    def equivalent(self, params: Params) -> Drive:
        """Equivalent circuit and load: what follows from the parameters once and for all."""
        return _equivalent(self.in_delta, tuple([params[name] for name in _DECIDING]))

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
            **rises,
            "fed": False,
            "anew": False,
            "hot": False,
            "steps_at_us": None,
            "heat_at_us": None,
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = dict(_windings(self.equivalent(params).machine, self.windings, float(state["held"] or 0.0)))
        if params["thermostat"] and not state["hot"]:
            values["thermostat"] = Value(CONTACT_OHM)
        return values

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        plate = self.equivalent(params).machine.plate
        positive, negative = self._sequences(params, state, signals)
        changed = max(abs(positive - _f(state, "positive_v")), abs(negative - _f(state, "negative_v")))
        speed, held = _f(state, "speed"), _f(state, "held")
        planned = {"positive_v": _f(state, "positive_v"), "negative_v": _f(state, "negative_v")}
        rates = self._rates(params, positive, negative)
        final, fed = rates.final(speed), max(positive, negative) > FED_FROM * plate.winding_v
        mark = next_mark(speed, final) if fed else 0.0
        if changed > CHANGED_BY * plate.winding_v:
            held, planned = speed, {"positive_v": positive, "negative_v": negative}
        elif state["anew"]:
            held = (speed + mark) / 2
        settled = abs(final - speed) < NEAR
        if settled and fed and abs(final - held) > STEP:
            held = final
        seconds = None if settled and (fed or speed == 0) else rates.seconds_to(speed, mark)
        closing = fed and not state["fed"]
        return {
            **state,
            **planned,
            "held": held,
            "fed": fed,
            "surge_a": self._surge_a(params, state, signals) if closing else state["surge_a"],
            "anew": False,
            "steps_at_us": _due(now_us, seconds),
            "heat_at_us": _due(now_us, self._seconds_to_switch(params, state, signals)),
        }

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        seconds, rates = span_us / 1e6, self._rates(params, *self._sequences(params, state, signals))
        decay = math.exp(-seconds / number(params, "winding_time_constant_s"))
        rises = {
            f"rise_{n}_k": final + (_f(state, f"rise_{n}_k") - final) * decay
            for n, final in enumerate(self._final_rises(params, signals), 1)
        }
        speed = _f(state, "speed")
        after = rates.after(speed, seconds)
        left = self._residual(params, state, signals, seconds, (speed + after) / 2)
        return {**state, **rises, "residual_re_v": left.real, "residual_im_v": left.imag, "speed": after}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["heat_at_us"] == now_us:
            state = {**state, "hot": not state["hot"], "heat_at_us": None}
        if state["steps_at_us"] == now_us:
            # A motor that has coasted to the end of its way stands still, whatever the last digit says.
            speed = _f(state, "speed")
            state = {**state, "speed": 0.0 if abs(speed) < 1e-5 else speed, "anew": True, "steps_at_us": None}
        return state

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        machine = self.equivalent(params).machine
        positive, negative = self._sequences(params, state, signals)
        speed = _f(state, "speed")
        torque = machine.torque_nm_per_v2(1 - speed) * positive**2 - machine.torque_nm_per_v2(1 + speed) * negative**2
        says, turns, attention = self._says(params, speed, torque, (positive, negative))
        rise = max(_f(state, f"rise_{n}_k") for n in (1, 2, 3))
        if rise > HOT_K:
            says, attention = f"{says}, too hot", True
        figures = (
            Figure("Speed", speed * machine.plate.sync_rpm, "rpm"),
            Figure("Torque", torque, "Nm"),
            Figure("Winding temperature rise", rise, "K"),
            Figure("Surge at the last closing, in a winding", _f(state, "surge_a"), "A"),
        )
        return View(says, turns, attention, figures=figures)

    def _says(
        self, params: Params, speed: float, torque: float, sequences: tuple[float, float]
    ) -> tuple[str, bool, bool]:
        """What is said of it, does it turn under power, does it call for attention."""
        rates, plate = self._rates(params, *sequences), self.equivalent(params).machine.plate
        positive, negative = sorted(sequences, reverse=True)
        way = "forward" if speed > 0 else "backward"
        if positive < FED_FROM * plate.winding_v:
            return (f"coasts {way}", False, False) if abs(speed) > TURNS_FROM else ("still", False, False)
        final = rates.final(speed)
        if abs(speed) <= TURNS_FROM:
            if abs(final) <= TURNS_FROM:
                return "hums", False, True
            way = "forward" if final > 0 else "backward"
        elif torque * speed < 0 and abs(speed) < 1:
            return f"brakes from {way}", False, True
        if negative > UNBALANCED_FROM * positive:
            return f"turns {way}, unbalanced", True, True
        if abs(final) < 1 - 4 * plate.slip:
            return f"turns {way}, overloaded", True, True
        return f"turns {way}", True, False

    def _sequences(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> tuple[float, float]:
        """Positive and negative sequence of the winding voltages, volts.

        From the currents, so that a winding which is open inside counts as one without current.
        """
        a, b, c = (signals[name].current_a for name in self.windings)
        machine, held = self.equivalent(params).machine, _f(state, "held")
        positive, negative = (a + TURN * b + TURN**2 * c) / 3, (a + TURN**2 * b + TURN * c) / 3
        return (
            abs(positive * machine.impedance_ohm(1 - held)),
            abs(negative * machine.impedance_ohm(1 + held)),
        )

    def _residual(
        self, params: Params, state: DeviceState, signals: Mapping[str, Signal], seconds: float, speed: float
    ) -> complex:
        """Voltage that the turning rotor raises in the first winding, against the phase of the supply.

        While fed it is taken to be that of the winding; without supply it decays with the rotor's open-circuit
        time constant and falls behind by the slip.
        """
        if state["fed"]:
            a, b, c = (signals[name].voltage_v for name in self.windings)
            return (a + TURN * b + TURN**2 * c) / 3
        machine = self.equivalent(params).machine
        omega = 2 * math.pi * machine.plate.frequency_hz
        rotor = machine.rotor_running_ohm
        tau_s = (machine.magnetising_ohm.imag + rotor.imag) / (omega * rotor.real)
        turned = cmath.rect(math.exp(-seconds / tau_s), -(1 - speed) * omega * seconds)
        return complex(_f(state, "residual_re_v"), _f(state, "residual_im_v")) * turned

    def _surge_a(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> float:
        """First current of a winding on closing: new voltage less residual voltage over the locked-rotor impedance.

        RMS of the alternating part; the direct part may add as much again to the first peak. It is this that makes
        the two delta closures different: the winding voltage jumps 30 degrees forward or backward.
        """
        a, b, c = (signals[name].voltage_v for name in self.windings)
        jump = (a + TURN * b + TURN**2 * c) / 3 - complex(_f(state, "residual_re_v"), _f(state, "residual_im_v"))
        return abs(jump / self.equivalent(params).machine.impedance_ohm(1.0))

    def _rates(self, params: Params, positive_v: float, negative_v: float) -> Acceleration:
        return acceleration(self.equivalent(params), positive_v, negative_v)

    def _final_rises(self, params: Params, signals: Mapping[str, Signal]) -> list[float]:
        rated = self.equivalent(params).machine.plate.winding_a
        return [RATED_RISE_K * (signals[name].rms_a / rated) ** 2 for name in self.windings]

    def _seconds_to_switch(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> float | None:
        """Seconds until the winding thermostat changes over, under steady currents."""
        if not params["thermostat"]:
            return None
        rises = [_f(state, f"rise_{n}_k") for n in (1, 2, 3)]
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


_PLATE: Final = (
    "rated_voltage_v",
    "rated_current_a",
    "rated_power_kw",
    "power_factor",
    "rated_frequency_hz",
    "rated_speed_rpm",
    "locked_rotor_ratio",
    "locked_rotor_power_factor",
)
_DECIDING: Final = (*_PLATE, "load", "load_percent", "inertia_kgm2")


def _nameplate(in_delta: bool, volts: float, amperes: float, kilowatts: float, *more: float) -> Nameplate:
    root = math.sqrt(3)
    winding = (volts, amperes / root) if in_delta else (volts / root, amperes)
    return Nameplate(*winding, 1000 * kilowatts, *more)


@lru_cache(maxsize=256)
def _equivalent(in_delta: bool, deciding: tuple[bool | int | float | str, ...]) -> Drive:
    """From the parameters in the order of `_DECIDING`."""
    plate = _nameplate(in_delta, *(float(value) for value in deciding[: len(_PLATE)]))
    load, percent, inertia = deciding[len(_PLATE) :]
    torque = plate.torque_nm
    driven = Load(str(load), torque * float(percent) / 100, FRICTION * torque, 1 - plate.slip, float(inertia))
    return Drive(fit(plate), driven)


@lru_cache(maxsize=1024)
def _windings(machine: Machine, names: tuple[str, str, str], speed: float) -> Mapping[str, Value]:
    """Impedances of three windings, each with what the currents of the other two raise in it."""
    omega = 2 * math.pi * machine.plate.frequency_hz
    zero, positive, negative = (machine.impedance_ohm(slip) for slip in (1.0, 1 - speed, 1 + speed))
    own = (zero + positive + negative) / 3
    ahead = (zero + positive * TURN + negative / TURN) / 3  # from the current of the next phase
    behind = (zero + positive / TURN + negative * TURN) / 3
    return {
        name: Value(
            own.real,
            own.imag / omega,
            mutual=tuple((names[(at + step) % 3], z.real, z.imag / omega) for step, z in ((1, ahead), (2, behind))),
            direct_ohm=machine.stator_ohm.real,
        )
        for at, name in enumerate(names)
    }


def _f(state: DeviceState, name: str) -> float:
    return float(state[name] or 0.0)


def _due(now_us: int, seconds: float | None) -> int | None:
    return None if seconds is None else now_us + max(1, math.ceil(seconds * 1e6))
