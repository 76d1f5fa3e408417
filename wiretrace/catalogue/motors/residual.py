"""Residual voltage: what the rotor of a motor without supply still raises in its windings, and the surge at closing."""

import cmath
import math
from collections.abc import Sequence

from wiretrace.catalogue.machinery.element import Signal, Tone
from wiretrace.catalogue.machinery.structure import DeviceState, amount
from wiretrace.catalogue.motors.equivalent import TURN
from wiretrace.catalogue.motors.machine import Machine


def voltage(state: DeviceState) -> complex:
    """What the rotor raises in the first winding, volts RMS, against the phase of the supply."""
    return complex(amount(state, "residual_re_v"), amount(state, "residual_im_v"))


def left(
    machine: Machine, state: DeviceState, windings: Sequence[Signal], seconds: float, speeds: tuple[float, float]
) -> complex:
    """What is left of the residual voltage after so many seconds.

    While fed it is taken to be that part of the winding voltages which turns as the rotor does; without supply
    it decays with the rotor's open-circuit time constant and falls behind by the slip. `speeds` are the speed
    at the end of that time and the mean of its size.
    """
    end, mean = speeds
    if state["fed"] and end == 0:
        return 0j
    if state["fed"]:
        a, b, c = (one.voltage_v for one in windings)
        ahead = TURN if end > 0 else TURN**2
        return (a + ahead * b + ahead**2 * c) / 3
    omega = 2 * math.pi * machine.plate.frequency_hz
    rotor = machine.rotor_running_ohm
    tau_s = (machine.magnetising_ohm.imag + rotor.imag) / (omega * rotor.real)
    return voltage(state) * cmath.rect(math.exp(-seconds / tau_s), -(1 - mean) * omega * seconds)


def fading(machine: Machine, state: DeviceState, names: Sequence[str]) -> dict[str, Tone]:
    """What a meter finds of it at the windings, each as the rise in it, volts RMS, at the frequency of the rotor.

    The flux that is left turns with the rotor: its voltage goes with the speed (Fitzgerald, Electric Machinery,
    chapter 6). The leakage of the stator holds none of it.
    """
    speed = amount(state, "speed")
    if state["fed"] or speed == 0:
        return {}
    behind = 1 / TURN if speed > 0 else TURN
    share = machine.magnetising_ohm / (machine.stator_ohm + machine.magnetising_ohm)
    hertz = abs(speed) * machine.plate.frequency_hz
    first_v = -voltage(state) * abs(share) * abs(speed)
    return {name: Tone(first_v * behind**n, hertz) for n, name in enumerate(names)}


def surge_a(machine: Machine, state: DeviceState, windings: Sequence[Signal]) -> float:
    """First current of a winding on closing: new voltage less residual voltage over the locked-rotor impedance.

    Winding by winding, whichever way the field turns; never less than the current that follows. RMS of the
    alternating part; the direct part may add as much again to the first peak. It is this that makes the two
    delta closures different: the winding voltage jumps 30 degrees forward or backward.
    """
    behind = 1 / TURN if amount(state, "speed") >= 0 else TURN
    jumps = [abs(one.voltage_v - voltage(state) * behind**n) for n, one in enumerate(windings)]
    return max(max(one.rms_a for one in windings), max(jumps) / abs(machine.impedance_ohm(1.0)))
