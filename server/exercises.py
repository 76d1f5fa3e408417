"""An exercise that is going on: read from the database, gone on by a step, and kept again."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Final

from psycopg import Connection
from psycopg.rows import DictRow

from server.faults import FAULTS, without_places
from server.store import exercises as store
from server.store import jobs
from server.store.errors import Moved
from wiretrace.circuit.checked import circuit_from_data
from wiretrace.circuit.document import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.exercise.bench import Outcome, checked, go, with_faults
from wiretrace.exercise.following import Observed, observed
from wiretrace.exercise.record import Entry, entry_of, outcome_of
from wiretrace.exercise.risks import Care, Proof, after
from wiretrace.exercise.steps import SECOND_US, Begin, Course, Leg, Step, advance
from wiretrace.faults.fault import Fault
from wiretrace.formats.report import StateData, state_data, state_from_data
from wiretrace.formats.sequence import Sequence as OperatingSequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state
from wiretrace.simulation.state import State
from wiretrace.trace.procedure import Halt, halts_of

MOST_ENTRIES: Final = 1000
_NOTHING: Final = Outcome((), {}, None, False)
ENDED: Final = "This exercise has ended; its record stays as it is."


@dataclass(frozen=True)
class Exercise:
    """An exercise and what holds after its last entry; `left` are the hidden faults that nobody has mended."""

    id: int
    job_id: int
    kept: store.KeptExercise
    circuit: Circuit
    hidden: tuple[Fault, ...]
    left: tuple[Fault, ...]
    state: State
    care: Care
    entries: tuple[Entry, ...]

    @cached_property
    def assembly(self) -> Assembly:
        """The sound circuit: what may be told of."""
        return Assembly(self.circuit)

    @cached_property
    def halts(self) -> tuple[Halt, ...]:
        return halts_of(self.circuit, OperatingSequence.model_validate(self.kept.sequence).steps)

    @cached_property
    def course(self) -> Course:
        course = Course()
        for entry in self.entries:
            if entry.step is not None:
                course, _ = advance(course, entry.step)
        return course

    @property
    def ended(self) -> bool:
        return self.kept.ended_at is not None

    @property
    def mended(self) -> bool:
        return not self.left

    def legs(self) -> tuple[list[Entry], list[Leg], list[Observed]]:
        """Everything that was observed until something was mended: entries, their legs, and what was seen."""
        course, entries, legs, seen = Course(), list[Entry](), list[Leg](), list[Observed]()
        for entry in self.entries:
            if entry.kind == "answer" and entry.right:
                break
            if entry.step is None:
                continue
            course, leg = advance(course, entry.step)
            if entry.took_s:
                entries.append(entry)
                legs.append(leg)
                seen.append(observed(self.assembly, outcome_of(entry)))
        return entries, legs, seen


def new(circuit: Circuit, hidden: Sequence[Fault]) -> tuple[Entry, dict[str, Any]]:
    """The first entry of an exercise, the walk to the panel, and what then holds. Raises what a run raises."""
    assembly = Assembly(circuit)
    panel = with_faults(assembly, hidden, ())
    return _gone(assembly, panel, initial_state(panel), Care(), Course(), Begin(), 0, hidden)[:2]


def opened(connection: Connection[DictRow], job_id: int, exercise_id: int) -> Exercise:
    """Read an exercise. Raises NotFound."""
    kept = store.read_exercise(connection, job_id, exercise_id)
    standing = kept.standing
    circuit = circuit_from_data(kept.circuit)
    return Exercise(
        exercise_id,
        job_id,
        kept,
        circuit,
        FAULTS.validate_python(kept.faults),
        FAULTS.validate_python(standing["left"]),
        _state(circuit, state_from_data(StateData.model_validate(standing["state"]))),
        _care(standing["care"]),
        tuple(Entry.model_validate(one) for one in kept.entries),
    )


def _state(circuit: Circuit, kept: State) -> State:
    """The state, with what its devices have gained since it was kept: an exercise outlives a release."""
    begun = initial_state(Assembly(circuit)).devices
    return replace(kept, devices={name: {**begun[name], **kept.devices.get(name, {})} for name in begun})


def going_on(connection: Connection[DictRow], job_id: int, exercise_id: int, known: int) -> Exercise:
    """An exercise of which somebody knows so many entries, to do something more. Raises Moved, NotFound."""
    exercise = opened(connection, job_id, exercise_id)
    if exercise.ended:
        raise Moved(ENDED)
    if known != len(exercise.entries):
        raise Moved("Something was recorded here meanwhile; the record is shown as it is now.")
    if known >= MOST_ENTRIES:
        raise Moved(f"A record holds {MOST_ENTRIES} entries at most: end this exercise.")
    now = circuit_from_data(jobs.read_job(connection, job_id).circuit)
    if _works_as(now) != _works_as(exercise.circuit):
        raise Moved(
            "The circuit was changed since this exercise was set. Its record stays; take the circuit back to what it"
            " was, or begin another exercise."
        )
    return exercise


def _works_as(circuit: Circuit) -> tuple[object, ...]:
    """What matters of a circuit to somebody at its panel: not how it is drawn."""
    return circuit.devices, circuit.conductors, circuit.strays


def take(connection: Connection[DictRow], exercise: Exercise, step: Step) -> Entry:
    """Take a step, and record it. Raises UnknownTarget, Moved, and what a run raises, without places."""
    checked(exercise.assembly, exercise.course, step)
    try:
        panel = with_faults(exercise.assembly, exercise.left, advance(exercise.course, step)[1].own)
        entry, standing = _gone(
            exercise.assembly,
            panel,
            exercise.state,
            exercise.care,
            exercise.course,
            step,
            len(exercise.entries),
            exercise.left,
        )
    except WiretraceError as error:
        raise without_places(error) from None
    return record(connection, exercise, entry, standing)


def record(
    connection: Connection[DictRow],
    exercise: Exercise,
    entry: Entry,
    standing: dict[str, Any] | None = None,
    ends: bool = False,
) -> Entry:
    """Record an entry, with what then holds where that has changed."""
    holds = standing or exercise.kept.standing
    data = entry.model_dump(mode="json")
    store.add_entry(connection, exercise.id, entry.number, data, holds, ends)
    return entry


def standing_of(state: State, care: Care, left: Sequence[Fault]) -> dict[str, Any]:
    """What holds, as plain data."""
    return {
        "state": state_data(state).model_dump(mode="json"),
        "care": {
            "locked": care.locked,
            "proof": int(care.proof),
            "tripped": sorted(care.tripped),
            "again": sorted(care.again),
        },
        "left": FAULTS.dump_python(tuple(left), mode="json"),  # type: ignore[arg-type]
    }


def without(exercise: Exercise, fault: Fault) -> dict[str, Any]:
    """What holds when a hidden fault is mended."""
    left = [one for one in exercise.left if one is not fault]
    return standing_of(exercise.state, exercise.care, left)


def _care(data: dict[str, Any]) -> Care:
    return Care(data["locked"], Proof(data["proof"]), frozenset(data["tripped"]), frozenset(data["again"]))


def _gone(
    assembly: Assembly,
    panel: Assembly,
    state: State,
    care: Care,
    course: Course,
    step: Step,
    number: int,
    left: Sequence[Fault],
) -> tuple[Entry, dict[str, Any]]:
    further, leg = advance(course, step)
    took_s = (leg.until_us - course.at_us) // SECOND_US
    if not took_s:
        # What is only written down takes no time, and nothing happens meanwhile.
        last = entry_of(assembly, number, step, 0, course.at_us, _NOTHING, ())
        return last, standing_of(state, care, left)
    state, outcome = go(panel, state, leg)
    care, risks = after(assembly, care, step, outcome)
    return entry_of(assembly, number, step, took_s, further.at_us, outcome, risks), standing_of(state, care, left)
