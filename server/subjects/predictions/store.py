"""Prediction sheets of a job, and what people wrote into them."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any, Final

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound, Refused

ENDED: Final = "This attempt has ended; what was written stays as it is."
COMPARED: Final = "This state was compared; what was written for it stays as it is."
GOING_ON_HOURS: Final = 12
"""An attempt that nobody ended counts as going on for so long after its last answer."""


@dataclass(frozen=True)
class SheetLine:
    id: int
    title: str
    made_at: datetime
    attempts: int


@dataclass(frozen=True)
class AttemptLine:
    id: int
    who: str
    owner: str
    started_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True)
class Attempt(AttemptLine):
    """What one person wrote: `answers` by state and place, `changes` as they came, `marks` by state."""

    answers: dict[str, dict[str, str]]
    changes: list[dict[str, Any]]
    marks: dict[str, dict[str, Any]]


@dataclass(frozen=True)
class KeptSheet:
    id: int
    owner: str
    made_at: datetime
    sheet: dict[str, Any]
    circuit: dict[str, Any]
    attempts: tuple[AttemptLine, ...]


@dataclass(frozen=True)
class Written:
    """An answer, and its writer's count of changes."""

    state: int
    place: str
    text: str
    serial: int


_LINE = "id, who, owner, started_at, ended_at"
_ATTEMPT = f"{_LINE}, answers, changes, marks"


def list_sheets(connection: Connection[DictRow], job_id: int) -> list[SheetLine]:
    """All sheets of a job, the last first; none for a job that is not there."""
    with connection.transaction():
        rows = connection.execute(
            "SELECT s.id, s.sheet->>'title' AS title, s.made_at, count(a.id) AS attempts FROM prediction_sheets s"
            " LEFT JOIN prediction_attempts a ON a.sheet_id = s.id WHERE s.job_id = %s"
            " GROUP BY s.id ORDER BY s.id DESC",
            (job_id,),
        ).fetchall()
    return [SheetLine(**row) for row in rows]


def keep_sheet(
    connection: Connection[DictRow], job_id: int, owner: str, sheet: dict[str, Any], circuit: dict[str, Any]
) -> SheetLine:
    """Keep a sheet with the circuit that it asks about. Raises NotFound."""
    try:
        with connection.transaction():
            row = connection.execute(
                "INSERT INTO prediction_sheets (job_id, owner, sheet, circuit) VALUES (%s, %s, %s, %s)"
                " RETURNING id, sheet->>'title' AS title, made_at, 0 AS attempts",
                (job_id, owner, Jsonb(sheet), Jsonb(circuit)),
            ).fetchone()
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    assert row is not None
    return SheetLine(**row)


def read_sheet(connection: Connection[DictRow], job_id: int, sheet_id: int) -> KeptSheet:
    """One sheet and who attempted it, the first one first. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "SELECT id, owner, made_at, sheet, circuit FROM prediction_sheets WHERE job_id = %s AND id = %s",
            (job_id, sheet_id),
        ).fetchone()
        if row is None:
            raise NotFound(f"Job {job_id} has no prediction sheet {sheet_id}.")
        attempts = connection.execute(
            f"SELECT {_LINE} FROM prediction_attempts WHERE sheet_id = %s ORDER BY id", (sheet_id,)
        ).fetchall()
    return KeptSheet(**row, attempts=tuple(AttemptLine(**attempt) for attempt in attempts))


def delete_sheet(connection: Connection[DictRow], job_id: int, sheet_id: int) -> None:
    """Forget a sheet and all attempts at it for good. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute(
            "DELETE FROM prediction_sheets WHERE job_id = %s AND id = %s", (job_id, sheet_id)
        ).rowcount
    if not gone:
        raise NotFound(f"Job {job_id} has no prediction sheet {sheet_id}.")


