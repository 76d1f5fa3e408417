"""What can be observed of a circuit: what its devices do in a state, volts there, and ohms where it is dead."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import End
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.beside import Moment
from wiretrace.simulation.engine import Frame, frame_of, initial_state
from wiretrace.simulation.reach import Standing, reach

MOST_AFLOAT: Final = 32

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]


class Kind(StrEnum):
    LOOK = "look"  # what every device does
    WORD = "word"  # what one of them does
    VOLTS = "volts"
    OHMS = "ohms"


EFFORT: Final = {Kind.LOOK: 1.0, Kind.WORD: 1.0, Kind.VOLTS: 1.0, Kind.OHMS: 1.0}
"""What each costs where one stands, in readings of a voltmeter, about a minute each."""
DEAD: Final = -1
"""The number of the state in which all is isolated and locked out."""
LOCK_OFF: Final = 3.0
"""Isolate, lock off, prove the tester, prove dead, prove the tester."""
SWITCH_ON: Final = 2.0
"""Close up, unlock, put under power, and work the panel until it stands as before."""
ANEW: Final = 0.5
"""Begin anew, to come to a state that lies before the one in which the panel is."""
RISK: Final = {
    Kind.LOOK: "",
    Kind.WORD: "",
    Kind.VOLTS: "Live: keep to the insulated part of the probes.",
    Kind.OHMS: "Only dead: lock off, prove the tester, prove dead, prove the tester again.",
}


@dataclass(frozen=True)
class Spot:
    """Where the two probes of a meter stand."""

    red: End
    black: End


def way_there(now: int | None, to: int) -> float:
    """What it costs to come from one state of the panel to another; None where nothing was done yet, under power."""
    if to == DEAD:
        return 0.0 if now == DEAD else LOCK_OFF
    if now == DEAD:
        return SWITCH_ON
    return ANEW if now is not None and to < now else 0.0


def spots(assembly: Assembly) -> tuple[Spot, ...]:
    """Where it is worth to measure: across every element and conductor, and from every terminal to each pole.

    What no pole reaches, as the loops of a safety relay, is measured from end to end of any part of it.
    """
    used = {end for wire in assembly.circuit.conductors for end in (wire.a, wire.b)}
    found: dict[Spot, None] = {}
    for red, black in (*_elements(assembly), *_to_poles(assembly, used), *_afloat(assembly, used)):
        if red != black and red in used and black in used:
            found.setdefault(Spot(red, black))
    return tuple(found)


def _elements(assembly: Assembly) -> Iterator[tuple[End, End]]:
    for item in assembly.devices.values():
        terminals = {terminal.name for terminal in item.structure.terminals}
        for branch in item.structure.branches:
            if branch.role is not Role.SOURCE and {branch.a, branch.b} <= terminals:
                yield End(device=item.id, terminal=branch.a), End(device=item.id, terminal=branch.b)
    for wire in assembly.circuit.conductors:
        yield wire.a, wire.b


def _to_poles(assembly: Assembly, used: set[End]) -> Iterator[tuple[End, End]]:
    known = [(what, item.id, name) for item in assembly.devices.values() for name, (what, _) in item.kind.poles.items()]
    # To the neutral first: of two readings that tell as much that is the one people take.
    known.sort(key=lambda pole: ("neutral", "earth", "live").index(pole[0]))
    poles = [End(device=device, terminal=name) for _, device, name in known]
    for end in sorted(used, key=lambda one: (one.device, one.terminal)):
        yield from ((end, pole) for pole in poles)


def _afloat(assembly: Assembly, used: set[End]) -> Iterator[tuple[End, End]]:
    reached = reach(assembly, frame_of(assembly, initial_state(assembly)))
    ends = [
        end
        for end in sorted(used, key=lambda one: (one.device, one.terminal))
        if reached.standing[assembly.node(end)] is Standing.NONE
    ]
    yield from combinations(ends[:MOST_AFLOAT], 2)


def nodes_at(assembly: Assembly, where: Sequence[Spot]) -> tuple[Ints, Ints]:
    """The nodes under the red and the black probe, of every spot."""
    return (
        np.array([assembly.node(spot.red) for spot in where], dtype=np.intp),
        np.array([assembly.node(spot.black) for spot in where], dtype=np.intp),
    )


def seen(assembly: Assembly, at: Frame | Moment) -> tuple[str, ...]:
    """The status of every device that shows anything, in the order of `lookers`."""
    params = assembly.values.params(at.state.time_us)
    return tuple(
        item.kind.view(params[item.id], at.state.devices[item.id], at.signals[item.id]).status
        for item in lookers(assembly)
    )


def lookers(assembly: Assembly) -> tuple[Installed, ...]:
    """Devices of which something is to be seen or heard: armatures, lamps, motors, what trips."""
    shows = (Does.OPERATES, Does.SHOWS, Does.TURNS, Does.FEELS_CURRENT, Does.FEELS_VOLTAGE, Does.CONSUMES)
    return tuple(
        item
        for item in assembly.devices.values()
        if item.structure.parts_that(*shows) or item.kind.protects is not None
    )
