"""A mark with its reasons: what work on a panel is worth by how safely and on what evidence it was done.

The rule is data. `docs/marks.md` says of every weight why it is what it is.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, Literal

from wiretrace.document.circuit import Frozen
from wiretrace.training.exercise.record import Risk
from wiretrace.training.exercise.review import StepReview
from wiretrace.training.exercise.told import RISKS

ReasonCode = Literal["not_found", "not_proved", "guess", "readings", "wasted", "risk", "hints", "sound_parts", "former"]


@dataclass(frozen=True)
class Weight:
    """What one of a kind costs of 100 points, what all of them cost at most, and why; `title` as it is called.

    `least` is what it costs at least, whoever changes it.
    """

    title: str
    points: int
    most: int
    why: str
    least: int = 0

    def of(self, count: int, points: int | None) -> int:
        """What so many of them cost, where one costs `points`."""
        each = self.points if points is None else points
        return min(max(self.most, each), each * count)


RULE: Final[Mapping[ReasonCode, Weight]] = {
    "not_found": Weight(
        "Not found", 50, 50, "The machine stands still as before; what was done safely until then still counts."
    ),
    "not_proved": Weight(
        "Not proved", 10, 10, "A second fault, or a wire left off, shows only when the machine is run again."
    ),
    "guess": Weight(
        "A guess", 20, 20, "A part is replaced when the readings point to it: the next guess replaces sound parts."
    ),
    "readings": Weight(
        "A reading too many",
        3,
        20,
        "Each reading more than a best path and one takes a minute of a machine that stands.",
    ),
    "wasted": Weight("A wasted reading", 2, 10, "A reading that can tell nothing new costs time, and nothing else."),
    "risk": Weight(
        "A risk", 10, 100, "What can hurt weighs more than any number of readings, each time that it is done.", least=5
    ),
    "hints": Weight(
        "A step of a hint", 3, 100, "At work nobody gives one; a step of a hint costs as much as a reading."
    ),
    "sound_parts": Weight(
        "A sound part named", 10, 100, "A sound part that is replaced costs the part, and the fault is still there."
    ),
}
_FEW: Final = "{count} readings where a best path takes about {bound}."
REASONS: Final[Mapping[ReasonCode, tuple[str, str]]] = {
    "not_found": ("The fault was not found.",) * 2,
    "not_proved": ("The repair was not proved by running the sequence.",) * 2,
    "guess": ("Named while {count} faults fitted all that was observed: a guess.",) * 2,
    "readings": (_FEW, _FEW),
    "wasted": (
        "{count} reading could tell nothing that was not known.",
        "{count} readings could tell nothing that was not known.",
    ),
    "hints": ("{count} step of hints.", "{count} steps of hints."),
    "sound_parts": ("{count} sound part named.", "{count} sound parts named."),
}
"""Of one, and of more."""
FEW: Final = 3
"""So many faults may fit still when one is named, and twice as many as a best path leaves: they lie side by side."""


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


@dataclass(frozen=True)
class Done:
    """What is marked.

    `bound` is how many readings a best path takes, and `best_leaves` how many faults fit at its end, if that is known;
    `named_at` how many still fitted when the fault was named rightly, None where nobody can say.
    """

    found: bool
    proved: bool
    steps: Sequence[StepReview] = ()
    bound: int | None = None
    risks: Sequence[Risk] = ()
    hints: int = 0
    sound_parts: int = 0
    named_at: int | None = None
    best_leaves: int = 1


def mark(work: Done, points: Mapping[ReasonCode, int] = MappingProxyType({})) -> Mark:
    """The mark with its reasons, by the rule; `points` of a reason that somebody changed."""
    reasons = tuple(
        one.model_copy(update={"points": RULE[one.code].of(times, points.get(one.code))}) for one, times in _lost(work)
    )
    return Mark(max(0, 100 - sum(one.points for one in reasons)), reasons)


def _lost(work: Done) -> Iterator[tuple[Reason, int]]:
    """What is held against it, without points, and how many times it counts."""
    if not work.found:
        yield Reason(code="not_found", points=0, count=1), 1
    elif not work.proved:
        yield Reason(code="not_proved", points=0, count=1), 1
    if work.found and work.named_at is not None and work.named_at > max(FEW, 2 * work.best_leaves):
        yield Reason(code="guess", points=0, count=work.named_at), 1
    readings = sum(step.read for step in work.steps)
    if work.bound is not None and readings > work.bound + 1:
        yield Reason(code="readings", points=0, count=readings, bound=work.bound), readings - work.bound - 1
    for risk in dict.fromkeys(work.risks):
        yield Reason(code="risk", points=0, count=work.risks.count(risk), risk=risk), work.risks.count(risk)
    counts: tuple[tuple[ReasonCode, int], ...] = (
        ("wasted", sum(step.wasted for step in work.steps)),
        ("hints", work.hints),
        ("sound_parts", work.sound_parts),
    )
    for code, count in counts:
        if count:
            yield Reason(code=code, points=0, count=count), count


def weights_of(kept: Mapping[str, int]) -> dict[ReasonCode, int]:
    """Points of a reason as they were kept; what an early release knew and this one does not is left out."""
    return {code: kept[code] for code in RULE if code in kept}


def reason_words(reason: Reason) -> str:
    """Why points were lost, in words."""
    if reason.code == "former":
        return reason.words
    if reason.risk is not None:
        return RISKS[reason.risk] + (f" {reason.count} times." if reason.count > 1 else "")
    one, more = REASONS[reason.code]
    return (one if reason.count == 1 else more).format(count=reason.count, bound=reason.bound)


def reason_why(reason: Reason) -> str:
    """Why that costs points at all; nothing of a review that an early release kept."""
    return "" if reason.code == "former" else RULE[reason.code].why
