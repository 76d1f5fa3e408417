"""What every stop did in every state in which something was in."""

from collections.abc import Iterator
from dataclasses import dataclass

from wiretrace.checks.finding import Move
from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.states import Edge, How, Reached
from wiretrace.document.checked import Installed


@dataclass(frozen=True)
class Stopped:
    """A stop worked in a state: contactors that stayed in, and those that came back when it was let go."""

    stop: Installed
    of: Reached
    moves: tuple[Move, ...]
    stays: frozenset[str]
    returns: frozenset[str]
    seen_us: int
    back_moves: tuple[Move, ...] = ()
    back_seen_us: int = 0


def stopped(made: Explorer) -> tuple[Stopped, ...]:
    """Those that need no hand to be held come first: they are told more simply."""
    found: list[Stopped] = made.facts.remembered("stopped", lambda: list(_all(made)))
    return tuple(sorted(found, key=lambda one: (len(one.of.held), len(one.moves))))


def _all(made: Explorer) -> Iterator[Stopped]:
    stops = {item.id: item for item in made.stops}
    for here in made.found.states:
        if not here.runs or here.broken:
            continue
        for edge in made.found.leaving[here.number]:
            if edge.device in stops and _stops(edge, stops[edge.device]):
                yield _seen(made, here, edge, stops[edge.device])


def _stops(edge: Edge, stop: Installed) -> bool:
    (move,) = edge.moves[:1] or (None,)
    if edge.how is not How.HAND or move is None or not move.value:
        return False
    return not stop.kind.off or move.operation == stop.kind.off


def _seen(made: Explorer, here: Reached, edge: Edge, stop: Installed) -> Stopped:
    found = made.found
    down, waited = found.rested(edge.to)
    moves, seen_us = found.moves_to(here.number, (edge, *waited))
    stays = found.states[down].runs & here.runs
    one = Stopped(stop, here, moves, stays, frozenset(), seen_us)
    if stays or here.held or here.stays_on or stop.kind.off:
        return one
    let_go = next((e for e in found.leaving[down] if _lets_go(e, stop.id)), None)
    if let_go is None:
        return one
    up, settled = found.rested(let_go.to)
    back, back_us = found.moves_to(here.number, (edge, *waited, let_go, *settled))
    returns = found.states[up].runs & here.runs
    return Stopped(stop, here, moves, stays, returns, seen_us, back, back_us)


def _lets_go(edge: Edge, stop: str) -> bool:
    return edge.device == stop and edge.how is How.HAND and not edge.moves[0].value
