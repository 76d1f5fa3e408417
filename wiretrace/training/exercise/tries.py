"""What working a button would tell: every fault that is left is tried with it, and seen to do the same or not."""

import math
from collections.abc import Hashable, Iterator, Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator
from wiretrace.catalogue.machinery.status import words
from wiretrace.document.checked import Installed
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.simulation.engine import initial_state
from wiretrace.training.exercise.bench import Outcome, work
from wiretrace.training.exercise.following import Runs
from wiretrace.training.exercise.steps import Course, Leg, Work, advance
from wiretrace.training.exercise.thinking import Number, Thinking

MOST_LEFT: Final = 30
"""Faults up to which operations are tried: while more are left, a reading tells more than any button."""
MOST_WORDS: Final = 4


@dataclass(frozen=True)
class Try:
    """A button to be pressed and let go, the bits to be expected of it, and the faults it leaves by what happens."""

    button: Installed
    bits: float
    leaves: Mapping[str, tuple[Number, ...]]


def best_try(thinking: Thinking, runs: Runs, course: Course) -> Try | None:
    """The button of which most is to be expected after the last leg; None where none tells anything."""
    left = thinking.possible(thinking.legs - 1)
    if not 1 < len(left) <= MOST_LEFT:
        return None
    found = [
        _tried(thinking, runs, course, item, left)
        for item in runs.sound.devices.values()
        if item.kind.actuator is Actuator.HAND and item.kind.operations
    ]
    return max((one for one in found if one.bits > 0), key=lambda one: one.bits, default=None)


def _tried(thinking: Thinking, runs: Runs, course: Course, item: Installed, left: tuple[Number, ...]) -> Try:
    step = Work(device=item.id, operation=item.kind.operations[0].name, briefly=True)
    _, leg = advance(course, step)
    known: dict[Hashable, str] = {}
    shares: dict[str, float] = {}
    leaves: dict[str, dict[Number, None]] = {}
    for number in left:
        values = list(_alive(thinking, number))
        for value, faults in values:
            happens = _happens(thinking, runs, leg, known, (number, value, faults))
            weight = thinking.every[number].weight / len(values)
            shares[happens] = shares.get(happens, 0.0) + weight
            leaves.setdefault(happens, {})[number] = None
    whole = sum(shares.values())
    bits = -sum(share / whole * math.log2(share / whole) for share in shares.values())
    return Try(item, bits, {happens: tuple(numbers) for happens, numbers in leaves.items()})


def _alive(thinking: Thinking, number: Number) -> Iterator[tuple[int, tuple[Fault, ...]]]:
    """The values of a hypothesis that still fit, each with its number."""
    faults = thinking.every[number].values or (None,)
    for value, fits in enumerate(thinking.followed[number].fits[-1]):
        if fits:
            fault = faults[value]
            yield value, () if fault is None else (fault,)


def _happens(
    thinking: Thinking,
    runs: Runs,
    leg: Leg,
    known: dict[Hashable, str],
    one: tuple[Number, int, tuple[Fault, ...]],
) -> str:
    """What would be seen and heard with one value of a fault. What is alike to every device is tried once."""
    number, value, faults = one
    # Once somebody has changed the wiring, faults that were alike need not be so any more.
    kind = (number, value) if thinking.altered else runs.kind(faults)
    if kind not in known:
        try:
            panel = runs.sound.with_faults((*faults, *leg.own))
            state = thinking.followed[number].states[value] or initial_state(panel)
            known[kind] = _words(runs, work(panel, state, leg).outcome)
        except WiretraceError:
            known[kind] = "it cannot be told what happens"
    return known[kind]


def _words(runs: Runs, outcome: Outcome) -> str:
    """What each device says on the way, one after the other; the button itself is not worth a word."""
    did: dict[str, list[str]] = {}
    for event in outcome.events:
        item = runs.sound.devices[event.device]
        if item.kind.actuator is not Actuator.HAND:
            did.setdefault(item.label, []).append(words(event.status))
    told = ", ".join(f"{label} {' then '.join(one[:MOST_WORDS])}" for label, one in sorted(did.items()))
    return told or "nothing happens"
