"""The fault dictionary: what every fault would show, in every state, at every spot."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Final

import numpy as np

from wiretrace.circuit.document import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state
from wiretrace.trace.hypotheses import Hypothesis, hypotheses
from wiretrace.trace.procedure import Halt, halts_of, reached
from wiretrace.trace.repertoire import Floats, Ints, Kind, Spot, ohms_at, seen, spots, volts_at

UNKNOWN: Final = -1


@dataclass(frozen=True)
class Observation:
    """Something that can be looked at: a state by its number, -1 for dead and locked off, and a spot by its number.

    For what one device does `spot` is its number among those of which something is seen.
    """

    kind: Kind
    halt: int
    spot: int = -1


@dataclass(frozen=True)
class Shown:
    """What one row shows: its words in every state, its volts by state and spot, its ohms by spot."""

    looks: tuple[tuple[str, ...], ...]
    volts: Floats
    ohms: Floats


@dataclass(frozen=True)
class Dictionary:
    """Rows are faults with a value each: `of` is the number of the hypothesis that a row belongs to.

    `volts` is an array of rows, states and spots, `ohms` of rows and spots, `looks` words by row and state.
    `left_out` are hypotheses that could not be worked out, with the reason.
    """

    circuit: Circuit
    halts: tuple[Halt, ...]
    spots: tuple[Spot, ...]
    hypotheses: tuple[Hypothesis, ...]
    of: Ints
    looks: tuple[tuple[tuple[str, ...], ...], ...]
    volts: Floats
    ohms: Floats
    left_out: tuple[tuple[int, str], ...]


def show(circuit: Circuit, faults: Sequence[Fault], halts: Sequence[Halt], where: Sequence[Spot]) -> Shown:
    """What a circuit with these faults shows in every state. Raises what a run raises."""
    assembly = Assembly(circuit, faults)
    nodes = (
        np.array([assembly.node(spot.red) for spot in where], dtype=np.intp),
        np.array([assembly.node(spot.black) for spot in where], dtype=np.intp),
    )
    state, looks, volts = initial_state(assembly), [], []
    ohms = ohms_at(assembly, state, nodes)
    for halt in halts:
        frame, state = reached(assembly, state, halt)
        looks.append(seen(assembly, frame))
        volts.append(volts_at(assembly, frame, nodes))
    return Shown(tuple(looks), np.array(volts), ohms)


Row = tuple[int, Fault | None]
"""The number of a hypothesis, and it with one of its values."""
Worked = Shown | str
"""What a row shows, or why that cannot be worked out."""


def rows_of(every: Sequence[Hypothesis]) -> list[Row]:
    """Each hypothesis with each of its values."""
    return [(number, fault) for number, one in enumerate(every) for fault in (one.values or (None,))]


def work_out(circuit: Circuit, halts: Sequence[Halt], where: Sequence[Spot], row: Row) -> Worked:
    """What one row shows; an error of the core becomes its message."""
    try:
        return show(circuit, () if row[1] is None else (row[1],), halts, where)
    except WiretraceError as error:
        return error.message


def dictionary(
    circuit: Circuit,
    halts: Sequence[Halt] = (),
    every: Sequence[Hypothesis] | None = None,
    worked: Callable[[Callable[[Row], Worked], list[Row]], Iterable[Worked]] = map,
) -> Dictionary:
    """Work out what every hypothesis shows. `worked` does the rows in order: one after the other, or shared out."""
    chosen, where = tuple(halts) or halts_of(circuit), spots(Assembly(circuit))
    known = tuple(every) if every is not None else hypotheses(circuit)
    rows = rows_of(known)
    return bound(circuit, chosen, known, list(worked(partial(work_out, circuit, chosen, where), rows)))


def bound(circuit: Circuit, halts: Sequence[Halt], every: Sequence[Hypothesis], worked: Sequence[Worked]) -> Dictionary:
    """A dictionary from its rows, in the order of `rows_of`."""
    rows = rows_of(every)
    shown = [(number, one) for (number, _), one in zip(rows, worked, strict=True) if isinstance(one, Shown)]
    left_out = [(number, one) for (number, _), one in zip(rows, worked, strict=True) if isinstance(one, str)]
    return Dictionary(
        circuit,
        tuple(halts),
        spots(Assembly(circuit)),
        tuple(every),
        np.array([number for number, _ in shown], dtype=np.intp),
        tuple(one.looks for _, one in shown),
        np.array([one.volts for _, one in shown], dtype=np.float64),
        np.array([one.ohms for _, one in shown], dtype=np.float64),
        tuple(left_out),
    )
