"""Which faults still fit, and what to observe next.

A reading fits a fault when the fault would show the same within the meter's tolerance; a fault that has values of its
own (the ohms of a joint) fits when the reading lies between what its values would show. An observation parts the faults
that fit into those that it would tell apart; the best one is that of which most is to be learned (bits, by how often
faults come about) for its effort.
"""

import math
from collections.abc import Collection, Iterator, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.catalogue.machinery.status import tells
from wiretrace.diagnosis.bits import Numbers, covering, entropy, once
from wiretrace.diagnosis.dictionary import UNKNOWN, Dictionary, Observation
from wiretrace.diagnosis.hypotheses import WEIGHTS, Hypothesis
from wiretrace.diagnosis.repertoire import DEAD, EFFORT, Floats, Ints, Kind, way_there
from wiretrace.faults.fault import Fault
from wiretrace.faults.registry import kind_name
from wiretrace.instruments.written import Span

VOLTS: Final = (0.5, 0.02)
OHMS: Final = (0.5, 0.03)
"""Tolerance of a meter, its lead and a person who reads it: volts or ohms, and share of the reading."""
OL: Final = 1e12
LEAST_BITS: Final = 1e-6
MOST_KEPT: Final = 64
"""Advices that are remembered."""
AT_ONCE: Final = 60
"""Observations that are looked at closely at once: first those that part the rows best."""

Bools = NDArray[np.bool_]
Singles = NDArray[np.float32]
Outcome = float | Span | tuple[str, ...]


@dataclass(frozen=True)
class Advice:
    """An observation, the bits to be expected of it, and the faults that it leaves: at best, on the mean, at worst."""

    observation: Observation
    bits: float
    leaves: tuple[int, float, int]


