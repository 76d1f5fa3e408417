"""From observations to what still fits, in the order in which they were made."""

from collections.abc import Sequence
from dataclasses import dataclass

from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Bools, Engine, Outcome
from wiretrace.diagnosis.path import Taken, taken_of


@dataclass(frozen=True)
class Standing:
    """What is possible after observations. `unfitting` are numbers of those that no fault explains with the others.

    They are left aside, so that the nearest faults stay in sight. `taken` tells of each of the others what it told.
    """

    possible: Bools
    taken: tuple[Taken, ...]
    unfitting: tuple[int, ...]


def standing(engine: Engine, made: Sequence[tuple[Observation, Outcome]]) -> Standing:
    """Take observations one after the other."""
    possible, taken, unfitting = engine.everything.copy(), list[Taken](), list[int]()
    for number, (what, outcome) in enumerate(made):
        after = possible & engine.fits(what, outcome)
        if not after.any():
            unfitting.append(number)
            continue
        taken.append(taken_of(engine, what, outcome, possible, after))
        possible = after
    return Standing(possible, tuple(taken), tuple(unfitting))
