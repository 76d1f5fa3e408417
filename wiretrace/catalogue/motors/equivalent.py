"""From the parameters of a cage motor to its machine with its load, and to the impedances of its windings."""

import cmath
import math
from collections.abc import Mapping
from functools import lru_cache
from typing import Final

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.structure import JAMMED
from wiretrace.catalogue.motors.machine import Machine, Nameplate, fit
from wiretrace.catalogue.motors.run_up import FRICTION, Drive, Load

TURN: Final = cmath.exp(2j * math.pi / 3)
PLATE: Final = (
    "rated_voltage_v",
    "rated_current_a",
    "rated_power_kw",
    "power_factor",
    "rated_frequency_hz",
    "rated_speed_rpm",
    "locked_rotor_ratio",
    "locked_rotor_power_factor",
)
BRAKE: Final = 2.0
"""Torque of a brake that holds, in that rated."""
JAM: Final = 50.0
"""Torque of what blocks the rotor: more than any motor has."""
DECIDING: Final = (*PLATE, "load", "load_percent", "inertia_kgm2", "holding", JAMMED)


def nameplate(in_delta: bool, volts: float, amperes: float, kilowatts: float, *more: float) -> Nameplate:
    """The rated point of one winding, from parameters in the order of `PLATE`."""
    root = math.sqrt(3)
    winding = (volts, amperes / root) if in_delta else (volts / root, amperes)
    factor, frequency, speed, locked, locked_factor = more
    return Nameplate(*winding, 1000 * kilowatts, factor, frequency, speed, locked, locked_factor)


@lru_cache(maxsize=256)
def drive(in_delta: bool, deciding: tuple[bool | int | float | str, ...], network_hz: float) -> Drive:
    """From the parameters in the order of `DECIDING`, on a network of this frequency."""
    plate = nameplate(in_delta, *(float(value) for value in deciding[: len(PLATE)]))
    load, percent, inertia, holding, jammed = deciding[len(PLATE) :]
    torque = plate.torque_nm
    machine = fit(plate).at_frequency(network_hz)
    rated_speed = plate.speed_rpm / machine.plate.sync_rpm
    friction = (FRICTION + (JAM if jammed else BRAKE if holding else 0.0)) * torque
    driven = Load(str(load), torque * float(percent) / 100, friction, rated_speed, float(inertia))
    return Drive(machine, driven)


@lru_cache(maxsize=1024)
def windings(machine: Machine, names: tuple[str, str, str], speed: float) -> Mapping[str, Value]:
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
