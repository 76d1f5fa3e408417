"""Diode test: the meter drives a milliampere and shows the volts that it takes; diodes of the circuit conduct or block.

Linear parts count with their resistance. Each diode is a threshold with a little resistance when it conducts, and open
when it does not; which of them conduct is found by trying until every one agrees with its own voltage (Vlach and
Singhal, Computer Methods for Circuit Analysis, piecewise-linear models).
"""

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.document.circuit import End
from wiretrace.errors import SingularNetwork
from wiretrace.instruments.ohmmeter import BEEPS_UNDER_OHM, refuse_live
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

TEST_A: Final = 1e-3
"""What the meter drives."""
MOST_V: Final = 2.5
"""Volts above which it shows OL."""
LEAK_S: Final = 1e-9
"""From every node to a common one, so that what hangs on nothing has a potential too."""
FORWARD_OHM: Final = 10.0
TRIES: Final = 60
NEVER: Final = "never test diodes on a live circuit"


@dataclass(frozen=True)
class DiodeReading:
    """What the meter shows: volts, None for OL."""

    volts: float | None
    display: str
    beeps: bool


@dataclass(frozen=True)
class _Junction:
    anode: int
    cathode: int
    threshold_v: float


def read_diode(assembly: Assembly, frame: Frame, red: End, black: End) -> DiodeReading:
    """Volts that a milliampere from red to black takes.

    Raises MeasurementRefused when a probe would stand on something live, UnknownTarget when it would stand on
    nothing, SingularNetwork where the diodes do not settle.
    """
    a, b = assembly.node(red), assembly.node(black)
    refuse_live(assembly, frame, red, black, NEVER)
    volts = 0.0 if a == b else _settled(_linear(assembly, frame), _junctions(assembly, frame), a, b)
    if volts > MOST_V:
        return DiodeReading(None, "OL", False)
    return DiodeReading(volts, f"{volts:.3f}", volts < TEST_A * BEEPS_UNDER_OHM)


def _linear(assembly: Assembly, frame: Frame) -> NDArray[np.float64]:
    """Conductance between the nodes, siemens, as direct current finds them."""
    size = len(assembly.graph.nodes)
    matrix = np.eye(size) * LEAK_S
    for ref, value in zip(assembly.branches, frame.values, strict=True):
        if value is not None:
            _join(matrix, ref.a, ref.b, min(value.conductance_s(), 1e6))
    return matrix


def _join(matrix: NDArray[np.float64], a: int, b: int, siemens: float) -> None:
    matrix[a, a] += siemens
    matrix[b, b] += siemens
    matrix[a, b] -= siemens
    matrix[b, a] -= siemens


def _junctions(assembly: Assembly, frame: Frame) -> list[_Junction]:
    """The diodes of all devices, but for those whose element is open."""
    inner = assembly.graph.inner
    return [
        _Junction(inner[item.id, diode.anode], inner[item.id, diode.cathode], diode.threshold_v)
        for item in assembly.devices.values()
        for diode in item.kind.diodes(item.params)
        if frame.values[assembly.graph.branch_index(item.id, diode.element)] is not None
    ]


def _settled(linear: NDArray[np.float64], junctions: list[_Junction], red: int, black: int) -> float:
    conducts = [False] * len(junctions)
    for _ in range(TRIES):
        matrix, driven = linear.copy(), np.zeros(len(linear))
        driven[red] += TEST_A
        driven[black] -= TEST_A
        for one, on in zip(junctions, conducts, strict=True):
            if on:
                _join(matrix, one.anode, one.cathode, 1 / FORWARD_OHM)
                driven[one.anode] += one.threshold_v / FORWARD_OHM
                driven[one.cathode] -= one.threshold_v / FORWARD_OHM
        volts = np.linalg.solve(matrix, driven)
        over = [volts[one.anode] - volts[one.cathode] - one.threshold_v for one in junctions]
        wrong = [at for at, (rest, on) in enumerate(zip(over, conducts, strict=True)) if on != (rest > 0)]
        if not wrong:
            return float(volts[red] - volts[black])
        # One at a time, the most wrong first: all at once may go round in a circle.
        worst = max(wrong, key=lambda at: abs(over[at]))
        conducts[worst] = not conducts[worst]
    raise SingularNetwork("The diodes between the probes do not settle.")
