"""The star point of a motor that is connected in star outside, as the switched windings of a star-delta starter are."""

from collections.abc import Sequence
from typing import Final

from wiretrace.catalogue.machinery.purpose import Windings
from wiretrace.explain.gaps import joined
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

ALIKE: Final = 0.05
"""Share by which the volts across the three windings may differ, for it to stand in their middle."""
LEAST_V: Final = 1.0


def star_points(assembly: Assembly, frame: Frame, nodes: Sequence[int]) -> tuple[str | None, ...]:
    """For each node the motor at whose star point it stands, with like volts across all three windings, if any."""
    motors = [
        (name, item.kind.three_phase)
        for name, item in assembly.devices.items()
        if item.kind.three_phase is not None and item.kind.three_phase.ends is not None
    ]
    return tuple(
        next((name for name, leads in motors if _meets(assembly, frame, node, name, leads)), None) if motors else None
        for node in nodes
    )


def _meets(assembly: Assembly, frame: Frame, node: int, motor: str, leads: Windings) -> bool:
    at = joined(assembly, frame, node)
    starts, ends = (
        [assembly.graph.node_of[motor, lead] for lead in side] for side in (leads.starts, leads.ends or leads.starts)
    )
    one, other = (starts, ends) if set(ends) <= at else (ends, starts)
    if not set(other) <= at or set(one) & at:
        return False
    drops = frame.point.ac.drop_v
    volts = [
        abs(drops[number])
        for number, ref in enumerate(assembly.branches)
        if ref.place == motor and {ref.a, ref.b} in [{a, b} for a, b in zip(starts, ends, strict=True)]
    ]
    return len(volts) == 3 and min(volts) > LEAST_V and max(volts) - min(volts) < ALIKE * max(volts)
