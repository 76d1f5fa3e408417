"""Exercises of a job: what is hidden, and the record of everything that was done about it."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange, UniqueViolation
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Moved, NotFound


@dataclass(frozen=True)
class ExerciseLine:
    id: int
    who: str
    work_order: str
    made_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True)
class KeptExercise(ExerciseLine):
    drawn: dict[str, Any] | None
    circuit: dict[str, Any]
    sequence: dict[str, Any]
    faults: list[dict[str, Any]]
    standing: dict[str, Any]
    entries: tuple[dict[str, Any], ...]


_LINE = "id, who, work_order, made_at, ended_at"


def list_exercises(connection: Connection[DictRow], job_id: int) -> list[ExerciseLine]:
    """All exercises of a job, the last first; none for a job that is not there."""
    with connection.transaction():
        rows = connection.execute(
            f"SELECT {_LINE} FROM exercises WHERE job_id = %s ORDER BY id DESC", (job_id,)
        ).fetchall()
    return [ExerciseLine(**row) for row in rows]


def keep_exercise(
    connection: Connection[DictRow], job_id: int, what: dict[str, Any], entry: dict[str, Any]
) -> KeptExercise:
    """Keep an exercise with its first entry. Raises NotFound."""
    try:
        with connection.transaction():
            row = connection.execute(
                "INSERT INTO exercises (job_id, who, work_order, drawn, circuit, sequence, faults, standing)"
                " VALUES (%(job)s, %(who)s, %(work_order)s, %(drawn)s, %(circuit)s, %(sequence)s, %(faults)s,"
                " %(standing)s) RETURNING id",
                {
                    "job": job_id,
                    **{key: value if isinstance(value, str) else Jsonb(value) for key, value in what.items()},
                },
            ).fetchone()
            assert row is not None
            _add(connection, row["id"], 0, entry)
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    return read_exercise(connection, job_id, row["id"])


def read_exercise(connection: Connection[DictRow], job_id: int, exercise_id: int) -> KeptExercise:
    """One exercise with its whole record. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            f"SELECT {_LINE}, drawn, circuit, sequence, faults, standing FROM exercises WHERE job_id = %s AND id = %s",
            (job_id, exercise_id),
        ).fetchone()
        if row is None:
            raise NotFound(f"Job {job_id} has no exercise {exercise_id}.")
        entries = connection.execute(
            "SELECT entry FROM exercise_entries WHERE exercise_id = %s ORDER BY number", (exercise_id,)
        ).fetchall()
    return KeptExercise(**row, entries=tuple(one["entry"] for one in entries))


def add_entry(
    connection: Connection[DictRow],
    exercise_id: int,
    number: int,
    entry: dict[str, Any],
    standing: dict[str, Any],
    ends: bool = False,
) -> None:
    """Add an entry as the one of this number, with what then holds. Raises Moved where there is one already."""
    try:
        with connection.transaction():
            _add(connection, exercise_id, number, entry)
            connection.execute(
                "UPDATE exercises SET standing = %s, ended_at = CASE WHEN %s THEN now() ELSE ended_at END"
                " WHERE id = %s",
                (Jsonb(standing), ends, exercise_id),
            )
    except UniqueViolation as error:
        raise Moved("Something was recorded here meanwhile; the record is shown as it is now.") from error
    except ForeignKeyViolation as error:
        raise NotFound(f"There is no exercise {exercise_id}.") from error


def _column(value: Any) -> Any:
    return value if value is None or isinstance(value, str) else Jsonb(value)


def _add(connection: Connection[DictRow], exercise_id: int, number: int, entry: dict[str, Any]) -> None:
    connection.execute(
        "INSERT INTO exercise_entries (exercise_id, number, entry) VALUES (%s, %s, %s)",
        (exercise_id, number, Jsonb(entry)),
    )


def delete_exercise(connection: Connection[DictRow], job_id: int, exercise_id: int) -> None:
    """Forget an exercise and its record for good. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute("DELETE FROM exercises WHERE job_id = %s AND id = %s", (job_id, exercise_id)).rowcount
    if not gone:
        raise NotFound(f"Job {job_id} has no exercise {exercise_id}.")
