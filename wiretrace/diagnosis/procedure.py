"""What is done with a circuit to look for a fault: a few states, each reached from the one before by hands."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator
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


@dataclass(frozen=True)
class Halt:
    """A state in which one looks and measures: the hands that lead there, each with its time after the state before."""

    text: str
    hands: tuple[tuple[int, str, str, bool], ...]
    wait_us: int


def halts_of(assembly: Assembly, steps: Sequence[Step] = ()) -> tuple[Halt, ...]:
    """The states of an operating sequence in which a sound circuit shows something new; without one, of every button.

    Steps with faults end it. Raises UnknownTarget for a step that names nothing.
    """
    state, seen, found = initial_state(assembly), set[tuple[str, ...]](), list[Halt]()
    way: tuple[tuple[int, str, str, bool], ...] = ()
    passed_us = 0
    for halt in list(_given(assembly.circuit, steps)) or _every_button(assembly):
        frame, state = reached(assembly, state, halt)
        way = (*way, *((passed_us + at, device, what, on) for at, device, what, on in halt.hands))
        passed_us += halt.wait_us
        statuses = tuple(view.status for view in frame.views.values())
        # Where nothing new is to be seen, what is done is part of the way to the next state.
        if statuses not in seen:
            found.append(Halt(halt.text, way, passed_us))
            way, passed_us = (), 0
        seen.add(statuses)
        if len(found) == MOST_STATES:
            break
    return tuple(found)


def _given(circuit: Circuit, steps: Sequence[Step]) -> Iterator[Halt]:
    for step in steps:
        if step.faults:
            return
        hands = tuple((0, device_named(circuit, who).id, what, on) for who, what, on in step.do)
        yield Halt(step.text, hands, min(LONGEST_WAIT_US, round(step.wait_s * 1e6)))


def _every_button(assembly: Assembly) -> Iterator[Halt]:
    """Under power, then every device that a hand holds, pressed and let go."""
    yield Halt("Under power, nothing touched", (), HELD_US)
    for item in assembly.devices.values():
        if item.kind.actuator is not Actuator.HAND or not item.kind.operations:
            continue
        name = item.kind.operations[0].name
        yield Halt(f"Hold {item.label}", ((0, item.id, name, True),), HELD_US)
        yield Halt(f"Let {item.label} go", ((0, item.id, name, False),), HELD_US)


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
