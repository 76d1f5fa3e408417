"""Operating sequences of a job."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Conflict, NotFound
from server.store.order import BEHIND, NEXT, TAKE, Order


@dataclass(frozen=True)
class KeptSequence:
    id: int
    name: str
    sequence: dict[str, Any]
    version: int
    updated_at: datetime


SHIPPED: Final = "What it should do"
"""Name of the sequence that comes with a circuit of the library."""

_COLUMNS = "id, name, sequence, version, updated_at"


def list_sequences(connection: Connection[DictRow], job_id: int) -> list[KeptSequence]:
    """All sequences of a job, the first one first; none for a job that is not there."""
    with connection.transaction():
        rows = connection.execute(
            f"SELECT {_COLUMNS} FROM job_sequences WHERE job_id = %s ORDER BY id", (job_id,)
        ).fetchall()
    return [KeptSequence(**row) for row in rows]


def keep_sequence(connection: Connection[DictRow], job_id: int, name: str, sequence: dict[str, Any]) -> KeptSequence:
    """Keep a sequence under a name. Raises NotFound."""
    try:
        with connection.transaction():
            row = connection.execute(
                f"INSERT INTO job_sequences (job_id, name, sequence) VALUES (%s, %s, %s) RETURNING {_COLUMNS}",
                (job_id, name, Jsonb(sequence)),
            ).fetchone()
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    assert row is not None
    return KeptSequence(**row)


def change_sequence(
    connection: Connection[DictRow], job_id: int, sequence_id: int, order: Order, name: str, sequence: dict[str, Any]
) -> KeptSequence:
    """Put another in the place of a sequence; one behind a newer of its writer changes nothing.

    Raises NotFound, Conflict.
    """
    values = order.values(job=job_id, id=sequence_id, name=name, sequence=Jsonb(sequence))
    one = "job_id = %(job)s AND id = %(id)s"
    with connection.transaction():
        row = connection.execute(
            f"UPDATE job_sequences SET name = %(name)s, sequence = %(sequence)s, {TAKE}, updated_at = now()"
            f" WHERE {one} AND {NEXT} RETURNING {_COLUMNS}",
            values,
        ).fetchone()
        if row is not None:
            return KeptSequence(**row)
        kept = connection.execute(
            f"SELECT {_COLUMNS}, {BEHIND} AS behind FROM job_sequences WHERE {one}", values
        ).fetchone()
    if kept is None:
        raise NotFound(f"Job {job_id} has no sequence {sequence_id}.")
    if not kept.pop("behind"):
        raise Conflict(kept["version"])
    return KeptSequence(**kept)


def delete_sequence(connection: Connection[DictRow], job_id: int, sequence_id: int) -> None:
    """Forget a sequence for good. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute(
            "DELETE FROM job_sequences WHERE job_id = %s AND id = %s", (job_id, sequence_id)
        ).rowcount
    if not gone:
        raise NotFound(f"Job {job_id} has no sequence {sequence_id}.")
