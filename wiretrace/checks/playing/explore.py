"""Every command from every state that commands lead to; then trips, the supply and its lines in what runs.

Breadth first from the circuit under power, so that what is found is found by the fewest moves. Discrete states count
once. Two hands at most hold something. Bounded in states and runs; whether anything was left out is said.
"""

from collections import deque
from collections.abc import Callable, Iterator
from typing import Final, TypeAlias

from wiretrace.catalogue.machinery.purpose import Actuator, CommandRole, Does
from wiretrace.catalogue.machinery.status import tells
from wiretrace.catalogue.machinery.structure import Operation
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Move
from wiretrace.checks.playing.states import BEGIN_US, Edge, Exploration, How, Reached
from wiretrace.checks.playing.witness import Witness
from wiretrace.document.checked import Installed
from wiretrace.simulation.engine import Frame, Trajectory, frame_of, initial_state, run
from wiretrace.simulation.state import Action, State

HOLD_US: Final = 400_000
"""How long is waited after each move."""
AFTER_US: Final = 100_000
"""How long is waited after a clock has run out."""
LONGEST_US: Final = 3_600_000_000
"""Clocks that run out later are not waited for."""
LOST_US: Final = 3_000_000
"""How long a lost line is away: a relay that watches for it has tripped by then."""
GONE_US: Final = 1_000_000
BROKEN: Final = ("tripped", "blown", "welded", "coil_burnt", "output_destroyed")
MOST_STEPS: Final = 60
"""How often is waited on for what goes on in steps, as a ramp does, until something says something else."""
MOST_STATES: Final = 64
MOST_RUNS: Final = 400
DEVICE_RUNS: Final = 5_000
"""Runs times devices: of a large circuit less is played, since each run takes longer."""
HANDS: Final = 2
MOST_EACH: Final = 150
"""Instants of one run that are looked at: what changes more often in it does so without end."""
MOST_FRAMES: Final = 1_200
"""Instants that may be looked at in all: what chatters has thousands of them."""
Step: TypeAlias = Callable[[], tuple["Reached | None", bool]]


