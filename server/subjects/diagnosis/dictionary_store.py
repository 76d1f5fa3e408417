"""Rows of fault dictionaries, by the hash of what they are made from."""

from collections.abc import Mapping

from psycopg import Connection
from psycopg.rows import DictRow


def names(connection: Connection[DictRow], ref: str) -> set[str]:
    """The rows that there are."""
    with connection.transaction():
        rows = connection.execute("SELECT name FROM fault_rows WHERE ref = %s", (ref,)).fetchall()
    return {row["name"] for row in rows}


def all_rows(connection: Connection[DictRow], ref: str) -> dict[str, bytes]:
    """Every row that there is, by name."""
    with connection.transaction():
        rows = connection.execute("SELECT name, data FROM fault_rows WHERE ref = %s", (ref,)).fetchall()
        connection.execute(
            "UPDATE fault_dictionaries SET used_at = now() WHERE ref = %s AND used_at < now() - interval '1 hour'",
            (ref,),
        )
    return {row["name"]: bytes(row["data"]) for row in rows}


def keep(connection: Connection[DictRow], ref: str, rows: Mapping[str, bytes]) -> None:
    """Keep rows; of one that is there already the first stays."""
    if not rows:
        return
    with connection.transaction():
        connection.execute("INSERT INTO fault_dictionaries (ref) VALUES (%s) ON CONFLICT DO NOTHING", (ref,))
        # In one order, so that two who keep the same rows wait for each other and never both.
        for name, data in sorted(rows.items()):
            connection.execute(
                "INSERT INTO fault_rows (ref, name, data) VALUES (%s, %s, %s) ON CONFLICT DO NOTHING",
                (ref, name, data),
            )
