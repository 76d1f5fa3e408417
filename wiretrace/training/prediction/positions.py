"""Where a meter can tell something: positions that never do, and those that tell two states apart."""

from dataclasses import dataclass
from itertools import combinations
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.instruments.voltmeter import display, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.training.prediction.models import Case, Course

NOTHING_V: Final = 1.0
"""Below that both probes stand on one potential, but for what wires and contacts drop."""
MOST: Final = 5


@dataclass(frozen=True)
class Telling:
    """Two terminals of one device between which two states differ, and what a meter shows in each."""

    red: End
    black: End
    first: str
    second: str


def useless(course: Course) -> list[str]:
    """Letters of meters whose probes stand on one potential in every state of the sheet: they tell nothing."""
    return [
        spot.letter
        for spot in course.sheet.meters
        if all(
            abs(Case(course, index, spot.red, spot.black).reading.voltage_v) < NOTHING_V
            for index in range(len(course.frames))
        )
    ]


def telling(course: Course, first: int, second: int) -> list[Telling]:
    """Positions across parts of devices that tell two states apart, those that differ most first, one a part."""
    one, other = course.frames[first], course.frames[second]
    found: list[tuple[float, Telling]] = []
    for item in course.assembly.devices.values():
        for part in item.structure.parts:
            ends = [End(device=item.id, terminal=name) for name in part.terminals]
            apart = [_apart(course.assembly, one, other, red, black) for red, black in combinations(ends, 2)]
            found += [max(apart, key=lambda pair: pair[0])] if apart else []
    best = sorted(found, key=lambda pair: -pair[0])
    return [place for volts, place in best if volts > NOTHING_V][:MOST]


def _apart(assembly: Assembly, one: Frame, other: Frame, red: End, black: End) -> tuple[float, Telling]:
    first, second = (abs(read_voltage(assembly, frame.point, red, black).voltage_v) for frame in (one, other))
    return abs(first - second), Telling(red, black, display(first), display(second))
