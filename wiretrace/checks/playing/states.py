"""What an exploration finds: states of the circuit, and the moves that lead from one to the other."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property

from wiretrace.checks.finding import Move
from wiretrace.simulation.state import State


class How(StrEnum):
    """What leads from one state to the next."""

    HAND = "hand"  # a command is worked, or let go
    TIME = "time"  # a clock runs out
    TRIP = "trip"  # a protection is tripped by hand, as what it guards against would do
    RESET = "reset"
    SUPPLY = "supply"  # gone and back
    PHASE = "phase"  # one line gone, and back


@dataclass(frozen=True)
class Reached:
    """A state of the circuit. Its number is its place in the exploration."""

    number: int
    state: State
    runs: frozenset[str]
    """Contactors that are in, and could let go."""
    broken: frozenset[str]
    """What has tripped, blown or welded in it."""
    held: frozenset[str]
    """Commands that a hand holds in it."""
    stays_on: bool
    """Did something that stays where it is put, or a process, have a part in it?"""
    key: tuple[str, ...]
    """Status of every device that is no motor: what tells states apart."""
    turning: tuple[tuple[str, str], ...] = ()
    """Status of each motor that does something, when the state was first reached."""
    waits: bool = False
    """Does a clock run in it?"""
    chatters: bool = False
    """Does something go in and out in it without end?"""


@dataclass(frozen=True)
class Edge:
    """A step from one state to another. The moves stand at times since its beginning; it takes `took_us`."""

    of: int
    to: int
    how: How
    moves: tuple[Move, ...]
    took_us: int
    words: str
    device: str = ""
    lets_go: bool = False


@dataclass
class Exploration:
    """All that was reached, in the order of the fewest moves."""

    states: list[Reached] = field(default_factory=list)
    edges: list[Edge] = field(default_factory=list)
    runs: int = 0
    left_out: bool = False
    _first: dict[int, Edge] = field(default_factory=dict)

    def add(self, edge: Edge) -> None:
        self.edges.append(edge)
        if edge.to != 0:
            self._first.setdefault(edge.to, edge)

    @cached_property
    def leaving(self) -> dict[int, list[Edge]]:
        """The edges that leave each state. To be asked once everything was added."""
        found: dict[int, list[Edge]] = {one.number: [] for one in self.states}
        for edge in self.edges:
            found[edge.of].append(edge)
        return found

    def way_to(self, number: int) -> tuple[Edge, ...]:
        """The first way that was found to a state: the fewest moves."""
        way: list[Edge] = []
        while number in self._first:
            way.append(self._first[number])
            number = way[-1].of
        return tuple(reversed(way))

    def moves_to(self, number: int, more: Sequence[Edge] = ()) -> tuple[tuple[Move, ...], int]:
        """Moves from under power to a state and along the edges after it, and when they are done."""
        return timed((*self.way_to(number), *more))

    def rested(self, number: int) -> tuple[int, tuple[Edge, ...]]:
        """The state that comes of one by time alone, and the way there."""
        way: list[Edge] = []
        while True:
            onward = next((edge for edge in self.leaving[number] if edge.how is How.TIME), None)
            if onward is None or any(edge.of == onward.to for edge in way) or onward.to == number:
                return number, tuple(way)
            way.append(onward)
            number = onward.to


BEGIN_US = 400_000
"""How long the circuit stands under power before the first move."""


def timed(edges: Iterable[Edge]) -> tuple[tuple[Move, ...], int]:
    """The moves of edges one after the other, at times since the circuit was put under power; and when they end."""
    moves: list[Move] = []
    now = BEGIN_US
    for edge in edges:
        moves += [replace(move, at_us=now + move.at_us) for move in edge.moves]
        now += edge.took_us
    return tuple(moves), now
