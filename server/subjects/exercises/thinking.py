"""What every fault would have shown along an exercise, worked out a little in each request and kept as it is.

It is never more than is needed: what fits no more is not taken farther, and what was worked out for a hint is gone on
from for the next and for the review.
"""

import io
import json

import numpy as np
from psycopg import Connection
from psycopg.rows import DictRow

from server.release import names_of
from server.subjects.diagnosis.dictionaries import worked_for_a_while
from server.subjects.exercises import store
from server.subjects.exercises.exercise import Exercise
from wiretrace.diagnosis.hypotheses import hypotheses
from wiretrace.diagnosis.repertoire import spots
from wiretrace.training.exercise.following import Followed, Moment, Runs, follow
from wiretrace.training.exercise.thinking import Thinking
from wiretrace.transport.report import StateData, state_data, state_from_data
from wiretrace.work import unbounded


def think(connection: Connection[DictRow], exercise: Exercise, runs: Runs) -> tuple[int, int, Thinking | None]:
    """Work on it for a while: how many hypotheses are followed to the end, of how many; all of it when done."""
    _, legs, seen = exercise.legs()
    every = hypotheses(exercise.assembly)
    where = spots(exercise.assembly)
    names = names_of(repr(one) for one in every)
    kept = store.followed(connection, exercise.id)
    known = {number: unpacked(kept[name]) for number, name in enumerate(names) if name in kept}
    missing = {number for number in range(len(every)) if not done(known.get(number), len(legs))}

    def make(number: int) -> bytes:
        known[number] = follow(runs, legs, seen, where, every[number], known.get(number))
        return packed(known[number])

    lost = Followed((), ((False,),), {}, (None,))
    made = worked_for_a_while(missing, make, packed(lost))
    known |= {number: unpacked(data) for number, data in made.items() if number not in known}
    with unbounded():
        store.keep_followed(connection, exercise.id, {names[number]: data for number, data in made.items()})
    left = len(missing - made.keys())
    if left:
        return len(every) - left, len(every), None
    altered = any(leg.own for leg in legs)
    return len(every), len(every), Thinking(exercise.circuit, where, every, known, len(legs), altered)


def done(one: Followed | None, legs: int) -> bool:
    """Is a hypothesis followed over so many legs, or as far as it fits?"""
    return one is not None and (len(one.fits) >= legs or (bool(one.fits) and not any(one.fits[-1])))


def packed(one: Followed) -> bytes:
    """A followed hypothesis as bytes: plain numbers and JSON."""
    states = [None if state is None else state_data(state).model_dump(mode="json") for state in one.states]
    plain = {"looked": one.looked, "fits": one.fits, "moments": sorted(one.moments), "states": states}
    out = io.BytesIO()
    moments = [one.moments[leg] for leg in sorted(one.moments)]
    volts, ohms = np.array([m.volts for m in moments]), np.array([m.ohms for m in moments])
    np.savez_compressed(out, plain=np.array(json.dumps(plain)), volts=volts, ohms=ohms)
    return out.getvalue()


def unpacked(data: bytes) -> Followed:
    with np.load(io.BytesIO(data), allow_pickle=False) as found:
        plain = json.loads(str(found["plain"]))
        moments = {
            leg: Moment(volts, ohms)
            for leg, volts, ohms in zip(plain["moments"], found["volts"], found["ohms"], strict=True)
        }
    return Followed(
        tuple(tuple(one) for one in plain["looked"]),
        tuple(tuple(one) for one in plain["fits"]),
        moments,
        tuple(None if one is None else state_from_data(StateData.model_validate(one)) for one in plain["states"]),
    )
