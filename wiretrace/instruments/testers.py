"""Testers: two poles, phase sequence, insulation."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.errors import MeasurementRefused, Problem
from wiretrace.instruments.ohmmeter import refuse_live
from wiretrace.instruments.voltmeter import Coupling, read_voltage
from wiretrace.network.point import OperatingPoint
from wiretrace.network.solve import Solution
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

TWO_POLE_OHM: Final = 200e3
LOADED_OHM: Final = 7e3
"""With both buttons pressed: stray voltages vanish."""
STEPS_V: Final = (12, 24, 50, 120, 230, 400, 690)
LIGHTS_FROM: Final = 0.85
"""Share of a step's voltage from which it lights (IEC 61243-3)."""
POLE_FROM_V: Final = 50.0


@dataclass(frozen=True)
class TwoPole:
    """What a two-pole tester shows: the highest step that lights, kind and polarity, and a live pole at the red probe.

    `step_v` is 0 when it stays dark; dark never means that something is safe to touch.
    """

    red: End
    black: End
    step_v: int
    shows: str
    live_pole: bool


def read_two_pole(assembly: Assembly, point: OperatingPoint, red: End, black: End, loaded: bool = False) -> TwoPole:
    """Two-pole tester between two terminals. Raises UnknownTarget when a probe stands on nothing."""
    reading = read_voltage(assembly, point, red, black, LOADED_OHM if loaded else TWO_POLE_OHM)
    step = max((step for step in STEPS_V if abs(reading.voltage_v) >= LIGHTS_FROM * step), default=0)
    direct = "DC+" if reading.voltage_v > 0 else "DC-"
    kind = direct if reading.coupling is Coupling.DC else "AC"
    ground = assembly.graph.ground
    node = assembly.node(red)
    to_earth = [abs(one.volts_between(node, ground)) for one in point.alternating if one.joined(node, ground)]
    live = ground >= 0 and math.hypot(*to_earth) >= POLE_FROM_V
    return TwoPole(red, black, step, f"{step} V {kind}" if step else "dark", live)


PHASE_TESTER_OHM: Final = 400e3
PHASE_THERE: Final = 0.6
"""Share of the largest line voltage below which a phase counts as missing."""
PHASE_TESTER_FROM_V: Final = 60.0


@dataclass(frozen=True)
class PhaseSequence:
    """What a phase-sequence tester shows: "clockwise", "counter-clockwise", "phase missing" or "dark"."""

    ends: tuple[End, End, End]
    shows: str


def read_phase_sequence(assembly: Assembly, point: OperatingPoint, one: End, two: End, three: End) -> PhaseSequence:
    """Phase-sequence tester on three terminals, its own resistances across them. Raises UnknownTarget."""
    nodes = [assembly.node(end) for end in (one, two, three)]
    pairs = [(nodes[0], nodes[1]), (nodes[1], nodes[2]), (nodes[2], nodes[0])]
    # Of several frequencies it follows the one that is largest there.
    a, b, c = max((_across(part, pairs) for part in point.alternating), key=lambda three: max(map(abs, three)))
    sizes = sorted(abs(volt) for volt in (a, b, c))
    if sizes[-1] < PHASE_TESTER_FROM_V:
        shows = "dark"
    elif sizes[0] < PHASE_THERE * sizes[-1]:
        shows = "phase missing"
    else:
        # The first line voltage leads the second when the field turns clockwise.
        shows = "clockwise" if (a * b.conjugate()).imag > 0 else "counter-clockwise"
    return PhaseSequence((one, two, three), shows)


def _across(part: Solution, pairs: Sequence[tuple[int, int]]) -> tuple[complex, ...]:
    """Volts that one frequency puts across the resistances of the tester."""
    joined = [pair for pair in pairs if part.joined(*pair)]
    volts = dict(zip(joined, part.loaded(joined, PHASE_TESTER_OHM), strict=True))
    return tuple(complex(volts.get(pair, 0j)) for pair in pairs)


INSULATION_RANGE_OHM: Final = 20e9
INSULATION_ENOUGH_OHM: Final = 1e6
"""Least insulation of a circuit up to 500 V at a test with 500 V (IEC 60364-6, table 6.1)."""


@dataclass(frozen=True)
class Insulation:
    """What an insulation tester shows. `resistance_ohm` is None above its range."""

    red: End
    black: End
    test_v: int
    resistance_ohm: float | None
    display: str
    enough: bool


def read_insulation(assembly: Assembly, frame: Frame, red: End, black: End, test_v: int = 500) -> Insulation:
    """Insulation between two terminals at 500 or 1000 V.

    Raises MeasurementRefused on a live circuit and while electronics is connected to either probe,
    UnknownTarget when a probe stands on nothing, ValueError for another test voltage.
    """
    if test_v not in (500, 1000):
        raise ValueError(f"The insulation tester has 500 and 1000 V, not {test_v} V.")
    a, b = assembly.node(red), assembly.node(black)
    refuse_live(assembly, frame, red, black, "never test insulation on a live circuit")
    dead = assembly.equations.solve_dead(frame.values)
    for item in assembly.devices.values():
        nodes = [assembly.graph.node_of[item.id, name] for name in item.kind.delicate(item.params)]
        if any(dead.joined(end, node) for end in (a, b) for node in nodes):
            message = f"{item.label} is connected: {test_v} V would destroy it. Take its wires off first."
            raise MeasurementRefused(message, (Problem("electronics", message, item.id),))
    ohm = dead.thevenin(a, b)[1].real if a != b and dead.joined(a, b) else 0.0 if a == b else math.inf
    if ohm > INSULATION_RANGE_OHM:
        return Insulation(red, black, test_v, None, "> 20 Gohm", True)
    shown = f"{ohm / 1e9:.2f} Gohm" if ohm >= 1e9 else f"{ohm / 1e6:.2f} Mohm"
    return Insulation(red, black, test_v, ohm, shown, ohm >= INSULATION_ENOUGH_OHM)
