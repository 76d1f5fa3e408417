"""Jobs: one motor circuit each, saved with the version that it was based on."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Conflict, NotFound


@dataclass(frozen=True)
class JobSummary:
    id: int
    title: str
    place: str
    version: int
    updated_at: datetime


@dataclass(frozen=True)
class Job(JobSummary):
    circuit: dict[str, Any]
    writer: str


def list_jobs(connection: Connection[DictRow]) -> list[JobSummary]:
    """All jobs, in the order in which they were made."""
    with connection.transaction():
        rows = connection.execute("SELECT id, title, place, version, updated_at FROM jobs ORDER BY id").fetchall()
    return [JobSummary(**row) for row in rows]


def read_job(connection: Connection[DictRow], job_id: int) -> Job:
    """One job. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "SELECT id, title, place, version, updated_at, circuit, writer FROM jobs WHERE id = %s", (job_id,)
        ).fetchone()
    if row is None:
        raise NotFound(f"There is no job {job_id}.")
    return Job(**row)


def create_job(connection: Connection[DictRow], title: str, place: str, circuit: dict[str, Any]) -> Job:
    """Make a job; its first version is 1."""
    with connection.transaction():
        row = connection.execute(
            "INSERT INTO jobs (title, place, circuit) VALUES (%s, %s, %s)"
            " RETURNING id, title, place, version, updated_at, circuit, writer",
            (title, place, Jsonb(circuit)),
        ).fetchone()
    assert row is not None
    return Job(**row)


def save_circuit(
    connection: Connection[DictRow], job_id: int, based_on: int, writer: str, circuit: dict[str, Any]
) -> JobSummary:
    """Save a circuit that was made from version `based_on` by the window `writer`.

    A window whose own save was the last one may save again on an older version: it never heard
    that the save arrived. Raises NotFound, Conflict.
    """
    with connection.transaction():
        row = connection.execute(
            "UPDATE jobs SET circuit = %(circuit)s, writer = %(writer)s, version = version + 1, updated_at = now()"
            " WHERE id = %(id)s AND (version = %(based_on)s OR (version > %(based_on)s AND writer = %(writer)s))"
            " RETURNING id, title, place, version, updated_at",
            {"circuit": Jsonb(circuit), "writer": writer, "id": job_id, "based_on": based_on},
        ).fetchone()
        if row is None:
            raise Conflict(_version(connection, job_id))
    return JobSummary(**row)


def rename_job(connection: Connection[DictRow], job_id: int, title: str, place: str) -> JobSummary:
    """Give a job another title and place. Its circuit and version stay. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(
            "UPDATE jobs SET title = %s, place = %s, updated_at = now() WHERE id = %s"
            " RETURNING id, title, place, version, updated_at",
            (title, place, job_id),
        ).fetchone()
    if row is None:
        raise NotFound(f"There is no job {job_id}.")
    return JobSummary(**row)


def delete_job(connection: Connection[DictRow], job_id: int) -> None:
    """Delete a job for good. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute("DELETE FROM jobs WHERE id = %s", (job_id,)).rowcount
    if not gone:
        raise NotFound(f"There is no job {job_id}.")


def _version(connection: Connection[DictRow], job_id: int) -> int:
    row = connection.execute("SELECT version FROM jobs WHERE id = %s", (job_id,)).fetchone()
    if row is None:
        raise NotFound(f"There is no job {job_id}.")
    version: int = row["version"]
    return version
