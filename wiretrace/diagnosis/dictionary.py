"""The fault dictionary: what every fault would show, in every state, at every spot."""

from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property
from typing import Any, Final

import numpy as np

from wiretrace.diagnosis.alike import Series, as_run, kind_of, series_of
from wiretrace.diagnosis.hypotheses import Hypothesis, hypotheses
from wiretrace.diagnosis.procedure import Halt, halts_of, reached, stages_of
from wiretrace.diagnosis.readings import Readings
from wiretrace.diagnosis.repertoire import Floats, Ints, Kind, Spot, nodes_at, seen, spots
from wiretrace.document.circuit import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.beside import Course, along, course
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.fault_readings import dead_values, nodes_of, ohms_between, solved, volts_between
from wiretrace.simulation.state import State

UNKNOWN: Final = -1


@dataclass(frozen=True)
class Observation:
    """Something that can be looked at: a state by its number, -1 for isolated and locked out, and a spot by its number.

    For what one device does `spot` is its number among those of which something is seen.
    """

    kind: Kind
    halt: int
    spot: int = -1


Looks = tuple[tuple[str, ...], ...]
"""What every device that shows anything says, in every state."""


@dataclass(frozen=True)
class Shown:
    """What one row shows: its words in every state, its volts by state and spot, its ohms by spot."""

    looks: Looks
    volts: Floats
    ohms: Floats


@dataclass(frozen=True)
class Dictionary:
    """Rows are faults with a value each: `of` is the number of the hypothesis that a row belongs to.

    `volts` is an array of rows, states and spots, `ohms` of rows and spots, `looks` words by row and state.
    `left_out` are hypotheses that could not be worked out, with the reason.
    """

    circuit: Circuit
    halts: tuple[Halt, ...]
    spots: tuple[Spot, ...]
    hypotheses: tuple[Hypothesis, ...]
    of: Ints
    looks: tuple[Looks, ...]
    volts: Floats
    ohms: Floats
    left_out: tuple[tuple[int, str], ...]


def show(circuit: Circuit, faults: Sequence[Fault], halts: Sequence[Halt], where: Sequence[Spot]) -> Shown:
    """What a circuit with these faults shows in every state. Raises what a run raises."""
    assembly = Assembly(circuit, faults)
    nodes = nodes_at(assembly, where)
    state, looks, volts = initial_state(assembly), [], []
    dead = solved(assembly, state, dead_values(assembly, state), dead=True)
    for halt in halts:
        frame, state = reached(assembly, state, halt)
        looks.append(seen(assembly, frame))
        volts.append(volts_between(nodes_of(frame.point), *nodes))
    return Shown(tuple(looks), np.array(volts), ohms_between(dead.nodes, *nodes))


Row = tuple[int, tuple[Fault, ...]]
"""The number of a hypothesis, and its faults, the first with one of its values."""
Worked = Shown | str
"""What a row shows, or why that cannot be worked out."""
Alike = tuple[int, ...]
"""Numbers of rows that are alike to every device: they are worked out together."""


def rows_of(every: Sequence[Hypothesis]) -> list[Row]:
    """Each hypothesis with each of its values."""
    return [row for number, one in enumerate(every) for row in _rows_of(number, one)]


def _rows_of(number: int, one: Hypothesis) -> Iterable[Row]:
    if not one.faults:
        yield number, ()
    for value in one.values:
        yield number, (value, *one.faults[1:])


