"""Marks: what has been done once for good."""

from psycopg import Connection
from psycopg.rows import DictRow


def first_time(connection: Connection[DictRow], name: str) -> bool:
    """Set a mark; whether it was not there before. To be called in the transaction of what it marks."""
    made = connection.execute("INSERT INTO marks (name) VALUES (%s) ON CONFLICT DO NOTHING", (name,)).rowcount
    return made == 1
