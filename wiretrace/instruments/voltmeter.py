"""Voltmeter: a resistance across two terminals, and part of the circuit while it is there."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.network.point import OperatingPoint
from wiretrace.network.solve import Solution
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
    shows 0.0 and there is no voltage to speak of. `part` is the solution of the frequency that makes up most of it,
    `phasor_v` its voltage and `source_ohm` the impedance that the meter looks into there; `frequency_hz` is told where
    it is not that of the supplies, 0 where capacitors hold what it shows.
    """

    red: End
    black: End
    voltage_v: float
    display: str
    joined: bool
    source_ohm: float
    phasor_v: complex
    part: Solution
    coupling: Coupling = Coupling.AC
    frequency_hz: float | None = None


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
    still = [_loaded(part, a, b, meter_ohm) for part in point.direct]
    direct, direct_ohm = sum((one for one, _ in still), 0j), max((ohm for _, ohm in still), default=0.0)
    found = [_loaded(part, a, b, meter_ohm) for part in point.alternating]
    volts = math.hypot(*(abs(one) for one, _ in found))
    joined = same or point.joined(a, b)
    if coupling is Coupling.AUTO:
        coupling = Coupling.DC if abs(direct) > volts else Coupling.AC
    if coupling is Coupling.DC:
        part = max(point.direct, key=lambda one: abs(_loaded(one, a, b, meter_ohm)[0]), default=point.ac)
        held = None if part is point.dc or part is point.ac else 0.0
        return Reading(red, black, direct.real, display(direct.real), joined, direct_ohm, direct, part, coupling, held)
    # The first of several that are as large: all that alternates at the frequency of the supplies.
    most = max(range(len(found)), key=lambda n: abs(found[n][0]))
    phasor, source_ohm = found[most]
    hertz = (None, *(one.frequency_hz for one in point.others))[most]
    part = point.alternating[most]
    return Reading(red, black, volts, display(volts), joined, source_ohm, phasor, part, coupling, hertz)


def read_between(point: OperatingPoint, a: int, b: int, meter_ohm: float = HIGH_IMPEDANCE_OHM) -> float:
    """What a voltmeter shows between two nodes, the larger of the alternating and the direct part, volts."""
    alternating = math.hypot(*(abs(_loaded(part, a, b, meter_ohm)[0]) for part in point.alternating))
    return max(alternating, abs(sum((_loaded(part, a, b, meter_ohm)[0] for part in point.direct), 0j)))


def _loaded(solution: Solution, a: int, b: int, meter_ohm: float) -> tuple[complex, float]:
    """Volts across the meter and the size of the impedance that it looks into, ohm."""
    if a == b or not solution.joined(a, b):
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
