"""Meters that tell most misconceptions apart on a circuit in some states: a sheet that proposes itself."""

import math
from collections import Counter
from collections.abc import Iterator, Mapping
from itertools import combinations
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.document.circuit import End
from wiretrace.training.prediction.answers import Volts
from wiretrace.training.prediction.marking import agrees, supply_v
from wiretrace.training.prediction.misconceptions import MISCONCEPTIONS
from wiretrace.training.prediction.models import Case, Course
from wiretrace.training.prediction.sheet import Spot

LETTERS: Final = "ABCDEFGH"
MOST_PLACES: Final = 40
RIGHT: Final = ""
"""Stands for whoever has no misconception."""
Told = Mapping[int, Mapping[str, int]]
"""By state what each misconception writes, as a number that is the same for figures that agree."""


def proposed(course: Course, most: int = 6) -> tuple[Spot, ...]:
    """Up to so many meters, the most telling first: each parts most pairs that those before it do not."""
    places = list(_places(course))
    told = {place: _told(course, *place) for place in places}
    names = [RIGHT, *(one.name for one in MISCONCEPTIONS)]
    open_pairs = {frozenset(pair) for pair in combinations(names, 2)}
    chosen: list[tuple[End, End]] = []
    seen: Counter[str] = Counter()
    while places and len(chosen) < most:
        parted = {place: _parts(told[place], open_pairs) for place in places}
        best = max(places, key=lambda place: (len(parted[place]), _evidence(told[place], seen)))
        if not any(told[best].values()):
            break
        chosen.append(best)
        seen.update(name for row in told[best].values() for name in row)
        places.remove(best)
        open_pairs -= parted[best]
    return tuple(Spot(letter=LETTERS[at], red=red, black=black) for at, (red, black) in enumerate(chosen))


def _places(course: Course) -> Iterator[tuple[End, End]]:
    """Across every part of two terminals of the control side, and from each of its terminals to the neutral."""
    assembly = course.assembly
    wired = {end for wire in assembly.circuit.conductors for end in (wire.a, wire.b)}
    neutral = next(
        (
            End(device=item.id, terminal=name)
            for item in assembly.devices.values()
            for name, (what, _) in item.kind.poles.items()
            if what == "neutral"
        ),
        None,
    )
    found: list[tuple[End, End]] = []
    for item in assembly.devices.values():
        for part in item.structure.parts:
            ends = [End(device=item.id, terminal=name) for name in part.terminals]
            if len(ends) == 2 and part.does is not Does.FEEDS and set(ends) <= wired:
                found.append((ends[0], ends[1]))
                found += [(ends[0], neutral)] if neutral is not None else []
    yield from found[:MOST_PLACES]


def _told(course: Course, red: End, black: End) -> Told:
    return {index: _row(Case(course, index, red, black)) for index in range(len(course.sheet.states))}


def _row(case: Case) -> dict[str, int]:
    """Misconceptions that write another figure than the right one, each with the number of its figure."""
    supply, right = supply_v(case), case.reading.voltage_v
    figures: list[float] = []
    row: dict[str, int] = {}
    for one in MISCONCEPTIONS:
        figure = next(
            (abs(each.value) for each in one.figures(case) if not _same(case, each.value, right, supply)), None
        )
        if figure is not None:
            known = next((at for at, volts in enumerate(figures) if _same(case, figure, volts, supply)), None)
            if known is None:
                figures.append(figure)
            row[one.name] = len(figures) - 1 if known is None else known
    return row


def _evidence(told: Told, seen: Counter[str]) -> float:
    """What a meter adds to what is known of each misconception: less of one of which much is known."""
    more = Counter(name for row in told.values() for name in row)
    return sum(math.sqrt(seen[name] + count) - math.sqrt(seen[name]) for name, count in more.items())


def _same(case: Case, one: float, other: float, supply: float) -> bool:
    return agrees(Volts(abs(one)), other, supply, case.course.sheet)


def _parts(told: Told, pairs: set[frozenset[str]]) -> set[frozenset[str]]:
    return {pair for pair in pairs if any(row.get(min(pair), -1) != row.get(max(pair), -1) for row in told.values())}
