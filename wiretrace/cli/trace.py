"""wiretrace trace: the diagnosis engine from the shell."""

import json
import math
import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

import click
import numpy as np

from wiretrace.diagnosis.advise import likely, next_of, standing
from wiretrace.diagnosis.dictionary import Alike, Dictionary, Worked, dictionary
from wiretrace.diagnosis.engine import Advice, Engine
from wiretrace.diagnosis.hypotheses import hypotheses
from wiretrace.diagnosis.path import Audit, against, audit
from wiretrace.diagnosis.path import Path as Followed
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.diagnosis.repertoire import RISK
from wiretrace.diagnosis.splitting import region
from wiretrace.diagnosis.wider import widened
from wiretrace.diagnosis.words import (
    first_words,
    hypothesis_words,
    observation_words,
    outcome_words,
    region_words,
    told,
)
from wiretrace.document.circuit import Circuit
from wiretrace.errors import MalformedDocument
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_names, library_sequence
from wiretrace.simulation.assembly import Assembly

MOST_NAMED = 40
Told = dict[str, Any]


def known_of(name: str, circuit: Circuit) -> Dictionary:
    """The fault dictionary of a circuit, worked out on all cores; a bar tells how far it is."""
    steps = library_sequence(name).steps if name in library_names() else ()
    sound = Assembly(circuit)
    halts, every = halts_of(sound, steps), hypotheses(sound)

    return dictionary(circuit, halts, every, shared)


def shared(work: Callable[[Alike], list[Worked]], tasks: Sequence[Alike]) -> Iterator[list[Worked]]:
    """Rows worked out on all cores; a line now and then tells how far they are."""
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for done, worked in enumerate(pool.map(work, tasks, chunksize=8), 1):
            if done % 50 == 0 or done == len(tasks):
                click.echo(f"Fault dictionary: {done} of {len(tasks)}", err=True)
            yield worked


class Teller:
    """The engine in words."""

    def __init__(self, known: Dictionary) -> None:
        self.engine = Engine(known)
        self.assembly = Assembly(known.circuit)

    def faults(self, numbers: tuple[int, ...]) -> list[str]:
        return [hypothesis_words(self.engine.known, self.assembly, number) for number in numbers]

    def path(self, followed: Followed) -> list[Told]:
        halts = (None, *(one.observation.halt for one in followed.taken))
        return [
            {
                "first": first_words(self.engine.known, before, one.observation.halt),
                "do": observation_words(self.engine.known, self.assembly, one.observation),
                "shows": outcome_words(self.assembly, one.observation, one.outcome),
                "possible_before": one.before,
                "possible_after": one.after,
                "bits": round(one.bits, 3),
            }
            for before, one in zip(halts, followed.taken, strict=False)
        ]

    def advice(self, advices: tuple[Advice, ...], now: int | None) -> list[Told]:
        return [
            {
                "first": first_words(self.engine.known, now, one.observation.halt),
                "do": observation_words(self.engine.known, self.assembly, one.observation),
                "bits": round(one.bits, 3),
                "leaves": {"least": one.leaves[0], "mean": round(one.leaves[1], 1), "most": one.leaves[2]},
                "caution": RISK[one.observation.kind],
            }
            for one in advices
        ]

    def hidden(self, texts: tuple[str, ...]) -> Told:
        known = self.engine.known
        followed = against(self.engine, [fault_from_text(known.circuit, text) for text in texts])
        return {
            "hidden": list(texts),
            "measurements": self.path(followed),
            "left": self.faults(followed.left),
            "bound": round(math.log2(len(known.hypotheses)), 3),
        }

    def audit(self, found: Audit) -> Told:
        return {
            "faults": len(self.engine.known.hypotheses) - 1,
            "groups": len(found.groups),
            "bound": round(found.bound, 3),
            "mean": round(found.mean, 3),
            "worst": found.worst,
            "effort": round(found.effort, 3),
            "switched": round(found.switched, 3),
            "ratio": round(found.mean / found.bound, 3) if found.bound else 0.0,
            "missed": self.faults(found.missed),
            "left_out": [
                {"fault": hypothesis_words(self.engine.known, self.assembly, number), "why": why}
                for number, why in self.engine.known.left_out
            ],
            "alike": [self.faults(group) for group in found.groups if len(group) > 1],
        }

    def seen(self, lines: list[str], wider: bool) -> Told:
        engine = self.engine
        made = told(engine, self.assembly, lines)
        now = standing(engine, made)
        if wider:
            self.engine = engine = widened(engine, made, shared)
            now = standing(engine, made)
        left = likely(engine, now)
        where = region(engine, self.assembly, made) if now.outside else None
        return {
            "possible": self.likely(left),
            "count": len(engine.left(now.possible)),
            "confirmed": now.confirmed,
            "outside": now.outside,
            "region": region_words(self.assembly, engine.known, where) if where else "",
            "comes_and_goes": self.faults(now.fitful[:MOST_NAMED]),
            "does_not_fit": [
                observation_words(engine.known, self.assembly, made[number][0]) for number in now.unfitting
            ],
            "next": self.advice(
                next_of(engine, now, [what for what, _ in made], 3), made[-1][0].halt if made else None
            ),
        }

    def likely(self, left: Sequence[tuple[int, float, bool]]) -> list[Told]:
        names = self.faults(tuple(number for number, _, _ in left[:MOST_NAMED]))
        return [
            {"fault": words, "likelihood": round(share, 4), "fits": fits}
            for words, (_, share, fits) in zip(names, left, strict=False)
        ]


