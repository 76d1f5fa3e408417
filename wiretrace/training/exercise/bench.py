"""The panel with its hidden faults: a step is taken, and what a person there sees, hears and reads comes of it.

What comes of it tells of nothing else: neither of potentials, nor currents, nor of contacts behind their covers.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Final

from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.fault import Fault
from wiretrace.instruments.measures import Shown, measure
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, frame_of, run
from wiretrace.simulation.reach import Standing, reach
from wiretrace.simulation.state import Action, State
from wiretrace.training.exercise.steps import BridgeOver, Course, Leg, Lift, RuleOut, Step, Work, advance

MOST_EVENTS: Final = 60


@dataclass(frozen=True)
class Event:
    """A device begins to do something else."""

    at_us: int
    device: str
    status: str
    active: bool


@dataclass(frozen=True)
class Seen:
    """What a person sees of a device: its status, how it catches the eye, and where its switches stand."""

    status: str
    active: bool
    attention: bool
    on: dict[str, bool]


@dataclass(frozen=True)
class Outcome:
    """What came of a leg: what changed on the way, what is seen at its end, and what the instrument showed."""

    events: tuple[Event, ...]
    seen: dict[str, Seen]
    shown: Shown | None
    locked_off: bool


@dataclass(frozen=True)
class Gone:
    """What a leg did to the panel: the state at its last change and at its end; and what came of it but a reading."""

    last: State
    end: State
    outcome: Outcome


def go(assembly: Assembly, state: State, leg: Leg) -> tuple[State, Outcome]:
    """Go a leg on a panel that has its faults and what somebody changed. Raises what `run` raises."""
    gone = work(assembly, state, leg)
    return gone.end, read(assembly, gone, leg)


def work(assembly: Assembly, state: State, leg: Leg) -> Gone:
    """Let the hands of a leg do what they do, and time pass. Raises what `run` raises."""
    before = frame_of(assembly, state)
    hands = [Action(at, device, what, on) for at, device, what, on in leg.hands]
    course = run(assembly, state, hands, leg.until_us)
    last = course.frames[-1]
    events = tuple(_events((before, *course.frames)))[-MOST_EVENTS:]
    return Gone(last.state, course.end, Outcome(events, seen_of(last), None, locked_off(assembly, last)))


def read(assembly: Assembly, gone: Gone, leg: Leg) -> Outcome:
    """What came of a leg with what its instrument shows. Raises what `run` raises."""
    if leg.measure is None:
        return gone.outcome
    return replace(gone.outcome, shown=measure(assembly, frame_of(assembly, gone.last), leg.measure))


def _events(frames: Sequence[Frame]) -> Iterator[Event]:
    for one, other in pairwise(frames):
        for device, view in other.views.items():
            if view.status != one.views[device].status:
                yield Event(other.state.time_us, device, view.status, view.active)


def seen_of(frame: Frame) -> dict[str, Seen]:
    """What is seen of every device."""
    return {
        device: Seen(view.status, view.active, view.attention, dict(view.on)) for device, view in frame.views.items()
    }


def locked_off(assembly: Assembly, frame: Frame) -> bool:
    """Is the supply off and locked there? Where nothing can be locked: is nothing live?"""
    locks = [
        frame.views[item.id].on.get(operation.name, False)
        for item in assembly.devices.values()
        for operation in item.kind.operations
        if operation.locks_off
    ]
    return any(locks) if locks else Standing.LIVE not in reach(assembly, frame).standing


def checked(assembly: Assembly, course: Course, step: Step) -> tuple[Course, Leg]:
    """The leg of a step that this panel allows. Raises UnknownTarget."""
    if isinstance(step, Work):
        item = assembly.devices.get(step.device)
        if item is None or step.operation not in {operation.name for operation in item.kind.operations}:
            raise _unknown("no_such_operation", "Nothing of this kind can be worked here.")
    wires = {wire.id for wire in assembly.circuit.conductors}
    if isinstance(step, RuleOut) and step.place not in {*assembly.devices, *wires}:
        raise _unknown("unknown_place", "There is no such device or wire.")
    after, leg = advance(course, step)
    if isinstance(step, Lift) and step.wire not in wires:
        raise _unknown("unknown_wire", "There is no such wire.")
    if isinstance(step, Lift | BridgeOver) and after.own == course.own:
        raise _unknown("nothing_to_do", "That is so already.")
    for change in leg.own:
        if (why := change.misfit(assembly.devices, wires)) is not None:
            raise _unknown("unknown_terminal", why)
    return after, leg


def _unknown(code: str, message: str) -> UnknownTarget:
    return UnknownTarget(message, (Problem(code, message),))


def with_faults(assembly: Assembly, hidden: Sequence[Fault], own: Sequence[Fault]) -> Assembly:
    """The panel with what is hidden in it and what somebody changed."""
    return assembly.with_faults((*hidden, *own))
