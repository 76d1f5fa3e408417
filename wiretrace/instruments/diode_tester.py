"""Diode test: the meter drives a milliampere and shows the volts that it takes; diodes conduct or block."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.instruments.ohmmeter import BEEPS_UNDER_OHM, refuse_live
from wiretrace.network.diodes import Junction, volts_for
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

TEST_A: Final = 1e-3
"""What the meter drives."""
MOST_V: Final = 2.5
"""Volts above which it shows OL."""
NEVER: Final = "never test diodes on a live circuit"


@dataclass(frozen=True)
class DiodeReading:
    """What the meter shows: volts, None for OL."""

    volts: float | None
    display: str
    beeps: bool


def read_diode(assembly: Assembly, frame: Frame, red: End, black: End) -> DiodeReading:
    """Volts that a milliampere from red to black takes.

    Raises MeasurementRefused when a probe would stand on something live, UnknownTarget when it would stand on
    nothing, SingularNetwork where the diodes do not settle.
    """
    a, b = assembly.node(red), assembly.node(black)
    refuse_live(assembly, frame, red, black, NEVER)
    linear = [
        (ref.a, ref.b, value.conductance_s())
        for ref, value in zip(assembly.branches, frame.values, strict=True)
        if value is not None
    ]
    junctions = list(_junctions(assembly, frame))
    volts = 0.0 if a == b else volts_for(TEST_A, (a, b), len(assembly.nodes), linear, junctions)
    if volts > MOST_V:
        return DiodeReading(None, "OL", False)
    return DiodeReading(volts, f"{volts:.3f}", volts < TEST_A * BEEPS_UNDER_OHM)


def _junctions(assembly: Assembly, frame: Frame) -> Iterator[Junction]:
    """The diodes of all devices, but for those whose element is open."""
    inner = assembly.graph.inner
    for item in assembly.devices.values():
        for diode in item.kind.diodes(item.params):
            if frame.values[assembly.graph.branch_index(item.id, diode.element)] is not None:
                yield Junction(inner[item.id, diode.anode], inner[item.id, diode.cathode], diode.threshold_v)
