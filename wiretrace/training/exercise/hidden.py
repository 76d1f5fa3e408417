"""Which fault is hidden: drawn from a seed by how hard it is to find, so that the same can be given again."""

import hashlib
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Final, TypeVar

from wiretrace.diagnosis.hypotheses import WEIGHTS
from wiretrace.diagnosis.procedure import Halt
from wiretrace.errors import Problem, UnknownTarget, WiretraceError
from wiretrace.faults.fault import Fault, Sort
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.registry import kind_name
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.order import looks_under

SLOT_US: Final = 4_000_000
"""How long a joint that comes and goes stays at least one way."""
MOST_TRIED: Final = 25
MET_KIND: Final = 0.4
"""Share of its weight with which a kind of fault comes again to who has met it."""


Drawn = TypeVar("Drawn")


LEVELS: Final[Mapping[int, tuple[Sort, ...]]] = {
    1: (Sort.OPEN,),
    2: (Sort.STUCK, Sort.SETTING, Sort.SHORT),
    3: (Sort.JOINT, Sort.TWO, Sort.COMES_AND_GOES),
}
"""From what is found with a voltmeter in a few readings to what misleads."""


class Chance:
    """Draws that follow from a seed alone, whatever runs them."""

    def __init__(self, seed: int) -> None:
        self._seed, self._drawn = seed, 0

    def below(self, size: int) -> int:
        """A number from 0 to below `size`."""
        self._drawn += 1
        digest = hashlib.sha256(f"{self._seed}/{self._drawn}".encode()).digest()
        return int.from_bytes(digest[:8]) % size

    def choice(self, known: Sequence[Drawn]) -> Drawn:
        return known[self.below(len(known))]

    def weighted(self, known: Sequence[tuple[Drawn, float]]) -> Drawn:
        """One of several, each as often as its weight says; in thousandths, so that nothing hangs on last digits."""
        shares = [max(1, round(1000 * weight)) for _, weight in known]
        at = self.below(sum(shares))
        for (one, _), share in zip(known, shares, strict=True):
            if at < share:
                return one
            at -= share
        raise AssertionError("the shares are all that there is")


def draw(
    assembly: Assembly, halts: Sequence[Halt], seed: int, sorts: Sequence[Sort], met: Collection[Fault] = ()
) -> tuple[Fault, ...]:
    """Faults that this seed gives of these kinds, each such that something is then seen or heard to be wrong.

    Kinds of fault come as often as they do in a workshop; what a learner has `met` comes more rarely. Raises
    UnknownTarget where none of those tried shows a symptom.
    """
    sound = looks_under(assembly, (), halts)
    tried = 0
    for faults in _candidates(assembly, Chance(seed), sorts, _Likely(met)):
        tried += 1
        if tried > MOST_TRIED:
            break
        try:
            # Of two each shows by itself: who has mended the one must be able to find the other.
            if all(looks_under(assembly, some, halts) != sound for some in {(one,) for one in faults} | {faults}):
                return faults
        except WiretraceError:
            continue
    message = "No fault of this kind that was tried shows anything here: take another number or another kind."
    raise UnknownTarget(message, (Problem("no_symptom", message),))


@dataclass(frozen=True)
class _Likely:
    """Which fault of several comes: first its kind, by how often that comes about, then one of that kind."""

    met: Collection[Fault]

    def choice(self, chance: Chance, known: Sequence[Fault]) -> Fault:
        kinds: dict[str, list[Fault]] = {}
        for one in known:
            kinds.setdefault(kind_name(one), []).append(one)
        seen = {kind_name(one) for one in self.met}
        weights = {kind: WEIGHTS.get(kind, 1.0) * (MET_KIND if kind in seen else 1.0) for kind in kinds}
        kind = chance.weighted(list(weights.items()))
        fresh = [one for one in kinds[kind] if one not in self.met]
        return chance.choice(fresh or kinds[kind])


def _candidates(
    assembly: Assembly, chance: Chance, sorts: Sequence[Sort], likely: _Likely
) -> Iterator[tuple[Fault, ...]]:
    every = list(possible_faults(assembly.circuit, assembly.devices))
    single = {sort: [one for one in every if sort in one.about.sorts] for sort in Sort}
    makers: dict[Sort, Callable[[], tuple[Fault, ...]]] = {
        sort: partial(_one, chance, likely, known) for sort, known in single.items() if known
    }
    opens, loose = single[Sort.OPEN], single[Sort.COMES_AND_GOES]
    if len(opens) > 1:
        makers[Sort.TWO] = lambda: _two(chance, likely, opens)
    if loose:
        makers[Sort.COMES_AND_GOES] = lambda: (
            replace(likely.choice(chance, loose), slot_us=SLOT_US, seed=chance.below(1 << 40)),
        )
    usable = [sort for sort in sorts if sort in makers]
    while usable:
        yield makers[chance.choice(usable)]()


def _one(chance: Chance, likely: _Likely, known: Sequence[Fault]) -> tuple[Fault, ...]:
    return (likely.choice(chance, known),)


def _two(chance: Chance, likely: _Likely, known: Sequence[Fault]) -> tuple[Fault, ...]:
    first = likely.choice(chance, known)
    return first, likely.choice(chance, [one for one in known if one != first])
