"""State tables: what every device does at each step of an operating sequence, and where two circuits differ."""

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.status import words
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, Frozen
from wiretrace.errors import UnknownTarget, WiretraceError
from wiretrace.interchange.lists import csv_text
from wiretrace.sequences.sequence import Sequence, Taken, changes, take_steps

MOST_EVENTS = 60


class Event(Frozen):
    """Something that changed in a step, so many microseconds after its beginning."""

    after_us: int
    label: str
    what: str


class Row(Frozen):
    """A step that was taken: the status of every device at its end, by designation, and what changed on the way.

    `unmet` are expectations of the sequence with what came instead; `more` counts events that are left out.
    """

    text: str
    start_us: int
    end_us: int
    statuses: dict[str, str]
    events: tuple[Event, ...]
    more: int
    unmet: dict[str, tuple[str, str]]


class StateTable(Frozen):
    """The devices that say anything, in the order of the document, and a row a step.

    `words` are those that people read of each status in it. A circuit that cannot go on ends the table: `problem` says
    why, and all before it stands.
    """

    devices: tuple[str, ...]
    rows: tuple[Row, ...]
    words: dict[str, str]
    problem: str = ""


def state_table(circuit: Circuit, sequence: Sequence) -> StateTable:
    """Take a circuit through a sequence. Raises UnknownTarget, with the step, for a step that names nothing."""
    rows: list[Row] = []
    devices: tuple[str, ...] = ()
    problem = ""
    try:
        for taken in take_steps(circuit, sequence):
            devices = tuple(item.label for item in taken.assembly.devices.values() if _speaks(item))
            rows.append(_row(taken, devices))
    except UnknownTarget:
        raise
    except WiretraceError as error:
        problem = f"Step {len(rows) + 1}: {error.message}"
    told = {
        status
        for row in rows
        for status in (*row.statuses.values(), *(one for pair in row.unmet.values() for one in pair))
    }
    return StateTable(
        devices=devices, rows=tuple(rows), words={one: words(one) for one in sorted(told)}, problem=problem
    )


def _speaks(item: Installed) -> bool:
    """Does it stand in a column: whatever a hand, a coil or a current moves, what turns and what shows?"""
    return bool(item.kind.operations) or bool(item.structure.parts_that(Does.OPERATES, Does.SHOWS, Does.TURNS))


def _row(taken: Taken, devices: tuple[str, ...]) -> Row:
    seen, found = taken.views(), changes(taken)
    return Row(
        text=taken.step.text,
        start_us=taken.start_us,
        end_us=taken.start_us + round(taken.step.wait_s * 1e6),
        statuses={label: seen[label].status for label in devices},
        events=tuple(Event(after_us=c.after_us, label=c.label, what=c.what) for c in found[:MOST_EVENTS]),
        more=max(0, len(found) - MOST_EVENTS),
        unmet=taken.unmet(),
    )


def differences(one: StateTable, other: StateTable) -> tuple[tuple[int, str], ...]:
    """Cells, as (row from 0, device), in which two tables of one sequence differ; the first first."""
    return tuple(
        (number, label)
        for number, (row, against) in enumerate(zip(one.rows, other.rows, strict=False))
        for label in dict.fromkeys((*one.devices, *other.devices))
        if row.statuses.get(label, "") != against.statuses.get(label, "")
    )


def table_csv(table: StateTable) -> str:
    """The table as CSV: step, beginning and end in seconds, then a column a device."""
    rows = [
        (
            row.text,
            f"{row.start_us / 1e6:g}",
            f"{row.end_us / 1e6:g}",
            *(words(row.statuses[label]) for label in table.devices),
        )
        for row in table.rows
    ]
    return csv_text(("Step", "From s", "To s", *table.devices), rows)
