"""Sealed sets of faults: kept here, called by a random name, never given out again."""

import secrets
from typing import Any

from psycopg import Connection
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from server.store.errors import NotFound


def seal(connection: Connection[DictRow], ref: str, faults: list[dict[str, Any]]) -> str:
    """Keep the faults of the circuit with this hash; the name by which they are called from now on."""
    name = secrets.token_hex(16)
    with connection.transaction():
        connection.execute(
            "INSERT INTO sealed_faults (name, ref, faults) VALUES (%s, %s, %s)", (name, ref, Jsonb(faults))
        )
    return name


def opened(connection: Connection[DictRow], name: str, ref: str) -> list[dict[str, Any]]:
    """The faults of a name. Raises NotFound when there is none, or when they belong to another circuit."""
    with connection.transaction():
        row = connection.execute("SELECT ref, faults FROM sealed_faults WHERE name = %s", (name,)).fetchone()
    if row is None or row["ref"] != ref:
        raise NotFound("There are no sealed faults of this name for this circuit.")
    faults: list[dict[str, Any]] = row["faults"]
    return faults
