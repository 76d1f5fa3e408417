"""Numbers of a circuit: who looks for what one hides, who has tried it, and whether it is closed."""

from collections.abc import Mapping
from typing import Any, Final

from psycopg import Connection
from psycopg.rows import DictRow

from server.store.errors import Refused

GOING_ON_HOURS: Final = 12
"""One that nobody ended counts as going on for so long after its last entry."""

_GOING_ON = (
    "ended_at IS NULL AND (SELECT max(e.made_at) FROM exercise_entries e WHERE e.exercise_id = exercises.id)"
    f" > now() - make_interval(hours => {GOING_ON_HOURS})"
)


def goes_on(connection: Connection[DictRow], ref: str, number: int | None = None) -> bool:
    """Does anybody look for a hidden fault in a circuit with this hash (under this number)?"""
    with connection.transaction():
        found = connection.execute(
            f"SELECT FROM exercises WHERE ref = %s AND (%s::bigint IS NULL OR number = %s) AND {_GOING_ON} LIMIT 1",
            (ref, number, number),
        ).fetchone()
    return found is not None


def try_number(connection: Connection[DictRow], what: Mapping[str, Any]) -> None:
    """Note that this person tries a number, once and for all. Raises Refused where it is closed or was tried.

    Deleting the exercise does not undo it: a second one would have the answers of the first.
    """
    number = what["number"]
    _lock_number(connection, what["ref"], number)
    if is_closed(connection, what["ref"], number):
        raise Refused(f"Number {number} is closed, and what it hides is known: take another number.")
    noted = connection.execute(
        "INSERT INTO number_tries (ref, number, owner, who) VALUES (%(ref)s, %(number)s, %(owner)s, %(who)s)"
        " ON CONFLICT DO NOTHING",
        {key: what[key] for key in ("ref", "number", "owner", "who")},
    ).rowcount
    if not noted:
        raise Refused(f"You had number {number} already: take another one.")


def _lock_number(connection: Connection[DictRow], ref: str, number: int) -> None:
    """Let nobody else begin under a number, or close it, until the transaction ends."""
    connection.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, %s))", (ref, number))


def is_closed(connection: Connection[DictRow], ref: str, number: int) -> bool:
    """Is a number of a circuit closed: may what it hides be told?"""
    with connection.transaction():
        found = connection.execute(
            "SELECT FROM closed_numbers WHERE ref = %s AND number = %s", (ref, number)
        ).fetchone()
    return found is not None


def close_number(connection: Connection[DictRow], ref: str, number: int) -> None:
    """Close a number of a circuit, with exercises under it that were left. Raises Refused while one goes on."""
    with connection.transaction():
        _lock_number(connection, ref, number)
        if goes_on(connection, ref, number):
            raise Refused(f"Somebody still looks for what number {number} hides: close it when all have ended.")
        connection.execute(
            "INSERT INTO closed_numbers (ref, number) VALUES (%s, %s) ON CONFLICT DO NOTHING", (ref, number)
        )
        connection.execute(
            "UPDATE exercises SET ended_at = now() WHERE ref = %s AND number = %s AND ended_at IS NULL", (ref, number)
        )
