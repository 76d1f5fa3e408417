"""What was filled in to size a job's motor circuit: one for a job, saved with the version that it was based on.

What it was before is kept too: the last of every ten minutes in which somebody worked on it.
"""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from psycopg import Connection
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound
from server.store.order import Order, keep_for_job

MOST_EARLIER: Final = 50
_FORGET = """
    DELETE FROM sizing_versions WHERE job_id = %(job)s AND version < %(version)s
    AND (
        date_bin('10 minutes', kept_at, 'epoch') = date_bin('10 minutes', now(), 'epoch')
        OR version NOT IN (
            SELECT version FROM sizing_versions WHERE job_id = %(job)s ORDER BY version DESC LIMIT %(most)s
        )
    )
"""


def read_sizing(connection: Connection[DictRow], job_id: int) -> tuple[int, str, dict[str, Any] | None]:
    """The version, its writer and what was filled in; version 0 and nothing where nobody has."""
    with connection.transaction():
        row = connection.execute("SELECT version, writer, sizing FROM sizings WHERE job_id = %s", (job_id,)).fetchone()
    return (0, "", None) if row is None else (row["version"], row["writer"], row["sizing"])


def drawn_circuit(connection: Connection[DictRow], job_id: int) -> dict[str, Any] | None:
    """The circuit of a job as it is kept, to begin its sizing from; None where there is no such job."""
    with connection.transaction():
        row = connection.execute("SELECT circuit FROM jobs WHERE id = %s", (job_id,)).fetchone()
    return None if row is None else row["circuit"]


def keep_sizing(connection: Connection[DictRow], job_id: int, order: Order, sizing: dict[str, Any]) -> int:
    """Keep it as the next version; that version. Raises Conflict when another was kept since, NotFound."""
    with connection.transaction():
        version, taken = keep_for_job(connection, "sizings", "sizing", job_id, order, sizing)
        if taken:
            _note(connection, {"job": job_id, "sizing": Jsonb(sizing), "version": version, "most": MOST_EARLIER})
    return version


def _note(connection: Connection[DictRow], values: dict[str, Any]) -> None:
    """Keep a version among the earlier ones."""
    connection.execute(
        "INSERT INTO sizing_versions (job_id, version, sizing) VALUES (%(job)s, %(version)s, %(sizing)s)", values
    )
    connection.execute(_FORGET, values)


@dataclass(frozen=True)
class EarlierLine:
    """A version that was kept, and what was filled in at the head of it."""

    version: int
    kept_at: datetime
    fields: dict[str, str]


def earlier_sizings(connection: Connection[DictRow], job_id: int) -> list[EarlierLine]:
    """The versions before the present one, the last first."""
    with connection.transaction():
        rows = connection.execute(
            "SELECT v.version, v.kept_at, v.sizing -> 'fields' AS fields FROM sizing_versions v"
            " JOIN sizings s USING (job_id) WHERE job_id = %s AND v.version < s.version ORDER BY v.version DESC",
            (job_id,),
        ).fetchall()
    return [EarlierLine(row["version"], row["kept_at"], row["fields"] or {}) for row in rows]


def earlier_sizing(connection: Connection[DictRow], job_id: int, version: int) -> dict[str, Any]:
    """What was filled in then. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "SELECT sizing FROM sizing_versions WHERE job_id = %s AND version = %s", (job_id, version)
        ).fetchone()
    if row is None:
        raise NotFound("That sizing is not kept any more.")
    found: dict[str, Any] = row["sizing"]
    return found
