"""What every fault would have shown to somebody who did the same: which of them still fit, leg by leg.

A hypothesis is taken along the same legs as the panel, until what was seen or read there does not fit it any more. So
the further somebody is, the fewer are left to follow. What is read counts with the tolerance of the instrument; a fault
with values of its own fits where the reading lies between what its values would show.
"""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from wiretrace.diagnosis.alike import kind_of, series_of
from wiretrace.diagnosis.engine import OHMS, VOLTS, value_of
from wiretrace.diagnosis.hypotheses import Hypothesis
from wiretrace.diagnosis.repertoire import Floats, Spot, lookers, nodes_at
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.instruments.measures import Shown
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state
from wiretrace.simulation.fault_readings import dead_values, nodes_of, ohms_between, solved, volts_between
from wiretrace.simulation.state import State
from wiretrace.training.exercise.bench import Gone, Outcome, read, work
from wiretrace.training.exercise.steps import Leg

OTHER: Final = (0.05, 0.05)
"""Tolerance of instruments that show neither volts nor ohms, as a clamp: amperes, and share of the reading."""
_TOLERANCE: Final = {"voltmeter": VOLTS, "low_impedance": VOLTS, "ohmmeter": OHMS}


@dataclass(frozen=True)
class Observed:
    """What was observed on a leg: the statuses of devices at its end and on the way, and what the instrument showed."""

    stand: tuple[str, ...]
    did: frozenset[tuple[str, str]]
    shown: Shown | None


@dataclass(frozen=True)
class Moment:
    """What each value of a fault that still fitted would show before a reading: volts and ohms by spot."""

    volts: Floats
    ohms: Floats


@dataclass(frozen=True)
class Followed:
    """A hypothesis along the legs: for each leg done which of its values fitted what was seen up to its end (`looked`),
    and with what was read there too (`fits`).

    `moments` by the number of a leg: at the end of every leg on which something was read, and of the last. `states` are
    those of its values at the end, from which it can be taken farther.
    """

    looked: tuple[tuple[bool, ...], ...]
    fits: tuple[tuple[bool, ...], ...]
    moments: dict[int, Moment]
    states: tuple[State | None, ...]


def observed(assembly: Assembly, outcome: Outcome) -> Observed:
    """What of an outcome tells faults apart."""
    return Observed(
        tuple(outcome.seen[item.id].status for item in lookers(assembly)),
        frozenset((event.device, event.status) for event in outcome.events),
        outcome.shown,
    )


class Runs:
    """The panel without faults, and what its devices did on the legs that were gone with each kind of fault.

    Faults that are alike to every device are run once; who asks says of what kind his is, or that it goes its own way.
    """

    def __init__(self, sound: Assembly) -> None:
        self.sound = sound
        self._series = series_of(sound)
        self._known: dict[tuple[Hashable, int], Gone] = {}

    def kind(self, faults: tuple[Fault, ...]) -> Hashable:
        """What of a fault matters to the devices."""
        return kind_of(self.sound, self._series, faults[0] if faults else None)

    def work(self, kind: Hashable, number: int, assembly: Assembly, state: State, leg: Leg) -> Gone:
        """Go the leg of this number, unless that is known. Raises what `run` raises."""
        if (kind, number) not in self._known:
            self._known[kind, number] = work(assembly, state, leg)
        return self._known[kind, number]


@dataclass
class _Value:
    """One value of a hypothesis on its way. Where something of the wiring was changed, it is on a way of its own."""

    runs: Runs
    faults: tuple[Fault, ...]
    state: State | None = None
    assembly: Assembly | None = None
    own: tuple[Fault, ...] = ()
    alone: bool = False

    def go(self, number: int, leg: Leg) -> Outcome | None:
        """Go the leg of this number; None where it cannot be worked out."""
        try:
            if self.assembly is None or self.own != leg.own:
                self.assembly, self.own = self.runs.sound.with_faults((*self.faults, *leg.own)), leg.own
            self.alone |= bool(leg.own)
            kind = (self.faults, "alone") if self.alone else self.runs.kind(self.faults)
            gone = self.runs.work(kind, number, self.assembly, self.state or initial_state(self.assembly), leg)
            self.state = gone.end
            return read(self.assembly, gone, leg)
        except WiretraceError:
            return None


