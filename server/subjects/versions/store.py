"""Named versions of a job: circuits that somebody wants to come back to."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, NumericValueOutOfRange
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound


@dataclass(frozen=True)
class VersionLine:
    id: int
    name: str
    made_at: datetime


@dataclass(frozen=True)
class Version(VersionLine):
    circuit: dict[str, Any]


def list_versions(connection: Connection[DictRow], job_id: int) -> list[VersionLine]:
    """All versions of a job, the last first; none for a job that is not there."""
    with connection.transaction():
        rows = connection.execute(
            "SELECT id, name, made_at FROM job_versions WHERE job_id = %s ORDER BY id DESC", (job_id,)
        ).fetchall()
    return [VersionLine(**row) for row in rows]


def keep_version(connection: Connection[DictRow], job_id: int, name: str, circuit: dict[str, Any]) -> VersionLine:
    """Keep a circuit under a name. Raises NotFound."""
    try:
        with connection.transaction():
            row = connection.execute(
                "INSERT INTO job_versions (job_id, name, circuit) VALUES (%s, %s, %s) RETURNING id, name, made_at",
                (job_id, name, Jsonb(circuit)),
            ).fetchone()
    except (ForeignKeyViolation, NumericValueOutOfRange) as error:
        raise NotFound(f"There is no job {job_id}.") from error
    assert row is not None
    return VersionLine(**row)


def read_version(connection: Connection[DictRow], job_id: int, version_id: int) -> Version:
    """One version of a job. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "SELECT id, name, made_at, circuit FROM job_versions WHERE job_id = %s AND id = %s", (job_id, version_id)
        ).fetchone()
    if row is None:
        raise NotFound(f"Job {job_id} has no version {version_id}.")
    return Version(**row)


def delete_version(connection: Connection[DictRow], job_id: int, version_id: int) -> None:
    """Forget a version for good. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute(
            "DELETE FROM job_versions WHERE job_id = %s AND id = %s", (job_id, version_id)
        ).rowcount
    if not gone:
        raise NotFound(f"Job {job_id} has no version {version_id}.")
