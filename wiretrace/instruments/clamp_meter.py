"""Current clamp: the phasors of all conductors in the jaw, added."""

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import pairwise

from wiretrace.errors import Problem, UnknownTarget
from wiretrace.network.point import OperatingPoint
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


def read_current(
    assembly: Assembly, point: OperatingPoint, conductors: Sequence[str], turned: Collection[str] = ()
) -> Current:
    """RMS current through the jaw, direct part included. Going and coming conductors cancel.

    Conductors enter the jaw the same way (`signs`), but for those that are `turned`. Raises UnknownTarget for one that
    is not there.
    """
    ways = signs(assembly, conductors, turned)
    parts = [sum((way * assembly.conductor_a(part, name) for name, way in ways.items()), 0j) for part in point.parts]
    amperes = math.hypot(*(abs(part) for part in parts))
    return Current(tuple(conductors), amperes, display(amperes))


def signs(assembly: Assembly, conductors: Sequence[str], turned: Collection[str] = ()) -> dict[str, int]:
    """Of each conductor whether it enters the jaw at its end `a` (1) or `b` (-1); which was drawn first has no say.

    A jaw stands on a cable, with devices before and behind it: what comes from a device before it, or goes to one
    behind it, enters the same way, so that a go and its return cancel. Where nothing ties a conductor to the others it
    enters from the device that stands first in the document. Raises UnknownTarget.
    """
    place = {name: at for at, name in enumerate(assembly.devices)}
    ends = {name: _ends(assembly, name) for name in dict.fromkeys(conductors)}
    before: dict[str, bool] = {}
    found: dict[str, int] = {}
    while left := [name for name in ends if name not in found]:
        tied = next((name for name in left if any(device in before for device in ends[name])), left[0])
        a, b = ends[tied]
        enters = before[a] if a in before else not before[b] if b in before else place[a] <= place[b]
        before.setdefault(a, enters)
        before.setdefault(b, not enters)
        found[tied] = 1 if enters else -1
    return {name: -way if name in turned else way for name, way in found.items()}


def _ends(assembly: Assembly, conductor: str) -> tuple[str, str]:
    wire = next((one for one in assembly.circuit.conductors if one.id == conductor), None)
    if wire is None:
        message = f"There is no conductor {conductor}."
        raise UnknownTarget(message, (Problem("unknown_conductor", message),))
    return wire.a.device, wire.b.device


def capture_current(assembly: Assembly, trajectory: Trajectory, conductors: Sequence[str]) -> Capture:
    """Start-current and maximum capture over a run. Raises UnknownTarget."""
    seen = [(read_current(assembly, f.point, conductors).current_a, f.state.time_us) for f in trajectory.frames]
    inrush = next((now for (before, _), (now, _) in pairwise(seen) if before < NOTHING_A < now), 0.0)
    largest, at_us = max(seen, key=lambda pair: pair[0])
    return Capture(tuple(conductors), inrush, largest, at_us)


def display(amperes: float) -> str:
    """The figure as a clamp shows it, without the unit."""
    return f"{amperes:.2f}" if amperes < 60 else f"{amperes:.1f}"
