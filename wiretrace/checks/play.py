"""A circuit worked by hand to see what it does: every command from every state that commands lead to.

Breadth first from the circuit under power, so that what is found is found by the fewest moves. Discrete states count
once. Bounded in states and runs; whether anything was left out is said.
"""

from collections import deque
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.status import tells
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Move
from wiretrace.document.checked import Installed
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.state import Action, State

HOLD_US: Final = 400_000
"""How long a hand holds a button, and how long is waited after each move at the least."""
AFTER_US: Final = 100_000
"""How long is waited after a clock has run out."""
LONGEST_US: Final = 20_000_000
"""Clocks that run out later are not waited for: what heats trips later."""
CLOCKS: Final = 4
"""So many clocks are waited for, one after the other."""
BROKEN: Final = ("tripped", "blown", "welded")
MOST_STATES: Final = 24
MOST_RUNS: Final = 160
DEVICE_RUNS: Final = 2_400
"""Runs times devices: of a large circuit less is played, since each run takes longer."""


@dataclass(frozen=True)
class Reached:
    """A state of the circuit, and the moves that led there."""

    state: State
    moves: tuple[Move, ...]
    runs: frozenset[str]
    """Contactors that are in, and could let go."""
    broken: frozenset[str]
    """What has tripped, blown or welded on the way."""
    held: bool
    """Is a button held in it?"""
    stays_on: bool
    """Did something that stays where it is put, or a process, have a part in it?"""


@dataclass(frozen=True)
class Stopped:
    """A stop worked in a state: contactors that stayed in, and those that came back when it was let go."""

    stop: Installed
    of: Reached
    moves: tuple[Move, ...]
    stays: frozenset[str]
    returns: frozenset[str]
    seen_us: int


@dataclass
class Play:
    """What was found: states with something in, and what every stop did in them."""

    states: list[Reached] = field(default_factory=list)
    """Those with something in."""
    breaks: list[Reached] = field(default_factory=list)
    """Those in which something has tripped, blown or welded that had not before."""
    stops: list[Stopped] = field(default_factory=list)
    count: int = 0
    """States, also those with nothing in."""
    moves: int = 0
    left_out: bool = False


