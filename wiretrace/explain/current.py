"""Why a clamp shows what it shows: what the conductors in its jaw feed."""

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.explain.short_circuit import short_circuit
from wiretrace.explain.wording import listed
from wiretrace.faults.naming import part_name
from wiretrace.instruments.clamp_meter import Current, display, read_current, signs
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

NOTICEABLE = 0.02
"""Share of a load's current that must change when the conductors are cut, for it to count as fed by them."""
NOTHING_A = 1e-3


@dataclass(frozen=True)
class Fed:
    """A load that the conductors feed: its current now, and without them, in amperes RMS."""

    device: str
    branch: str
    current_a: float
    without_a: float


@dataclass(frozen=True)
class CurrentExplanation:
    """A clamp's reading, each conductor's own current with its angle in degrees, and what they feed."""

    reading: Current
    conductors: tuple[tuple[str, float, float], ...]
    feeds: tuple[Fed, ...]
    sentence: str


def explain_current(
    assembly: Assembly, frame: Frame, conductors: Sequence[str], turned: Sequence[str] = ()
) -> CurrentExplanation:
    """Explain a clamp around these conductors. Raises UnknownTarget."""
    reading = read_current(assembly, frame.point, conductors, turned)
    ways = signs(assembly, conductors, turned)
    phasors = [(name, way * assembly.conductor_a(frame.point.ac, name)) for name, way in ways.items()]
    own = tuple((name, abs(amperes), math.degrees(cmath.phase(amperes))) for name, amperes in phasors)
    feeds = _feeds(assembly, frame, conductors)
    return CurrentExplanation(reading, own, feeds, _sentence(assembly, frame, reading, own, feeds))


def _feeds(assembly: Assembly, frame: Frame, conductors: Sequence[str]) -> tuple[Fed, ...]:
    values = list(frame.values)
    for name in conductors:
        values[assembly.branch_index(name)] = None
    cut, time_us = assembly.equations.solve(values), frame.state.time_us
    now, without = assembly.signals(frame.point, time_us), assembly.signals(cut, time_us)
    found = []
    for item in assembly.devices.values():
        for branch in item.structure.branches:
            if branch.role is Role.LOAD:
                amperes, left = now[item.id][branch.name].rms_a, without[item.id][branch.name].rms_a
                if amperes > NOTHING_A and abs(amperes - left) > NOTICEABLE * amperes:
                    found.append(Fed(item.id, branch.name, amperes, left))
    return tuple(found)


def _sentence(
    assembly: Assembly,
    frame: Frame,
    reading: Current,
    own: tuple[tuple[str, float, float], ...],
    feeds: tuple[Fed, ...],
) -> str:
    names = [name for name, _, _ in own]
    if len(own) > 1:
        parts = ", ".join(f"{name} {display(amperes)} A at {angle:.0f} degrees" for name, amperes, angle in own)
        return f"The jaw adds phasors: {parts}; together {reading.display} A."
    if (short := short_circuit(assembly, frame, names[0])) is not None:
        return f"{names[0]} carries {reading.display} A: a short circuit {short.words}."
    if reading.current_a < NOTHING_A:
        return f"{names[0]} carries nothing: no load behind it is fed."
    fed = list(dict.fromkeys(part_name(assembly, load.device, load.branch) for load in feeds))
    if not fed:
        return f"{names[0]} carries {reading.display} A, which other ways would carry without it."
    return f"{names[0]} carries {reading.display} A; it feeds {listed(fed)}."
