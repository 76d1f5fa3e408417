"""Faults that were found at real panels, of all jobs: how often each kind of fault comes about here."""

from collections.abc import Mapping, Sequence
from typing import Final

from psycopg import Connection
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound, Refused

MOST_FINDS: Final = 500
"""Finds of one job: more than a person makes."""


def keep(connection: Connection[DictRow], job_id: int, kinds: Sequence[str], expected: Mapping[str, float]) -> int:
    """Keep a find; its number. Raises NotFound for a job that is not there, Refused when it has too many."""
    with connection.transaction():
        if connection.execute("SELECT FROM jobs WHERE id = %s FOR SHARE", (job_id,)).fetchone() is None:
            raise NotFound(f"There is no job {job_id}.")
        counted = connection.execute("SELECT count(*) AS n FROM finds WHERE job_id = %s", (job_id,)).fetchone()
        if counted is not None and counted["n"] >= MOST_FINDS:
            raise Refused(f"This job has {MOST_FINDS} finds already.")
        row = connection.execute(
            "INSERT INTO finds (job_id, kinds, expected) VALUES (%s, %s, %s) RETURNING id",
            (job_id, list(kinds), Jsonb(dict(expected))),
        ).fetchone()
    assert row is not None
    return int(row["id"])


def forget(connection: Connection[DictRow], job_id: int, find_id: int) -> None:
    """Take a find back. Raises NotFound."""
    with connection.transaction():
        gone = connection.execute("DELETE FROM finds WHERE job_id = %s AND id = %s", (job_id, find_id)).rowcount
    if not gone:
        raise NotFound(f"There is no find {find_id} in job {job_id}.")


def counts(connection: Connection[DictRow]) -> dict[str, tuple[int, float]]:
    """By kind of fault: how often it was found, and how often it was to be expected by what is known beforehand."""
    with connection.transaction():
        found = connection.execute(
            "SELECT kind, count(*) AS n FROM finds, unnest(kinds) AS kind GROUP BY kind"
        ).fetchall()
        expected = connection.execute(
            "SELECT key, sum(value::float * cardinality(kinds)) AS n FROM finds, jsonb_each_text(expected) GROUP BY key"
        ).fetchall()
    times = {row["kind"]: int(row["n"]) for row in found}
    return {row["key"]: (times.get(row["key"], 0), float(row["n"])) for row in expected}
