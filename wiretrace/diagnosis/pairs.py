"""Two faults at once, on demand: where no single one explains all that was observed."""

import math
from collections.abc import Callable, Iterable, Sequence
from functools import partial
from typing import Final

from wiretrace.catalogue.machinery.status import tells
from wiretrace.diagnosis.advise import standing
from wiretrace.diagnosis.dictionary import Dictionary, Observation, Shown, show
from wiretrace.diagnosis.engine import OHMS, VOLTS, Engine, Outcome, ends_of
from wiretrace.diagnosis.procedure import Halt
from wiretrace.diagnosis.repertoire import Kind, Spot
from wiretrace.document.circuit import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault

MOST_FIRST: Final = 8
"""The likeliest faults that fit most of what was observed: each is tried with every other."""
Made = Sequence[tuple[Observation, Outcome]]
Pair = tuple[int, int]


def pairs(
    engine: Engine,
    made: Made,
    worked: Callable[[Callable[[Pair], bool], list[Pair]], Iterable[bool]] = map,
) -> tuple[Pair, ...]:
    """Hypotheses that together explain every observation, the likeliest first. `worked` tries them in order."""
    known = engine.known
    fitting = [number for number in engine.left(standing(engine, made).possible) if known.hypotheses[number].fault]
    tried = [
        (one, other)
        for one in fitting[:MOST_FIRST]
        for other, second in enumerate(known.hypotheses)
        if second.fault is not None and other != one
    ]
    found = [
        pair for pair, fits in zip(tried, worked(partial(explains, known, tuple(made)), tried), strict=True) if fits
    ]
    weight = [one.weight for one in known.hypotheses]
    return tuple(sorted(dict.fromkeys(found), key=lambda pair: -weight[pair[0]] * weight[pair[1]]))


def explains(known: Dictionary, made: Made, pair: Pair) -> bool:
    """Does a circuit with both faults show everything that was observed?"""
    faults: list[Fault] = [fault for number in pair if (fault := known.hypotheses[number].fault) is not None]
    # States after the last that was looked at tell nothing.
    last = max((what.halt for what, _ in made), default=-1)
    shown = _shown(known.circuit, faults, known.halts[: last + 1], known.spots)
    return shown is not None and all(_fits(shown, what, outcome) for what, outcome in made)


def _shown(circuit: Circuit, faults: Sequence[Fault], halts: Sequence[Halt], spots: Sequence[Spot]) -> Shown | None:
    try:
        return show(circuit, faults, halts, spots)
    except WiretraceError:
        return None


def _fits(shown: Shown, what: Observation, outcome: Outcome) -> bool:
    if isinstance(outcome, tuple):
        looks = shown.looks[what.halt]
        return tells(looks[what.spot], outcome[0]) if what.kind is Kind.WORD else outcome == looks
    value = float(shown.ohms[what.spot] if what.kind is Kind.OHMS else shown.volts[what.halt, what.spot])
    low, high = ends_of(outcome)
    if math.isinf(value) or math.isinf(low):
        return math.isinf(value) and math.isinf(high)
    least, share = OHMS if what.kind is Kind.OHMS else VOLTS
    off = 2 * (least + share * max(value, low))
    return low - off <= value <= high + off
