"""What starts while a line is missing: a relay that watches the lines is there to keep that from happening."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from wiretrace.checks.finding import Move
from wiretrace.checks.playing.explore import HOLD_US, LOST_US, Explorer, line_words, words_of
from wiretrace.checks.playing.states import BEGIN_US
from wiretrace.simulation.engine import frame_of, run
from wiretrace.simulation.state import Action, State


@dataclass(frozen=True)
class Started:
    """Contactors that came in without a line, what was done from under power, and when it was seen."""

    line: str
    came: frozenset[str]
    moves: tuple[Move, ...]
    seen_us: int


def started_without_a_line(made: Explorer) -> Iterator[Started]:
    """Each line of each source taken away from the circuit at rest, then every start worked."""
    if made.found.left_out:
        return
    rest = made.found.states[0]
    views = frame_of(made.assembly, rest.state).views
    for item in made.facts.items:
        for operation in item.kind.operations if item.kind.poles and not item.kind.coupled else ():
            there = (
                operation.style == "toggle" and not operation.handle and views[item.id].on.get(operation.name, False)
            )
            if there:
                off = Move(0, item.id, operation.name, False, line_words(item, operation))
                yield from _starts(made, rest.state, off)


def _starts(made: Explorer, rest: State, off: Move) -> Iterator[Started]:
    gone = Action(rest.time_us, off.device, off.operation, False)
    without = run(made.assembly, rest, [gone], rest.time_us + LOST_US).end
    for item in made.commands:
        for operation in item.kind.operations if item not in made.stops else ():
            on = Move(LOST_US, item.id, operation.name, True, words_of(item, operation, True))
            hand = Action(without.time_us, item.id, operation.name, True)
            after = run(made.assembly, without, [hand], without.time_us + HOLD_US)
            came = {name for frame in after.frames for name in made.in_now(frame)}
            if came:
                moves = tuple(replace(move, at_us=BEGIN_US + move.at_us) for move in (off, on))
                yield Started(off.operation, frozenset(came), moves, BEGIN_US + LOST_US + HOLD_US)
