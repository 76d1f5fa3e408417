"""What was filled in to size a job's motor circuit: one for a job, saved with the version that it was based on."""

from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Moved, NotFound

_INSERT = """
    INSERT INTO sizings (job_id, sizing) VALUES (%(job)s, %(sizing)s)
    ON CONFLICT (job_id) DO NOTHING RETURNING version
"""
_UPDATE = (
    "UPDATE sizings SET sizing = %(sizing)s, version = version + 1, updated_at = now()"
    " WHERE job_id = %(job)s AND version = %(based_on)s RETURNING version"
)


def read_sizing(connection: Connection[DictRow], job_id: int) -> tuple[int, dict[str, Any] | None]:
    """The version and what was filled in; version 0 and nothing where nobody has."""
    with connection.transaction():
        row = connection.execute("SELECT version, sizing FROM sizings WHERE job_id = %s", (job_id,)).fetchone()
    return (0, None) if row is None else (row["version"], row["sizing"])


def keep_sizing(connection: Connection[DictRow], job_id: int, based_on: int, sizing: dict[str, Any]) -> int:
    """Keep it as the version after `based_on`; that version. Raises Moved when another was kept since, NotFound."""
    try:
        with connection.transaction():
            values = {"job": job_id, "sizing": Jsonb(sizing), "based_on": based_on}
            row = connection.execute(_UPDATE if based_on else _INSERT, values).fetchone()
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    if row is None:
        raise Moved("The sizing was changed in another window since; what you typed is kept here.")
    version: int = row["version"]
    return version
