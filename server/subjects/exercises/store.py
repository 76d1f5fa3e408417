"""Exercises of a job: what is hidden, and the record of everything that was done about it."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange, UniqueViolation
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound, Refused
from server.store.retention import MOST_EXERCISES
from server.subjects.numbers.store import try_number


@dataclass(frozen=True)
class ExerciseLine:
    """`number` is the one under which an instructor gives the same to all."""

    id: int
    owner: str
    number: int | None
    who: str
    work_order: str
    made_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True)
class KeptExercise(ExerciseLine):
    """`ref` is the hash of what its circuit does, `review` what it came to, once that is known."""

    ref: str
    review: dict[str, Any] | None
    circuit: dict[str, Any]
    sequence: dict[str, Any]
    faults: list[dict[str, Any]]
    standing: dict[str, Any]
    entries: tuple[dict[str, Any], ...]
    weights: dict[str, int]


_LINE = "id, owner, number, who, work_order, made_at, ended_at"


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
    """Keep an exercise with its first entry.

    Raises NotFound; Refused where the job has all that it may have, or its number is closed or this person tried it.
    """
    try:
        with connection.transaction():
            if what["number"] is not None:
                try_number(connection, what)
            kept = connection.execute("SELECT count(*) AS kept FROM exercises WHERE job_id = %s", (job_id,)).fetchone()
            if kept is not None and kept["kept"] >= MOST_EXERCISES:
                raise Refused(f"This job has {MOST_EXERCISES} exercises: delete some that are not needed any more.")
            row = connection.execute(
                "INSERT INTO exercises"
                " (job_id, owner, ref, number, who, work_order, circuit, sequence, faults, standing, weights)"
                " VALUES (%(job)s, %(owner)s, %(ref)s, %(number)s, %(who)s, %(work_order)s, %(circuit)s, %(sequence)s,"
                " %(faults)s, %(standing)s, %(weights)s) RETURNING id",
                {"job": job_id, **{key: _column(value) for key, value in what.items()}},
            ).fetchone()
            assert row is not None
            _add(connection, row["id"], 0, entry)
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    return read_exercise(connection, job_id, row["id"])


def ended_faults(connection: Connection[DictRow], owner: str, ref: str) -> list[list[dict[str, Any]]]:
    """What the last of a person's exercises with a circuit hid, of those that have ended and told it."""
    with connection.transaction():
        rows = connection.execute(
            "SELECT faults FROM exercises WHERE owner = %s AND ref = %s AND number IS NULL AND ended_at IS NOT NULL"
            " ORDER BY ended_at DESC LIMIT 20",
            (owner, ref),
        ).fetchall()
    return [row["faults"] for row in rows]


def read_exercise(connection: Connection[DictRow], job_id: int, exercise_id: int) -> KeptExercise:
    """One exercise with its whole record. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            f"SELECT {_LINE}, ref, review, circuit, sequence, faults, standing, weights FROM exercises"
            " WHERE job_id = %s AND id = %s",
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
    """Add an entry as the one of this number, with what then holds. Raises Refused where there is one already."""
    try:
        with connection.transaction():
            _add(connection, exercise_id, number, entry)
            connection.execute(
                "UPDATE exercises SET standing = %s, ended_at = CASE WHEN %s THEN now() ELSE ended_at END"
                " WHERE id = %s",
                (Jsonb(standing), ends, exercise_id),
            )
    except UniqueViolation as error:
        raise Refused("Something was recorded here meanwhile; the record is shown as it is now.") from error
    except ForeignKeyViolation as error:
        raise NotFound(f"There is no exercise {exercise_id}.") from error


def settle_entry(
    connection: Connection[DictRow], exercise_id: int, entry: dict[str, Any], standing: dict[str, Any]
) -> None:
    """Put what came of an entry in the place of one that waits for it; one that was settled stays as it is."""
    with connection.transaction():
        waited = connection.execute(
            "UPDATE exercise_entries SET entry = %s WHERE exercise_id = %s AND number = %s"
            " AND entry ->> 'right' IS NULL",
            (Jsonb(entry), exercise_id, entry["number"]),
        ).rowcount
        if waited:
            connection.execute("UPDATE exercises SET standing = %s WHERE id = %s", (Jsonb(standing), exercise_id))


def keep_review(connection: Connection[DictRow], exercise_id: int, review: dict[str, Any]) -> None:
    """Keep what an exercise came to, and forget what it was worked out from."""
    with connection.transaction():
        connection.execute(
            "UPDATE exercises SET review = %s WHERE id = %s AND review IS NULL", (Jsonb(review), exercise_id)
        )
        connection.execute("DELETE FROM followed WHERE exercise_id = %s", (exercise_id,))


def draw_secret(connection: Connection[DictRow]) -> str:
    """What only this database knows, and draws are made from."""
    with connection.transaction():
        row = connection.execute("SELECT value FROM secrets WHERE name = 'draw'").fetchone()
    assert row is not None
    secret: str = row["value"]
    return secret


def followed(connection: Connection[DictRow], exercise_id: int) -> dict[str, bytes]:
    """What was worked out to think an exercise over, by name."""
    with connection.transaction():
        rows = connection.execute("SELECT name, data FROM followed WHERE exercise_id = %s", (exercise_id,)).fetchall()
    return {row["name"]: bytes(row["data"]) for row in rows}


def keep_followed(connection: Connection[DictRow], exercise_id: int, made: Mapping[str, bytes]) -> None:
    """Keep some of it, in place of what there was. Nothing where the exercise is gone or has its review."""
    with connection.transaction():
        for name, data in sorted(made.items()):
            connection.execute(
                "INSERT INTO followed (exercise_id, name, data)"
                " SELECT id, %s, %s FROM exercises WHERE id = %s AND review IS NULL"
                " ON CONFLICT (exercise_id, name) DO UPDATE SET data = EXCLUDED.data",
                (name, data, exercise_id),
            )


def _column(value: Any) -> Any:
    return value if value is None or isinstance(value, str | int) else Jsonb(value)


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