def begin_attempt(connection: Connection[DictRow], job_id: int, sheet_id: int, owner: str, who: str) -> Attempt:
    """Begin to fill in a sheet. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            f"INSERT INTO prediction_attempts (sheet_id, owner, who) SELECT id, %s, %s FROM prediction_sheets"
            f" WHERE job_id = %s AND id = %s RETURNING {_ATTEMPT}",
            (owner, who, job_id, sheet_id),
        ).fetchone()
    if row is None:
        raise NotFound(f"Job {job_id} has no prediction sheet {sheet_id}.")
    return Attempt(**row)


def read_attempt(connection: Connection[DictRow], sheet_id: int, attempt_id: int, lock: bool = False) -> Attempt:
    """One attempt; with `lock` nobody else changes it until the transaction ends. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            f"SELECT {_ATTEMPT} FROM prediction_attempts WHERE id = %s AND sheet_id = %s"
            + (" FOR UPDATE" if lock else ""),
            (attempt_id, sheet_id),
        ).fetchone()
    if row is None:
        raise NotFound(f"There is no attempt {attempt_id} at this sheet.")
    return Attempt(**row)


def attempts_of(connection: Connection[DictRow], sheet_id: int) -> list[Attempt]:
    """All attempts at a sheet with all that was written, the first one first."""
    with connection.transaction():
        rows = connection.execute(
            f"SELECT {_ATTEMPT} FROM prediction_attempts WHERE sheet_id = %s ORDER BY id", (sheet_id,)
        ).fetchall()
    return [Attempt(**row) for row in rows]


def anybody_writes(connection: Connection[DictRow], sheet_id: int) -> bool:
    """Is an attempt at the sheet going on?"""
    with connection.transaction():
        found = connection.execute(
            "SELECT FROM prediction_attempts WHERE sheet_id = %s AND ended_at IS NULL AND greatest(started_at,"
            " (changes -> -1 ->> 'at')::timestamptz) > now() - make_interval(hours => %s) LIMIT 1",
            (sheet_id, GOING_ON_HOURS),
        ).fetchone()
    return found is not None


def write_answers(
    connection: Connection[DictRow], sheet_id: int, attempt_id: int, writer: str, written: Sequence[Written]
) -> Attempt:
    """Write answers, and note when; one that is behind a newer of its writer at its place is left out.

    Raises NotFound; Refused where the attempt has ended, or the state was compared.
    """
    with connection.transaction():
        attempt = read_attempt(connection, sheet_id, attempt_id, lock=True)
        newest = {
            (change["state"], change["place"]): change["serial"]
            for change in attempt.changes
            if change.get("writer") == writer
        }
        new = [one for one in written if one.serial > newest.get((one.state, one.place), -1)]
        if new and attempt.ended_at is not None:
            raise Refused(ENDED)
        if any(str(one.state) in attempt.marks for one in new):
            raise Refused(COMPARED)
        for one in new:
            connection.execute(
                "UPDATE prediction_attempts SET"
                " answers = jsonb_set(answers, ARRAY[%(key)s], coalesce(answers->%(key)s, '{}') || %(answer)s),"
                " changes = changes || jsonb_build_array(%(change)s || jsonb_build_object('at', clock_timestamp()))"
                " WHERE id = %(attempt)s",
                {
                    "key": str(one.state),
                    "answer": Jsonb({one.place: one.text}),
                    "change": Jsonb({**asdict(one), "writer": writer}),
                    "attempt": attempt_id,
                },
            )
        return read_attempt(connection, sheet_id, attempt_id)


def keep_marks(
    connection: Connection[DictRow], sheet_id: int, attempt: Attempt, marks: dict[str, Any], ends: bool
) -> Attempt | None:
    """Keep marks of states, which are closed by that; with `ends` the whole attempt is.

    None, and nothing kept, where something was written since the attempt was read. Raises NotFound.
    """
    with connection.transaction():
        kept = connection.execute(
            # What was marked once stays as it was marked.
            "UPDATE prediction_attempts SET marks = %s || marks,"
            " ended_at = CASE WHEN %s THEN coalesce(ended_at, now()) ELSE ended_at END"
            " WHERE id = %s AND sheet_id = %s AND answers = %s",
            (Jsonb(marks), ends, attempt.id, sheet_id, Jsonb(attempt.answers)),
        ).rowcount
        now = read_attempt(connection, sheet_id, attempt.id)
    return now if kept else None
