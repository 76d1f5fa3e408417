"""From observations to what still fits, all of them weighed together: one may be a slip of hand, probe or reading."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Advice, Bools, Engine, Outcome
from wiretrace.diagnosis.path import Taken, taken_of
from wiretrace.diagnosis.repertoire import Floats, Kind

SLIP: Final = 0.03
"""How likely an observation is to be a slip: the wrong terminal, state or contact, a reading mistaken or misheard."""
SURE: Final = 0.97
"""Share of the weight of all that is thought of from which what explains everything counts as confirmed."""
BEYOND: Final = 2
"""Slips from which it is likelier that something else is wrong than all that was thought of."""
TOLD: Final = 0.005
"""Share from which a fault is told at all that explains all observations but one."""


@dataclass(frozen=True)
class Standing:
    """What is possible after observations.

    `possible` are the rows that contradict the fewest of them, `best` the likeliest of these; `alive` contradict one
    more at most, so that what was observed wrongly leaves the fault that is there among them. `weight` is how likely
    each row is, by how often its fault comes about and how many slips it would take; rows `between` fit by a value
    between theirs and the next. `unfitting` are numbers of observations that the best row contradicts; `taken` tells of
    each of the others what it told. `confirmed` where nothing but a second slip could make another fault of it;
    `outside` where two slips at least would be needed: rather it is none of these faults. `fitful` are those that would
    explain everything if they came and went.
    """

    possible: Bools
    alive: Bools
    weight: Floats
    best: int
    taken: tuple[Taken, ...]
    unfitting: tuple[int, ...]
    confirmed: bool
    outside: bool
    between: Bools
    fitful: tuple[int, ...]


def standing(
    engine: Engine, made: Sequence[tuple[Observation, Outcome]], sure: Collection[int] = frozenset()
) -> Standing:
    """Weigh all observations together, whatever their order. Those whose numbers are `sure` were made twice."""
    fits = np.array([engine.fits(what, outcome) for what, outcome in made], dtype=np.bool_).reshape(-1, engine.rows)
    counts = np.array([1 + (number in sure) for number in range(len(made))], dtype=np.intp)
    misses = counts @ ~fits
    least = int(misses.min(initial=2 * len(made)))
    weight: Floats = engine.weights * SLIP ** (misses - least).astype(np.float64)
    possible: Bools = misses == least
    alive: Bools = misses <= least + 1
    best = int(np.argmax(np.where(possible, weight, 0.0)))
    unfitting = tuple(number for number in range(len(made)) if not fits[number, best])
    share = float(weight[possible].sum() / weight.sum())
    outside = least >= BEYOND
    return Standing(
        possible,
        alive,
        weight,
        best,
        _taken(engine, made, fits, unfitting),
        unfitting,
        bool(made) and share >= SURE and not outside,
        outside,
        _between(engine, made),
        _fitful(engine, fits) if least else (),
    )


def _between(engine: Engine, made: Sequence[tuple[Observation, Outcome]]) -> Bools:
    found = ~engine.everything
    for what, outcome in made:
        found |= engine.between(what, outcome)
    return found


def _fitful(engine: Engine, fits: Bools) -> tuple[int, ...]:
    """Hypotheses of which each observation shows either the fault or a sound circuit, the likeliest first."""
    known = engine.known
    sound = next((row for row, number in enumerate(known.of) if not known.hypotheses[number].faults), None)
    if sound is None:
        return ()
    there, away = fits, fits[:, sound][:, None]
    explained = np.all(there | away, axis=0) & np.any(there & ~away, axis=0)
    left = engine.left(np.asarray(explained, dtype=np.bool_))
    # That two come and go at once is nothing to begin with.
    return tuple(number for number in left if known.hypotheses[number].also is None)


def _taken(
    engine: Engine, made: Sequence[tuple[Observation, Outcome]], fits: Bools, unfitting: Sequence[int]
) -> tuple[Taken, ...]:
    """What each observation told that is not thought to be a slip, one after the other."""
    before, found = engine.everything.copy(), list[Taken]()
    for number, (what, outcome) in enumerate(made):
        if number not in unfitting:
            after = before & fits[number]
            found.append(taken_of(engine, what, outcome, before, after))
            before = after
    return tuple(found)


def next_of(
    engine: Engine,
    now: Standing,
    made: Sequence[Observation],
    most: int = 5,
    allowed: Sequence[Kind] = tuple(Kind),
) -> tuple[Advice, ...]:
    """What to observe next, the best first: what parts the faults that fit, then what confirms the one that is left.

    None where what is left is confirmed, or nothing that was not observed yet could tell more.
    """
    # Among those that explain the most, the likelihoods stand as they did before anything was observed.
    parts = engine.advice(now.possible, most, allowed, made, _halt(made), now.between)
    if parts or now.confirmed:
        return parts
    return engine.confirming(now.best, now.alive, now.weight, allowed, made)[:most]


def _halt(made: Sequence[Observation]) -> int | None:
    """The state that the panel is in after these."""
    return made[-1].halt if made else None


def confirms(engine: Engine, now: Standing, made: Sequence[Observation]) -> bool:
    """Is what to observe next there to confirm, and no more to part faults that fit?"""
    # Asked as `next_of` asks, so that it is worked out once.
    return not now.confirmed and not engine.advice(now.possible, 1, tuple(Kind), made, _halt(made), now.between)


def likely(engine: Engine, now: Standing) -> tuple[tuple[int, float, bool], ...]:
    """Hypotheses with their likelihoods, and whether each explains all that any does: these first."""
    weight = np.bincount(engine.known.of, np.where(now.alive, now.weight, 0.0), len(engine.known.hypotheses))
    fits = np.bincount(engine.known.of, now.possible, len(engine.known.hypotheses)) > 0
    shares = weight / weight.sum()
    order = sorted(np.flatnonzero(shares).tolist(), key=lambda number: (not fits[number], -shares[number]))
    return tuple((n, float(shares[n]), bool(fits[n])) for n in order if fits[n] or shares[n] >= TOLD)
