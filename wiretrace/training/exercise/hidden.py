"""Which fault is hidden: drawn from a seed by how hard it is to find, so that the same can be given again."""

import hashlib
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from functools import partial
from typing import Final, TypeVar

from wiretrace.diagnosis.procedure import Halt
from wiretrace.errors import Problem, UnknownTarget, WiretraceError
from wiretrace.faults.fault import Fault, Sort
from wiretrace.faults.possible import possible_faults
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.order import looks_under

SLOT_US: Final = 4_000_000
"""How long a joint that comes and goes stays at least one way."""
MOST_TRIED: Final = 25


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


def draw(assembly: Assembly, halts: Sequence[Halt], seed: int, sorts: Sequence[Sort]) -> tuple[Fault, ...]:
    """Faults that this seed gives of these kinds, such that something is then seen or heard to be wrong.

    Raises UnknownTarget where none of those tried shows a symptom.
    """
    sound = looks_under(assembly, (), halts)
    chance = Chance(seed)
    tried = 0
    for faults in _candidates(assembly, chance, sorts):
        tried += 1
        if tried > MOST_TRIED:
            break
        try:
            if looks_under(assembly, faults, halts) != sound:
                return faults
        except WiretraceError:
            continue
    message = "No fault of this kind that was tried shows anything here: take another number or another kind."
    raise UnknownTarget(message, (Problem("no_symptom", message),))


def _candidates(assembly: Assembly, chance: Chance, sorts: Sequence[Sort]) -> Iterator[tuple[Fault, ...]]:
    every = list(possible_faults(assembly.circuit, assembly.devices))
    single = {sort: [one for one in every if sort in one.about.sorts] for sort in Sort}
    makers: dict[Sort, Callable[[], tuple[Fault, ...]]] = {
        sort: partial(_one, chance, known) for sort, known in single.items() if known
    }
    opens, loose = single[Sort.OPEN], single[Sort.COMES_AND_GOES]
    if len(opens) > 1:
        makers[Sort.TWO] = lambda: _two(chance, opens)
    if loose:
        makers[Sort.COMES_AND_GOES] = lambda: (
            replace(chance.choice(loose), slot_us=SLOT_US, seed=chance.below(1 << 40)),
        )
    usable = [sort for sort in sorts if sort in makers]
    while usable:
        yield makers[chance.choice(usable)]()


def _one(chance: Chance, known: Sequence[Fault]) -> tuple[Fault, ...]:
    return (chance.choice(known),)


def _two(chance: Chance, known: Sequence[Fault]) -> tuple[Fault, ...]:
    first = chance.choice(known)
    return first, chance.choice([one for one in known if one != first])
