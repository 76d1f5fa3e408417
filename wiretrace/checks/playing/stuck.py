"""What comes in while an opposing contactor is stuck in: the armature that hangs is what an interlock is there for."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from wiretrace.checks.finding import Move
from wiretrace.checks.playing.explore import AFTER_US, HOLD_US, Explorer, words_of
from wiretrace.checks.playing.states import Reached
from wiretrace.checks.playing.stopping import stopped
from wiretrace.checks.playing.witness import closed
from wiretrace.faults.kinds.devices import Stuck
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Trajectory, run
from wiretrace.simulation.state import Action, State

CLOCKS: Final = 3
"""So many clocks are waited for after a start, one after the other."""
MOST_TRIES: Final = 60


@dataclass(frozen=True)
class Met:
    """A contactor that came in while another was stuck in, and what was done."""

    stuck: str
    came: str
    moves: tuple[Move, ...]


def meetings(made: Explorer) -> tuple[tuple[Met, ...], bool]:
    """Of each opposing pair, either way, the first that was found; and whether all was tried."""
    if made.found.left_out:
        return (), False  # Too large to be worked whole: each try would take as long as all that was played.
    found: list[Met] = []
    tries = 0
    orders = [(a, b) for (one, two), _ in made.witness.pairs for a, b in ((one, two), (two, one))]
    for stuck, other in orders:
        among = [one for one in made.found.states if stuck in one.runs and not (one.broken or one.chatters)]
        # Where it is in only while a hand holds something, the hand lets go and it hangs.
        here = min(among, key=lambda one: len(one.held), default=None)
        if here is None:
            continue
        for met in _tried(made, here, stuck, other):
            tries += 1
            if met is not None:
                found.append(met)
                break
            if tries >= MOST_TRIES:
                return tuple(found), False
    return tuple(found), True


def _tried(made: Explorer, here: Reached, stuck: str, other: str) -> Iterator[Met | None]:
    """It hangs while it is in; a stop is worked, then each command in turn."""
    assembly = Assembly(made.facts.circuit, [*made.facts.faults, Stuck(place=stuck)])
    poles = made.witness.poles[other]
    stops = [one for one in stopped(made) if one.of is here and stuck not in one.stays and len(one.back_moves)]
    begun, state = made.found.moves_to(here.number)[0], here.state
    for name in sorted(here.held):
        let_go = _let_go(made, name)
        state = _worked(assembly, state, let_go).end
        begun = (*begun, let_go)
    if stops:
        stop = [move for move in stops[0].back_moves if move.device == stops[0].stop.id][-2:]
        for move in stop:
            state = _worked(assembly, state, move).end
        begun = (*begun, *stop)
    for item in made.commands:
        if item in made.stops:
            continue
        for operation in item.kind.operations:
            move = Move(0, item.id, operation.name, True, words_of(item, operation, True))
            course = _worked(assembly, state, move)
            came = _came(course, poles) or any(_came(more, poles) for more in _on(made, assembly, course.end))
            yield Met(stuck, other, (*begun, move)) if came else None


def _let_go(made: Explorer, name: str) -> Move:
    item = made.assembly.devices[name]
    held = next(operation for operation in item.kind.operations if operation.style == "momentary")
    return Move(0, name, held.name, False, words_of(item, held, False))


def _worked(assembly: Assembly, state: State, move: Move) -> Trajectory:
    hand = Action(state.time_us, move.device, move.operation, move.value)
    return run(assembly, state, [hand], state.time_us + HOLD_US)


def _on(made: Explorer, assembly: Assembly, state: State) -> Iterator[Trajectory]:
    for _ in range(CLOCKS):
        due = made.next_clock_us(state)
        if due is None:
            return
        course = run(assembly, state, [], due + AFTER_US)
        state = course.end
        yield course


def _came(course: Trajectory, poles: tuple[int, ...]) -> bool:
    return any(closed(frame, poles) for frame in course.frames)