def trace(
    name: str, circuit: Circuit, hidden: tuple[str, ...], audits: bool, seen: str | None, wider: bool = False
) -> Told:
    """What the engine has to say. Raises MalformedDocument, UnknownTarget, ValueError."""
    if (bool(hidden) + audits + (seen is not None)) != 1:
        raise ValueError("Say one of --hidden FAULT, --audit, --seen FILE.")
    lines: list[str] = []
    if seen is not None:
        if not Path(seen).is_file():
            raise MalformedDocument(f"There is no file {seen}.")
        lines = Path(seen).read_text("utf-8", "replace").splitlines()
    for text in hidden:
        fault_from_text(circuit, text)
    teller = Teller(known_of(name, circuit))
    if hidden:
        return teller.hidden(hidden)
    return teller.audit(audit(teller.engine)) if audits else teller.seen(lines, wider)


def trace_text(found: Told) -> str:
    """The same for a person."""
    if "measurements" in found:
        lines = [
            f"{n}. {_after(one['first'])}{one['do']}: {one['shows']}."
            f" {one['possible_before']} -> {one['possible_after']} possible."
            for n, one in enumerate(found["measurements"], 1)
        ]
        return "\n".join([*lines, f"Left: {'; '.join(found['left']) or 'nothing that is known'}."])
    if "groups" in found:
        return json.dumps({name: found[name] for name in found if name != "alike"}, indent=2)
    lines = [f"{one['likelihood']:7.1%}  {one['fault']}" for one in found["possible"]]
    lines += [f"Does not fit: {one}." for one in found["does_not_fit"]]
    lines += ["None of these explains what was seen."] if found["outside"] else []
    lines += [found["region"]] if found["region"] else []
    lines += [f"If it comes and goes: {one}." for one in found["comes_and_goes"]]
    lines += [
        f"Next: {_after(one['first'])}{one['do']} ({one['bits']:.2f} bits). {one['caution']}".rstrip()
        for one in found["next"]
    ]
    return "\n".join(lines)


def _after(first: str) -> str:
    return f"{first} " if first else ""


def json_of(found: Told) -> str:
    return json.dumps(found, indent=2, default=lambda value: value.item() if isinstance(value, np.generic) else value)
