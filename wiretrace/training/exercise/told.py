"""What people read of the record of an exercise, made from its codes and data when it is told."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Final

from wiretrace.catalogue.machinery.status import words
from wiretrace.catalogue.machinery.structure import Operation
from wiretrace.document.circuit import End, Frozen
from wiretrace.faults.text import fault_words
from wiretrace.instruments.measures import Clamp, Measure, Shown
from wiretrace.interchange.lists import csv_text
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.record import Entry, EventData, Risk, SeenData
from wiretrace.training.exercise.steps import BridgeOver, Lift, Note, ProveDead, Read, RuleOut, Step, Wait, Work

INSTRUMENTS: Final[Mapping[str, str]] = {
    "voltmeter": "Volts",
    "low_impedance": "Volts (low impedance)",
    "two_pole": "Two-pole tester",
    "ohmmeter": "Ohms",
    "diode": "Diode test",
    "insulation": "Insulation",
    "phase_sequence": "Phase sequence",
    "clamp": "Amperes",
}
RISKS: Final[Mapping[Risk, str]] = {
    Risk.LIVE: "Ohms or insulation on a live circuit.",
    Risk.NOT_PROVED: "Measured ohms, a diode or insulation before the circuit was locked out and proved dead.",
    Risk.PROOF_OF_NOTHING: "Proved dead between terminals that have no voltage under power either: it proves nothing.",
    Risk.STAYS_LIVE: "Work on what the isolator leaves live: its supply is switched off and locked first.",
    Risk.WIRES_NOT_PROVED: "Work on wires before the circuit was locked out and proved dead.",
    Risk.BRIDGED: "A contact bridged: what it kept apart or watched over is without it.",
    Risk.WORKED_LIVE: (
        "Worked by hand while the circuit is live, what may be only dead: an armature, or the links of a fuse."
    ),
    Risk.RESET_UNSEEN: "Reset without looking for the reason of the trip.",
    Risk.SAME_FAULT: "Put under power onto the same fault again.",
    Risk.REPLACED_LIVE: "A part replaced before the circuit was locked out and proved dead.",
}
TITLES: Final[Mapping[str, str]] = {
    "begin": "Walk to the panel",
    "prove_tester": "Prove the tester at a known source",
    "proof": "Run the operating sequence",
    "end": "End",
}
HEADS: Final = ("No.", "Time (s)", "Took (s)", "What was done", "Seen and heard", "Reading", "Risk")
STOP_WATCH_US: Final = 100_000


class ToldEvent(EventData):
    says: str


class ToldSeen(SeenData):
    says: str


class ToldEntry(Frozen):
    """An entry as a person at the panel has it: figures as the meter shows them, times as a stop watch does.

    `words` tell what was done, `risks` what was risky in it; what an answer names is not told as data.
    """

    number: int
    kind: str
    words: str
    step: Step | None
    took_s: int
    at_us: int
    events: tuple[ToldEvent, ...]
    seen: dict[str, ToldSeen]
    shown: Shown | None
    locked_off: bool
    risks: tuple[str, ...]
    text: str
    right: bool | None


def told(assembly: Assembly, entry: Entry) -> ToldEntry:
    """What a person reads of an entry."""
    return ToldEntry(
        number=entry.number,
        kind=entry.kind,
        words=entry_words(assembly, entry),
        step=entry.step,
        took_s=entry.took_s,
        at_us=_stopped(entry.at_us),
        events=tuple(
            ToldEvent(**{**dict(one), "at_us": _stopped(one.at_us)}, says=words(one.status)) for one in entry.events
        ),
        seen={name: ToldSeen(**dict(one), says=words(one.status)) for name, one in entry.seen.items()},
        shown=None if entry.shown is None else entry.shown.model_copy(update={"value": None}),
        locked_off=entry.locked_off,
        risks=tuple(RISKS[risk] for risk in entry.risks),
        text=entry.text,
        right=entry.right,
    )


def _stopped(at_us: int) -> int:
    """A time as a stop watch shows it."""
    return at_us // STOP_WATCH_US * STOP_WATCH_US


def entry_words(assembly: Assembly, entry: Entry) -> str:
    """What was done, in words."""
    if entry.step is not None:
        return step_words(assembly, entry.step)
    if entry.kind == "hint":
        return f"Hint {entry.hint} of 3"
    if entry.kind == "answer":
        return entry.words if entry.named is None else f"Answer: {fault_words(assembly, entry.named)}"
    return TITLES[entry.kind]


def _hand(operation: Operation, step: Work) -> str:
    """What a hand does: it presses and lets go, it switches on and off."""
    title = operation.title.lower()
    if step.briefly:
        return f"{title}, and let go"
    if step.value:
        return title if operation.style != "toggle" or not operation.handle else "on"
    if operation.style == "momentary":
        return "let go"
    return "off" if operation.handle else f"{title}: undone"


def step_words(assembly: Assembly, step: Step) -> str:
    """What is done in a step, in words."""
    if isinstance(step, Work):
        item = assembly.devices[step.device]
        operation = next(one for one in item.kind.operations if one.name == step.operation)
        return f"{item.label}: {_hand(operation, step)}"
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
    return TITLES[step.kind]


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
    for entry in (told(assembly, one) for one in entries):
        passed += entry.took_s
        events = "; ".join(f"{assembly.devices[one.device].label} {one.says}" for one in entry.events)
        reading = "" if entry.shown is None else f"{entry.shown.display} {entry.shown.unit}".strip()
        seen = entry.text or events
        yield str(entry.number), str(passed), str(entry.took_s), entry.words, seen, reading, " ".join(entry.risks)
