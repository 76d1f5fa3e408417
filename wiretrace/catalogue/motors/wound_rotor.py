"""Wound-rotor motor: its rotor winding comes out at slip rings, for resistance to start with."""

import math
from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Final

from wiretrace.catalogue.machinery.element import Signal, Tone, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Windings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)
from wiretrace.catalogue.motors import tuned
from wiretrace.catalogue.motors.cage import plate_params
from wiretrace.catalogue.motors.equivalent import TURN
from wiretrace.catalogue.motors.machine import Machine
from wiretrace.catalogue.motors.run_up import Drive
from wiretrace.catalogue.motors.three_phase import ThreePhaseMotor

EXTERNAL: Final = "external_ohm"
"""Name under which the motor is told, beside its parameters, what resistance stands at its rings, a phase in star."""
OPEN_OHM: Final = 1e6
LEARNS_FROM: Final = 1e-6
"""Share of the rated rotor current below which the rings count as open."""
AGREES: Final = 0.01


class WoundRotorMotor(ThreePhaseMotor):
    """Stator in star inside, leads U1 V1 W1; rotor in star inside, slip rings K L M (IEC 60034-8).

    The rotor is a winding of the network like any other: what stands at the rings carries its current, and a meter
    there reads its voltage, that of standstill times the slip. (Its frequency is the slip's too, which resistance does
    not mind.) Each sequence of the stator meets the rotor at its own slip. Torque and speed follow from the resistance
    that the rings are found to work on; of an unequal one the mean by heat counts, and the field of half speed that it
    makes in a real motor is left out. The rotor has no current displacement.
    """

    name = "motor_wound_rotor"
    title = "Three-phase motor, wound rotor"
    starts_motor = "wound_rotor"
    rank = 27
    params = (
        *plate_params(11.0, 22.5, "Rated line voltage", 86.0, 1430.0, 5.5, 0.35, 0.35),
        Param("rotor_voltage_v", "Voltage between rings, at standstill", 220.0, "V", 10.0, 2000.0, sized="rotor_v"),
    )
    terminals = (
        *(Terminal(name, nema) for name, nema in (("U1", "T1"), ("V1", "T2"), ("W1", "T3"))),
        *(Terminal(name, nema) for name, nema in (("K", "M1"), ("L", "M2"), ("M", "M3"))),
        Terminal("PE", "GND", frame=True),
    )
    internal_nodes = ("star", "rotor star")
    windings = ("U1", "V1", "W1")
    rings: Final = ("K", "L", "M")
    three_phase = Windings(windings)
    coupled = ((*windings, *rings),)
    in_delta = False
    branches = (
        *(Branch(name, name, "star", Role.LOAD) for name in windings),
        *(Branch(name, name, "rotor star", Role.LOAD) for name in rings),
    )
    parts = (
        Part("motor", "Motor", "motor_wound", Does.TURNS, (*windings, *rings, "PE"), (*windings, *rings), height=13),
    )
    momentary = ThreePhaseMotor.momentary | {EXTERNAL}

    def operating(self, params: Params, branch: str) -> Operating | None:
        """Of a rotor winding: its volts at standstill and its current at rated load."""
        if branch not in self.rings:
            return super().operating(params, branch)
        volts = number(params, "rotor_voltage_v") / math.sqrt(3)
        return Operating(volts, volts * number(params, "rated_current_a") * self._turns(params))

    def equivalent(self, params: Params) -> Drive:
        """The motor with what stands at its rings; its own rotor alone where it has not been told."""
        cage = super().equivalent(params)
        external_ohm = float(params.get(EXTERNAL) or 0.0) * self._turns(params) ** 2
        return _with_rotor(cage, external_ohm)

    def _turns(self, params: Params) -> float:
        """Turns of the stator for each of the rotor, so that open rings have their volts at standstill."""
        machine = super().equivalent(params).machine
        share = abs(machine.magnetising_ohm / (machine.stator_ohm + machine.magnetising_ohm))
        return share * number(params, "rated_voltage_v") / number(params, "rotor_voltage_v")

    def _rated_slip(self, params: Params) -> float:
        """The slip grows with the rotor's resistance at the same torque."""
        own, whole = (super().equivalent(params).machine, self.equivalent(params).machine)
        return own.plate.slip * whole.rotor_running_ohm.real / own.rotor_running_ohm.real

    def _told(self, params: Params, state: DeviceState) -> Params:
        return {**params, **UNFITTED, EXTERNAL: float(state[EXTERNAL] or 0.0)}

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), EXTERNAL: 0.0}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        params = tuned.params(params, state)
        machine, speed = self.equivalent(params).machine, float(state["held"] or 0.0)
        return windings(machine, (self.windings, self.rings), self._turns(params), speed)

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """Find first what stands at the rings, then the speed that follows."""
        found, known = self._found_ohm(params, state, signals), float(state[EXTERNAL] or 0.0)
        if found is not None and abs(found - known) > AGREES * max(known, 1e-3):
            state = {**state, EXTERNAL: found, "anew": True}
        return super().adapt(self._told(params, state), state, signals, now_us)

    def _found_ohm(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> float | None:
        """Ohms at each ring, by the heat in them; None while the rotor makes no voltage to find it by."""
        rotor = [tuned.heard(state, signals[name]) for name in self.rings]
        amperes2 = sum(abs(one.current_a) ** 2 for one in rotor)
        rated_a = number(params, "rated_current_a") * self._turns(params)
        if amperes2 > (LEARNS_FROM * rated_a) ** 2:
            watts = -sum((one.voltage_v * one.current_a.conjugate()).real for one in rotor)
            return min(OPEN_OHM, max(0.0, watts / amperes2))
        return OPEN_OHM if max(abs(one.voltage_v) for one in rotor) > 1.0 else None

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return super().sense(self._told(params, state), state, signals, now_us)

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        return super().evolve(self._told(params, state), state, signals, span_us)

    def fading(self, params: Params, state: DeviceState) -> Mapping[str, Tone]:
        return super().fading(self._told(params, state), state)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        seen = super().view(self._told(params, state), state, signals)
        rotor_a = Figure("Rotor current", max(signals[name].rms_a for name in self.rings), "A")
        return replace(seen, figures=(*seen.figures, rotor_a))


UNFITTED: Final = {"thermostat": False, "thermistors": False, "speed_switch": False}


@lru_cache(maxsize=1024)
def _with_rotor(cage: Drive, external_ohm: float) -> Drive:
    """The drive with so many ohms a phase, referred to the stator, in series with its rotor at any slip."""
    machine = cage.machine
    ohm = machine.rotor_running_ohm.real + external_ohm
    running, locked = (complex(ohm, rotor.imag) for rotor in (machine.rotor_running_ohm, machine.rotor_locked_ohm))
    return Drive(replace(machine, rotor_running_ohm=running, rotor_locked_ohm=locked), cage.load)


@lru_cache(maxsize=1024)
def windings(
    machine: Machine, names: tuple[tuple[str, ...], tuple[str, ...]], turns: float, speed: float
) -> Mapping[str, Value]:
    """Impedances of stator and rotor windings, with what the currents of all others raise in each.

    Any textbook's equivalent circuit before its rotor is divided by the slip: a sequence with slip s raises s times the
    voltage of the gap in the rotor, and meets the rotor's leakage at s times the frequency. The zero
    sequence makes no field in the gap.
    """
    stator, gap = machine.stator_ohm, machine.magnetising_ohm
    slips = (1 - speed, 1 + speed)
    rotor = [machine.rotor_ohm(slip) for slip in slips]
    wound = [complex(ohm.real, slip * ohm.imag) + slip * gap for slip, ohm in zip(slips, rotor, strict=True)]
    blocks = (
        ((machine.impedance_ohm(1.0), stator + gap, stator + gap), (0j, gap / turns, gap / turns)),
        (
            (0j, *(slip * gap / turns for slip in slips)),
            tuple(ohm / turns**2 for ohm in (machine.rotor_ohm(1.0), *wound)),
        ),
    )
    directs = (stator.real, machine.rotor_running_ohm.real / turns**2)
    omega = 2 * math.pi * machine.plate.frequency_hz
    values = {}
    for row, (own, direct_ohm) in enumerate(zip(names, directs, strict=True)):
        for at, name in enumerate(own):
            raised = [
                (others[(at + step) % 3], _share(blocks[row][column], step))
                for column, others in enumerate(names)
                for step in range(3)
            ]
            self_ohm = dict(raised)[name]
            mutual = tuple((other, z.real, z.imag / omega) for other, z in raised if other != name)
            values[name] = Value(self_ohm.real, self_ohm.imag / omega, mutual=mutual, direct_ohm=direct_ohm)
    return values


def _share(sequences: tuple[complex, ...], step: int) -> complex:
    """Ohms between a phase and the one so many steps on, from those of zero, positive and negative sequence."""
    zero, positive, negative = sequences
    return (zero + positive * TURN**step + negative / TURN**step) / 3
