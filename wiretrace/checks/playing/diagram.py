"""State diagram: what the machine can be, and what takes it from one to the other.

States of the circuit with the same outputs are one state of the machine: what is in, what has tripped, and where the
commands stand that stay where they are put. What a hand holds is no part of it, and neither is the loss of a supply.
"""

from collections import deque
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.status import tells, words
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Move
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.explore import Explorer, lasts
from wiretrace.checks.playing.states import How, Reached

SHOWN: Final = (How.HAND, How.TIME, How.TRIP, How.RESET)
Outputs = tuple[frozenset[str], frozenset[str], tuple[tuple[str, str], ...]]


@dataclass(frozen=True)
class MachineState:
    """A state of the machine: what stands in its box, the moves that lead there, and where it stands in the diagram."""

    number: int
    lines: tuple[str, ...]
    active: bool
    tripped: bool
    trap: bool
    """Does nothing but a trip, or the supply, lead out of it?"""
    moves: tuple[Move, ...]
    seen_us: int
    column: int
    row: int


@dataclass(frozen=True)
class Arrow:
    """What leads from one state to another: a move or several, of which each does."""

    of: int
    to: int
    words: tuple[str, ...]
    by_itself: bool
    """Is it time alone?"""


@dataclass(frozen=True)
class Diagram:
    states: tuple[MachineState, ...]
    arrows: tuple[Arrow, ...]
    left_out: bool
    over: str


def state_diagram(facts: Facts) -> Diagram:
    """Raises NothingToCheck for a circuit without any coil, and what a run of it raises."""
    made = worked(facts)
    lasting = [item.id for item in made.commands if lasts(item)]
    upset = _upset(made)
    shown = [one for one in made.found.states if one.number not in upset]
    groups: dict[Outputs, list[Reached]] = {}
    for one in shown:
        groups.setdefault(_outputs(made, one, lasting), []).append(one)
    number_of = {one.number: number for number, some in enumerate(groups.values()) for one in some}
    arrows = tuple(_arrows(made, number_of))
    places = _places(len(groups), arrows)
    states = tuple(
        _state(made, facts, number, outputs, some, (arrows, places[number]))
        for number, (outputs, some) in enumerate(groups.items())
    )
    over = f"{len(made.found.states)} states of the circuit, {made.found.runs} moves"
    return Diagram(states, arrows, made.found.left_out, over)


def _upset(made: Explorer) -> frozenset[int]:
    """States that are only there because a supply, or a line of it, was lost."""
    return frozenset(
        one.number for one in made.found.states if any(edge.how not in SHOWN for edge in made.found.way_to(one.number))
    )


def _outputs(made: Explorer, one: Reached, lasting: list[str]) -> Outputs:
    tripped = frozenset(
        name for name, at in _places_of(made).items() if tells(one.key[at], "tripped") or name in one.broken
    )
    return one.runs, tripped, tuple((name, one.key[made.place(name)]) for name in lasting)


def _places_of(made: Explorer) -> Mapping[str, int]:
    """Where the status of each protection stands in the key of a state."""
    guards = [item.id for item in made.facts.items if any(one.trips for one in item.kind.operations)]
    return {name: made.place(name) for name in guards}


def _arrows(made: Explorer, number_of: Mapping[int, int]) -> Iterator[Arrow]:
    """What a hand does while another one holds something is left out, but for letting go."""
    told: dict[tuple[int, int], dict[str, bool]] = {}
    for edge in made.found.edges:
        free = not made.found.states[edge.of].held or edge.lets_go
        if free and edge.how in SHOWN and edge.of in number_of and edge.to in number_of:
            of, to = number_of[edge.of], number_of[edge.to]
            known = told.setdefault((of, to), {}) if of != to else {}
            if edge.how is not How.TIME or not any(known.values()):
                known[edge.words] = edge.how is How.TIME
    for (of, to), by_words in told.items():
        yield Arrow(of, to, tuple(by_words), all(by_words.values()))


def _places(count: int, arrows: tuple[Arrow, ...]) -> list[tuple[int, int]]:
    """Column by the fewest arrows from the first state, row by the order in its column."""
    depth = {0: 0}
    waiting = deque([0])
    while waiting:
        here = waiting.popleft()
        for arrow in arrows:
            if arrow.of == here and arrow.to not in depth:
                depth[arrow.to] = depth[here] + 1
                waiting.append(arrow.to)
    rows: dict[int, int] = {}
    places = []
    for number in range(count):
        column = depth.get(number, max(depth.values()) + 1)
        places.append((column, rows.get(column, 0)))
        rows[column] = rows.get(column, 0) + 1
    return places


def _state(
    made: Explorer,
    facts: Facts,
    number: int,
    outputs: Outputs,
    some: list[Reached],
    drawn: tuple[tuple[Arrow, ...], tuple[int, int]],
) -> MachineState:
    """Of its states of the circuit the one for which the fewest hands hold something stands for it."""
    runs, tripped, positions = outputs
    arrows, (column, row) = drawn
    one = min(some, key=lambda state: len(state.held))
    moves, seen_us = made.found.moves_to(one.number)
    lines = [f"{facts.label(name)} in" for name in sorted(runs, key=made.place)]
    lines += [f"{facts.label(name)} {words(status)}" for name, status in one.turning if runs]
    lines += [f"{facts.label(name)} tripped" for name in sorted(tripped, key=made.place)]
    lines += [f"{facts.label(name)}: {words(status)}" for name, status in positions]
    lines += [f"while {facts.label(name)} is held" for name in sorted(one.held, key=made.place)]
    trap = bool(runs) and not any(arrow.of == number for arrow in arrows if _is_way_out(made, arrow))
    return MachineState(
        number, tuple(lines) or ("at rest",), bool(runs), bool(tripped), trap, moves, seen_us, column, row
    )


def _is_way_out(made: Explorer, arrow: Arrow) -> bool:
    trips = {edge.words for edge in made.found.edges if edge.how is How.TRIP}
    return any(one not in trips for one in arrow.words)
