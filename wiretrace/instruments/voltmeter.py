"""Voltmeter: a resistance across two terminals, and part of the circuit while it is there."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.network.solve import OperatingPoint, Solution
from wiretrace.simulation.assembly import Assembly

HIGH_IMPEDANCE_OHM: Final = 10e6
LOW_IMPEDANCE_OHM: Final = 3.3e3
"""A meter that loads what it measures: stray voltages vanish under it."""

COUNTS: Final = 6000
"""A hand meter of 6000 counts: up to 5.999, 59.99, 599.9 and 6000 volts."""


class Coupling(StrEnum):
    """What a voltmeter is switched to."""

    AUTO = "auto"  # the larger of the two
    AC = "AC"
    DC = "DC"


@dataclass(frozen=True)
class Reading:
    """What a meter shows between two terminals.

    Volts RMS of the alternating part, or the direct part with its sign; `coupling` tells which of
    the two (never AUTO). `joined` is False when no conducting path joins the probes: the meter then
    shows 0.0 and there is no voltage to speak of. `source_ohm` is the impedance the meter looks into.
    """

    red: End
    black: End
    voltage_v: float
    display: str
    joined: bool
    source_ohm: float
    phasor_v: complex
    coupling: Coupling = Coupling.AC


def read_voltage(
    assembly: Assembly,
    point: OperatingPoint,
    red: End,
    black: End,
    meter_ohm: float = HIGH_IMPEDANCE_OHM,
    coupling: Coupling = Coupling.AUTO,
) -> Reading:
    """Reading of a voltmeter of `meter_ohm` from `red` to `black`, with its own load.

    Raises UnknownTarget when a probe stands on nothing.
    """
    a, b = assembly.node(red), assembly.node(black)
    same = a == b
    alternating, source_ohm = (0j, 0.0) if same else _loaded(point.ac, a, b, meter_ohm)
    direct, direct_ohm = (0j, 0.0) if same or point.dc is None else _loaded(point.dc, a, b, meter_ohm)
    joined = same or point.joined(a, b)
    if coupling is Coupling.AUTO:
        coupling = Coupling.DC if abs(direct) > abs(alternating) else Coupling.AC
    if coupling is Coupling.DC:
        volts = direct.real
        return Reading(red, black, volts, display(volts), joined, direct_ohm, direct, coupling)
    return Reading(red, black, abs(alternating), display(abs(alternating)), joined, source_ohm, alternating, coupling)


def read_between(point: OperatingPoint, a: int, b: int, meter_ohm: float = HIGH_IMPEDANCE_OHM) -> float:
    """What a voltmeter shows between two nodes, the larger of the alternating and the direct part, volts."""
    if a == b:
        return 0.0
    parts = [point.ac] if point.dc is None else [point.ac, point.dc]
    return max(abs(_loaded(part, a, b, meter_ohm)[0]) for part in parts)


def _loaded(solution: Solution, a: int, b: int, meter_ohm: float) -> tuple[complex, float]:
    """Volts across the meter and the size of the impedance that it looks into, ohm."""
    if not solution.joined(a, b):
        return 0j, 0.0
    open_v, source_ohm = solution.thevenin(a, b)
    return open_v * meter_ohm / (meter_ohm + source_ohm), abs(source_ohm)


def display(voltage_v: float) -> str:
    """The figure as a 6000-count meter rounds it, without the unit."""
    for decimals in (3, 2, 1):
        if round(abs(voltage_v) * 10**decimals) < COUNTS:
            # Adding zero takes the sign from a figure that rounds to nothing.
            return f"{round(voltage_v, decimals) + 0.0:.{decimals}f}"
    return f"{voltage_v:.0f}"
