"""Plays the real panel against faults that are in no list, and tells what the engine makes of them.

A bridge, a wire beside where it belongs, two exchanged, another voltage, two faults at once, one that comes and
goes, and a wire on a far terminal, which no list has: an apprentice follows the advice. That one counts as found where
what is named is the wire, or the terminal that it was taken off.

    .venv/bin/python -m scripts.beyond [CIRCUIT ...] [--runs 10]
"""

import argparse
import os
import random
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np

from scripts.slips import alike, known_of
from wiretrace.diagnosis.advise import Standing, likely, next_of, standing
from wiretrace.diagnosis.dictionary import Alike, Observation, Shown, Worked, dictionary, joined, show
from wiretrace.diagnosis.engine import Engine, Outcome
from wiretrace.diagnosis.hypotheses import Hypothesis, rare_hypotheses
from wiretrace.diagnosis.pairs import Made, likely_pairs
from wiretrace.diagnosis.path import outcome_of
from wiretrace.diagnosis.splitting import region
from wiretrace.document.circuit import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.wires import Misplaced
from wiretrace.faults.registry import kind_name
from wiretrace.simulation.assembly import Assembly

MOST_STEPS = 40
CIRCUITS = ("start-stop-overload-line", "two-wire-float", "reversing-interlocked")


@dataclass(frozen=True)
class Outside:
    """Faults that are there at once, and how they are called; a fitful one is there at every second observation."""

    sort: str
    faults: tuple[Fault, ...]
    fitful: bool = False


@dataclass(frozen=True)
class Run:
    """How one run ended.

    `place` of what is there (0: not there), `steps`, was something `confirmed`, was it said to be `outside` the likely
    ones, does a `region` hold it, did it `end`; `sound` where nothing that was looked at differs from a sound circuit.
    """

    place: int
    steps: int
    confirmed: bool
    outside: bool
    region: bool
    ended: bool
    sound: bool


@dataclass(frozen=True)
class Bench:
    """A circuit, the engine of its likely faults, and that which knows the rare ones, too."""

    circuit_name: str
    engine: Engine
    rare: Engine

    def wider(self, made: Made) -> Engine:
        """With pairs that fit what was observed."""
        known = self.rare.known
        pairs = likely_pairs(self.engine, made)
        return Engine(joined(known, dictionary(known.circuit, known.halts, pairs, shared))) if pairs else self.rare


def shared(work: Callable[[Alike], list[Worked]], tasks: Sequence[Alike]) -> Iterable[list[Worked]]:
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        yield from pool.map(work, tasks, chunksize=8)


def bench(name: str) -> Bench:
    known = known_of(name)
    every = rare_hypotheses(Assembly(known.circuit))
    return Bench(name, Engine(known), Engine(joined(known, dictionary(known.circuit, known.halts, every, shared))))


def outsides(given: Bench, count: int, chance: random.Random) -> Iterator[Outside]:
    """So many of each sort."""
    rare: dict[str, list[Fault]] = {}
    for one in given.rare.known.hypotheses[len(given.engine.known.hypotheses) :]:
        rare.setdefault(kind_name(one.faults[0]), []).extend(one.faults)
    listed = [one.faults[0] for one in given.engine.known.hypotheses if one.faults]
    for _ in range(count):
        for sort, faults in rare.items():
            yield Outside(sort, (chance.choice(faults),))
        yield Outside("two at once", tuple(chance.sample(listed, 2)))
        yield Outside("far", (_far(given.engine.known.circuit, chance),))
        yield Outside("comes and goes", (chance.choice(listed),), fitful=True)


def _far(circuit: Circuit, chance: random.Random) -> Fault:
    """A wire on a terminal of another device."""
    wire = chance.choice(circuit.conductors)
    ends = {end for other in circuit.conductors for end in (other.a, other.b) if end.device != wire.b.device}
    return Misplaced(wire.id, chance.choice(sorted(ends, key=repr)), "b")


