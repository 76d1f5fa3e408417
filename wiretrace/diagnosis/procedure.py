"""What is done with a circuit to look for a fault: a few states, each reached from the one before by hands."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit
from wiretrace.faults.spots import device_named
from wiretrace.sequences.sequence import Step
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.beside import Stage
from wiretrace.simulation.engine import Frame, initial_state, run
from wiretrace.simulation.state import Action, State

MOST_STATES: Final = 7
LONGEST_WAIT_US: Final = 30_000_000
HELD_US: Final = 600_000
AFTER_US: Final = 100_000
"""How long one still looks once the last has happened."""
ROUNDS: Final = 2
BY_HAND: Final = (Actuator.HAND, Actuator.HANDLE, Actuator.PROCESS)


@dataclass(frozen=True)
class Halt:
    """A state in which one looks and measures: the hands that lead there, each with its time after the state before."""

    text: str
    hands: tuple[tuple[int, str, str, bool], ...]
    wait_us: int


def halts_of(assembly: Assembly, steps: Sequence[Step] = ()) -> tuple[Halt, ...]:
    """The states of an operating sequence in which a sound circuit shows something new; without one, of every hand.

    Steps with faults end it. Raises UnknownTarget for a step that names nothing.
    """
    if not steps or steps[0].faults:
        return _own_states(assembly)
    state, seen, found = initial_state(assembly), set[tuple[str, ...]](), list[_Way]()
    for halt in _given(assembly.circuit, steps):
        frame, state = reached(assembly, state, halt)
        found.append(_Way(halt, _statuses(frame) not in seen))
        seen.add(_statuses(frame))
    return _joined(found)


@dataclass(frozen=True)
class _Way:
    """A halt, and whether it is one to look at: where not, what is done there is part of the way to the next."""

    halt: Halt
    looked_at: bool


def _own_states(assembly: Assembly) -> tuple[Halt, ...]:
    """States found by working everything that a hand can: those that show something new, and those in which something
    has dropped out or picked up, be it to where it was before."""
    hands = {item.id for item in assembly.devices.values() if item.kind.actuator in BY_HAND}
    operated = [n for n, name in enumerate(assembly.devices) if name not in hands]
    state, seen, found = initial_state(assembly), set[tuple[str, ...]](), list[_Way]()
    moves = set[tuple[tuple[str, ...], tuple[str, ...]]]()
    before: tuple[str, ...] = ()
    for hand in _every_hand(assembly):
        for halt in _in_two(assembly, state, hand):
            frame, state = reached(assembly, state, halt)
            now = _statuses(frame)
            stood = tuple(now[n] for n in operated)
            move = (before, stood)
            found.append(_Way(halt, now not in seen or (stood != before and move not in moves)))
            seen.add(now)
            moves.add(move)
            before = stood
    return _joined(found)


def _statuses(frame: Frame) -> tuple[str, ...]:
    return tuple(view.status for view in frame.views.values())


def _joined(ways: Sequence[_Way]) -> tuple[Halt, ...]:
    """The halts that are looked at, each with what is done on the way to it from the one before."""
    found = list[Halt]()
    hands: tuple[tuple[int, str, str, bool], ...] = ()
    passed_us = 0
    for way in ways:
        hands = (*hands, *((passed_us + at, device, what, on) for at, device, what, on in way.halt.hands))
        passed_us += way.halt.wait_us
        if way.looked_at:
            found.append(Halt(way.halt.text, hands, passed_us))
            hands, passed_us = (), 0
        if len(found) == MOST_STATES:
            break
    return tuple(found)


def _given(circuit: Circuit, steps: Sequence[Step]) -> Iterator[Halt]:
    for step in steps:
        if step.faults:
            return
        hands = tuple((0, device_named(circuit, who).id, what, on) for who, what, on in step.do)
        yield Halt(step.text, hands, min(LONGEST_WAIT_US, round(step.wait_s * 1e6)))


def _every_hand(assembly: Assembly) -> Iterator[Halt]:
    """Under power, then every button, switch and sensor, worked and let go; and all of them once more.

    What was sealed in by one button is stopped by another that stands before it in the document: the second time.
    """
    yield Halt("Under power, nothing touched", (), HELD_US)
    for _ in range(ROUNDS):
        for item in assembly.devices.values():
            yield from _worked(item)


def _worked(item: Installed) -> Iterator[Halt]:
    """A device worked by hand or by the process and let go; a selector through all that it can be turned to."""
    actuator, operations = item.kind.actuator, item.kind.operations
    switches_load = bool(item.structure.parts_that(Does.SWITCHES_LOAD))
    if actuator not in BY_HAND or not operations or switches_load:
        return
    if actuator is Actuator.HAND:
        name = operations[0].name
        yield Halt(f"Hold {item.label}", ((0, item.id, name, True),), HELD_US)
        yield Halt(f"Let {item.label} go", ((0, item.id, name, False),), HELD_US)
        return
    for one in operations:
        yield Halt(f"{item.label}: {one.title.lower()}", ((0, item.id, one.name, True),), HELD_US)
        if one.style == "toggle":
            yield Halt(f"{item.label} as before", ((0, item.id, one.name, False),), HELD_US)


def _in_two(assembly: Assembly, state: State, halt: Halt) -> Iterator[Halt]:
    """A look while it is held, and one when nothing changes any more: timers have run out, motors are up to speed.

    Where it hunts without end nobody waits for that. Raises what `run` raises.
    """
    yield halt
    hands = [Action(state.time_us + at, device, what, on) for at, device, what, on in halt.hands]
    trajectory = run(assembly, state, hands, state.time_us + LONGEST_WAIT_US)
    rest_us = trajectory.frames[-1].state.time_us - state.time_us + AFTER_US - halt.wait_us
    if not trajectory.chatters and rest_us > AFTER_US:
        yield Halt(f"{halt.text}, and wait", (), min(LONGEST_WAIT_US, rest_us))


def stages_of(assembly: Assembly, halts: Sequence[Halt]) -> tuple[Stage, ...]:
    """The halts one after the other, from when everything is first put under power."""
    stages: list[Stage] = []
    for halt in halts:
        start_us = stages[-1].until_us if stages else initial_state(assembly).time_us
        hands = [Action(start_us + at, device, what, on) for at, device, what, on in halt.hands]
        stages.append(Stage(tuple(sorted(hands, key=lambda hand: hand.at_us)), start_us + halt.wait_us))
    return tuple(stages)


def reached(assembly: Assembly, state: State, halt: Halt) -> tuple[Frame, State]:
    """The frame that holds at the end of a halt, and the state then. Raises what `run` raises."""
    hands = [Action(state.time_us + at, device, what, on) for at, device, what, on in halt.hands]
    trajectory = run(assembly, state, hands, state.time_us + halt.wait_us)
    return trajectory.frames[-1], trajectory.end
