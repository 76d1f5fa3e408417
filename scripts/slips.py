"""Plays the real panel with one wrong observation, and tells how often the engine comes to the fault all the same.

Faults are drawn by chance; at one step, wherever that falls, another fault's outcome is noted in place of the true one:
a probe on the wrong terminal, a reading mistaken. All others are true.

    .venv/bin/python -m scripts.slips [CIRCUIT ...] [--runs 200]
"""

import argparse
import random
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from wiretrace.diagnosis.advise import likely, next_of, standing
from wiretrace.diagnosis.dictionary import Dictionary, Observation, Shown, dictionary
from wiretrace.diagnosis.engine import Engine, Outcome
from wiretrace.diagnosis.path import outcome_of
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.library import library_circuit, library_sequence
from wiretrace.simulation.assembly import Assembly

MOST_STEPS = 40
CIRCUITS = ("start-stop-overload-line", "reversing-interlocked", "two-wire-float")


@dataclass(frozen=True)
class Run:
    """How one run ended: the place of the true fault (0: not there), its observations, was it confirmed, did it end."""

    place: int
    steps: int
    confirmed: bool
    ended: bool


def known_of(name: str) -> Dictionary:
    """The dictionary of a circuit of the library, with its own sequence."""
    circuit = library_circuit(name)
    return dictionary(circuit, halts_of(Assembly(circuit), library_sequence(name).steps))


def play(engine: Engine, row: int, wrong_at: int, chance: random.Random) -> Run:
    """Follow the engine's advice against the fault of a row; the observation of one step is noted wrongly."""
    shown = shown_by(engine, row)
    made: list[tuple[Observation, Outcome]] = []
    for step in range(MOST_STEPS):
        advices = next_of(engine, standing(engine, made), [what for what, _ in made], 1)
        if not advices:
            break
        what = advices[0].observation
        made.append((what, _wrong(engine, shown, what, chance) if step == wrong_at else outcome_of(shown, what)))
    now = standing(engine, made)
    return Run(_place(engine, row, likely(engine, now)), len(made), now.confirmed, len(made) < MOST_STEPS)


def shown_by(engine: Engine, row: int) -> Shown:
    known = engine.known
    return Shown(known.looks[row], known.volts[row], known.ohms[row])


def _wrong(engine: Engine, shown: Shown, what: Observation, chance: random.Random) -> Outcome:
    """What another fault would have shown there; the true outcome where all show the same."""
    true = outcome_of(shown, what)
    others = [
        row for row in range(engine.rows) if not engine.fits(what, outcome_of(shown_by(engine, row), what))[0] or row
    ]
    chance.shuffle(others)
    fitting = engine.fits(what, true)
    return next((outcome_of(shown_by(engine, row), what) for row in others if not fitting[row]), true)


def _place(engine: Engine, row: int, found: tuple[tuple[int, float, bool], ...]) -> int:
    """The place of a row's fault, or of one that nothing can tell from it."""
    same = alike(engine, row)
    return next((at for at, (number, _, _) in enumerate(found, 1) if number in same), 0)


def alike(engine: Engine, row: int) -> set[int]:
    """Hypotheses that show the same as a row within the tolerance of every observation."""
    low, high = engine._reach
    same = ((low <= engine._columns[row]) & (engine._columns[row] <= high)).all(axis=1)
    return {int(number) for number in np.unique(engine.known.of[same])} | {int(engine.known.of[row])}


def runs(engine: Engine, count: int, seed: int = 1, slips: bool = True) -> Iterator[Run]:
    """So many runs against faults drawn by chance, the slip at one of the first eight steps."""
    chance = random.Random(seed)
    rows = [row for row in range(engine.rows) if engine.known.hypotheses[int(engine.known.of[row])].fault is not None]
    for _ in range(count):
        row = chance.choice(rows)
        yield play(engine, row, chance.randrange(8) if slips else -1, chance)


def told(name: str, found: list[Run]) -> str:
    """A line of figures."""
    count = len(found)
    first, three = (sum(0 < run.place <= most for run in found) / count for most in (1, 3))
    steps = sum(run.steps for run in found) / count
    return (
        f"{name}: {count} runs, first {first:.1%}, in the first three {three:.1%}, {steps:.1f} observations,"
        f" without end {sum(not run.ended for run in found)}"
    )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("circuits", nargs="*", default=CIRCUITS)
    parser.add_argument("--runs", type=int, default=200)
    given = parser.parse_args()
    for name in given.circuits:
        engine = Engine(known_of(name))
        print(told(f"{name}, no slip", list(runs(engine, given.runs, slips=False))), flush=True)
        print(told(f"{name}, one slip", list(runs(engine, given.runs))), flush=True)


if __name__ == "__main__":
    main()
