"""An exercise that is going on: read from the database, gone on by a step, and kept again."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Final

from psycopg import Connection
from psycopg.rows import DictRow

from server.faults import FAULTS, without_places
from server.person import only_mine
from server.store.errors import Refused
from server.subjects.exercises import store
from server.subjects.jobs import store as jobs
from wiretrace.diagnosis.procedure import Halt, halts_of
from wiretrace.document.checked import kept_circuit
from wiretrace.document.circuit import Circuit
from wiretrace.document.upgrades import upgraded_fault
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.faults.registry import AnyFault
from wiretrace.sequences.sequence import kept_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state
from wiretrace.simulation.state import State
from wiretrace.training.exercise.answers import MEND_S, WRONG_S, against, mended
from wiretrace.training.exercise.bench import Outcome, checked, go, with_faults
from wiretrace.training.exercise.following import Observed, observed
from wiretrace.training.exercise.record import Entry, entry_of, entry_upgrades, outcome_of
from wiretrace.training.exercise.risks import Care, Proof, after, replacing
from wiretrace.training.exercise.steps import SECOND_US, Begin, Course, Leg, Step, advance
from wiretrace.training.exercise.told import entry_words
from wiretrace.transport.report import StateData, state_data, state_from_data
from wiretrace.upgrading import Upgrades

MOST_ENTRIES: Final = 1000
_NOTHING: Final = Outcome((), {}, None, False)


def _nothing_read(data: Mapping[str, Any]) -> dict[str, Any]:
    """Version 2 knows where a voltage was read."""
    return {**data, "care": {"live": [], **data["care"]}}


standing_upgrades: Final = Upgrades("standing of an exercise", _nothing_read)
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
        return halts_of(self.assembly, kept_sequence(self.kept.sequence).steps)

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
    def waits(self) -> bool:
        """Is its last entry an answer that is not judged yet?"""
        return bool(self.entries) and self.entries[-1].waits

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


def new(assembly: Assembly, hidden: Sequence[Fault]) -> tuple[Entry, dict[str, Any]]:
    """The first entry of an exercise, the walk to the panel, and what then holds. Raises what a run raises."""
    panel = with_faults(assembly, hidden, ())
    return _gone(assembly, panel, initial_state(panel), Care(), Course(), Begin(), 0, hidden)[:2]


def opened(connection: Connection[DictRow], job_id: int, exercise_id: int) -> Exercise:
    """Read an exercise. Raises NotFound."""
    kept = store.read_exercise(connection, job_id, exercise_id)
    standing = standing_upgrades(kept.standing)
    circuit = kept_circuit(kept.circuit)
    return Exercise(
        exercise_id,
        job_id,
        kept,
        circuit,
        kept_faults(kept.faults),
        kept_faults(standing["left"]),
        _state(circuit, state_from_data(StateData.model_validate(standing["state"]))),
        _care(standing["care"]),
        tuple(_entry(one) for one in kept.entries),
    )


def kept_faults(kept: Sequence[Any]) -> tuple[Fault, ...]:
    """Faults as they were kept, perhaps by an earlier release."""
    return FAULTS.validate_python([upgraded_fault(one) for one in kept])


def _entry(kept: Mapping[str, Any]) -> Entry:
    entry = entry_upgrades(kept)
    return Entry.model_validate({**entry, "named": upgraded_fault(entry.get("named"))})


def _state(circuit: Circuit, kept: State) -> State:
    """The state, with what its devices have gained since it was kept: an exercise outlives a release."""
    begun = initial_state(Assembly(circuit)).devices
    return replace(kept, devices={name: {**begun[name], **kept.devices.get(name, {})} for name in begun})


def going_on(connection: Connection[DictRow], job_id: int, exercise_id: int, known: int) -> Exercise:
    """One's exercise, of whose record one knows so many entries, to do something more.

    Raises NotYours, Refused, NotFound.
    """
    exercise = opened(connection, job_id, exercise_id)
    only_mine(exercise.kept.owner, "This exercise")
    if exercise.waits:
        judge(connection, exercise, exercise.entries[-1].number)
        exercise = opened(connection, job_id, exercise_id)
    if exercise.ended:
        raise Refused(ENDED)
    if known != len(exercise.entries):
        raise Refused("Something was recorded here meanwhile; the record is shown as it is now.")
    if known >= MOST_ENTRIES:
        raise Refused(f"A record holds {MOST_ENTRIES} entries at most: end this exercise.")
    now = kept_circuit(jobs.read_job(connection, job_id).circuit)
    if _works_as(now) != _works_as(exercise.circuit):
        raise Refused(
            "The circuit was changed since this exercise was set. Its record stays; take the circuit back to what it"
            " was, or begin another exercise."
        )
    return exercise


def claim(connection: Connection[DictRow], exercise: Exercise, named: AnyFault) -> Entry:
    """Record an answer before it is judged: from then on it counts, whatever happens. Raises Refused."""
    entry = Entry(
        number=len(exercise.entries),
        kind="answer",
        took_s=WRONG_S,
        at_us=exercise.course.at_us,
        locked_off=exercise.care.locked,
        risks=replacing(exercise.care),
        named=named,
    )
    return record(connection, exercise, entry)


def judge(connection: Connection[DictRow], exercise: Exercise, number: int) -> Entry:
    """Judge the answer of this number, and keep what comes of it; one that was judged meanwhile stays as it is.

    All is worked out whether the answer is right or not, so that the time it takes tells nothing.
    """
    entry = exercise.entries[number]
    if not entry.waits or entry.named is None:
        return entry
    found = mended(exercise.assembly, exercise.left, entry.named, exercise.halts)
    why_not = _against(exercise, entry.named)
    standing = exercise.kept.standing
    if found is None:
        entry = entry.model_copy(update={"right": False, "text": why_not})
    else:
        more = " Something else is still wrong." if len(exercise.left) > 1 else ""
        text = f"Correct. Fault repaired.{more} Prove it by running the sequence."
        entry = entry.model_copy(update={"right": True, "took_s": MEND_S, "text": text})
        left = [one for one in exercise.left if one is not found]
        standing = standing_of(exercise.state, exercise.care, left)
    store.settle_entry(connection, exercise.id, entry.model_dump(mode="json"), standing)
    return entry


def _against(exercise: Exercise, named: Fault) -> str:
    """Which observation speaks against an answer; of what was mended nothing more is said."""
    entries, legs, seen = exercise.legs()
    leg = against(exercise.assembly, legs, seen, named)
    if leg is None:
        return "It was looked at and is sound, though nothing that was observed spoke against it: measure there first."
    entry = entries[leg]
    shown = "" if entry.shown is None else f" showed {entry.shown.display} {entry.shown.unit}".rstrip()
    return f"It is sound. Against it spoke no. {entry.number}: {entry_words(exercise.assembly, entry)}{shown}."


def _works_as(circuit: Circuit) -> tuple[object, ...]:
    """What matters of a circuit to somebody at its panel: not how it is drawn."""
    return circuit.devices, circuit.conductors, circuit.strays


def take(connection: Connection[DictRow], exercise: Exercise, step: Step) -> Entry:
    """Take a step, and record it. Raises UnknownTarget, Refused, and what a run raises, without places."""
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
            "live": sorted(care.live),
        },
        "left": FAULTS.dump_python(tuple(left), mode="json"),
        "version": standing_upgrades.version,
    }


def _care(data: dict[str, Any]) -> Care:
    sets = (frozenset(data[name]) for name in ("tripped", "again", "live"))
    return Care(data["locked"], Proof(data["proof"]), *sets)


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
        last = entry_of(number, step, 0, course.at_us, _NOTHING, ())
        return last, standing_of(state, care, left)
    state, outcome = go(panel, state, leg)
    care, risks = after(assembly, care, step, outcome)
    return entry_of(number, step, took_s, further.at_us, outcome, risks), standing_of(state, care, left)