def play(given: Bench, hidden: Outside) -> Run | None:
    """Follow the advice against what is hidden; None where the circuit cannot be worked out with it."""
    known = given.engine.known
    try:
        there = show(known.circuit, hidden.faults, known.halts, known.spots)
    except WiretraceError:
        return None
    away = Shown(known.looks[0], known.volts[0], known.ohms[0])
    engine, made = given.rare, list[tuple[Observation, Outcome]]()
    outside = False
    for step in range(MOST_STEPS):
        now = standing(engine, made)
        if now.outside and not outside:
            outside, engine = True, given.wider(made)
            now = standing(engine, made)
        what = _next(engine, now, made)
        if what is None:
            break
        made.append((what, outcome_of(away if hidden.fitful and step % 2 else there, what)))
    return _run(given, hidden, engine, made, outside)


def _next(engine: Engine, now: Standing, made: Made) -> Observation | None:
    """What is advised; where nothing known explains what was observed, the reading that halves the way."""
    if now.outside:
        found = region(engine, Assembly(engine.known.circuit), made)
        return found.next if found else None
    advices = next_of(engine, now, [what for what, _ in made], 1)
    return advices[0].observation if advices else None


def _run(given: Bench, hidden: Outside, engine: Engine, made: Made, outside: bool) -> Run:
    now = standing(engine, made)
    assembly = Assembly(given.engine.known.circuit)
    found = region(given.engine, assembly, made)
    places = {one.where for one in hidden.faults}
    return Run(
        _place(engine, hidden, [n for n, _, _ in likely(engine, now)]) or _fitful(engine, hidden, now.fitful),
        len(made),
        now.confirmed,
        outside,
        found is not None and bool(places & set(found.places)),
        len(made) < MOST_STEPS,
        all(engine.fits(what, outcome)[0] for what, outcome in made),
    )


def _place(engine: Engine, hidden: Outside, found: Sequence[int]) -> int:
    """The place of what is there, or of the one of two that is found first, or of what nothing tells from it."""
    known = engine.known
    there = {number for number, one in enumerate(known.hypotheses) if one.faults and _named(known.circuit, hidden, one)}
    rows = np.flatnonzero(np.isin(known.of, list(there)))
    same = there | {other for row in rows for other in alike(engine, int(row))}
    return next((at for at, number in enumerate(found, 1) if number in same), 0)


def _named(circuit: Circuit, hidden: Outside, one: Hypothesis) -> bool:
    if hidden.sort != "far":
        return set(one.faults) <= set(hidden.faults)
    wire = next(wire for wire in circuit.conductors if wire.id == hidden.faults[0].where)
    return any(fault.where == wire.id or fault.cuts_off() in (wire.a, wire.b) for fault in one.faults)


def _fitful(engine: Engine, hidden: Outside, found: Sequence[int]) -> int:
    return _place(engine, hidden, found) if hidden.fitful else 0


def told(name: str, sort: str, found: Sequence[Run]) -> str:
    """A line of figures: of those that show anything at all."""
    shown = [run for run in found if not run.sound]
    count = max(1, len(shown))
    three, first = (sum(0 < run.place <= most for run in shown) for most in (3, 1))
    wrong = sum(run.confirmed and not run.place for run in shown)
    region_there, outside, steps = (
        sum(getattr(run, name) for run in shown) / count for name in ("region", "outside", "steps")
    )
    return (
        f"{name}, {sort}: {len(shown)} of {len(found)} show; first {first / count:.0%}, in the first three"
        f" {three / count:.0%}, said to be outside {outside:.0%}, region holds it {region_there:.0%},"
        f" confirmed wrongly {wrong}, {steps:.1f} observations, without end {sum(not run.ended for run in shown)}"
    )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("circuits", nargs="*", default=CIRCUITS)
    parser.add_argument("--runs", type=int, default=10)
    given = parser.parse_args()
    for name in given.circuits:
        known, chance = bench(name), random.Random(1)
        found: dict[str, list[Run]] = {}
        for hidden in outsides(known, given.runs, chance):
            if (run := play(known, hidden)) is not None:
                found.setdefault(hidden.sort, []).append(run)
        for sort, runs in found.items():
            print(told(name, sort, runs), flush=True)
        print(f"{name}: {Counter(run.place for runs in found.values() for run in runs if not run.sound)}", flush=True)


if __name__ == "__main__":
    main()
