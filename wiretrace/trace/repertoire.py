"""What can be observed of a circuit: what its devices do in a state, volts there, and ohms where it is dead."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.catalogue.purpose import Does
from wiretrace.catalogue.structure import Role
from wiretrace.circuit.checked import Installed
from wiretrace.circuit.document import End
from wiretrace.network.solve import Solution
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, frame_of, initial_state
from wiretrace.simulation.reach import Standing, reach
from wiretrace.simulation.state import State

METER_OHM: Final = 10e6
MOST_AFLOAT: Final = 32
OPEN_OHM: Final = 60e6
"""What an ohmmeter shows as OL."""

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]


class Kind(StrEnum):
    LOOK = "look"  # what every device does
    WORD = "word"  # what one of them does
    VOLTS = "volts"
    OHMS = "ohms"


EFFORT: Final = {Kind.LOOK: 1.0, Kind.WORD: 1.0, Kind.VOLTS: 1.0, Kind.OHMS: 1.3}
"""What each costs: ohms want the supply locked off and proved dead first."""
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


def seen(assembly: Assembly, frame: Frame) -> tuple[str, ...]:
    """What every device that shows anything says, in the order of `lookers`."""
    return tuple(frame.views[item.id].says for item in lookers(assembly))


def lookers(assembly: Assembly) -> tuple[Installed, ...]:
    """Devices of which something is to be seen or heard: armatures, lamps, motors, what trips."""
    shows = (Does.OPERATES, Does.SHOWS, Does.TURNS, Does.FEELS_CURRENT, Does.FEELS_VOLTAGE, Does.CONSUMES)
    return tuple(
        item
        for item in assembly.devices.values()
        if item.structure.parts_that(*shows) or item.kind.protects is not None
    )


def volts_at(assembly: Assembly, frame: Frame, where: tuple[Ints, Ints]) -> Floats:
    """What a 10 Mohm voltmeter shows at every spot: the larger of its two parts, 0 without a way between the probes."""
    shown = np.zeros(len(where[0]))
    for solution in (frame.point.ac, frame.point.dc):
        if solution is not None:
            volts, ohm, joined = _thevenin(solution, where)
            shown = np.maximum(shown, np.where(joined, np.abs(volts * (METER_OHM / (METER_OHM + ohm))), 0.0))
    return shown


def ohms_at(assembly: Assembly, state: State, where: tuple[Ints, Ints]) -> Floats:
    """What an ohmmeter shows at every spot with the supplies taken off: infinite for OL."""
    values = assembly.values.in_state(state)
    for item in assembly.devices.values():
        if item.kind.poles and not item.kind.coupled:
            for _, branch in item.kind.poles.values():
                values[assembly.branch_index(item.id, branch)] = None
    dead = assembly.equations.solve_dead(values)
    _, ohm, joined = _thevenin(dead, where)
    real = np.abs(ohm.real)
    return np.where(joined & (real <= OPEN_OHM), real, np.inf)


def _thevenin(solution: Solution, where: tuple[Ints, Ints]) -> tuple[NDArray, NDArray, NDArray]:  # type: ignore[type-arg]
    """Open voltage, source impedance, and whether there is a way, of every pair of nodes."""
    shape, count = solution.topology, len(solution.potential_v)
    fed = np.zeros((shape.size + 1, count), dtype=np.complex128)
    for columns in shape.columns:
        fed[columns, np.arange(count)] = 1
    raised = np.zeros_like(fed)
    if shape.size:
        raised[:-1] = solution.factor.solve(fed[:-1])
    transfer = sum(raised[columns] for columns in shape.columns[1:]) + raised[shape.columns[0]]
    a, b = where
    own = transfer.diagonal()
    ohm = own[a] + own[b] - transfer[a, b] - transfer[b, a]
    joined = shape.island[a] == shape.island[b]
    return solution.potential_v[a] - solution.potential_v[b], ohm, joined
