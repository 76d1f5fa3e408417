"""Currents of a prediction sheet: what a clamp shows in a state, and what whoever thinks otherwise would write."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final

from wiretrace.instruments.clamp_meter import Current, read_current
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.training.prediction.answers import Between
from wiretrace.training.prediction.models import Course, Figure

CLOSE: Final = 0.1
ABOUT: Final = 0.3
"""Shares by which a current may be off: nameplates round; where only full, part and none count it is more."""
LEAST_A: Final = 0.1


@dataclass(frozen=True)
class Clamped:
    """A clamp around a conductor in a state."""

    course: Course
    index: int
    conductor: str

    @cached_property
    def reading(self) -> Current:
        return self._under(self.course.assembly, self.course.frames)

    def figures(self) -> Iterator[tuple[str, Figure]]:
        """What would be written by misconception, in amperes."""
        amperes = self.reading.current_a
        for name, other in (
            ("seal_forgotten", self.course.without_seal),
            ("fault_forgotten", self.course.without_faults),
        ):
            if other is not None:
                yield name, Figure(self._under(*other).current_a)
        for about, assembly, frames in self.course.inputs_exchanged:
            yield "program_other_way", Figure(self._under(assembly, frames).current_a, about)
        yield from (("line_for_phase", Figure(amperes * factor)) for factor in (math.sqrt(3), 1 / math.sqrt(3)))
        yield "peak_for_rms", Figure(amperes * math.sqrt(2))
        if self.course.connects_both_ways:
            for factor in (1 / 3, 3.0, 1 / math.sqrt(3), math.sqrt(3)):
                yield "star_for_delta", Figure(amperes * factor)

    def other_figures(self) -> Iterator[tuple[str, Figure]]:
        """Those that are not right."""
        for name, figure in self.figures():
            if not self.agrees(Between(figure.value, figure.value), self.reading.current_a):
                yield name, figure

    def agrees(self, answer: Between, amperes: float) -> bool:
        """Is this current what was meant?"""
        share = ABOUT if self.course.sheet.counts == "about" else CLOSE
        off = max(LEAST_A, share * amperes)
        return answer.low - off <= amperes <= answer.high + off

    def _under(self, assembly: Assembly, frames: Sequence[Frame]) -> Current:
        return read_current(assembly, frames[self.index].point, [self.conductor])
