"""Current clamp: the phasors of all conductors in the jaw, added."""

from collections.abc import Sequence
from dataclasses import dataclass

from wiretrace.network.solve import Solution
from wiretrace.simulation.plant import Plant


@dataclass(frozen=True)
class Current:
    """What a clamp shows around these conductors, in amperes RMS."""

    conductors: tuple[str, ...]
    current_a: float
    display: str


def read_current(plant: Plant, solution: Solution, conductors: Sequence[str]) -> Current:
    """RMS current through the jaw. Going and coming conductors cancel.

    Each conductor counts from its end `a` to its end `b`. Raises UnknownTarget for one that is
    not there.
    """
    total = sum((complex(solution.current_a[plant.branch_index(name)]) for name in conductors), 0j)
    amperes = abs(total)
    return Current(tuple(conductors), amperes, f"{amperes:.2f}" if amperes < 60 else f"{amperes:.1f}")
