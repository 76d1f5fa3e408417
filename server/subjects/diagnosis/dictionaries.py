"""Fault dictionaries: worked out a little in each request, kept in the database, and shared by all servers.

A dictionary takes seconds. No request may: whoever waits for one asks again and again, and each time some rows more are
worked out. So it shows how far it is, can be left, goes on where it was after any crash, and two askers at once use two
cores. A queue of jobs would want a process of its own for the same.
"""

import io
import json
import random
import time
from collections import OrderedDict
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace
from functools import reduce
from typing import Final

import numpy as np
from psycopg import Connection
from psycopg.rows import DictRow

from server.assemblies import bare, reference
from server.release import named, names_of
from server.subjects.diagnosis import dictionary_store as store
from wiretrace.diagnosis.dictionary import Dictionary, Shown, Task, Worked, bound, joined
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.hypotheses import hypotheses, rare_hypotheses
from wiretrace.diagnosis.pairs import Made, likely_pairs
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.document.circuit import Circuit
from wiretrace.errors import TooMuchWork
from wiretrace.sequences.sequence import Sequence as OperatingSequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.work import bounded_anew, unbounded

WORK_S: Final = 0.7
"""Computing that one request does on rows; what it may take in all leaves room for some that take long."""
ROW_S: Final = 1.5
"""Computing that one row may take, whatever the request that works on it did before."""
TOO_LONG: Final = "What this would show takes too long to work out."
MOST_KEPT: Final = 4
"""Engines that a process remembers."""


@dataclass(frozen=True)
class Plan:
    """What belongs to a dictionary before any row is worked out; the names of its rows, as they are put together.

    Rows are kept under `ref`, which several plans share where they differ in their lists alone.
    """

    ref: str
    task: Task
    names: tuple[str, ...]


_plans: OrderedDict[str, Plan] = OrderedDict()
_engines: OrderedDict[str, Engine] = OrderedDict()


def plan_of(circuit: Circuit, sequence: OperatingSequence) -> Plan:
    """The plan of a circuit, looked at in the states of a sequence. Raises what a run of the sound circuit raises.

    It is named by, and made from, nothing but what matters of the circuit, the sequence and this release.
    """
    asked = named("dictionary", reference(circuit), sequence.model_dump_json())

    def make() -> Plan:
        plain = bare(circuit)
        sound = Assembly(plain)
        return _plan(Task(plain, halts_of(sound, sequence.steps), hypotheses(sound)))

    return _remembered(asked, make)


def rare_plan_of(plan: Plan) -> Plan:
    """The plan of the rare faults of the same circuit in the same states."""

    def make() -> Plan:
        task = plan.task
        return _plan(Task(task.circuit, task.halts, rare_hypotheses(Assembly(task.circuit))))

    return _remembered(named("rare", plan.ref), make)


def pairs_plan_of(plan: Plan, engine: Engine, made: Made) -> Plan:
    """The plan of pairs that may explain what was observed. A pair that others have looked at is not run again."""
    task = Task(plan.task.circuit, plan.task.halts, likely_pairs(engine, made))
    return replace(_plan(task), ref=named("pairs", plan.ref))


def _remembered(asked: str, make: Callable[[], Plan]) -> Plan:
    if asked not in _plans:
        _plans[asked] = make()
        if len(_plans) > 2 * MOST_KEPT:
            _plans.popitem(last=False)
    _plans.move_to_end(asked)
    return _plans[asked]


def _plan(task: Task) -> Plan:
    names = names_of(repr([task.rows[number][1] for number in alike]) for alike in task.alike)
    ref = named("rows", reference(task.circuit), repr(task.halts), repr(task.every), repr(task.where), *names)
    return Plan(ref, task, names)


def work(connection: Connection[DictRow], plan: Plan) -> int:
    """Work on rows that are missing for a while; how many there are then."""
    alike = plan.task.alike
    there = store.names(connection, plan.ref)
    missing = {number for number, name in enumerate(plan.names) if name not in there}
    made = worked_for_a_while(missing, lambda number: packed(plan.task.work_out(alike[number])), packed([]))
    with unbounded():
        store.keep(connection, plan.ref, {plan.names[number]: data for number, data in made.items()})
    return len(plan.task.rows) - sum(len(alike[number]) for number in missing - made.keys())


def worked_for_a_while(missing: Collection[int], make: Callable[[int], bytes], too_long: bytes) -> dict[int, bytes]:
    """Make some of the rows that are missing; one that takes too long is `too_long`, and no other follows it.

    Every row may take the same, so that what is kept of it is not for how busy a request was.
    """
    todo = sorted(missing)
    # Two at once begin at different places, and seldom do the same.
    begin = random.randrange(len(todo)) if todo else 0
    until, made = time.process_time() + WORK_S, dict[int, bytes]()
    for number in (*todo[begin:], *todo[:begin]):
        if time.process_time() > until:
            break
        try:
            with bounded_anew(ROW_S):
                made[number] = make(number)
        except TooMuchWork:
            made[number] = too_long
            break
    return made


def engine_of(connection: Connection[DictRow], plan: Plan, *more: Plan) -> Engine | None:
    """The engine of a dictionary, and of more beside it; None while rows are missing."""
    plans = [one for one in (plan, *more) if one.task.every]
    asked = named("engine", *(name for one in plans for name in (one.ref, *one.names)))
    if asked not in _engines:
        # Its size is bounded by that of its dictionary: it is not broken off, or no request would ever have it.
        with unbounded():
            known = [_dictionary(connection, one) for one in plans]
            if any(one is None for one in known):
                return None
            _engines[asked] = Engine(reduce(joined, [one for one in known if one is not None])).made_ready()
            for one in plans:
                one.task.forget()
        if len(_engines) > MOST_KEPT:
            _engines.popitem(last=False)
    _engines.move_to_end(asked)
    return _engines[asked]


def _dictionary(connection: Connection[DictRow], plan: Plan) -> Dictionary | None:
    kept = store.all_rows(connection, plan.ref)
    if not kept.keys() >= set(plan.names):
        return None
    rows: dict[int, Worked] = {}
    for name, alike in zip(plan.names, plan.task.alike, strict=True):
        rows |= zip(alike, unpacked(kept[name]) or [TOO_LONG] * len(alike), strict=True)
    return bound(plan.task, [rows[number] for number in range(len(rows))])


def packed(worked: Sequence[Worked]) -> bytes:
    """Rows that are alike as bytes: plain numbers and JSON, nothing that could run. No rows: it took too long."""
    out = io.BytesIO()
    shown = [one for one in worked if isinstance(one, Shown)]
    plain = {
        "why": [one if isinstance(one, str) else None for one in worked],
        "looks": [one.looks for one in shown],
    }
    volts, ohms = np.array([one.volts for one in shown]), np.array([one.ohms for one in shown])
    np.savez_compressed(out, plain=np.array(json.dumps(plain)), volts=volts, ohms=ohms)
    return out.getvalue()


def unpacked(data: bytes) -> list[Worked]:
    with np.load(io.BytesIO(data), allow_pickle=False) as found:
        plain = json.loads(str(found["plain"]))
        looks = [tuple(tuple(look) for look in one) for one in plain["looks"]]
        shown = iter([Shown(*one) for one in zip(looks, found["volts"], found["ohms"], strict=True)])
        return [next(shown) if why is None else str(why) for why in plain["why"]]