@dataclass(frozen=True)
class Task:
    """Everything that the rows of a dictionary are worked out from."""

    circuit: Circuit
    halts: tuple[Halt, ...]
    every: tuple[Hypothesis, ...]

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        return tuple(rows_of(self.every))

    @cached_property
    def alike(self) -> tuple[Alike, ...]:
        """The rows, put together as they are worked out."""
        found: dict[Hashable, list[int]] = {}
        for number, (_, faults) in enumerate(self.rows):
            one = faults[0] if faults else None
            kind = faults if len(faults) > 1 else kind_of(self._sound, self._series, one)
            found.setdefault(kind, []).append(number)
        return tuple(map(tuple, found.values()))

    @cached_property
    def where(self) -> tuple[Spot, ...]:
        return spots(self._sound)

    @cached_property
    def _sound(self) -> Assembly:
        return Assembly(self.circuit)

    @cached_property
    def _series(self) -> Series:
        return series_of(self._sound)

    @cached_property
    def _readings(self) -> Readings:
        return Readings(self._sound, self.where)

    def forget(self) -> None:
        """Forget what makes working rows out quick: it is large."""
        for name in ("_sound", "_series", "_readings"):
            self.__dict__.pop(name, None)

    def __getstate__(self) -> Any:
        # Another process works the rest out for itself.
        return {field.name: getattr(self, field.name) for field in fields(self)}

    def work_out(self, alike: Alike) -> list[Worked]:
        """What rows that are alike show; an error of the core becomes its message."""
        faults = [self._as_run(number) for number in alike]
        if len(faults[0]) > 1:
            return [self._shown(one) for one in faults]
        try:
            looks, states = self._run(faults[0])
        except WiretraceError as error:
            return [error.message] * len(alike)
        return self._read(faults, looks, states)

    def _as_run(self, number: int) -> tuple[Fault, ...]:
        faults = self.rows[number][1]
        return (as_run(self._sound, self._series, faults[0]),) if len(faults) == 1 else faults

    def _shown(self, faults: tuple[Fault, ...]) -> Worked:
        """What several faults at once show: by itself, since the one is where the other changes the circuit."""
        try:
            return show(self.circuit, faults, self.halts, self.where)
        except WiretraceError as error:
            return error.message

    @cached_property
    def _course(self) -> Course | None:
        return course(self._sound, initial_state(self._sound), stages_of(self._sound, self.halts))

    def _run(self, faults: tuple[Fault, ...]) -> tuple[Looks, list[State]]:
        """What is to be seen at every halt, and the state there: as long as it may be along the course of the sound
        circuit, then by itself.
        """
        assembly = self._sound.with_faults(faults)
        stages = stages_of(assembly, self.halts)
        looks: list[tuple[str, ...]] = []
        states: list[State] = []
        state, done = initial_state(assembly), 0
        instants = self._course.instants if self._course is not None else ()
        for instant, moment in zip(instants, along(self._course, assembly) if self._course else (), strict=False):
            state, done = moment.state, instant.done
            if instant.ends:
                looks.append(seen(assembly, moment))
                states.append(state)
                done = 0
        for stage in stages[len(states) :]:
            trajectory = run(assembly, state, stage.actions[done:], stage.until_us)
            state, done = trajectory.end, 0
            looks.append(seen(assembly, trajectory.frames[-1]))
            states.append(trajectory.frames[-1].state)
        return tuple(looks), states

    def _read(self, alike: Sequence[tuple[Fault, ...]], looks: Looks, states: Sequence[State]) -> list[Worked]:
        """What is read under each of the faults, in the states that all of them lead to."""
        readings, start = self._readings, initial_state(self._sound)
        found: list[Worked] = []
        try:
            live = [readings.base(state, alike[0]) for state in states]
            dead = readings.base(start, alike[0], dead=True)
        except WiretraceError as error:
            return [error.message] * len(alike)
        for faults in alike:
            try:
                volts = np.array([readings.volts(base, faults) for base in live])
                found.append(Shown(looks, volts, readings.ohms(dead, faults)))
            except WiretraceError as error:
                found.append(error.message)
        return found


def dictionary(
    circuit: Circuit,
    halts: Sequence[Halt] = (),
    every: Sequence[Hypothesis] | None = None,
    worked: Callable[[Callable[[Alike], list[Worked]], Sequence[Alike]], Iterable[list[Worked]]] = map,
) -> Dictionary:
    """Work out what every hypothesis shows. `worked` does the tasks in order: one after the other, or shared out."""
    sound = Assembly(circuit)
    task = Task(circuit, tuple(halts) or halts_of(sound), tuple(every) if every is not None else hypotheses(sound))
    rows: dict[int, Worked] = {}
    for alike, found in zip(task.alike, worked(task.work_out, task.alike), strict=True):
        rows |= zip(alike, found, strict=True)
    return bound(task, [rows[number] for number in range(len(rows))])


def bound(task: Task, worked: Sequence[Worked]) -> Dictionary:
    """A dictionary from its rows, in their order."""
    shown = [(number, one) for (number, _), one in zip(task.rows, worked, strict=True) if isinstance(one, Shown)]
    left_out = [(number, one) for (number, _), one in zip(task.rows, worked, strict=True) if isinstance(one, str)]
    return Dictionary(
        task.circuit,
        task.halts,
        task.where,
        task.every,
        np.array([number for number, _ in shown], dtype=np.intp),
        tuple(one.looks for _, one in shown),
        np.array([one.volts for _, one in shown], dtype=np.float64),
        np.array([one.ohms for _, one in shown], dtype=np.float64),
        tuple(left_out),
    )


def joined(known: Dictionary, more: Dictionary) -> Dictionary:
    """Two dictionaries of one circuit, states and spots as one."""
    first = len(known.hypotheses)
    return replace(
        known,
        hypotheses=(*known.hypotheses, *more.hypotheses),
        of=np.concatenate([known.of, more.of + first]),
        looks=(*known.looks, *more.looks),
        volts=np.concatenate([known.volts, more.volts.reshape(-1, *known.volts.shape[1:])]),
        ohms=np.concatenate([known.ohms, more.ohms.reshape(-1, known.ohms.shape[1])]),
        left_out=(*known.left_out, *((number + first, why) for number, why in more.left_out)),
    )
