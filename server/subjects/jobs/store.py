"""Jobs: one motor circuit each, saved with the version that it was based on."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import Conflict, NotFound
from server.store.order import BEHIND, NEXT, TAKE, Order


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


_LINE = "id, title, place, version, updated_at"


def list_jobs(connection: Connection[DictRow]) -> list[JobSummary]:
    """All jobs, in the order in which they were made."""
    with connection.transaction():
        rows = connection.execute(f"SELECT {_LINE} FROM jobs ORDER BY id").fetchall()
    return [JobSummary(**row) for row in rows]


def read_job(connection: Connection[DictRow], job_id: int) -> Job:
    """One job. Raises NotFound."""
    with connection.transaction():
        row = connection.execute(f"SELECT {_LINE}, circuit, writer FROM jobs WHERE id = %s", (job_id,)).fetchone()
    if row is None:
        raise NotFound(f"There is no job {job_id}.")
    return Job(**row)


def create_job(connection: Connection[DictRow], title: str, place: str, circuit: dict[str, Any]) -> Job:
    """Make a job; its first version is 1."""
    with connection.transaction():
        row = connection.execute(
            f"INSERT INTO jobs (title, place, circuit) VALUES (%s, %s, %s) RETURNING {_LINE}, circuit, writer",
            (title, place, Jsonb(circuit)),
        ).fetchone()
    assert row is not None
    return Job(**row)


def save_circuit(connection: Connection[DictRow], job_id: int, order: Order, circuit: dict[str, Any]) -> JobSummary:
    """Save a circuit; one that comes behind a newer save of its writer changes nothing. Raises NotFound, Conflict."""
    values = order.values(circuit=Jsonb(circuit), id=job_id)
    with connection.transaction():
        row = connection.execute(
            f"UPDATE jobs SET circuit = %(circuit)s, {TAKE}, updated_at = now() WHERE id = %(id)s AND {NEXT}"
            f" RETURNING {_LINE}",
            values,
        ).fetchone()
        row = row or connection.execute(f"SELECT {_LINE} FROM jobs WHERE id = %(id)s AND {BEHIND}", values).fetchone()
        if row is None:
            raise Conflict(_version(connection, job_id))
    return JobSummary(**row)


def rename_job(
    connection: Connection[DictRow], job_id: int, writer: str, serial: int, title: str, place: str
) -> JobSummary:
    """Give a job another title and place, in the order of their writer; its circuit stays. Raises NotFound."""
    values = {"id": job_id, "writer": writer, "serial": serial, "title": title, "place": place}
    with connection.transaction():
        connection.execute(
            "UPDATE jobs SET title = %(title)s, place = %(place)s, updated_at = now(),"
            " names_writer = %(writer)s, names_serial = %(serial)s"
            " WHERE id = %(id)s AND NOT (names_writer = %(writer)s AND names_serial >= %(serial)s)",
            values,
        )
        row = connection.execute(f"SELECT {_LINE} FROM jobs WHERE id = %(id)s", values).fetchone()
    if row is None:
        raise NotFound(f"There is no job {job_id}.")
    return JobSummary(**row)


def anybody_else_works(connection: Connection[DictRow], job_id: int, me: str) -> bool:
    """Is an exercise or an attempt of somebody else going on in a job?"""
    with connection.transaction():
        found = connection.execute(
            "SELECT FROM exercises WHERE job_id = %(job)s AND ended_at IS NULL AND owner NOT IN ('', %(me)s)"
            " UNION ALL SELECT FROM prediction_attempts a JOIN prediction_sheets s ON s.id = a.sheet_id"
            " WHERE s.job_id = %(job)s AND a.ended_at IS NULL AND a.owner NOT IN ('', %(me)s) LIMIT 1",
            {"job": job_id, "me": me},
        ).fetchone()
    return found is not None


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
