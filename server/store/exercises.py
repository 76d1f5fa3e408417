"""Exercises of a job: what is hidden, and the record of everything that was done about it."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange, UniqueViolation
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Moved, NotFound
from server.store.retention import MOST_EXERCISES


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


GOING_ON_HOURS: Final = 12
"""One that nobody ended counts as going on for so long after its last entry."""

_LINE = "id, owner, number, who, work_order, made_at, ended_at"
_GOING_ON = (
    "ended_at IS NULL AND (SELECT max(e.made_at) FROM exercise_entries e WHERE e.exercise_id = exercises.id)"
    f" > now() - make_interval(hours => {GOING_ON_HOURS})"
)


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

    Raises NotFound; Moved where the job has all that it may have, or its number is closed or was tried by this person.
    """
    try:
        with connection.transaction():
            if what["number"] is not None:
                _try_number(connection, what)
            kept = connection.execute("SELECT count(*) AS kept FROM exercises WHERE job_id = %s", (job_id,)).fetchone()
            if kept is not None and kept["kept"] >= MOST_EXERCISES:
                raise Moved(f"This job has {MOST_EXERCISES} exercises: delete some that are not needed any more.")
            row = connection.execute(
                "INSERT INTO exercises"
                " (job_id, owner, ref, number, who, work_order, circuit, sequence, faults, standing)"
                " VALUES (%(job)s, %(owner)s, %(ref)s, %(number)s, %(who)s, %(work_order)s, %(circuit)s, %(sequence)s,"
                " %(faults)s, %(standing)s) RETURNING id",
                {"job": job_id, **{key: _column(value) for key, value in what.items()}},
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
            f"SELECT {_LINE}, ref, review, circuit, sequence, faults, standing FROM exercises"
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


def goes_on(connection: Connection[DictRow], ref: str, number: int | None = None) -> bool:
    """Does anybody look for a hidden fault in a circuit with this hash (under this number)?"""
    with connection.transaction():
        found = connection.execute(
            f"SELECT FROM exercises WHERE ref = %s AND (%s::bigint IS NULL OR number = %s) AND {_GOING_ON} LIMIT 1",
            (ref, number, number),
        ).fetchone()
    return found is not None


def _try_number(connection: Connection[DictRow], what: Mapping[str, Any]) -> None:
    """Note that this person tries a number, once and for all. Raises Moved where it is closed or was tried.

    Deleting the exercise does not undo it: a second one would have the answers of the first.
    """
    number = what["number"]
    _lock_number(connection, what["ref"], number)
    if is_closed(connection, what["ref"], number):
        raise Moved(f"Number {number} is closed, and what it hides is known: take another number.")
    noted = connection.execute(
        "INSERT INTO number_tries (ref, number, owner, who) VALUES (%(ref)s, %(number)s, %(owner)s, %(who)s)"
        " ON CONFLICT DO NOTHING",
        {key: what[key] for key in ("ref", "number", "owner", "who")},
    ).rowcount
    if not noted:
        raise Moved(f"You had number {number} already: take another one.")


def _lock_number(connection: Connection[DictRow], ref: str, number: int) -> None:
    """Let nobody else begin under a number, or close it, until the transaction ends."""
    connection.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, %s))", (ref, number))


def is_closed(connection: Connection[DictRow], ref: str, number: int) -> bool:
    """Is a number of a circuit closed: may what it hides be told?"""
    with connection.transaction():
        found = connection.execute(
            "SELECT FROM closed_numbers WHERE ref = %s AND number = %s", (ref, number)
        ).fetchone()
    return found is not None


def close_number(connection: Connection[DictRow], ref: str, number: int) -> None:
    """Close a number of a circuit, with exercises under it that were left. Raises Moved while one goes on."""
    with connection.transaction():
        _lock_number(connection, ref, number)
        if goes_on(connection, ref, number):
            raise Moved(f"Somebody still looks for what number {number} hides: close it when all have ended.")
        connection.execute(
            "INSERT INTO closed_numbers (ref, number) VALUES (%s, %s) ON CONFLICT DO NOTHING", (ref, number)
        )
        connection.execute(
            "UPDATE exercises SET ended_at = now() WHERE ref = %s AND number = %s AND ended_at IS NULL", (ref, number)
        )


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