def follow(
    runs: Runs,
    legs: Sequence[Leg],
    seen: Sequence[Observed],
    where: Sequence[Spot],
    one: Hypothesis,
    before: Followed | None = None,
) -> Followed:
    """Take a hypothesis along the legs, as long as one of its values fits what was seen.

    `before` is what came of it on the first of these legs.
    """
    faults = [(fault,) if fault is not None else () for fault in (one.values or (None,))]
    begun = before or Followed((), (), {}, (None,) * len(faults))
    if begun.fits and not any(begun.fits[-1]):
        return begun
    altered = any(leg.own for leg in legs[: len(begun.fits)])
    values = [_Value(runs, one, state, alone=altered) for one, state in zip(faults, begun.states, strict=True)]
    order = sorted(range(len(values)), key=lambda at: value_of(one.values[at]) if one.values else 0.0)
    alive, moments = list(begun.fits[-1]) if begun.fits else [True] * len(values), dict(begun.moments)
    looked, fits = list(begun.looked), list(begun.fits)
    for number, (leg, what) in list(enumerate(zip(legs, seen, strict=True)))[len(fits) :]:
        outcomes = [value.go(number, leg) for value in values]
        alive = [
            ok and outcome is not None and _looks_fit(values[0], outcome, what)
            for ok, outcome in zip(alive, outcomes, strict=True)
        ]
        if any(alive) and (leg.measure is not None or number == len(legs) - 1):
            moments[number] = _moment(values, where)
        looked.append(tuple(alive))
        if leg.measure is not None and what.shown is not None:
            shown = [outcome.shown if outcome is not None else None for outcome in outcomes]
            reads = _between([shown[at] for at in order], what.shown, leg.measure.instrument)
            alive = [ok and reads[order.index(at)] for at, ok in enumerate(alive)]
        fits.append(tuple(alive))
        if not any(alive):
            break
    return Followed(tuple(looked), tuple(fits), moments, tuple(value.state for value in values))


def _looks_fit(value: _Value, outcome: Outcome, what: Observed) -> bool:
    assert value.assembly is not None
    return observed(value.assembly, outcome) == Observed(what.stand, what.did, outcome.shown)


def _between(shown: Sequence[Shown | None], real: Shown, instrument: str) -> list[bool]:
    """For every value, in their order: is the reading its own, or between it and that of its neighbour?"""
    found = [one is not None and _same(one, real, instrument) for one in shown]
    for at in range(len(shown) - 1):
        one, other = shown[at], shown[at + 1]
        if one is None or other is None or one.value is None or other.value is None or real.value is None:
            continue
        if min(one.value, other.value) <= real.value <= max(one.value, other.value):
            found[at] = found[at + 1] = True
    return found


def _same(one: Shown, real: Shown, instrument: str) -> bool:
    if one.value is None or real.value is None or instrument == "two_pole":
        return (one.display, one.refused) == (real.display, real.refused)
    least, share = _TOLERANCE.get(instrument, OTHER)
    return one.refused == real.refused and abs(one.value - real.value) <= 2 * (least + share * abs(real.value))


def _moment(values: Sequence[_Value], where: Sequence[Spot]) -> Moment:
    volts, ohms = np.zeros((len(values), len(where))), np.full((len(values), len(where)), np.inf)
    for at, value in enumerate(values):
        if value.assembly is None or value.state is None:
            continue
        nodes = nodes_at(value.assembly, where)
        dead = solved(value.assembly, value.state, dead_values(value.assembly, value.state), dead=True)
        volts[at] = volts_between(nodes_of(frame_of(value.assembly, value.state).point), *nodes)
        ohms[at] = ohms_between(dead.nodes, *nodes)
    return Moment(volts, ohms)