class Explorer:
    """A circuit, its commands, and what was reached so far."""

    def __init__(self, facts: Facts) -> None:
        self.facts = facts
        self.assembly = facts.assembly
        self.found = Exploration()
        self.witness = Witness(facts)
        self.stops = stops_of(facts)
        self.commands = tuple(item for item in facts.items if item.kind.group == "command" or item in self.stops)
        self._breaking = tuple(
            item.id
            for item in facts.items
            if item.kind.actuator is Actuator.CURRENT
            or item.kind.protects is not None
            or item.structure.parts_that(Does.OPERATES)
        )
        self._contactors = tuple(item.id for item in facts.contactors)
        self.motors = tuple(item.id for item in facts.items if item.structure.parts_that(Does.TURNS))
        self._watched = tuple(item.id for item in facts.items if item.id not in self.motors)
        self._known: dict[tuple[tuple[str, ...], frozenset[str]], int] = {}
        self._frames = 0
        self._most_runs = min(MOST_RUNS, DEVICE_RUNS // max(1, len(facts.items)))

    def place(self, device: str) -> int:
        """Where the status of a device stands in the key of a state."""
        return self._watched.index(device)

    def statuses(self, device: str) -> frozenset[str]:
        """All that a device was seen to do; of a motor what it did when each state was first reached."""
        if device in self.motors:
            return frozenset(status for one in self.found.states for name, status in one.turning if name == device)
        return frozenset(one.key[self.place(device)] for one in self.found.states)

    @property
    def spent(self) -> bool:
        """Has all been run that may be?"""
        if self.found.runs < self._most_runs and self._frames < MOST_FRAMES:
            return False
        self.found.left_out = True
        return True

    def explore(self) -> Exploration:
        """Raises what a run of the circuit raises."""
        first = self._begin()
        waiting = deque([first])
        while waiting:
            here = waiting.popleft()
            if here.broken or here.chatters:
                continue
            for step in self._steps(here):
                if self.spent:
                    return self.found
                there, new = step()
                if there is not None and new:
                    waiting.append(there)
        self._upset()
        return self.found

    def _begin(self) -> Reached:
        self.found.runs += 1
        trajectory = run(self.assembly, initial_state(self.assembly), [], BEGIN_US, MOST_EACH)
        frame = frame_of(self.assembly, trajectory.end)
        lasting = any(lasts(item) and self.facts.contacts(item) for item in self.commands)
        # What runs at once by what stays where it is put, as a pressure switch does, is meant to.
        first = self._state(
            frame, frozenset(), lasting and bool(self.in_now(frame)), chatters=_goes_on(trajectory, BEGIN_US)
        )
        self.witness.passed(trajectory, 0, ())
        self.witness.look(frame, 0, fed=True)
        return first

    def _steps(self, here: Reached) -> Iterator[Step]:
        """What time and hands can make of a state."""
        due = self.next_clock_us(here.state)
        if due is None and here.waits:
            self.found.left_out = True
        if due is not None:
            yield lambda: self._wait(here, due)
        for item in self.commands if len(here.held) < HANDS else ():
            for operation in item.kind.operations:
                if operation.style == "momentary" and item.id in here.held:
                    yield self._worked(here, item, operation, False)
                elif operation.style == "momentary" or not here.held or item in self.stops:
                    yield from self._turned(here, item, operation)

    def _wait(self, here: Reached, due_us: int) -> tuple[Reached | None, bool]:
        """Wait until a clock has run out and something says something else."""
        gone = run(self.assembly, here.state, [], due_us + AFTER_US, MOST_EACH)
        for _ in range(MOST_STEPS):
            due = self.next_clock_us(gone.end)
            same = due is not None and self._key(frame_of(self.assembly, gone.end)) == here.key
            if due is None or not same or _goes_on(gone, gone.end.time_us) or self.spent:
                break
            self.found.runs += 1
            on = run(self.assembly, gone.end, [], due + AFTER_US, MOST_EACH)
            gone = Trajectory((*gone.frames, *on.frames[1:]), on.end, (*gone.chatters, *on.chatters))
        wait_us = gone.end.time_us - here.state.time_us
        return self.go(here, How.TIME, (), wait_us, self._runs_out(here.state, due_us), gone=gone)

    def _runs_out(self, state: State, due_us: int) -> str:
        """What is said of time that passes: whose clock it is."""
        clocks = [item for item in self.facts.items if item.kind.clock and item.id not in self.motors]
        over = [item.label for item in clocks if state.devices[item.id].get(item.kind.clock) == due_us]
        return f"{' and '.join(over)} runs out" if over else "a moment later"

    def _turned(self, here: Reached, item: Installed, operation: Operation) -> Iterator[Step]:
        if operation.style == "momentary":
            yield self._worked(here, item, operation, True)
            return
        view = frame_of(self.assembly, here.state).views[item.id]
        on = view.on.get(operation.name, view.active)
        if operation.style == "pulse" and on:
            return
        yield self._worked(here, item, operation, operation.style == "pulse" or not on)

    def _worked(self, here: Reached, item: Installed, operation: Operation, value: bool) -> Step:
        words = words_of(item, operation, value)
        move = Move(0, item.id, operation.name, value, words)
        return lambda: self.go(here, How.HAND, (move,), HOLD_US, words, item, momentary=operation.style == "momentary")

    def go(
        self,
        here: Reached,
        how: How,
        moves: tuple[Move, ...],
        wait_us: int,
        words: str,
        item: Installed | None = None,
        *,
        momentary: bool = False,
        gone: Trajectory | None = None,
    ) -> tuple[Reached | None, bool]:
        """Make a step: the state that it leads to, None where no room is left for it, and whether it is new.

        `gone` is what happened, where that is known already.
        """
        self.found.runs += 1
        began = here.state.time_us
        actions = [Action(began + one.at_us, one.device, one.operation, one.value) for one in moves]
        trajectory = gone or run(self.assembly, here.state, actions, began + wait_us, MOST_EACH)
        self._frames += len(trajectory.frames)
        frame = frame_of(self.assembly, trajectory.end)
        lets_go = momentary and not moves[-1].value
        held = here.held
        if momentary and item is not None:
            held = held - {item.id} if lets_go else held | {item.id}
        lasting = how is How.HAND and not momentary and item is not None and not item.kind.is_stop(item.params)
        known = self._known.get((self._key(frame), held))
        if known is None and len(self.found.states) >= MOST_STATES:
            self.found.left_out = True
            return None, False
        there = (
            self._state(frame, held, here.stays_on or lasting, chatters=_goes_on(trajectory, began + wait_us))
            if known is None
            else self.found.states[known]
        )
        device = "" if item is None else item.id
        self.found.add(Edge(here.number, there.number, how, moves, wait_us, words, device, lets_go))
        self.witness.passed(trajectory, here.number, moves)
        self.witness.look(frame, there.number, fed=how not in (How.SUPPLY, How.PHASE))
        return there, known is None

    def _state(self, frame: Frame, held: frozenset[str], stays_on: bool, *, chatters: bool) -> Reached:
        views, key = frame.views, self._key(frame)
        runs = self.in_now(frame)
        broken = frozenset(n for n in self._breaking if any(tells(views[n].status, code) for code in BROKEN))
        turning = tuple((n, views[n].status) for n in self.motors if not tells(views[n].status, "still"))
        number, waits = len(self.found.states), self.next_clock_us(frame.state, None) is not None
        reached = Reached(number, frame.state, runs, broken, held, stays_on, key, turning, waits, chatters)
        self._known[key, held] = number
        self.found.states.append(reached)
        return reached

    def in_now(self, frame: Frame) -> frozenset[str]:
        """Contactors that are in; one that has welded is no stop's to end."""
        views = frame.views
        return frozenset(n for n in self._contactors if views[n].active and not tells(views[n].status, "welded"))

    def _key(self, frame: Frame) -> tuple[str, ...]:
        return tuple(frame.views[name].status for name in self._watched)

    def next_clock_us(self, state: State, within_us: int | None = LONGEST_US) -> int | None:
        """When something changes by itself that is no motor; None for never, or not so soon."""
        due = [
            at
            for device, names in self.assembly.due_names
            if device not in self.motors
            for name in names
            if isinstance(at := state.devices[device][name], int)
        ]
        ahead = [at for at in due if at > state.time_us]
        return min((at for at in ahead if within_us is None or at <= state.time_us + within_us), default=None)

    def _upset(self) -> None:
        """Trip every protection, take the supply away and each of its lines, in every state in which something runs."""
        running = [one for one in self.found.states if one.runs and not (one.broken or one.chatters or one.held)]
        for here in running:
            for item in self.facts.items:
                if self.spent:
                    return
                for operation in item.kind.operations:
                    if operation.trips:
                        self._trip(here, item, operation)
                    elif item.kind.poles and operation.style == "toggle" and not item.kind.coupled:
                        self._unfed(here, item, operation)

    def _trip(self, here: Reached, item: Installed, operation: Operation) -> None:
        on = Move(0, item.id, operation.name, True, f"trip {item.label}")
        tripped, _ = self.go(here, How.TRIP, (on,), HOLD_US, on.words, item)
        reset = next((one for one in item.kind.operations if one.resets), None)
        if tripped is None or reset is None or self.spent:
            return
        back = [Move(HOLD_US // 2, item.id, reset.name, True, f"reset {item.label}")]
        if operation.style == "momentary":
            back.insert(0, Move(0, item.id, operation.name, False, f"let go of {item.label}"))
        self.go(tripped, How.RESET, tuple(back), 2 * HOLD_US, back[-1].words, item)

    def _unfed(self, here: Reached, item: Installed, operation: Operation) -> None:
        """Take the supply away, or a line of it, and give it back."""
        on = frame_of(self.assembly, here.state).views[item.id].on.get(operation.name, True)
        if not on:
            return
        whole = operation.handle
        gone_us = GONE_US if whole else LOST_US
        off = Move(0, item.id, operation.name, False, line_words(item, operation))
        how = How.SUPPLY if whole else How.PHASE
        without, _ = self.go(here, how, (off,), gone_us, off.words, item)
        if without is not None and not self.spent and not without.broken:
            on_again = Move(0, item.id, operation.name, True, line_words(item, operation, back=True))
            self.go(without, how, (on_again,), HOLD_US, on_again.words, item)


def words_of(item: Installed, operation: Operation, value: bool) -> str:
    """What a hand does with a command."""
    if operation.style == "momentary":
        return f"hold {item.label}" if value else f"let go of {item.label}"
    if operation.style == "toggle" and item.kind.is_stop(item.params):
        return f"strike {item.label}" if value else f"release {item.label}"
    named = f"{item.label}: {operation.title.lower()}"
    return named if value else f"{named}, no longer"


def _goes_on(trajectory: Trajectory, until_us: int) -> bool:
    """Does something still go in and out at its end, or had it so many changes that it was broken off?"""
    return trajectory.end.time_us < until_us or any(
        chatter.until_us >= trajectory.end.time_us for chatter in trajectory.chatters
    )


def lasts(item: Installed) -> bool:
    """Does it stay where it is put, and is no stop?"""
    return not item.kind.is_stop(item.params) and any(one.style != "momentary" for one in item.kind.operations)


def line_words(item: Installed, operation: Operation, *, back: bool = False) -> str:
    """What happens to a supply, or to a line of it."""
    what = "the supply" if operation.handle else operation.title.removesuffix(" present")
    return f"{what} of {item.label} {'comes back' if back else 'goes'}"


def stops_of(facts: Facts) -> tuple[Installed, ...]:
    """What is there to stop, as the drawing says, or by what it does where the drawing says nothing."""
    halting = [item for item in facts.items if _stops(facts, item)]
    return (*halting, *(item for item in facts.items if item.kind.off))


def _stops(facts: Facts, item: Installed) -> bool:
    if facts.is_stop(item):
        return True
    used = facts.contacts(item)
    silent = item.kind.role(item.params) is CommandRole.UNSAID
    return silent and bool(used) and all(facts.rest(ref) for ref in used)
