"""Hints in three steps: where to think, what to measure, and what each outcome of that would rule out."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Advice, Engine
from wiretrace.diagnosis.hypotheses import Hypothesis
from wiretrace.diagnosis.repertoire import RISK, Kind
from wiretrace.diagnosis.words import spot_words, words_of
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.following import Runs
from wiretrace.training.exercise.risks import Care
from wiretrace.training.exercise.steps import Course
from wiretrace.training.exercise.thinking import Number, Thinking
from wiretrace.training.exercise.told import place_words
from wiretrace.training.exercise.tries import Try, best_try

COST_S: Final = (60, 120, 180)
"""What the three steps of a hint cost, seconds."""
MOST_NAMED: Final = 6
NOTHING: Final = (
    "No reading in this state tells the rest apart. Go on with the operating sequence, or switch off and lock off"
    " for ohms."
)
UNEXPLAINED: Final = (
    "No single fault that comes about explains all that was observed: it may come and go, or there are two."
    " Measure again what was measured first."
)


def hint(thinking: Thinking, runs: Runs, course: Course, step: int, care: Care) -> str:
    """A hint after all that was done; `step` from 1 to 3.

    A button that tells no less than the best reading is the better advice: nobody has to put probes on for it. Not
    where nothing is live, nor where something has tripped and was not looked into.
    """
    leg, assembly = thinking.legs - 1, runs.sound
    left = thinking.possible(leg)
    if not left:
        return UNEXPLAINED
    if len(left) == 1:
        return _alone(thinking, assembly, left[0], step)
    if step == 1:
        return _where(thinking, assembly, left)
    found = thinking.best(leg, care.locked)
    button = None if care.locked or care.tripped else best_try(thinking, runs, course)
    if button is not None and (found is None or button.bits >= found[1].bits):
        return _press(button) if step == 2 else _happens(thinking, assembly, button)
    if found is None:
        return NOTHING
    engine, advice = found
    return _what(engine, assembly, advice) if step == 2 else _why(engine, assembly, advice)


def _alone(thinking: Thinking, assembly: Assembly, number: Number, step: int) -> str:
    """Where one fault is left nothing more is to be measured: where to look, how, and what it is."""
    what = thinking.every[number]
    if what.fault is None:
        return UNEXPLAINED
    if step == 1:
        return "One fault alone still explains all that was observed."
    place = place_words(assembly, what.fault.where)
    if step == 2:
        return f"Nothing more needs to be measured. Switch off, lock off, prove dead, and look at {place}."
    return f"It is this: {words_of(assembly, what)}. Switch off, lock off and prove dead before it is touched."


def _press(button: Try) -> str:
    return f"Press {button.button.label}, let it go, and watch what every device does. Keep clear of what may start."


def _happens(thinking: Thinking, assembly: Assembly, button: Try) -> str:
    parts = [f"{happens}: {_named(thinking.every, assembly, numbers)}" for happens, numbers in button.leaves.items()]
    return f"What it would leave. {'; '.join(parts)}."


def _where(thinking: Thinking, assembly: Assembly, left: Sequence[Number]) -> str:
    shares: dict[str, float] = {}
    for number in left:
        fault = thinking.every[number].fault
        if fault is not None:
            place = place_words(assembly, fault.where)
            shares[place] = shares.get(place, 0.0) + thinking.every[number].weight
    places = sorted(shares, key=lambda place: -shares[place])
    more = f" and {len(places) - MOST_NAMED} other places" if len(places) > MOST_NAMED else ""
    return (
        f"{len(left)} faults still explain all that was observed. Think about {', '.join(places[:MOST_NAMED])}{more}."
    )


def _what(engine: Engine, assembly: Assembly, advice: Advice) -> str:
    what = advice.observation
    unit = "ohms" if what.kind is Kind.OHMS else "volts"
    return f"Measure {unit} from {spot_words(assembly, engine.known.spots[what.spot])}. {RISK[what.kind]}"


def _why(engine: Engine, assembly: Assembly, advice: Advice) -> str:
    every = engine.known.hypotheses
    parts = [f"{shows}: {_named(every, assembly, left)}" for shows, left in outcomes(engine, advice.observation)]
    return f"What it would leave. {'; '.join(parts)}."


def outcomes(engine: Engine, what: Observation) -> list[tuple[str, tuple[Number, ...]]]:
    """The outcomes that a reading may have, the least first, each with the faults that would then still fit."""
    values = engine.known.ohms[:, what.spot] if what.kind is Kind.OHMS else engine.known.volts[:, 0, what.spot]
    found: dict[tuple[Number, ...], list[float]] = {}
    for value in np.unique(values):
        found.setdefault(engine.left(engine.fits(what, float(value))), []).append(float(value))
    unit = "ohm" if what.kind is Kind.OHMS else "V"
    return [(_range(shown, unit), left) for left, shown in found.items()]


def _range(values: Sequence[float], unit: str) -> str:
    low, high = min(values), max(values)
    if np.isinf(low):
        return "OL"
    return f"{low:.3g} {unit}" if high - low < 0.05 * high + 0.5 else f"{low:.3g} to {high:.3g} {unit}"


def _named(every: Sequence[Hypothesis], assembly: Assembly, numbers: Sequence[Number]) -> str:
    words = [words_of(assembly, every[number]) for number in numbers[:MOST_NAMED]]
    more = f" and {len(numbers) - MOST_NAMED} more" if len(numbers) > MOST_NAMED else ""
    return f"{', '.join(words)}{more}"
