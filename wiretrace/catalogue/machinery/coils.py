"""The winding of an electromagnet: impedance, iron that saturates, heat, and its end.

A coil for alternating current has the reactance of its iron, open or closed, and the resistance of its losses; an
ohmmeter and direct current meet its wire alone. So on direct current of its own rating it burns.
"""

import math
from typing import Final

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.structure import DeviceState, Params, due_us, network_hz, number

DC_COIL_S: Final = 0.02
"""Inductance over resistance of a coil for direct current, seconds."""
DIODE_OHM: Final = 0.05
WIRE_SHARE: Final = 0.8
"""Resistance of the wire over that of all losses with the armature open, where iron takes least."""
SATURATES: Final = (1.2, 2.0)
"""Flux, in that of the rated voltage, from which the inductance falls, and at which nothing of the iron is left."""
AIR_SHARE: Final = 0.5
"""Inductance of the bare winding over that with the armature open."""
AGREES: Final = 0.002
"""Share of iron by which it may differ from what its flux leaves."""
TRUSTS: Final = 4
"""Looks after which a coil halves what is left between too little and too much iron, wherever the last look points."""
UNFED: Final = 0.05
"""Share of the rated flux below which a coil counts as not fed."""
LOOKS: Final = 20
"""Times that a coil looks for its inductance in one instant."""
HEATS_S: Final = 900.0
"""Thermal time constant of a small coil."""
BURNS: Final = 4.5
"""Heat, in that of steady rated operation, that the insulation does not outlive."""
HOTTEST: Final = 40_000.0
"""Heat that no current passes: even a short circuit takes a tenth of a second to open a winding."""
SOUND: Final[DeviceState] = {
    "iron": 1.0, "iron_low": 0.0, "iron_high": 1.0, "looks": 0, "heat": 0.0, "burnt": False, "burns_at_us": None,
}  # fmt: skip


def value(params: Params, state: DeviceState) -> Value:
    """What the winding is worth, with its armature where it is; a coil for direct current is its wire."""
    if params["coil_kind"] == "DC":
        ohm = number(params, "coil_voltage_v") ** 2 / number(params, "coil_power_w")
        return Value(ohm, DC_COIL_S * ohm)
    if params["suppressed_by"] == "diode":
        return Value(DIODE_OHM)  # Every other half wave goes through it.
    ohm, henry = _rated(params, _which(state))
    return Value(ohm, max(_least_henry(params), henry * float(state["iron"] or 0.0)), direct_ohm=wire_ohm(params))


def _rated(params: Params, which: str) -> tuple[float, float]:
    """Resistance and inductance at the rated voltage, sealed or at inrush."""
    impedance = number(params, "coil_voltage_v") ** 2 / number(params, f"{which}_va")
    factor = number(params, f"{which}_power_factor")
    omega = 2 * math.pi * number(params, "coil_frequency_hz")
    return impedance * factor, impedance * math.sqrt(1 - factor**2) / omega


def _which(state: DeviceState) -> str:
    return "sealed" if state["position"] == travel.HOME else "inrush"


def _least_henry(params: Params) -> float:
    return AIR_SHARE * min(_rated(params, which)[1] for which in ("sealed", "inrush"))


def wire_ohm(params: Params) -> float:
    """Resistance of the wire of a coil for alternating current."""
    return WIRE_SHARE * min(_rated(params, which)[0] for which in ("sealed", "inrush"))


def saturated(params: Params, state: DeviceState, signal: Signal) -> DeviceState:
    """The state with the iron that the flux leaves to the inductance. Flux goes with volts over hertz.

    Each look tells whether there is too much iron or too little, so that what is looked for lies between two bounds
    that come together. Following the last look alone swings for ever behind a capacitance, where more iron may mean
    more volts.
    """
    if params["suppressed_by"] == "diode" or state["burnt"]:
        # Nothing of it depends on the iron: looked for, it would come nearer with every instant and never be found.
        return state
    iron = float(state["iron"] or 0.0)
    fed_hz = network_hz(params, "coil_frequency_hz")
    flux = abs(signal.voltage_v) / number(params, "coil_voltage_v") * number(params, "coil_frequency_hz") / fed_hz
    least, most = SATURATES
    # Of the inductance the winding itself is always left; what goes below that would have no effect.
    henry = _rated(params, _which(state))[1]
    if henry == 0:
        # All resistance, as with a power factor of 1: there is nothing that could saturate.
        return state
    floor = min(1.0, _least_henry(params) / henry)
    wanted = min(1.0, max(floor, (most - flux) / (most - least)))
    looks = int(state["looks"] or 0)
    # Iron that is whole, or saturated through and through, is just that, from wherever it came.
    exactly = wanted in (floor, 1.0) and looks < TRUSTS
    agrees = iron == wanted if exactly else abs(wanted - iron) < AGREES
    if agrees or looks >= LOOKS or params["coil_kind"] == "DC":
        return state
    # Without voltage nothing saturates: the iron is whole at once, however often one looks.
    if flux < UNFED:
        return {**state, "iron": wanted, "looks": looks + 1}
    low, high = (float(state["iron_low"] or 0.0), float(state["iron_high"] or 0.0)) if looks else (floor, 1.0)
    low, high = (max(low, iron), high) if wanted > iron else (low, min(high, iron))
    nearer = wanted if abs(wanted - iron) < 2 * AGREES else (wanted + iron) / 2
    if (not exactly and not low < nearer < high) or looks >= TRUSTS:
        nearer = (low + high) / 2
    elif exactly:
        nearer = wanted
    return {**state, "iron": nearer, "iron_low": low, "iron_high": high, "looks": looks + 1}


def _final_heat(params: Params, signal: Signal) -> float:
    """Heat that the present current comes to, in that of steady rated operation."""
    volts = number(params, "coil_voltage_v")
    taken = number(params, "coil_power_w" if params["coil_kind"] == "DC" else "sealed_va")
    return min(HOTTEST, (signal.rms_a * volts / taken) ** 2)


def heated(params: Params, state: DeviceState, signal: Signal, span_us: int) -> DeviceState:
    """The state after `span_us` under a steady current."""
    heat, final = float(state["heat"] or 0.0), _final_heat(params, signal)
    if heat == final:
        return state
    return {**state, "heat": final + (heat - final) * math.exp(-span_us / 1e6 / HEATS_S)}


def watched(params: Params, state: DeviceState, signal: Signal, now_us: int) -> DeviceState:
    """The state with the time at which the winding burns under a steady current."""
    heat, final = float(state["heat"] or 0.0), _final_heat(params, signal)
    seconds = None
    if final > BURNS and not state["burnt"]:
        seconds = HEATS_S * math.log(max(1.0, (final - heat) / (final - BURNS)))
    at_us = due_us(now_us, seconds, state["burns_at_us"])
    if at_us == state["burns_at_us"] and not state["looks"]:
        return state
    return {**state, "looks": 0, "burns_at_us": at_us}


def burnt(state: DeviceState, now_us: int) -> DeviceState:
    """The state in which a winding whose time has come is open."""
    return {**state, "burnt": True, "burns_at_us": None} if state["burns_at_us"] == now_us else state
