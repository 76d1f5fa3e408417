"""Following the engine's own advice: against one hidden fault, and against every fault of a circuit."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from wiretrace.diagnosis.dictionary import Dictionary, Observation, Shown, show
from wiretrace.diagnosis.engine import Bools, Engine, Outcome
from wiretrace.diagnosis.repertoire import EFFORT, LOCK_OFF, SWITCH_ON, Kind, way_there
from wiretrace.faults.fault import Fault


@dataclass(frozen=True)
class Taken:
    """An observation that was made: what came of it, how many faults were possible before and after, the bits told."""

    observation: Observation
    outcome: Outcome
    before: int
    after: int
    bits: float


@dataclass(frozen=True)
class Path:
    """Observations until nothing could tell the rest apart; `left` are the hypotheses at the end, likeliest first.

    Empty where nothing fits: then the last observation is that which no known fault explains.
    """

    taken: tuple[Taken, ...]
    left: tuple[int, ...]


@dataclass(frozen=True)
class Audit:
    """The engine against every fault. `bound` is log2 of the number of groups that can be told apart.

    `mean` and `worst` count observations, `effort` is the mean with what coming to each state costs, `switched` how
    often the panel is locked off or put back under power on the mean. `missed` are hypotheses that were not among what
    was left at the end of their own path.
    """

    groups: tuple[tuple[int, ...], ...]
    bound: float
    mean: float
    worst: int
    effort: float
    switched: float
    missed: tuple[int, ...]


def outcome_of(shown: Shown, what: Observation) -> Outcome:
    """What an observation gives where this is shown."""
    if what.kind is Kind.LOOK:
        return shown.looks[what.halt]
    return float(shown.ohms[what.spot] if what.kind is Kind.OHMS else shown.volts[what.halt, what.spot])


def follow(
    engine: Engine, shown: Shown, memory: dict[bytes, Observation | None] | None = None, start: int | None = None
) -> Path:
    """Observe what the engine advises until it has nothing more to advise; `start` is the state of the panel then."""
    return Path(*_followed(engine, shown, {} if memory is None else memory, start))


def _followed(
    engine: Engine, shown: Shown, memory: dict[bytes, Observation | None], start: int | None
) -> tuple[tuple[Taken, ...], tuple[int, ...]]:
    possible, taken = engine.everything.copy(), list[Taken]()
    made, between = list[Observation](), ~engine.everything
    while (what := _next(engine, possible, between, made, memory, start)) is not None:
        outcome = outcome_of(shown, what)
        after = possible & engine.fits(what, outcome)
        between |= engine.between(what, outcome)
        taken.append(taken_of(engine, what, outcome, possible, after))
        made.append(what)
        possible = after
    return tuple(taken), engine.left(possible)


def taken_of(engine: Engine, what: Observation, outcome: Outcome, before: Bools, after: Bools) -> Taken:
    """What an observation told: log2 of how much likelier the rest became."""
    shares = [float(engine.weights[rows].sum()) for rows in (before, after)]
    bits = math.log2(shares[0] / shares[1]) if shares[1] > 0 else 0.0
    return Taken(what, outcome, len(engine.left(before)), len(engine.left(after)), bits)


def _next(
    engine: Engine,
    possible: Bools,
    between: Bools,
    made: Sequence[Observation],
    memory: dict[bytes, Observation | None],
    start: int | None,
) -> Observation | None:
    now = made[-1].halt if made else start
    key = possible.tobytes() + between.tobytes() + repr((sorted(map(engine.column, made)), now)).encode()
    if key not in memory:
        best = engine.advice(possible, 1, made=made, now=now, between=between)
        memory[key] = best[0].observation if best else None
    return memory[key]


def against(engine: Engine, hidden: Sequence[Fault]) -> Path:
    """The path against faults that are there, whether the dictionary has them or not. Raises what a run raises."""
    known = engine.known
    return follow(engine, show(known.circuit, hidden, known.halts, known.spots))


def audit(engine: Engine) -> Audit:
    """The engine against every fault of its dictionary."""
    memory: dict[bytes, Observation | None] = {}
    groups: dict[tuple[int, ...], None] = {}
    lengths, efforts, switched, missed = [], [], [], []
    for number, shown in _typical(engine.known):
        path = follow(engine, shown, memory)
        groups.setdefault(tuple(sorted(path.left)))
        lengths.append(len(path.taken))
        ways = ways_of([one.observation for one in path.taken])
        efforts.append(sum(EFFORT[one.observation.kind] for one in path.taken) + sum(ways))
        switched.append(sum(way in (LOCK_OFF, SWITCH_ON) for way in ways))
        if number not in path.left:
            missed.append(number)
    bound = math.log2(len(groups)) if groups else 0.0
    mean, effort, switches = (float(np.mean(many)) if many else 0.0 for many in (lengths, efforts, switched))
    return Audit(tuple(groups), bound, mean, max(lengths, default=0), effort, switches, tuple(missed))


def ways_of(made: Sequence[Observation]) -> list[float]:
    """What it costs to come to the state of each observation from that of the one before."""
    return [way_there(before, one.halt) for before, one in zip((None, *(one.halt for one in made)), made, strict=False)]


def _typical(known: Dictionary) -> Iterator[tuple[int, Shown]]:
    """What every fault shows with the value that is typical of it, but for the sound circuit."""
    for number, one in enumerate(known.hypotheses):
        rows = np.flatnonzero(known.of == number)
        if one.fault is not None and len(rows):
            row = int(rows[0])
            yield number, Shown(known.looks[row], known.volts[row], known.ohms[row])
