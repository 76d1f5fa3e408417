"""Fault dictionaries: worked out a little in each request, kept in the database, and shared by all servers.

A dictionary takes seconds to a minute. No request may: whoever waits for one asks again and again, and each time some
rows more are worked out. So it shows how far it is, can be left, goes on where it was after any crash, and two askers
at once use two cores. A queue of jobs would want a process of its own for the same.
"""

import hashlib
import io
import json
import random
import time
from collections import OrderedDict
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Final

import numpy as np
from psycopg import Connection
from psycopg.rows import DictRow

from server.assemblies import reference
from server.store import dictionaries as store
from wiretrace.circuit.document import Circuit
from wiretrace.errors import TooMuchWork
from wiretrace.formats.sequence import Sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.trace.dictionary import Row, Shown, Worked, bound, rows_of, work_out
from wiretrace.trace.engine import Engine
from wiretrace.trace.hypotheses import Hypothesis, hypotheses
from wiretrace.trace.procedure import Halt, halts_of
from wiretrace.trace.repertoire import Spot, spots
from wiretrace.work import unbounded

WORK_S: Final = 0.7
"""Computing that one request does on rows; what it may take in all leaves room for one row that takes long."""
TOO_LONG: Final = "What this would show takes too long to work out."
MOST_KEPT: Final = 4
"""Engines that a process remembers."""


@dataclass(frozen=True)
class Plan:
    """What belongs to a dictionary before any row is worked out."""

    ref: str
    circuit: Circuit
    halts: tuple[Halt, ...]
    every: tuple[Hypothesis, ...]
    rows: tuple[Row, ...]
    where: tuple[Spot, ...]


_plans: OrderedDict[str, Plan] = OrderedDict()
_engines: OrderedDict[str, Engine] = OrderedDict()


def plan_of(circuit: Circuit, sequence: Sequence) -> Plan:
    """The plan of a circuit, looked at in the states of a sequence. Raises what a run of the sound circuit raises."""
    text = reference(circuit) + sequence.model_dump_json()
    ref = hashlib.sha256(text.encode()).hexdigest()
    if ref not in _plans:
        every = hypotheses(circuit)
        halts = halts_of(circuit, sequence.steps)
        rows = tuple(rows_of(every))
        _plans[ref] = Plan(ref, circuit, halts, every, rows, spots(Assembly(circuit)))
        if len(_plans) > MOST_KEPT:
            _plans.popitem(last=False)
    _plans.move_to_end(ref)
    return _plans[ref]


def work(connection: Connection[DictRow], plan: Plan) -> int:
    """Work on rows that are missing for a while; how many there are then."""
    missing = set(range(len(plan.rows))) - store.numbers(connection, plan.ref)

    def make(number: int) -> bytes:
        return packed(work_out(plan.circuit, plan.halts, plan.where, plan.rows[number]))

    made = worked_for_a_while(missing, make, packed(TOO_LONG))
    with unbounded():
        store.keep(connection, plan.ref, made)
    return len(plan.rows) - len(missing - made.keys())


def worked_for_a_while(missing: Collection[int], make: Callable[[int], bytes], too_long: bytes) -> dict[int, bytes]:
    """Make some of the rows that are missing; one that takes too long is `too_long`, and no other follows it."""
    todo = sorted(missing)
    # Two at once begin at different places, and seldom do the same.
    begin = random.randrange(len(todo)) if todo else 0
    until, made = time.process_time() + WORK_S, dict[int, bytes]()
    for number in (*todo[begin:], *todo[:begin]):
        if time.process_time() > until:
            break
        try:
            made[number] = make(number)
        except TooMuchWork:
            made[number] = too_long
            break
    return made


def engine_of(connection: Connection[DictRow], plan: Plan) -> Engine | None:
    """The engine of a dictionary; None while rows are missing."""
    if plan.ref not in _engines:
        # Its size is bounded by that of its dictionary: it is not broken off, or no request would ever have it.
        with unbounded():
            kept = store.all_rows(connection, plan.ref)
            if len(kept) < len(plan.rows):
                return None
            worked = [unpacked(kept[number]) for number in range(len(plan.rows))]
            _engines[plan.ref] = Engine(bound(plan.circuit, plan.halts, plan.every, worked)).made_ready()
        if len(_engines) > MOST_KEPT:
            _engines.popitem(last=False)
    _engines.move_to_end(plan.ref)
    return _engines[plan.ref]


def packed(worked: Worked) -> bytes:
    """A row as bytes: plain numbers and JSON, nothing that could run."""
    out = io.BytesIO()
    if isinstance(worked, str):
        np.savez_compressed(out, why=np.array(json.dumps(worked)))
    else:
        looks = np.array(json.dumps(worked.looks))
        np.savez_compressed(out, looks=looks, volts=worked.volts, ohms=worked.ohms)
    return out.getvalue()


def unpacked(data: bytes) -> Worked:
    with np.load(io.BytesIO(data), allow_pickle=False) as found:
        if "why" in found:
            return str(json.loads(str(found["why"])))
        looks = tuple(tuple(look) for look in json.loads(str(found["looks"])))
        return Shown(looks, found["volts"], found["ohms"])
