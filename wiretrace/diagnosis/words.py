"""Observations and faults as a person would tell them, and what a person tells understood."""

import math
import re
from collections.abc import Sequence
from typing import Final

from wiretrace.catalogue.machinery.status import status_of_words, words
from wiretrace.diagnosis.dictionary import Dictionary, Observation
from wiretrace.diagnosis.engine import Engine, Outcome
from wiretrace.diagnosis.hypotheses import Hypothesis
from wiretrace.diagnosis.repertoire import DEAD, Kind, Spot, lookers
from wiretrace.diagnosis.splitting import Region
from wiretrace.document.circuit import End
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.faults.spots import end_from_text
from wiretrace.faults.text import fault_words
from wiretrace.instruments.written import NotAReading, Span, Unit, written
from wiretrace.simulation.assembly import Assembly

_LINE: Final = re.compile(r"^\s*(dead|\d+)\s*:\s*([^=]+?)\s*=\s*(.+?)\s*$", re.IGNORECASE)
GO_DEAD: Final = "First isolate, lock off, prove the tester, prove dead, prove the tester."
UNITS: Final = {Kind.VOLTS: Unit.VOLTS, Kind.OHMS: Unit.OHMS}


def hypothesis_words(known: Dictionary, assembly: Assembly, number: int) -> str:
    """A fault as a person would tell it."""
    return words_of(assembly, known.hypotheses[number])


def words_of(assembly: Assembly, one: Hypothesis) -> str:
    """What may be wrong, as a person would tell it."""
    if one.fault is None:
        return "Nothing is wrong"
    words = fault_words(assembly, one.fault)
    if one.also is not None:
        return f"{words}; and {fault_words(assembly, one.also)}"
    return words.replace("300 ohm in", "A bad joint in") if len(one.values) > 1 else words


def spot_words(assembly: Assembly, spot: Spot) -> str:
    return f"{_name(assembly, spot.red)} to {_name(assembly, spot.black)}"


def _name(assembly: Assembly, end: End) -> str:
    return assembly.devices[end.device].designated(end.terminal)


def observation_words(known: Dictionary, assembly: Assembly, what: Observation) -> str:
    """What to do and where to look: "Hold start: volts from S1:13 to S1:14"."""
    if what.kind is Kind.OHMS:
        return f"Isolated and locked out: ohms from {spot_words(assembly, known.spots[what.spot])}"
    halt = f"{what.halt + 1}. {known.halts[what.halt].text}"
    if what.kind is Kind.LOOK:
        return f"{halt}: look and listen, what every device does"
    if what.kind is Kind.WORD:
        return f"{halt}: {lookers(assembly)[what.spot].label}"
    return f"{halt}: volts from {spot_words(assembly, known.spots[what.spot])}"


def first_words(known: Dictionary, now: int | None, to: int) -> str:
    """What to do before an observation in a state, coming from another; empty where the panel only goes on."""
    if to == DEAD:
        return "" if now == DEAD else GO_DEAD
    if now == DEAD:
        return f"First close up, unlock, put it under power and come to state {to + 1} ({known.halts[to].text})."
    if now is not None and to < now:
        return f"First switch off and on, and come to state {to + 1} ({known.halts[to].text}) anew."
    return ""


def region_words(assembly: Assembly, known: Dictionary, where: Region) -> str:
    """Where the evidence points: "Between F2:96 and K1:A1, on the way to K1, in state 2"."""
    device = assembly.devices[where.device].label
    state = f"in state {where.halt + 1} ({known.halts[where.halt].text})"
    return (
        f"Between {_name(assembly, where.first)} and {_name(assembly, where.last)}, on the way of {device}, {state}:"
        " before it all is as drawn, after it not."
    )


def outcome_words(assembly: Assembly, what: Observation, outcome: Outcome) -> str:
    """What came of it: a figure with its unit, or what every device says."""
    if what.kind is Kind.WORD:
        return words(outcome[0]) if isinstance(outcome, tuple) else ""
    if isinstance(outcome, tuple):
        return ", ".join(
            f"{item.label} {words(status)}" for item, status in zip(lookers(assembly), outcome, strict=True) if status
        )
    if isinstance(outcome, Span):
        low, high = (_figure_words(what, end) for end in (outcome.low, outcome.high))
        return f"more than {low}" if math.isinf(outcome.high) else f"{low} to {high}"
    return _figure_words(what, outcome)


