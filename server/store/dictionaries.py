"""Rows of fault dictionaries, by the hash of what they are about."""

from collections.abc import Mapping
from typing import Final

from psycopg import Connection
from psycopg.rows import DictRow

KEPT_DAYS: Final = 30
"""A dictionary that nobody has worked on for so long is made again when it is asked for."""


def numbers(connection: Connection[DictRow], ref: str) -> set[int]:
    """The rows that there are."""
    with connection.transaction():
        rows = connection.execute("SELECT number FROM fault_rows WHERE ref = %s", (ref,)).fetchall()
    return {row["number"] for row in rows}


def all_rows(connection: Connection[DictRow], ref: str) -> dict[int, bytes]:
    """Every row that there is, by number."""
    with connection.transaction():
        rows = connection.execute("SELECT number, data FROM fault_rows WHERE ref = %s", (ref,)).fetchall()
    return {row["number"]: bytes(row["data"]) for row in rows}


def keep(connection: Connection[DictRow], ref: str, rows: Mapping[int, bytes]) -> None:
    """Keep rows, in place of what there was of them. Old dictionaries are forgotten."""
    with connection.transaction():
        connection.execute("DELETE FROM fault_rows WHERE made_at < now() - make_interval(days => %s)", (KEPT_DAYS,))
        # In one order, so that two who keep the same rows wait for each other and never both.
        for number, data in sorted(rows.items()):
            connection.execute(
                "INSERT INTO fault_rows (ref, number, data) VALUES (%s, %s, %s)"
                " ON CONFLICT (ref, number) DO UPDATE SET data = EXCLUDED.data, made_at = now()",
                (ref, number, data),
            )
