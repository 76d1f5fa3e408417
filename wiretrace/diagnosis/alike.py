"""Which faults are alike to every device of a circuit, so that one of them is run for all.

What is in series carries one current: an opening or a bad joint does the same wherever in that series it is, to all
that moves, heats or lights. What a meter reads beside it differs, and is worked out for each.
"""

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from wiretrace.document.circuit import End
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import Open
from wiretrace.simulation.assembly import Assembly


@dataclass(frozen=True)
class Series:
    """Every branch by the series that it is in, and the branches at every node; both by number."""

    of: Sequence[int]
    at: Sequence[Sequence[int]]


def series_of(sound: Assembly) -> Series:
    """What is in series: two branches, and nothing else, at a node that is not held at earth potential."""
    branches = sound.branches
    at: list[list[int]] = [[] for _ in sound.nodes]
    for number, ref in enumerate(branches):
        at[ref.a].append(number)
        at[ref.b].append(number)
    first = list(range(len(branches)))

    def find(number: int) -> int:
        while first[number] != number:
            first[number] = number = first[first[number]]
        return number

    for node, meeting in enumerate(at):
        if len(meeting) == 2 and node != sound.graph.ground:
            one, other = sorted(map(find, meeting))
            first[other] = one
    return Series([find(number) for number in range(len(branches))], at)


def as_run(sound: Assembly, series: Series, fault: Fault) -> Fault:
    """The same fault as simply as it can be said: a terminal that only one element hangs on is that element, open."""
    inner = _inside(sound, series, fault)
    if len(inner) != 1 or inner[0] in sound.equations.coupled:
        return fault
    ref = sound.branches[inner[0]]
    return Open(ref.place, ref.branch)


def kind_of(sound: Assembly, series: Series, fault: Fault | None) -> Hashable:
    """Faults of which this is equal are alike to every device."""
    if fault is None:
        return None
    if (joint := fault.in_series()) is not None:
        place, branch, ohm = joint
        return series.of[sound.branch_index(place, branch)], ohm
    if (cut := fault.cuts_off()) is not None:
        inner = _inside(sound, series, fault)
        wires = [n for n in series.at[_node(sound, cut)] if not sound.branches[n].branch]
        # What hangs on it alone is cut off, on the one side or on the other.
        alone = inner if len(inner) == 1 else wires if inner and len(wires) == 1 else []
        if alone:
            return series.of[alone[0]], math.inf
    return fault


def _node(sound: Assembly, end: End) -> int:
    return sound.graph.node_of[end.device, end.terminal]


def _inside(sound: Assembly, series: Series, fault: Fault) -> list[int]:
    """The elements inside its device that hang on a loose terminal."""
    cut = fault.cuts_off()
    return [] if cut is None else [n for n in series.at[_node(sound, cut)] if sound.branches[n].branch]
