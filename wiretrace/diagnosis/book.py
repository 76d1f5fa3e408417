"""The fault book: which faults give which symptom, how each is told from the others with that symptom, and is set."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np

from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.isolation import leaves_live
from wiretrace.diagnosis.repertoire import Kind
from wiretrace.diagnosis.words import hypothesis_words, observation_words, outcome_words
from wiretrace.document.circuit import End
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly

CAUTION: Final = "Isolated and locked out, by the instructor alone; never a short circuit on a board under power."


@dataclass(frozen=True)
class Entry:
    """A fault: what devices then do otherwise, and the reading that parts it best from those that look alike.

    `shows` is what that reading is with the fault, `setting` how it is set on a board.
    """

    fault: str
    symptom: str
    told_by: str
    shows: str
    setting: str


def fault_book(engine: Engine, assembly: Assembly) -> Iterator[Entry]:
    """An entry for every fault, in the order of the document."""
    known = engine.known
    live = frozenset(leaves_live(assembly))
    readings: dict[int, Observation | None] = {}
    looks: dict[tuple[tuple[str, ...], ...], int] = {}
    for row, number in enumerate(known.of.tolist()):
        fault = known.hypotheses[number].fault
        if fault is None or (row and known.of[row - 1] == number):
            continue
        alike = looks.setdefault(known.looks[row], len(looks))
        if alike not in readings:
            same = np.array([one == known.looks[row] for one in known.looks])
            best = engine.advice(same, 1, (Kind.VOLTS, Kind.OHMS))
            readings[alike] = best[0].observation if best else None
        what = readings[alike]
        yield Entry(
            hypothesis_words(known, assembly, number),
            _symptom(engine, assembly, row),
            observation_words(known, assembly, what) if what else "nothing tells it apart",
            outcome_words(assembly, what, _reading(engine, row, what)) if what else "",
            STAYS_LIVE if live & _touched(assembly, fault) else fault.how_to_set(assembly),
        )


STAYS_LIVE: Final = "Not on a board: the isolator leaves it live. Show it on the screen."


def _touched(assembly: Assembly, fault: Fault) -> frozenset[End]:
    """Terminals at which somebody works who sets a fault: the ends of its wire, its own, or those of its element."""
    for wire in assembly.circuit.conductors:
        if wire.id == fault.where:
            return frozenset((wire.a, wire.b))
    terminal, to = getattr(fault, "terminal", ""), getattr(fault, "to", None)
    if terminal:
        return frozenset((End(device=fault.where, terminal=terminal), *((to,) if to else ())))
    branch = getattr(fault, "branch", "")
    found = next((one for one in assembly.devices[fault.where].structure.branches if one.name == branch), None)
    names = {one.name for one in assembly.devices[fault.where].structure.terminals}
    ends = () if found is None else (found.a, found.b)
    return frozenset(End(device=fault.where, terminal=name) for name in ends if name in names)


def _reading(engine: Engine, row: int, what: Observation) -> float:
    known = engine.known
    return float(known.ohms[row, what.spot] if what.kind is Kind.OHMS else known.volts[row, what.halt, what.spot])


def _symptom(engine: Engine, assembly: Assembly, row: int) -> str:
    """The first state in which something is not as it should be, and what."""
    known = engine.known
    for halt, (look, sound) in enumerate(zip(known.looks[row], known.looks[0], strict=True)):
        if look != sound:
            told = outcome_words(assembly, Observation(Kind.LOOK, halt), look).split(", ")
            right = outcome_words(assembly, Observation(Kind.LOOK, halt), sound).split(", ")
            other = [word for word in told if word not in right]
            return f"{known.halts[halt].text}: {', '.join(other)}"
    return "everything does as it should"
