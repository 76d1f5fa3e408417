"""What each command does to each contactor when it is worked: starts, jogs or stops it."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.states import Edge, How, Reached


class Verb(StrEnum):
    """What is done to a contactor."""

    STARTS = "starts"  # it comes in, and stays when the hand is taken away
    JOGS = "jogs"  # it is in while a hand holds the command, and no longer
    STOPS = "stops"  # it goes out


@dataclass(frozen=True)
class Effect:
    """What one move of a command, or a trip, does to a contactor in some state."""

    device: str
    operation: str
    value: bool
    verb: Verb
    output: str


@dataclass(frozen=True)
class Shown:
    """Where an effect is seen first: from a state in which nothing else is held, along these edges."""

    here: Reached
    edges: tuple[Edge, ...]


def effects(made: Explorer) -> dict[Effect, Shown]:
    """Every effect, in the order of the fewest moves that show it."""
    found: dict[Effect, Shown] = made.facts.remembered("effects", lambda: _all(made))
    return found


def _all(made: Explorer) -> dict[Effect, Shown]:
    found: dict[Effect, Shown] = {}
    for edge in made.found.edges:
        here = made.found.states[edge.of]
        if edge.how in (How.HAND, How.TRIP) and edge.moves and not (here.held or edge.lets_go):
            for effect, edges in _of(made, here, edge):
                found.setdefault(effect, Shown(here, edges))
    return found


def _of(made: Explorer, here: Reached, edge: Edge) -> Iterator[tuple[Effect, tuple[Edge, ...]]]:
    """What is in at the end counts: a star that is only passed through is neither started nor jogged. What time alone
    would do as well is no effect."""
    move, states = edge.moves[0], made.found.states
    by_itself = states[made.found.rested(here.number)[0]].runs
    down, waited = made.found.rested(edge.to)
    during = (states[edge.to].runs | states[down].runs) - here.runs
    gone = _let_go(made, edge, here)
    stays, way = (states[down].runs, (edge, *waited)) if gone is None else gone
    new, passing = stays - here.runs - by_itself, during - stays - by_itself

    def told(verb: Verb, outputs: frozenset[str], edges: tuple[Edge, ...]) -> Iterator[tuple[Effect, tuple[Edge, ...]]]:
        for output in sorted(outputs, key=made.place):
            yield Effect(move.device, move.operation, move.value, verb, output), edges

    yield from told(Verb.STARTS, new, way)
    yield from told(Verb.JOGS, passing if gone is not None and not new else frozenset(), way)
    yield from told(Verb.STOPS, (here.runs & by_itself) - states[down].runs, (edge, *waited))


def _let_go(made: Explorer, edge: Edge, here: Reached) -> tuple[frozenset[str], tuple[Edge, ...]] | None:
    """What stays in when the hand is taken away, soon or after all clocks, and the way there. None for what no hand
    holds."""
    if edge.device not in made.found.states[edge.to].held:
        return None
    first: tuple[frozenset[str], tuple[Edge, ...]] | None = None
    waited = made.found.rested(edge.to)[1]
    for count in range(len(waited) + 1):
        down = waited[count - 1].to if count else edge.to
        let_go = next((one for one in made.found.leaving[down] if one.lets_go and one.device == edge.device), None)
        if let_go is None:
            continue
        up, settled = made.found.rested(let_go.to)
        runs = made.found.states[up].runs
        way = (edge, *waited[:count], let_go, *settled)
        if runs - here.runs:
            return runs, way
        first = first or (runs, way)
    return first
