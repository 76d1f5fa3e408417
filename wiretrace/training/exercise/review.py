"""The review: a path beside a best one, with what each step told, and a mark with its reasons."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from wiretrace.diagnosis.dictionary import Shown
from wiretrace.diagnosis.engine import Advice, Engine
from wiretrace.diagnosis.path import follow
from wiretrace.diagnosis.words import outcome_words, spot_words
from wiretrace.document.circuit import Frozen
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.record import Risk
from wiretrace.training.exercise.thinking import Thinking
from wiretrace.training.exercise.told import RISKS

WASTED_BITS: Final = 0.05
"""What a reading tells at least that is not called wasted."""


ReasonCode = Literal["not_found", "not_proved", "readings", "wasted", "risk", "hints", "sound_parts", "former"]
_FEW: Final = "{count} readings where a best path takes about {bound}."
REASONS: Final[Mapping[ReasonCode, tuple[str, str]]] = {
    "not_found": ("The fault was not found.",) * 2,
    "not_proved": ("The repair was not proved by running the sequence.",) * 2,
    "readings": (_FEW, _FEW),
    "wasted": (
        "{count} reading could tell nothing that was not known.",
        "{count} readings could tell nothing that was not known.",
    ),
    "hints": ("{count} step of hints.", "{count} steps of hints."),
    "sound_parts": ("{count} sound part named.", "{count} sound parts named."),
}
"""Of one, and of more."""


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


class Reason(Frozen):
    """Why points were lost, and how many; `count` of what it is about, `bound` how many a best path takes.

    `words` are those of a review that an early release kept.
    """

    code: ReasonCode
    points: int
    count: int = 0
    bound: int = 0
    risk: Risk | None = None
    words: str = ""


@dataclass(frozen=True)
class Mark:
    """How well it was done: points of 100, each reason with what it cost."""

    points: int
    reasons: tuple[Reason, ...]


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


def mark(
    found: bool,
    proved: bool,
    steps: Sequence[StepReview],
    bound: int | None,
    risks: Sequence[Risk],
    hints: int,
    wrong: int,
) -> Mark:
    """A mark with its reasons. `bound` is how many readings a best path takes, if that is known."""
    reasons: list[Reason] = []
    if not found:
        reasons.append(Reason(code="not_found", points=50))
    elif not proved:
        reasons.append(Reason(code="not_proved", points=10))
    readings = sum(step.read for step in steps)
    if bound is not None and readings > bound + 1:
        over = readings - bound - 1
        reasons.append(Reason(code="readings", points=min(20, 3 * over), count=readings, bound=bound))
    wasted = sum(step.wasted for step in steps)
    if wasted:
        reasons.append(Reason(code="wasted", points=min(10, 2 * wasted), count=wasted))
    for risk in dict.fromkeys(risks):
        times = risks.count(risk)
        reasons.append(Reason(code="risk", points=10 * times, count=times, risk=risk))
    if hints:
        reasons.append(Reason(code="hints", points=3 * hints, count=hints))
    if wrong:
        reasons.append(Reason(code="sound_parts", points=10 * wrong, count=wrong))
    return Mark(max(0, 100 - sum(one.points for one in reasons)), tuple(reasons))


def reason_words(reason: Reason) -> str:
    """Why points were lost, in words."""
    if reason.code == "former":
        return reason.words
    if reason.risk is not None:
        return RISKS[reason.risk] + (f" {reason.count} times." if reason.count > 1 else "")
    one, more = REASONS[reason.code]
    return (one if reason.count == 1 else more).format(count=reason.count, bound=reason.bound)


@dataclass(frozen=True)
class BestStep:
    """A reading of a best path: what it shows, and how many faults fit before and after it."""

    words: str
    shows: str
    before: int
    after: int


def best_path(thinking: Thinking, assembly: Assembly, leg: int | None, hidden: Fault | None) -> tuple[BestStep, ...]:
    """The readings that the engine would have taken in the state in which the first was; none where it cannot say."""
    engine = None if leg is None else thinking.engine(leg, looked=True)
    row = None if engine is None or hidden is None else _row_of(thinking, engine, hidden)
    if engine is None or row is None:
        return ()
    known = engine.known
    path = follow(engine, Shown(known.looks[row], known.volts[row], known.ohms[row]))
    return tuple(
        BestStep(
            f"{one.observation.kind.value.capitalize()} from {spot_words(assembly, known.spots[one.observation.spot])}",
            outcome_words(assembly, one.observation, one.outcome),
            one.before,
            one.after,
        )
        for one in path.taken
    )


def _row_of(thinking: Thinking, engine: Engine, hidden: Fault) -> int | None:
    """The row of what was hidden, or of the value of it that comes nearest."""
    for row, number in enumerate(engine.known.of.tolist()):
        one = thinking.every[number]
        if one.fault is not None and _place_of(one.fault) == _place_of(hidden):
            return row
    return None


def _place_of(fault: Fault) -> tuple[object, ...]:
    return type(fault), fault.where, getattr(fault, "branch", ""), getattr(fault, "terminal", "")
