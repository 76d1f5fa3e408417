"""The record of an exercise as it is kept: what was done and what came of it, as codes and data.

What people read of it is made of that when it is told (`told.py`).
"""

import re
from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import Any, Final, Literal

from wiretrace.catalogue.machinery.status import status_of_words
from wiretrace.document.circuit import Frozen
from wiretrace.faults.registry import AnyFault
from wiretrace.instruments.measures import Shown
from wiretrace.training.exercise.bench import Event, Outcome, Seen
from wiretrace.training.exercise.steps import Step
from wiretrace.upgrading import Data, Upgrades


class Risk(StrEnum):
    """What was risky in a step."""

    LIVE = "live"
    NOT_PROVED = "not_proved"
    PROOF_OF_NOTHING = "proof_of_nothing"
    WIRES_NOT_PROVED = "wires_not_proved"
    BRIDGED = "bridged"
    WORKED_LIVE = "worked_live"
    RESET_UNSEEN = "reset_unseen"
    SAME_FAULT = "same_fault"
    REPLACED_LIVE = "replaced_live"
    STAYS_LIVE = "stays_live"


class EventData(Frozen):
    at_us: int
    device: str
    status: str
    active: bool


class SeenData(Frozen):
    """What is seen of a device, and where its switches stand."""

    status: str
    active: bool
    attention: bool
    on: dict[str, bool]


class Entry(Frozen):
    """One thing that was done: how long it took, when it ended, and what came of it.

    `kind` is that of its step, or hint, answer, proof, end. `hint` tells which of the three steps of a hint it is,
    `right` whether an answer or a proof was well (an answer that waits to be judged has none yet), `text` what was
    said to the person, in the words in which it was said. `named` is the fault that an answer names; `words` stand only
    where an early release kept these and not the fault. `events` are what devices began to do on the way, `seen` what
    they do then.
    """

    version: Literal[2] = 2
    number: int
    kind: str
    step: Step | None = None
    took_s: int = 0
    at_us: int = 0
    events: tuple[EventData, ...] = ()
    seen: dict[str, SeenData] = {}
    shown: Shown | None = None
    locked_off: bool = False
    risks: tuple[Risk, ...] = ()
    hint: int = 0
    text: str = ""
    right: bool | None = None
    named: AnyFault | None = None
    words: str = ""

    @property
    def waits(self) -> bool:
        """Is it an answer that nobody has judged yet?"""
        return self.kind == "answer" and self.right is None


def entry_of(number: int, step: Step, took_s: int, at_us: int, outcome: Outcome, risks: Sequence[Risk]) -> Entry:
    """The entry of a step."""
    return Entry(
        number=number,
        kind=step.kind,
        step=step,
        took_s=took_s,
        at_us=at_us,
        events=tuple(EventData(**vars(one)) for one in outcome.events),
        seen={name: SeenData(**vars(one)) for name, one in outcome.seen.items()},
        shown=outcome.shown,
        locked_off=outcome.locked_off,
        risks=tuple(risks),
    )


def outcome_of(entry: Entry) -> Outcome:
    """What came of the step of an entry."""
    return Outcome(
        tuple(Event(**dict(one)) for one in entry.events),
        {name: Seen(**dict(one)) for name, one in entry.seen.items()},
        entry.shown,
        entry.locked_off,
    )


_FORMER: Final[Mapping[str, Risk]] = {
    "Ohms or insulation on a live circuit.": Risk.LIVE,
    "Ohms before the circuit was locked out and proved dead.": Risk.NOT_PROVED,
    "Ohms before the circuit was locked off and proved dead.": Risk.NOT_PROVED,
    "Proved dead between terminals that have no voltage under power either: it proves nothing.": Risk.PROOF_OF_NOTHING,
    "Work on wires before the circuit was locked out and proved dead.": Risk.WIRES_NOT_PROVED,
    "Work on wires before the circuit was locked off and proved dead.": Risk.WIRES_NOT_PROVED,
    "A contact bridged: what it kept apart or watched over is without it.": Risk.BRIDGED,
    "Worked by hand while the circuit is live, what may be only dead: an armature, or the links of a fuse.": (
        Risk.WORKED_LIVE
    ),
    "An armature worked by hand while the circuit is live.": Risk.WORKED_LIVE,
    "Reset without looking for the reason of the trip.": Risk.RESET_UNSEEN,
    "Put under power onto the same fault again.": Risk.SAME_FAULT,
}


def _codes(data: Data) -> dict[str, Any]:
    """Version 2 has codes where version 1 had sentences, and the words of a step are made when they are told."""

    def of(one: Data) -> dict[str, Any]:
        return {**{key: value for key, value in one.items() if key != "says"}, "status": status_of_words(one["says"])}

    hint = re.match(r"Hint (\d)", data.get("words", "")) if data.get("kind") == "hint" else None
    answered = data.get("kind") == "answer" and not data.get("named")
    return {
        **data,
        "words": data.get("words", "") if answered else "",
        "events": [of(one) for one in data.get("events", ())],
        "seen": {name: of(one) for name, one in data.get("seen", {}).items()},
        "risks": [_FORMER[risk] for risk in data.get("risks", ()) if risk in _FORMER],
        "hint": int(hint[1]) if hint else 0,
    }


entry_upgrades: Final = Upgrades("entry of a record", _codes)