class Engine:
    """Advice from a dictionary. A set of rows, as booleans, stands for what is still possible."""

    def __init__(self, known: Dictionary) -> None:
        self.known = known
        self.rows, self.halts, self.spots = (int(size) for size in known.volts.shape)
        self.weights = self.by_rows()
        self._advised: dict[object, tuple[Advice, ...]] = {}
        ohms = np.where(np.isinf(known.ohms), OL, known.ohms)
        words: dict[tuple[str, ...], int] = {}
        told = [[words.setdefault(look, len(words)) for look in looks] for looks in known.looks]
        self._looks: Ints = np.array(told, dtype=np.intp)
        self._words = words
        # One column an observation: words by number, volts, ohms.
        self._columns = np.concatenate(
            [self._looks.astype(np.float64), known.volts.reshape(self.rows, -1), ohms], axis=1
        )

    def weighed(self, weights: Mapping[str, float]) -> "Engine":
        """The same with other likelihoods, by kind of fault; what follows from readings alone is kept."""
        every = tuple(replace(one, weight=one.weight * _rise(one, weights)) for one in self.known.hypotheses)
        other = copy(self)
        other._advised = {}
        other.known = replace(self.known, hypotheses=every)
        other.weights = other.by_rows()
        return other

    def by_rows(self) -> Floats:
        """The weight of every row: that of its fault, shared among the values of it."""
        count = np.bincount(self.known.of, minlength=len(self.known.hypotheses))
        weights: Floats = np.array([self.known.hypotheses[number].weight for number in self.known.of])
        return weights / count[self.known.of]

    def made_ready(self) -> "Engine":
        """The same, with all that it works out once worked out: the advice before anything is observed, too."""
        _ = self._reach
        self.advice(self.everything)
        return self

    @cached_property
    def everything(self) -> Bools:
        return np.ones(self.rows, dtype=np.bool_)

    @cached_property
    def _tolerance(self) -> Floats:
        """What two rows may differ by in each cell and count as the same; words never."""
        found = np.zeros_like(self._columns)
        volts, ohms = self._slices[1:]
        found[:, volts] = VOLTS[0] + VOLTS[1] * self._columns[:, volts]
        found[:, ohms] = np.minimum(OHMS[0] + OHMS[1] * self._columns[:, ohms], OL / 10)
        return found

    @cached_property
    def _slices(self) -> tuple[slice, slice, slice]:
        looks, volts = self.halts, self.halts + self.halts * self.spots
        return slice(0, looks), slice(looks, volts), slice(volts, self._columns.shape[1])

    def observation(self, column: int) -> Observation:
        """The observation of a column."""
        if column < self.halts:
            return Observation(Kind.LOOK, column)
        rest = column - self.halts
        if rest < self.halts * self.spots:
            return Observation(Kind.VOLTS, rest // self.spots, rest % self.spots)
        return Observation(Kind.OHMS, -1, rest - self.halts * self.spots)

    def column(self, what: Observation) -> int:
        """The column of an observation."""
        if what.kind is Kind.LOOK:
            return what.halt
        if what.kind is Kind.VOLTS:
            return self.halts + what.halt * self.spots + what.spot
        return self.halts + self.halts * self.spots + what.spot

    def fits(self, what: Observation, outcome: Outcome) -> Bools:
        """Rows of faults that fit an outcome: statuses, volts, or ohms (infinite for OL).

        A status of one device fits what says at least that.
        """
        if what.kind is Kind.WORD:
            assert isinstance(outcome, tuple)
            return np.array([tells(looks[what.halt][what.spot], outcome[0]) for looks in self.known.looks])
        column = self.column(what)
        least, most = self._ends(outcome)
        low, high = (bound[:, column] for bound in self._reach)
        fitting: Bools = (low <= most) & (least <= high)
        return fitting

    def between(self, what: Observation, outcome: Outcome) -> Bools:
        """Rows that fit an outcome only since their fault may have a value between theirs and the next.

        What such a row shows elsewhere is not what would be seen: it says nothing of what another observation tells.
        """
        if what.kind is Kind.WORD:
            return ~self.everything
        column = self.column(what)
        least, most = self._ends(outcome)
        values, off = self._columns[:, column], self._tolerance[:, column]
        own: Bools = (values - off <= most) & (least <= values + off)
        return self.fits(what, outcome) & ~own

    def _ends(self, outcome: Outcome) -> tuple[float, float]:
        """From where to where an outcome may lie, words by their number."""
        if isinstance(outcome, tuple):
            number = float(self._words.get(outcome, UNKNOWN))
            return number, number
        least, most = (min(end, OL) for end in ends_of(outcome))
        return least, most

    @cached_property
    def _reach(self) -> tuple[Floats, Floats]:
        """For every row and observation the lowest and the highest outcome that it stands for.

        Its own within the tolerance, and what lies between it and the next value of the same fault.
        """
        low, high = self._columns - self._tolerance, self._columns + self._tolerance
        reach_low, reach_high = low.copy(), high.copy()
        for rows in self._families():
            for one, other in pairwise(rows):
                for here, there in ((one, other), (other, one)):
                    above = self._columns[there] > self._columns[here]
                    reach_high[here] = np.where(above, np.maximum(reach_high[here], low[there]), reach_high[here])
                    reach_low[here] = np.where(~above, np.minimum(reach_low[here], high[there]), reach_low[here])
        words = self._slices[0]
        reach_low[:, words], reach_high[:, words] = low[:, words], high[:, words]
        return reach_low, reach_high

    def _families(self) -> Iterator[list[int]]:
        """The rows of each fault that has several values, in the order of the values."""
        for number, one in enumerate(self.known.hypotheses):
            rows = np.flatnonzero(self.known.of == number).tolist()
            if 1 < len(rows) == len(one.values):
                yield [rows[at] for at in sorted(range(len(rows)), key=lambda at: value_of(one.values[at]))]

    def left(self, possible: Bools) -> tuple[int, ...]:
        """The hypotheses that are still possible, the likeliest first."""
        numbers = np.unique(self.known.of[possible])
        return tuple(sorted((int(n) for n in numbers), key=lambda n: -self.known.hypotheses[n].weight))

    def advice(
        self,
        possible: Bools,
        most: int = 5,
        allowed: Sequence[Kind] = tuple(Kind),
        made: Collection[Observation] = (),
        now: int | None = None,
        between: Bools | None = None,
    ) -> tuple[Advice, ...]:
        """The observations that tell most for their effort, the best first; none where nothing could tell more.

        Those that were `made` tell nothing more. `now` is the state that the panel is in, by its number: coming to
        another one costs something, and switching off and on most of all. Rows that were found to lie `between` values
        of their fault are not taken for what is there, where there are others.
        """
        there = possible if between is None or not np.any(possible & ~between) else possible & ~between
        asked = (possible.tobytes(), there.tobytes(), tuple(allowed), frozenset(made), now)
        if asked not in self._advised:
            if len(self._advised) >= MOST_KEPT:
                self._advised.clear()
            self._advised[asked] = self._advice(possible, there, self._effort(allowed, made, now))
        return self._advised[asked][:most]

    def _effort(self, allowed: Sequence[Kind], made: Collection[Observation], now: int | None) -> Floats:
        """What every observation costs; without end what is not allowed, or was made."""
        here = np.array([way_there(now, halt) for halt in range(self.halts)])
        parts = (
            (Kind.LOOK, here),
            (Kind.VOLTS, np.repeat(here, self.spots)),
            (Kind.OHMS, np.full(self.spots, way_there(now, DEAD))),
        )
        effort: Floats = np.concatenate(
            [EFFORT[kind] + way if kind in allowed else way + np.inf for kind, way in parts]
        )
        effort[[self.column(one) for one in made if one.kind is not Kind.WORD]] = np.inf
        return effort

    def _advice(self, possible: Bools, there: Bools, effort: Floats) -> tuple[Advice, ...]:
        rows = np.flatnonzero(possible)
        weights = self.weights * there
        if len(self.left(possible)) < 2:
            return ()
        bits = self._bits(rows) / effort
        order = np.argsort(-bits, kind="stable")
        found: list[Advice] = []
        for start in range(0, len(order), AT_ONCE):
            columns = order[start : start + AT_ONCE]
            columns = columns[bits[columns] > LEAST_BITS]
            if not len(columns):
                break
            found = [one for column in columns if (one := self._told(rows, int(column), weights)).bits > LEAST_BITS]
            if found:
                break
        found.sort(key=lambda one: -one.bits / effort[self.column(one.observation)])
        return tuple(self._different(found))

    def confirming(
        self, best: int, alive: Bools, weights: Floats, allowed: Sequence[Kind], made: Sequence[Observation]
    ) -> tuple[Advice, ...]:
        """Observations that would confirm a row, the best first: those of which what it shows contradicts most others.

        Each contradicts at least one, so that this comes to an end. `weights` are how likely each row is.
        """
        rows = np.flatnonzero(alive)
        low, high = (bound[rows] for bound in self._reach)
        fitting = (low <= self._columns[best]) & (self._columns[best] <= high)
        effort = self._effort(allowed, made, made[-1].halt if made else None)
        left = weights[rows] @ fitting
        bits = np.log2(weights[rows].sum() / left)
        found = []
        for column in np.argsort(-bits / effort, kind="stable")[:AT_ONCE]:
            if bits[column] / effort[column] > LEAST_BITS:
                count = len(np.unique(self.known.of[rows[fitting[:, column]]]))
                found.append(Advice(self.observation(int(column)), float(bits[column]), (count, float(count), count)))
        return tuple(self._different(found))

    def _different(self, found: Sequence[Advice]) -> list[Advice]:
        """Of those that begin at the same terminal in the same state the first."""
        kept: dict[tuple[object, ...], Advice] = {}
        for one in found:
            what = one.observation
            red = self.known.spots[what.spot].red if what.spot >= 0 else None
            kept.setdefault((what.kind, what.halt, red), one)
        return list(kept.values())

    def _told(self, rows: Ints, column: int, there: Floats) -> Advice:
        """What an observation tells of these rows: for the outcome of each, which faults would still fit.

        `there` is how likely each row is to be what is there.
        """
        low, high = (bound[rows, column] for bound in self._reach)
        values, where = np.unique(self._columns[rows, column], return_inverse=True)
        # Rows stand in the order of their faults: a fault is still possible where one of its values is.
        numbers, fault = np.unique(self.known.of[rows], return_inverse=True)
        weights = np.bincount(self.known.of[rows], self.weights[rows], len(self.known.hypotheses))[numbers]
        begins, ends = np.searchsorted(values, low, "left"), np.searchsorted(values, high, "right")
        begins, ends, fault = once(begins, ends, fault, len(values))
        left = covering(begins, ends, weights[fault].astype(np.float64), len(values))
        sizes = covering(begins, ends, np.ones(len(fault)), len(values))
        share = np.bincount(where, there[rows], len(values))
        share = share / share.sum()
        bits = float(np.dot(share, np.log2(weights.sum() / left)))
        counts = np.rint(sizes).astype(np.intp)
        leaves = int(counts.min()), float(np.dot(share, counts)), int(counts.max())
        # Of observations that tell the same the first is taken, whatever the order of sums made of the last figure.
        return Advice(self.observation(column), round(bits, 9), leaves)

    @cached_property
    def _by_observation(self) -> tuple[Numbers, Singles, Singles]:
        """For every observation the rows in the order of their outcomes, with these and their tolerances in that order.

        In single precision, which is a thousand times finer than any tolerance: half as much to be moved about.
        """
        values, tolerance = (whole.T.astype(np.float32, order="C") for whole in (self._columns, self._tolerance))
        order = np.argsort(values, axis=1, kind="stable")
        return (
            order.astype(np.int32),
            np.take_along_axis(values, order, 1),
            np.take_along_axis(tolerance, order, 1),
        )

    def _bits(self, rows: Ints) -> Floats:
        """What each observation tells of these rows at most, in bits: outcomes that lie apart are different ones."""
        order, values, tolerance = self._by_observation
        possible = np.zeros(self.rows, dtype=np.bool_)
        possible[rows] = True
        chosen = np.flatnonzero(possible[order])
        number, ordered, reach = (
            whole.ravel()[chosen].reshape(len(order), len(rows)) for whole in (order, values, tolerance)
        )
        apart = np.zeros(ordered.shape, dtype=np.int32)
        apart[:, 1:] = (ordered[:, 1:] - ordered[:, :-1]) > (reach[:, 1:] + reach[:, :-1])
        weights = self.weights / self.weights[rows].sum()
        return entropy(np.cumsum(apart, axis=1, dtype=np.int32), weights[number])


def _rise(one: Hypothesis, weights: Mapping[str, float]) -> float:
    """How much likelier other weights make what may be wrong; what is rare among its kind stays rare."""
    kinds = (kind for fault in one.faults if (kind := kind_name(fault)) in weights and kind in WEIGHTS)
    return math.prod(weights[kind] / WEIGHTS[kind] for kind in kinds)


def ends_of(reading: float | Span) -> tuple[float, float]:
    """From where to where a reading may lie, volts or ohms."""
    return (reading.low, reading.high) if isinstance(reading, Span) else (reading, reading)


def value_of(fault: Fault) -> float:
    """The value by which faults that differ in it alone are put in order."""
    return float(getattr(fault, "resistance_ohm", 0.0) or 0.0)
