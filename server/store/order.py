"""In which order saves of one thing are taken: by the version that they were made from, and by their writer's count.

A save may arrive long after its writer gave up waiting for it, behind newer ones of the same writer. So each carries a
serial, counted up by its writer with every change. One that is not newer than what was last taken of its writer
changes nothing, and is answered what the newer one was answered.
"""

from dataclasses import asdict, dataclass
from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Conflict, NotFound


@dataclass(frozen=True)
class Order:
    """`based_on` is the version that it was made from, `writer` a window, `serial` its count of changes."""

    based_on: int
    writer: str
    serial: int

    def values(self, **more: Any) -> dict[str, Any]:
        """Its values for `NEXT` and `TAKE`, and more."""
        return asdict(self) | more


NEXT = (
    "(version = %(based_on)s OR (version > %(based_on)s AND writer = %(writer)s))"
    " AND NOT (writer = %(writer)s AND serial >= %(serial)s)"
)
"""Whether a save is the next one.

A window whose own save was the last one may save again on an older version: it never heard that the save arrived.
"""
TAKE = "writer = %(writer)s, serial = %(serial)s, version = version + 1"
BEHIND = "writer = %(writer)s AND serial >= %(serial)s"
"""Whether a newer save of the same writer was taken, or this one already."""


def keep_for_job(
    connection: Connection[DictRow], table: str, column: str, job_id: int, order: Order, value: dict[str, Any]
) -> tuple[int, bool]:
    """Keep the one `column` that a job has in `table`: its version, and whether this save was taken now.

    To be called in a transaction. Raises NotFound; Conflict when another was kept since.
    """
    values = order.values(job=job_id, value=Jsonb(value))
    insert = (
        f"INSERT INTO {table} (job_id, {column}, writer, serial) VALUES (%(job)s, %(value)s, %(writer)s, %(serial)s)"
        " ON CONFLICT (job_id) DO NOTHING RETURNING version"
    )
    update = (
        f"UPDATE {table} SET {column} = %(value)s, {TAKE}, updated_at = now() WHERE job_id = %(job)s AND {NEXT}"
        " RETURNING version"
    )
    try:
        row = None if order.based_on else connection.execute(insert, values).fetchone()
        row = row or connection.execute(update, values).fetchone()
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    if row is not None:
        return row["version"], True
    kept = connection.execute(
        f"SELECT version, {BEHIND} AS behind FROM {table} WHERE job_id = %(job)s", values
    ).fetchone()
    if kept is None:
        raise NotFound(f"Nothing of job {job_id} is kept that this could come after.")
    if not kept["behind"]:
        raise Conflict(kept["version"])
    return kept["version"], False