class _Hands:
    """The commands of a circuit, and what comes of working them."""

    def __init__(self, facts: Facts) -> None:
        self.assembly = facts.assembly
        halting = [item for item in facts.items if _stops(facts, item)]
        self.stops = (*halting, *(item for item in facts.items if item.kind.off))
        self.commands = tuple(item for item in facts.items if item.kind.group == "command" and item not in halting)
        self.breaking = tuple(
            item.id for item in facts.items if item.kind.actuator is Actuator.CURRENT or item in facts.contactors
        )
        self.contactors = tuple(item.id for item in facts.contactors)
        self.watched = tuple(item.id for item in facts.items if not item.structure.parts_that(Does.TURNS))
        self.runs = 0
        self.most_runs = min(MOST_RUNS, DEVICE_RUNS // max(1, len(facts.items)))

    def worked(self, state: State, moves: Sequence[Move], *, settle: bool = True) -> State:
        """The state some time after these moves, done at once."""
        self.runs += 1
        actions = [Action(move.at_us, move.device, move.operation, move.value) for move in moves]
        state = run(self.assembly, state, actions, state.time_us + HOLD_US).end
        for _ in range(CLOCKS if settle else 0):
            due = self._next_clock_us(state)
            if due is None:
                break
            state = run(self.assembly, state, [], due + AFTER_US).end
        return state

    def _next_clock_us(self, state: State) -> int | None:
        due = [
            at
            for item in self.assembly.devices.values()
            if item.kind.clock and isinstance(at := state.devices[item.id].get(item.kind.clock), int)
        ]
        soon = [at for at in due if state.time_us < at <= state.time_us + LONGEST_US]
        return min(soon, default=None)

    def in_now(self, state: State) -> frozenset[str]:
        """Contactors that are in; one that has welded is no stop's to end."""
        views = frame_of(self.assembly, state).views
        return frozenset(n for n in self.contactors if views[n].active and not tells(views[n].status, "welded"))

    def broken(self, state: State) -> frozenset[str]:
        views = frame_of(self.assembly, state).views
        return frozenset(n for n in self.breaking if any(tells(views[n].status, code) for code in BROKEN))

    def key(self, state: State) -> tuple[str, ...]:
        views = frame_of(self.assembly, state).views
        return tuple(views[name].status for name in self.watched)

    def next_of(self, reached: Reached) -> Iterator[Reached]:
        """What every command makes of a state, in which none is held."""
        views, now = frame_of(self.assembly, reached.state).views, reached.state.time_us
        for item in self.commands:
            for operation in item.kind.operations:
                named = f"{item.label}: {operation.title.lower()}"
                if operation.style == "momentary":
                    press = Move(now, item.id, operation.name, True, f"hold {item.label}")
                    held = self.worked(reached.state, [press], settle=False)
                    yield self._to(reached, held, press, held=True)
                    let_go = Move(held.time_us, item.id, operation.name, False, f"let go of {item.label}")
                    yield self._to(reached, self.worked(held, [let_go]), press, let_go)
                else:
                    on = views[item.id].on.get(operation.name, views[item.id].active)
                    if operation.style == "pulse" and on:
                        continue
                    value = operation.style == "pulse" or not on
                    words = named if value else f"{named}, no longer"
                    move = Move(now, item.id, operation.name, value, words)
                    yield self._to(reached, self.worked(reached.state, [move]), move, stays_on=True)

    def _to(self, before: Reached, state: State, *moves: Move, held: bool = False, stays_on: bool = False) -> Reached:
        stays_on = stays_on or before.stays_on
        return Reached(state, (*before.moves, *moves), self.in_now(state), self.broken(state), held, stays_on)

    def stopped(self, reached: Reached, stop: Installed) -> Stopped:
        """What a stop ends of a state, and what comes back when it is let go."""
        name, (does, undoes) = stop.kind.off or stop.kind.operations[0].name, _words(stop)
        on = Move(reached.state.time_us, stop.id, name, True, does)
        down = self.worked(reached.state, [on])
        stays = self.in_now(down) & reached.runs
        if stays or reached.held or reached.stays_on or not undoes:
            return Stopped(stop, reached, (*reached.moves, on), stays, frozenset(), down.time_us)
        off = Move(down.time_us, stop.id, name, False, undoes)
        up = self.worked(down, [off])
        returns = self.in_now(up) & reached.runs
        return Stopped(stop, reached, (*reached.moves, on, off), stays, returns, up.time_us)


def _words(stop: Installed) -> tuple[str, str]:
    """What a hand does with it, and what it does afterwards."""
    if stop.kind.off:
        return f"{stop.label}: turn to off", ""
    latches = stop.kind.operations[0].style == "toggle"
    return (
        (f"strike {stop.label}", f"release {stop.label}")
        if latches
        else (f"hold {stop.label}", f"let go of {stop.label}")
    )


def _stops(facts: Facts, item: Installed) -> bool:
    """Is it there to stop, as the drawing says, or by what it does where the drawing says nothing?"""
    if facts.is_stop(item):
        return True
    used = facts.contacts(item)
    silent = item.kind.actuator is Actuator.HAND and item.kind.role_unsaid(item.params)
    return silent and bool(used) and all(facts.rest(ref) for ref in used)


def played(facts: Facts) -> Play:
    """Work every command from every state. Raises what a run of the circuit raises."""
    hands, found = _Hands(facts), Play()
    begin = hands.worked(initial_state(facts.assembly), [])
    first = Reached(begin, (), hands.in_now(begin), hands.broken(begin), held=False, stays_on=False)
    if first.broken:
        found.breaks.append(first)
    waiting, known = deque([first]), {hands.key(begin)}
    while waiting:
        here = waiting.popleft()
        if here.runs:
            found.states.append(here)
            for stop in hands.stops:
                if hands.runs >= hands.most_runs:
                    found.left_out = True
                    break
                found.stops.append(hands.stopped(here, stop))
        if here.held:
            continue
        for there in hands.next_of(here):
            key = hands.key(there.state)
            if key in known:
                continue
            if len(known) >= MOST_STATES or hands.runs >= hands.most_runs:
                found.left_out = True
                break
            known.add(key)
            if there.broken - here.broken:
                found.breaks.append(there)
            else:
                waiting.append(there)
    found.count, found.moves = len(known), hands.runs
    return found
