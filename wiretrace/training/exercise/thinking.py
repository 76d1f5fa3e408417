"""What could be known at each point of a course: which faults still fitted, and what would have told most there."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wiretrace.diagnosis.dictionary import Dictionary
from wiretrace.diagnosis.engine import Advice, Engine
from wiretrace.diagnosis.hypotheses import Hypothesis
from wiretrace.diagnosis.procedure import Halt
from wiretrace.diagnosis.repertoire import Kind, Spot
from wiretrace.document.circuit import Circuit
from wiretrace.training.exercise.following import Followed

Number = int


@dataclass(frozen=True)
class Thinking:
    """All hypotheses along a course. `altered` where somebody has changed the wiring on it."""

    circuit: Circuit
    where: tuple[Spot, ...]
    every: tuple[Hypothesis, ...]
    followed: Mapping[Number, Followed]
    legs: int
    altered: bool = False

    def possible(self, leg: int, looked: bool = False) -> tuple[Number, ...]:
        """Hypotheses that fit all up to the end of a leg, the likeliest first; -1 for before the first.

        With `looked` before what was read at its end counted.
        """
        if leg < 0:
            return tuple(range(len(self.every)))
        fitting = (n for n, one in self.followed.items() if any(_at(one, leg, looked)))
        return tuple(sorted(fitting, key=lambda number: -self.every[number].weight))

    def weight(self, numbers: Sequence[Number]) -> float:
        return sum(self.every[number].weight for number in numbers)

    def told(self, leg: int) -> tuple[int, int, float]:
        """How many fitted before a leg and after it, and the bits that it told."""
        before, after = self.possible(leg - 1), self.possible(leg)
        if not after or not before:
            return len(before), len(after), 0.0
        return len(before), len(after), math.log2(self.weight(before) / self.weight(after))

    def engine(self, leg: int, looked: bool = False) -> Engine | None:
        """The diagnosis engine of the moment at the end of a leg, from what fits then; None where nothing does."""
        rows = [
            (number, value)
            for number in self.possible(leg, looked)
            for value, fits in enumerate(_at(self.followed[number], leg, looked))
            if fits and leg in self.followed[number].moments
        ]
        if not rows:
            return None
        rows.sort()
        moments = [(self.followed[number].moments[leg], value) for number, value in rows]
        known = Dictionary(
            self.circuit,
            (Halt("as it stands", (), 0),),
            self.where,
            self.every,
            np.array([number for number, _ in rows], dtype=np.intp),
            ((("",),),) * len(rows),
            np.array([[moment.volts[value]] for moment, value in moments]),
            np.array([moment.ohms[value] for moment, value in moments]),
            (),
        )
        return Engine(known)

    def best(self, leg: int, locked: bool, looked: bool = False) -> tuple[Engine, Advice] | None:
        """What it is best to read at the end of a leg: ohms only where the supply is locked off."""
        engine = self.engine(leg, looked)
        if engine is None:
            return None
        found = engine.advice(engine.everything, 1, (Kind.OHMS,) if locked else (Kind.VOLTS,))
        return (engine, found[0]) if found else None


def _at(one: Followed, leg: int, looked: bool) -> Sequence[bool]:
    flags = one.looked if looked else one.fits
    return flags[leg] if leg < len(flags) else ()
