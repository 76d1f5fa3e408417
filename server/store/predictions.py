"""Prediction sheets of a job, and what people wrote into them."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound


@dataclass(frozen=True)
class SheetLine:
    id: int
    title: str
    made_at: datetime
    attempts: int


@dataclass(frozen=True)
class Attempt:
    """What one person wrote: `answers` by state and place, `changes` in the order in which they came."""

    id: int
    who: str
    started_at: datetime
    ended_at: datetime | None
    answers: dict[str, dict[str, str]]
    changes: list[dict[str, Any]]


@dataclass(frozen=True)
class KeptSheet:
    id: int
    made_at: datetime
    sheet: dict[str, Any]
    circuit: dict[str, Any]
    attempts: tuple[Attempt, ...]


_ATTEMPT = "id, who, started_at, ended_at, answers, changes"


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
    connection: Connection[DictRow], job_id: int, sheet: dict[str, Any], circuit: dict[str, Any]
) -> SheetLine:
    """Keep a sheet with the circuit that it asks about. Raises NotFound."""
    try:
        with connection.transaction():
            row = connection.execute(
                "INSERT INTO prediction_sheets (job_id, sheet, circuit) VALUES (%s, %s, %s)"
                " RETURNING id, sheet->>'title' AS title, made_at, 0 AS attempts",
                (job_id, Jsonb(sheet), Jsonb(circuit)),
            ).fetchone()
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    assert row is not None
    return SheetLine(**row)


def read_sheet(connection: Connection[DictRow], job_id: int, sheet_id: int) -> KeptSheet:
    """One sheet with all attempts at it, the first one first. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "SELECT id, made_at, sheet, circuit FROM prediction_sheets WHERE job_id = %s AND id = %s",
            (job_id, sheet_id),
        ).fetchone()
        if row is None:
            raise NotFound(f"Job {job_id} has no prediction sheet {sheet_id}.")
        attempts = connection.execute(
            f"SELECT {_ATTEMPT} FROM prediction_attempts WHERE sheet_id = %s ORDER BY id", (sheet_id,)
        ).fetchall()
    return KeptSheet(**row, attempts=tuple(Attempt(**attempt) for attempt in attempts))


def delete_sheet(connection: Connection[DictRow], job_id: int, sheet_id: int) -> None:
    """Forget a sheet and all attempts at it for good. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute(
            "DELETE FROM prediction_sheets WHERE job_id = %s AND id = %s", (job_id, sheet_id)
        ).rowcount
    if not gone:
        raise NotFound(f"Job {job_id} has no prediction sheet {sheet_id}.")


def begin_attempt(connection: Connection[DictRow], job_id: int, sheet_id: int, who: str) -> Attempt:
    """Begin to fill in a sheet. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            f"INSERT INTO prediction_attempts (sheet_id, who) SELECT id, %s FROM prediction_sheets"
            f" WHERE job_id = %s AND id = %s RETURNING {_ATTEMPT}",
            (who, job_id, sheet_id),
        ).fetchone()
    if row is None:
        raise NotFound(f"Job {job_id} has no prediction sheet {sheet_id}.")
    return Attempt(**row)


def write_answer(
    connection: Connection[DictRow], sheet_id: int, attempt_id: int, state: int, place: str, text: str
) -> Attempt:
    """Write one answer, and note when. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "UPDATE prediction_attempts SET"
            " answers = jsonb_set(answers, ARRAY[%(state)s], coalesce(answers->%(state)s, '{}') || %(answer)s),"
            " changes = changes || jsonb_build_array(jsonb_build_object("
            "   'at', now(), 'state', %(state)s::int, 'place', %(place)s::text, 'text', %(text)s::text))"
            f" WHERE id = %(attempt)s AND sheet_id = %(sheet)s RETURNING {_ATTEMPT}",
            {
                "state": str(state),
                "answer": Jsonb({place: text}),
                "place": place,
                "text": text,
                "attempt": attempt_id,
                "sheet": sheet_id,
            },
        ).fetchone()
    return _found(row, attempt_id)


def end_attempt(connection: Connection[DictRow], sheet_id: int, attempt_id: int) -> Attempt:
    """Say that a sheet is filled in. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "UPDATE prediction_attempts SET ended_at = coalesce(ended_at, now())"
            f" WHERE id = %s AND sheet_id = %s RETURNING {_ATTEMPT}",
            (attempt_id, sheet_id),
        ).fetchone()
    return _found(row, attempt_id)


def _found(row: DictRow | None, attempt_id: int) -> Attempt:
    if row is None:
        raise NotFound(f"There is no attempt {attempt_id} at this sheet.")
    return Attempt(**row)
