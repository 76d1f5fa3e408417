"""The record of an exercise: everything that was done and what came of it, in words and as data."""

from collections.abc import Iterator, Sequence
from typing import Any, Final

from wiretrace.document.circuit import End, Frozen
from wiretrace.faults.registry import AnyFault
from wiretrace.instruments.measures import Clamp, Measure, Shown
from wiretrace.interchange.lists import csv_text
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.bench import Event, Outcome, Seen
from wiretrace.training.exercise.steps import BridgeOver, Lift, Note, ProveDead, Read, RuleOut, Step, Wait, Work

INSTRUMENTS = {
    "voltmeter": "Volts",
    "low_impedance": "Volts (low impedance)",
    "two_pole": "Two-pole tester",
    "ohmmeter": "Ohms",
    "insulation": "Insulation",
    "phase_sequence": "Phase sequence",
    "clamp": "Amperes",
}
HEADS = ("No.", "Time (s)", "Took (s)", "What was done", "Seen and heard", "Reading", "Risk")


STOP_WATCH_US: Final = 100_000


class EventData(Frozen):
    at_us: int
    device: str
    says: str
    active: bool


class SeenData(Frozen):
    """What is seen of a device, and where its switches stand."""

    says: str
    active: bool
    attention: bool
    on: dict[str, bool]


class Entry(Frozen):
    """One thing that was done: how long it took, when it ended, and what came of it.

    `kind` is that of its step, or hint, answer, proof, end. `text` is what was said to a hint, an answer or a proof,
    and `right` whether that was well; an answer that waits to be judged has none yet. `named` is the fault that an
    answer names. `events` are what devices began to say on the way, `seen` what is seen then.
    """

    number: int
    kind: str
    words: str
    step: Step | None = None
    took_s: int = 0
    at_us: int = 0
    events: tuple[EventData, ...] = ()
    seen: dict[str, SeenData] = {}
    shown: Shown | None = None
    locked_off: bool = False
    risks: tuple[str, ...] = ()
    text: str = ""
    right: bool | None = None
    named: AnyFault | None = None

    @property
    def waits(self) -> bool:
        """Is it an answer that nobody has judged yet?"""
        return self.kind == "answer" and self.right is None

    def for_learner(self) -> "Entry":
        """What a person at the panel has of it: figures as the meter shows them, times as a stop watch does."""
        return self.model_copy(
            update={
                "at_us": _stopped(self.at_us),
                "events": tuple(one.model_copy(update={"at_us": _stopped(one.at_us)}) for one in self.events),
                "shown": None if self.shown is None else self.shown.model_copy(update={"value": None}),
                "named": None,
            }
        )


def _stopped(at_us: int) -> int:
    """A time as a stop watch shows it."""
    return at_us // STOP_WATCH_US * STOP_WATCH_US


def entry_of(
    assembly: Assembly, number: int, step: Step, took_s: int, at_us: int, outcome: Outcome, risks: Sequence[str]
) -> Entry:
    """The entry of a step."""
    return Entry(
        number=number,
        kind=step.kind,
        words=step_words(assembly, step),
        step=step,
        took_s=took_s,
        at_us=at_us,
        events=tuple(EventData(**vars(one)) for one in outcome.events),
        seen={name: SeenData(**vars(one)) for name, one in outcome.seen.items()},
        shown=outcome.shown,
        locked_off=outcome.locked_off,
        risks=tuple(risks),
    )


def outcome_of(entry: Entry) -> Outcome:
    """What came of the step of an entry."""
    return Outcome(
        tuple(Event(one.at_us, one.device, one.says, one.active) for one in entry.events),
        {name: Seen(one.says, one.active, one.attention, one.on) for name, one in entry.seen.items()},
        entry.shown,
        entry.locked_off,
    )


def step_words(assembly: Assembly, step: Step) -> str:
    """What is done, in words."""
    if isinstance(step, Work):
        item = assembly.devices[step.device]
        operation = next(one for one in item.kind.operations if one.name == step.operation)
        how = ", and let go" if step.briefly else "" if step.value else ": let go or off"
        return f"{item.label}: {operation.title.lower()}{how}"
    if isinstance(step, Wait):
        return f"Wait and watch for {step.seconds} s"
    if isinstance(step, Read):
        return f"{INSTRUMENTS[step.measure.instrument]}: {_where(assembly, step.measure)}"
    if isinstance(step, ProveDead):
        return f"Prove dead: {_name(assembly, step.red)} to {_name(assembly, step.black)}"
    if isinstance(step, Lift):
        return f"{'Lift' if step.off else 'Put back'} {place_words(assembly, step.wire)}"
    if isinstance(step, BridgeOver):
        do = "Bridge" if step.on else "Take the bridge out:"
        return f"{do} {_name(assembly, step.red)} to {_name(assembly, step.black)}"
    if isinstance(step, Note):
        return step.text
    if isinstance(step, RuleOut):
        return f"{'Ruled out' if step.out else 'Not ruled out any more'}: {place_words(assembly, step.place)}"
    return "Prove the tester at a known source" if step.kind == "prove_tester" else "Walk to the panel"


def place_words(assembly: Assembly, place: str) -> str:
    """A device by its designation, a wire by its ends."""
    item = assembly.devices.get(place)
    if item is not None:
        return item.label
    wire = next((one for one in assembly.circuit.conductors if one.id == place), None)
    return place if wire is None else f"the wire {_name(assembly, wire.a)} to {_name(assembly, wire.b)}"


def _where(assembly: Assembly, measure: Measure) -> str:
    if isinstance(measure, Clamp):
        return ", ".join(place_words(assembly, wire) for wire in measure.conductors)
    ends: Any = getattr(measure, "ends", None) or (measure.red, measure.black)  # type: ignore[union-attr]
    return " to ".join(_name(assembly, end) for end in ends)


def _name(assembly: Assembly, end: End) -> str:
    item = assembly.devices.get(end.device)
    return f"{end.device}:{end.terminal}" if item is None else item.designated(end.terminal)


def record_csv(assembly: Assembly, entries: Sequence[Entry]) -> str:
    """The record as a table for a spreadsheet."""
    return csv_text(HEADS, list(_rows(assembly, entries)))


def _rows(assembly: Assembly, entries: Sequence[Entry]) -> Iterator[tuple[str, ...]]:
    passed = 0
    for entry in entries:
        passed += entry.took_s
        events = "; ".join(f"{assembly.devices[one.device].label} {one.says}" for one in entry.events)
        reading = "" if entry.shown is None else f"{entry.shown.display} {entry.shown.unit}".strip()
        told = entry.text or events
        yield str(entry.number), str(passed), str(entry.took_s), entry.words, told, reading, " ".join(entry.risks)
