"""A direct-current network with diodes: volts between two nodes that a current from one to the other takes.

Each diode is a threshold with a little resistance when it conducts, and open when it does not; which of them conduct is
found by trying until every one agrees with its own voltage (Vlach and Singhal, Computer Methods for Circuit Analysis,
piecewise-linear models).
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.errors import SingularNetwork

LEAK_S: Final = 1e-9
"""From every node to a common one, so that what hangs on nothing has a potential too."""
MOST_S: Final = 1e6
FORWARD_OHM: Final = 10.0
TRIES: Final = 60


@dataclass(frozen=True)
class Junction:
    """A diode between two nodes, with the volts from which it conducts."""

    anode: int
    cathode: int
    threshold_v: float


def volts_for(
    amperes: float,
    nodes: tuple[int, int],
    size: int,
    linear: Iterable[tuple[int, int, float]],
    junctions: Sequence[Junction],
) -> float:
    """Volts from the first of two nodes to the second; `linear` are pairs of nodes with siemens between them.

    Raises SingularNetwork where the diodes do not settle.
    """
    fixed = np.eye(size) * LEAK_S
    for a, b, siemens in linear:
        _join(fixed, a, b, min(siemens, MOST_S))
    conducts = [False] * len(junctions)
    for _ in range(TRIES):
        volts = _solved(fixed, junctions, conducts, amperes, nodes)
        over = [volts[one.anode] - volts[one.cathode] - one.threshold_v for one in junctions]
        wrong = [at for at, (rest, on) in enumerate(zip(over, conducts, strict=True)) if on != (rest > 0)]
        if not wrong:
            return float(volts[nodes[0]] - volts[nodes[1]])
        # One at a time, the most wrong first: all at once may go round in a circle.
        worst = max(wrong, key=lambda at: abs(over[at]))
        conducts[worst] = not conducts[worst]
    raise SingularNetwork("The diodes between the probes do not settle.")


def _solved(
    fixed: NDArray[np.float64],
    junctions: Sequence[Junction],
    conducts: Sequence[bool],
    amperes: float,
    nodes: tuple[int, int],
) -> NDArray[np.float64]:
    matrix, driven = fixed.copy(), np.zeros(len(fixed))
    driven[nodes[0]] += amperes
    driven[nodes[1]] -= amperes
    for one, on in zip(junctions, conducts, strict=True):
        if on:
            _join(matrix, one.anode, one.cathode, 1 / FORWARD_OHM)
            driven[one.anode] += one.threshold_v / FORWARD_OHM
            driven[one.cathode] -= one.threshold_v / FORWARD_OHM
    return np.asarray(np.linalg.solve(matrix, driven), dtype=np.float64)


def _join(matrix: NDArray[np.float64], a: int, b: int, siemens: float) -> None:
    matrix[a, a] += siemens
    matrix[b, b] += siemens
    matrix[a, b] -= siemens
    matrix[b, a] -= siemens
