"""The review: a path beside a best one, with what each step told."""

import math
from dataclasses import dataclass
from typing import Final

from wiretrace.diagnosis.dictionary import Shown
from wiretrace.diagnosis.engine import Advice, Engine
from wiretrace.diagnosis.path import follow
from wiretrace.diagnosis.repertoire import DEAD
from wiretrace.diagnosis.words import GO_DEAD, outcome_words, spot_words
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.thinking import Thinking

WASTED_BITS: Final = 0.05
"""What a reading tells at least that is not called wasted."""


@dataclass(frozen=True)
class StepReview:
    """A leg: faults that fitted before and after it, the bits it told; what the best reading there would have told.

    `places` are devices and wires that were still to blame after it.
    """

    before: int
    after: int
    bits: float
    read: bool
    best: str
    best_bits: float
    wasted: bool
    places: tuple[str, ...]


def review_step(thinking: Thinking, assembly: Assembly, leg: int, read: bool, locked: bool) -> StepReview:
    """What a leg told, and what would have told most where something was read."""
    before, after, bits = thinking.told(leg)
    best = thinking.best(leg, locked, looked=True) if read else None
    own = _own_bits(thinking, leg) if read else bits
    words, most = ("", 0.0) if best is None else (_words(assembly, best), best[1].bits)
    return StepReview(
        len(thinking.possible(leg, looked=True)) if read else before,
        after,
        own,
        read,
        words,
        most,
        read and own < WASTED_BITS and most > WASTED_BITS,
        places(thinking, leg),
    )


def _own_bits(thinking: Thinking, leg: int) -> float:
    """Bits of the reading alone, without what was seen on the way."""
    before, after = thinking.possible(leg, looked=True), thinking.possible(leg)
    return math.log2(thinking.weight(before) / thinking.weight(after)) if before and after else 0.0


def places(thinking: Thinking, leg: int) -> tuple[str, ...]:
    """Devices and wires that are still to blame after a leg."""
    faults = (thinking.every[number].fault for number in thinking.possible(leg))
    return tuple(dict.fromkeys(fault.where for fault in faults if fault is not None))


def _words(assembly: Assembly, best: tuple[Engine, Advice]) -> str:
    engine, advice = best
    what = advice.observation
    return f"{what.kind.value.capitalize()} from {spot_words(assembly, engine.known.spots[what.spot])}"


@dataclass(frozen=True)
class BestStep:
    """A reading of a best path: what it shows, and how many faults fit before and after it.

    `first` is what has to be done before it.
    """

    words: str
    shows: str
    before: int
    after: int
    first: str = ""


def best_path(
    thinking: Thinking, assembly: Assembly, leg: int | None, hidden: Fault | None, locked: bool
) -> tuple[BestStep, ...] | None:
    """The readings that the engine would have taken in the state in which the first was; None where it cannot say.

    `locked` where the panel was locked off then.
    """
    engine = None if leg is None else thinking.engine(leg, looked=True)
    row = None if engine is None or hidden is None else _row_of(thinking, engine, hidden)
    if engine is None or row is None:
        return None
    known = engine.known
    start = DEAD if locked else 0
    path = follow(engine, Shown(known.looks[row], known.volts[row], known.ohms[row]), start=start)
    return tuple(
        BestStep(
            f"{one.observation.kind.value.capitalize()} from {spot_words(assembly, known.spots[one.observation.spot])}",
            outcome_words(assembly, one.observation, one.outcome),
            one.before,
            one.after,
            _first(before, one.observation.halt),
        )
        for before, one in zip((start, *(one.observation.halt for one in path.taken)), path.taken, strict=False)
    )


def _first(now: int, to: int) -> str:
    """What to do before a reading of a path that is taken in one state of the panel, and dead."""
    if now == to:
        return ""
    return GO_DEAD if to == DEAD else "First close up, unlock, put it under power and bring it to where it stood."


def _row_of(thinking: Thinking, engine: Engine, hidden: Fault) -> int | None:
    """The row of what was hidden, or of the value of it that comes nearest."""
    for row, number in enumerate(engine.known.of.tolist()):
        one = thinking.every[number]
        if one.fault is not None and _place_of(one.fault) == _place_of(hidden):
            return row
    return None


def _place_of(fault: Fault) -> tuple[object, ...]:
    return type(fault), fault.where, getattr(fault, "branch", ""), getattr(fault, "terminal", "")
