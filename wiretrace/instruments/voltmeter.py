"""Voltmeter: a resistance across two terminals, and part of the circuit while it is there."""

from dataclasses import dataclass
from typing import Final

from wiretrace.circuit.document import End
from wiretrace.network.solve import Solution
from wiretrace.simulation.plant import Plant

HIGH_IMPEDANCE_OHM: Final = 10e6
LOW_IMPEDANCE_OHM: Final = 3.3e3
"""A meter that loads what it measures: stray voltages vanish under it."""

COUNTS: Final = 6000
"""A hand meter of 6000 counts: up to 5.999, 59.99, 599.9 and 6000 volts."""


@dataclass(frozen=True)
class Reading:
    """What a meter shows between two terminals, in volts RMS.

    `joined` is False when no conducting path joins the probes: the meter then shows 0.0 and
    there is no voltage to speak of. `source_ohm` is the impedance the meter looks into.
    """

    red: End
    black: End
    voltage_v: float
    display: str
    joined: bool
    source_ohm: float
    phasor_v: complex


def read_voltage(
    plant: Plant, solution: Solution, red: End, black: End, meter_ohm: float = HIGH_IMPEDANCE_OHM
) -> Reading:
    """Reading of a voltmeter of `meter_ohm` from `red` to `black`, with its own load.

    Raises UnknownTarget when a probe stands on nothing.
    """
    a, b = plant.node(red), plant.node(black)
    if a == b or not solution.joined(a, b):
        return Reading(red, black, 0.0, display(0.0), a == b, 0.0, 0j)
    open_v, source_ohm = solution.thevenin(a, b)
    phasor = open_v * meter_ohm / (meter_ohm + source_ohm)
    return Reading(red, black, abs(phasor), display(abs(phasor)), True, abs(source_ohm), phasor)


def display(voltage_v: float) -> str:
    """The figure as a 6000-count meter rounds it, without the unit."""
    for decimals in (3, 2, 1):
        if round(voltage_v * 10**decimals) < COUNTS:
            return f"{voltage_v:.{decimals}f}"
    return f"{voltage_v:.0f}"
