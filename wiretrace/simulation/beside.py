"""A circuit with a fault beside the sound one: as long as every device does the same, nothing has to be run again.

A fault that changes one branch is a correction to the solution of each instant of the sound course. Devices that see
the same do the same. Those that see something else are asked; what heats or turns may be otherwise, as long as nothing
else is. From the first instant at which a device does something else, the circuit has to be run.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Final

import numpy as np

from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.structure import DeviceState
from wiretrace.document.checked import Installed
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import OnBranch
from wiretrace.network.solve import Flow
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, happened, passed, run
from wiretrace.simulation.state import Action, State

SAME: Final = 1e-5
"""Volts and amperes, and share of them, by which what a device sees may differ and count as the same.

A control circuit that takes some milliamperes less lets a motor see some microvolts more; the tolerance of a meter is
500 times as much.
"""


@dataclass(frozen=True)
class Stage:
    """A stretch of a course: what hands do in it, in order, and until when."""

    actions: tuple[Action, ...]
    until_us: int


@dataclass(frozen=True)
class Instant:
    """An instant of a course: the state before anything answered, and as it settled.

    `stage` is the number of its stage, `done` how many of its actions are done with those of this instant, `actions`;
    `happens` is false where a stage only begins, `ends` true at the last of it.
    """

    before: State
    frame: Frame
    stage: int
    done: int
    actions: tuple[Action, ...]
    happens: bool
    ends: bool


@dataclass(frozen=True)
class Course:
    """What a sound circuit does in some stages, each from the end of the one before."""

    assembly: Assembly
    stages: tuple[Stage, ...]
    instants: tuple[Instant, ...]

    def next_us(self, number: int) -> int:
        """When the next instant after one comes; after the last of a stage, just behind its end."""
        instant = self.instants[number]
        if instant.ends:
            return self.stages[instant.stage].until_us + 1
        return self.instants[number + 1].frame.state.time_us


def course(assembly: Assembly, state: State, stages: Sequence[Stage]) -> Course | None:
    """Run a sound circuit; None where it chatters, and not every instant is gone through. Raises what `run` raises."""
    instants: list[Instant] = []
    for number, stage in enumerate(stages):
        trajectory = run(assembly, state, stage.actions, stage.until_us)
        if trajectory.chatters:
            return None
        instants.append(Instant(state, trajectory.frames[0], number, 0, (), False, len(trajectory.frames) == 1))
        for last, frame in pairwise(trajectory.frames):
            at_us, done = frame.state.time_us, instants[-1].done
            now = tuple(action for action in stage.actions[done:] if action.at_us <= at_us)
            before = happened(assembly, passed(assembly, last, at_us), now)
            ends = frame is trajectory.frames[-1]
            instants.append(Instant(before, frame, number, done + len(now), now, True, ends))
        state = trajectory.end
    return Course(assembly, tuple(stages), tuple(instants))


@dataclass(frozen=True)
class Moment:
    """Where a circuit with a fault is at an instant of the course, and what its devices see there."""

    state: State
    signals: Mapping[str, Mapping[str, Signal]]


@dataclass(frozen=True)
class _Flows:
    ac: Flow
    dc: Flow | None
    tones: tuple["_Toned", ...] = ()


@dataclass(frozen=True)
class _Toned:
    frequency_hz: float
    flow: Flow


def along(course: Course, faulty: Assembly) -> Iterator[Moment]:
    """The instants of a course, as long as the circuit with a fault does what the sound one does there.

    Nothing for a fault of which that cannot be told in this way.
    """
    found = _one_branch(faulty)
    if found is None:
        return
    fault, index = found
    device_of = [ref.place if ref.branch else "" for ref in course.assembly.branches]
    evolving, due = {item.id for item in faulty.evolving}, dict(faulty.due_names)
    last: Moment | None = None
    own: dict[str, DeviceState] = {}
    otherwise: set[str] = set()
    for number, instant in enumerate(course.instants):
        frame = instant.frame
        flows = _with_fault(course.assembly, frame, fault, index)
        if flows is None:
            return
        signals = faulty.signals(flows, frame.state.time_us)
        differ = {device_of[number] for number in _differing(frame, flows)} - {""}
        moved = any(one.flow is not tone.flow for one, tone in zip(flows.tones, frame.point.tones, strict=True))
        if moved or flows.ac is not frame.point.ac or flows.dc is not frame.point.dc:
            differ |= {device_of[index]} - {""}
        answers: dict[str, DeviceState] = {}
        for device in differ | otherwise | own.keys():
            item, before = faulty.devices[device], instant.before.devices[device]
            if last is not None and (device in otherwise or device in own):
                before = _passed(item, last, instant) if device in evolving else last.state.devices[device]
                before = _happened(item, before, due.get(device, ()), instant)
            answer = _answer(faulty, item, before, signals[device], frame)
            if answer is None:
                return
            if answer != frame.state.devices[device]:
                answers[device] = answer
        upto_us = course.next_us(number)
        if _comes_first(answers, due, frame.state.time_us, upto_us):
            return
        own, otherwise = answers, differ
        state = replace(frame.state, devices={**frame.state.devices, **own}) if own else frame.state
        last = Moment(state, signals)
        yield last


def _one_branch(faulty: Assembly) -> tuple[OnBranch, int] | None:
    """The fault and its branch, where it is there from the first and changes a branch that is coupled to none."""
    fault: Fault | None = faulty.faults[0] if len(faulty.faults) == 1 else None
    if not isinstance(fault, OnBranch) or fault.start_us or fault.slot_us:
        return None
    index = faulty.branch_index(fault.place, fault.branch)
    return None if index in faulty.equations.coupled else (fault, index)


def _with_fault(assembly: Assembly, frame: Frame, fault: OnBranch, index: int) -> _Flows | None:
    """What flows with the fault where all devices stand as in the frame; None where too many digits would be lost."""
    value = fault.made_of(frame.values[index], assembly.graph)
    if value is frame.values[index]:
        return _Flows(frame.point.ac, frame.point.dc, tuple(_Toned(t.frequency_hz, t.flow) for t in frame.point.tones))
    ac = frame.point.ac.changed(index, assembly.equations.admittance_s(value, direct=False))
    dc = frame.point.dc
    direct = None if dc is None else dc.changed(index, assembly.equations.admittance_s(value, direct=True))
    if ac is None or (dc is not None and direct is None):
        return None
    tones = []
    for tone in frame.point.tones:
        flow = tone.flow.changed(index, value.admittance_s(tone.omega) if value is not None else 0j)
        if flow is None:
            return None
        tones.append(_Toned(tone.frequency_hz, flow))
    return _Flows(ac, direct, tuple(tones))


def _differing(frame: Frame, flows: _Flows) -> list[int]:
    """Branches that do not see what they see in the frame."""
    differ = np.zeros(len(frame.values), dtype=np.bool_)
    toned = [(one.flow, other.flow) for one, other in zip(frame.point.tones, flows.tones, strict=True)]
    for sound, other in ((frame.point.ac, flows.ac), (frame.point.dc, flows.dc), *toned):
        if sound is not None and other is not None and other is not sound:
            differ |= np.abs(other.drop_v - sound.drop_v) > SAME * (1 + np.abs(sound.drop_v))
            differ |= np.abs(other.current_a - sound.current_a) > SAME * (1 + np.abs(sound.current_a))
    numbers: list[int] = np.flatnonzero(differ).tolist()
    return numbers


def _passed(item: Installed, last: Moment, instant: Instant) -> DeviceState:
    """A device after the time from one instant to the next, under what it saw."""
    device, span_us = last.state.devices[item.id], instant.before.time_us - last.state.time_us
    return item.kind.evolve(item.params, device, last.signals[item.id], span_us) if span_us else device


def _happened(item: Installed, device: DeviceState, due: Sequence[str], instant: Instant) -> DeviceState:
    """A device after what is due at an instant, and what hands do to it."""
    now_us = instant.before.time_us
    if instant.happens and any(device[name] == now_us for name in due):
        device = item.kind.advance(item.params, device, now_us)
    for action in instant.actions:
        if action.device == item.id:
            device = item.kind.operate(item.params, device, action.operation, action.value, now_us)
    return device


def _answer(
    faulty: Assembly, item: Installed, before: DeviceState, seen: Mapping[str, Signal], frame: Frame
) -> DeviceState | None:
    """The state of a device once it has answered to what it sees; None if that is not what it does in the frame."""
    device, now_us = item.kind.adapt(item.params, before, seen, frame.state.time_us), frame.state.time_us
    values = item.kind.values(item.params, device)
    if any(values.get(name) != frame.values[index] for index, name in faulty.graph.branches_of[item.id]):
        return None
    device = item.kind.sense(item.params, device, seen, now_us)
    sound = frame.state.devices[item.id]
    same = all(value == sound[name] or _may_differ(name, sound[name]) for name, value in device.items())
    return device if same else None


def _may_differ(name: str, value: object) -> bool:
    """Heat and speed may, and so may when something will come of them."""
    return isinstance(value, float) or name.endswith("_at_us")


def _comes_first(own: Mapping[str, DeviceState], due: Mapping[str, Sequence[str]], after_us: int, upto_us: int) -> bool:
    """Is something due by itself, of what is otherwise than in the course, before that comes to its next instant?"""
    times = (own[device][name] for device in own for name in due.get(device, ()))
    return any(isinstance(time, int) and after_us < time < upto_us for time in times)