def _figure_words(what: Observation, outcome: float) -> str:
    if math.isinf(outcome):
        return "OL"
    # A meter has no more than three digits behind the point.
    figure_shown = f"{outcome:.4g}" if outcome >= 1 else f"{round(outcome, 3):g}"
    return f"{figure_shown} {'V' if what.kind is Kind.VOLTS else 'ohm'}"


def told(engine: Engine, assembly: Assembly, lines: Sequence[str]) -> list[tuple[Observation, Outcome]]:
    """Observations that somebody typed, a line each; empty lines and those that begin with # are passed over.

        2: K1 = in                   in state 2 (its number in the procedure) the device says so
        2: S1:13,S1:14 = 230 V       a voltmeter shows this there; 0, nothing, 0,2 kV too
        dead: K1:A1,K1:A2 = 520 ohm  an ohmmeter with the supply off; OL, beeps, 1.2k too

    Raises MalformedDocument for a line that cannot be read, UnknownTarget for one that names nothing.
    """
    found: list[tuple[Observation, Outcome]] = []
    for number, line in enumerate(lines, 1):
        if line.strip() and not line.lstrip().startswith("#"):
            found.append(_line(engine, assembly, number, line))
    return found


def _line(engine: Engine, assembly: Assembly, number: int, line: str) -> tuple[Observation, Outcome]:
    match = _LINE.match(line)
    if match is None:
        raise _unreadable(number, line, "Write 2: K1 = in, or 2: S1:13,S1:14 = 230 V, or dead: K1:A1,K1:A2 = 520 ohm.")
    where, what, value = match.groups()
    halt = -1 if where.lower() == "dead" else int(where) - 1
    if halt >= engine.halts:
        raise _unreadable(number, line, f"There are {engine.halts} states.")
    if "," in what:
        return _reading(engine, assembly, number, line, halt, what, value)
    if halt < 0:
        raise _unreadable(number, line, "Where all is dead only ohms tell something.")
    return _word(engine, assembly, number, line, halt, what, value)


def _reading(
    engine: Engine, assembly: Assembly, number: int, line: str, halt: int, what: str, value: str
) -> tuple[Observation, Outcome]:
    red, black = (end_from_text(assembly.circuit, text) for text in what.split(",", 1))
    spots = engine.known.spots
    at = next((n for n, spot in enumerate(spots) if {spot.red, spot.black} == {red, black}), None)
    if at is None:
        message = f"Line {number}: between {what} nothing is known. Measure across a device or a wire, or to a pole."
        raise UnknownTarget(message, (Problem("no_such_spot", message),))
    kind = Kind.OHMS if halt < 0 else Kind.VOLTS
    return Observation(kind, halt, at), figure(number, line, value, kind)


def figure(number: int, line: str, value: str, kind: Kind) -> float | Span:
    """A reading, volts or ohms (infinite for OL); a span where no one figure was written. Raises MalformedDocument."""
    try:
        span = written(value, UNITS[kind])
    except NotAReading as error:
        raise _unreadable(number, line, str(error)) from error
    return span.low if span.low == span.high else span


def _word(
    engine: Engine, assembly: Assembly, number: int, line: str, halt: int, label: str, word: str
) -> tuple[Observation, Outcome]:
    labels = [item.label for item in lookers(assembly)]
    if label not in labels:
        message = f"Line {number}: of {label} nothing is seen. It may be one of {', '.join(labels)}."
        raise UnknownTarget(message, (Problem("unknown_device", message),))
    return Observation(Kind.WORD, halt, labels.index(label)), (said(engine, halt, labels.index(label), word.lower()),)


def said(engine: Engine, halt: int, at: int, text: str) -> str:
    """The status that somebody means with a status or its words. Raises MalformedDocument for what is none.

    What a device is never seen to do there may have been observed all the same: an unknown fault, or a slip.
    """
    status = status_of_words(" ".join(text.split()))
    may_be = dict.fromkeys(looks[halt][at] for looks in engine.known.looks if looks[halt][at])
    if status.startswith("=") and status not in may_be:
        known = ", ".join(words(one) for one in may_be)
        raise MalformedDocument(f"{text.strip()[:60]!r} is nothing that this device is seen to do. It may be {known}.")
    return status


def _unreadable(number: int, line: str, why: str) -> MalformedDocument:
    return MalformedDocument(f"Line {number} ({line.strip()[:60]}): {why}")
