"""Where in a motor's circuit a device stands: in the line, before a winding, or at the star point."""

from collections.abc import Iterable, Iterator, Mapping
from enum import Enum
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, End
from wiretrace.document.nets import nets

CARRIES: Final = (Does.SWITCHES_LOAD, Does.FEELS_CURRENT, Does.LESSENS, Does.CONVERTS)
"""Parts that the motor's current flows through."""
Way = tuple[str, End | int, End | int]
"""Through a device, from one potential to another; a terminal without a conductor is one of its own."""


class Place(Enum):
    """What flows through a device of a star-delta starter, once it runs in delta or, for the last, starts in star."""

    LINE = "line"
    WINDING = "winding"
    STAR = "star point"


def places(circuit: Circuit, devices: Iterable[Installed]) -> Mapping[str, Place]:
    """The place of each device that carries a motor's current, by its id.

    What nothing goes past carries the line's current; a second contactor between the same potentials, for the other
    direction, is no way past. What leaves the motor another way to the supply carries that of its windings. What joins
    three conductors to one potential closes the star.
    """
    installed = tuple(devices)
    lies_on = {end: at for at, net in enumerate(nets(circuit)) for end in net.ends}
    ways = [way for item in installed for way in _ways(item, lies_on)]
    fed = {at for item in installed for at in _ends(item, Does.FEEDS, lies_on)}
    turned = {at for item in installed for at in _ends(item, Does.TURNS, lies_on)}
    between = {item: _between(item, ways) for item in {way[0]: None for way in ways}}
    found = {}
    for item, sides in between.items():
        if any(len(side) == 1 for side in sides) and len([way for way in ways if way[0] == item]) >= 3:
            found[item] = Place.STAR
        else:
            past = _reached(fed, [way for way in ways if between[way[0]] != sides])
            found[item] = Place.WINDING if past & turned else Place.LINE
    return found


def _ways(item: Installed, lies_on: Mapping[End, int]) -> Iterator[Way]:
    branches = {branch.name: branch for branch in item.structure.branches}
    for does in CARRIES:
        for part in item.structure.parts_that(does):
            for branch in (branches[name] for name in part.branches):
                a, b = End(device=item.id, terminal=branch.a), End(device=item.id, terminal=branch.b)
                yield item.id, lies_on.get(a, a), lies_on.get(b, b)


def _between(item: str, ways: list[Way]) -> frozenset[frozenset[End | int]]:
    """The potentials at each side of a device."""
    own = [(a, b) for at, a, b in ways if at == item]
    return frozenset((frozenset(a for a, _ in own), frozenset(b for _, b in own)))


def _ends(item: Installed, does: Does, lies_on: Mapping[End, int]) -> Iterator[End | int]:
    """Where the branches of such parts end: of a supply its lines, of a motor its windings, and no earth."""
    if not item.structure.parts_that(does):
        return
    for branch in item.structure.branches:
        if branch.role in (Role.SOURCE, Role.LOAD):
            for terminal in (branch.a, branch.b):
                end = End(device=item.id, terminal=terminal)
                yield lies_on.get(end, end)


def _reached(start: set[End | int], ways: list[Way]) -> set[End | int]:
    reached, grows = set(start), True
    while grows:
        size = len(reached)
        for _, a, b in ways:
            if a in reached or b in reached:
                reached |= {a, b}
        grows = len(reached) > size
    return reached
