"""Attacks the short way to a fault dictionary: on random circuits, it must show what the long way shows.

    .venv/bin/python -m scripts.adversary_short 500           circuits that nobody drew, some rows of each

`--seed` begins elsewhere. What differs is told, and the exit code is 1: words, more than 10 mV and 0.01 %, a way that
an ohmmeter finds in one and not in the other, an error in one of them alone.
"""

import argparse
import random
import sys
from collections.abc import Iterator
from typing import Final

import numpy as np

from scripts.adversary import anything
from wiretrace.diagnosis.dictionary import Shown, Task, Worked, show
from wiretrace.diagnosis.hypotheses import hypotheses
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.errors import WiretraceError
from wiretrace.simulation.assembly import Assembly

ROWS_EACH: Final = 20


def compared(seed: int) -> Iterator[str]:
    """For some rows of one circuit what differs, nothing where nothing does."""
    circuit, chance = anything(seed).circuit, random.Random(seed)
    try:
        sound = Assembly(circuit)
        task = Task(circuit, halts_of(sound), hypotheses(sound))
    except WiretraceError:
        return
    tasks = chance.sample(task.alike, min(len(task.alike), ROWS_EACH))
    for alike in tasks:
        worked = task.work_out(alike)
        at = chance.randrange(len(alike))
        fault = task.rows[alike[at]][1]
        differs = _differs(worked[at], _by_itself(task, alike[at]))
        yield f"{fault}: {differs}" if differs else ""


def _by_itself(task: Task, number: int) -> Worked:
    try:
        return show(task.circuit, task.rows[number][1], task.halts, task.where)
    except WiretraceError as error:
        return error.message


def _differs(short: Worked, long: Worked) -> str:
    if isinstance(short, str) or isinstance(long, str):
        both = [one if isinstance(one, str) else "shown" for one in (short, long)]
        return "" if both[0] == both[1] else f"{both[0]} / {both[1]}"
    return _shows_other(short, long)


def _shows_other(short: Shown, long: Shown) -> str:
    if short.looks != long.looks:
        return str(next(pair for pair in zip(short.looks, long.looks, strict=True) if pair[0] != pair[1]))
    if not np.allclose(short.volts, long.volts, rtol=1e-4, atol=0.01):
        return f"{np.abs(short.volts - long.volts).max():g} V apart"
    if not np.array_equal(np.isinf(short.ohms), np.isinf(long.ohms)):
        return "a way for ohms in one alone"
    return "" if np.allclose(short.ohms, long.ohms, rtol=1e-4, atol=0.001) else "ohms apart"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("most", nargs="?", type=int, default=200)
    parser.add_argument("--seed", type=int, default=0)
    told = parser.parse_args()
    rows = found = 0
    for seed in range(told.seed, told.seed + told.most):
        for line in compared(seed):
            rows += 1
            if line:
                print(f"seed {seed}: {line}", flush=True)
                found += 1
    print(f"{rows} rows compared, {found} found")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
