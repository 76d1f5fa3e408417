"""What was seen and read at the real panel of a job: one for a job, saved in the order of its writers."""

from typing import Any

from psycopg import Connection
from psycopg.rows import DictRow

from server.store.order import Order, keep_for_job


def read_panel(connection: Connection[DictRow], job_id: int) -> tuple[int, str, dict[str, Any] | None]:
    """The version, its writer and what was read; version 0 and nothing where nobody has."""
    with connection.transaction():
        row = connection.execute("SELECT version, writer, panel FROM panels WHERE job_id = %s", (job_id,)).fetchone()
    return (0, "", None) if row is None else (row["version"], row["writer"], row["panel"])


def keep_panel(connection: Connection[DictRow], job_id: int, order: Order, panel: dict[str, Any]) -> int:
    """Keep it as the next version; that version. Raises Conflict when another was kept since, NotFound."""
    with connection.transaction():
        return keep_for_job(connection, "panels", "panel", job_id, order, panel)[0]
