"""How findings about what a circuit does are told: the moves, and what was not played."""

from collections.abc import Iterable, Iterator
from typing import Final

from wiretrace.checks.finding import CannotTell, Finding, Move
from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.states import Edge, How, Reached
from wiretrace.checks.playing.witness import OnTheWay

BROKE: Final = "Where a protection trips, a contactor welds or a coil burns out, it was not played any further."
RESTLESS: Final = "Where something goes in and out without end, it was not played any further."
LEFT_OUT: Final = "It has more states than were played: what lies further was not looked at."


def told(moves: Iterable[Move]) -> str:
    return ", ".join(move.words for move in moves)


def left_out(made: Explorer) -> Iterator[CannotTell]:
    if made.found.left_out:
        yield CannotTell(made.facts.items[0].id, LEFT_OUT)


def not_played(made: Explorer) -> Iterator[CannotTell]:
    """What was left out, and what lies behind a state in which something has broken: neither is clear."""
    yield from left_out(made)
    if any(one.chatters for one in made.found.states):
        yield CannotTell(made.facts.items[0].id, RESTLESS)
    if broken_by_hand(made):
        yield CannotTell(made.facts.items[0].id, BROKE)


def broken_by_hand(made: Explorer) -> list[tuple[int, frozenset[str]]]:
    """States in which a command has made something trip, blow or weld, and what."""
    found = made.found
    first = [(0, found.states[0].broken)] if found.states[0].broken else []
    hands = [edge for edge in found.edges if edge.how in (How.HAND, How.TIME)]
    broken = [(edge.to, found.states[edge.to].broken - found.states[edge.of].broken) for edge in hands]
    return first + [(number, names) for number, names in dict(broken).items() if names]


def whole(made: Explorer) -> bool:
    """Was everything played, so that what was never seen never happens?"""
    return not any(True for _ in not_played(made))


def moved(
    made: Explorer, key: str, words: str, why: str, way: tuple[Reached, tuple[Edge, ...]], device: str
) -> Finding:
    """A finding with the moves to a state, and along some edges from there."""
    here, edges = way
    moves, seen_us = made.found.moves_to(here.number, edges)
    message = words.format(moves=told(moves), label=made.facts.label(device))
    return Finding(key, message[0].upper() + message[1:], why, device, moves=moves, seen_us=seen_us)


def on_the_way(made: Explorer, key: str, words: str, why: str, seen: OnTheWay, device: str) -> Finding:
    """A finding of something that was seen between two states."""
    step = Edge(seen.of, seen.of, How.HAND, seen.moves, seen.after_us, "")
    moves, seen_us = made.found.moves_to(seen.of, (step,))
    return Finding(key, words.format(moves=told(moves)), why, device, moves=moves, seen_us=seen_us)
