"""Current clamp: the phasors of all conductors in the jaw, added."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from wiretrace.network.solve import OperatingPoint
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Trajectory


@dataclass(frozen=True)
class Current:
    """What a clamp shows around these conductors, in amperes RMS."""

    conductors: tuple[str, ...]
    current_a: float
    display: str


@dataclass(frozen=True)
class Capture:
    """What a clamp that was left on kept: the first current above nothing, and the largest with its time."""

    conductors: tuple[str, ...]
    inrush_a: float
    maximum_a: float
    maximum_at_us: int


NOTHING_A = 0.05
"""Amperes below which a clamp that waits for a start sees none."""


def read_current(assembly: Assembly, point: OperatingPoint, conductors: Sequence[str]) -> Current:
    """RMS current through the jaw, direct part included. Going and coming conductors cancel.

    Each conductor counts from its end `a` to its end `b`. Raises UnknownTarget for one that is
    not there.
    """
    amperes = abs(sum((assembly.conductor_a(point.ac, name) for name in conductors), 0j))
    if point.dc is not None:
        amperes = math.hypot(amperes, abs(sum((assembly.conductor_a(point.dc, name) for name in conductors), 0j)))
    return Current(tuple(conductors), amperes, display(amperes))


def capture_current(assembly: Assembly, trajectory: Trajectory, conductors: Sequence[str]) -> Capture:
    """Start-current and maximum capture over a run. Raises UnknownTarget."""
    seen = [(read_current(assembly, f.point, conductors).current_a, f.state.time_us) for f in trajectory.frames]
    inrush = next((now for (before, _), (now, _) in pairwise(seen) if before < NOTHING_A < now), 0.0)
    largest, at_us = max(seen, key=lambda pair: pair[0])
    return Capture(tuple(conductors), inrush, largest, at_us)


def display(amperes: float) -> str:
    """The figure as a clamp shows it, without the unit."""
    return f"{amperes:.2f}" if amperes < 60 else f"{amperes:.1f}"
