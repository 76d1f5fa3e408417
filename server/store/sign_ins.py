"""Who has given the shared password, and addresses that gave wrong ones: each has to wait longer than before."""

from typing import Final

from psycopg import Connection
from psycopg.rows import DictRow

FREE: Final = 3
"""So many wrong passwords in a row cost nothing."""
LONGEST_S: Final = 900
FORGOTTEN_AFTER_S: Final = 3600
SIGNED_IN_HOURS: Final = 12


def sign_in(connection: Connection[DictRow], token_hash: str, address: str) -> None:
    """Remember somebody who knew the password; what his address did wrong before is forgotten."""
    with connection.transaction():
        connection.execute("INSERT INTO sign_ins (token_hash) VALUES (%s)", (token_hash,))
        connection.execute("DELETE FROM wrong_passwords WHERE address = %s", (address,))


def sign_out(connection: Connection[DictRow], token_hash: str) -> None:
    """Forget somebody."""
    with connection.transaction():
        connection.execute("DELETE FROM sign_ins WHERE token_hash = %s", (token_hash,))


def is_signed_in(connection: Connection[DictRow], token_hash: str) -> bool:
    """Has whoever has this given the password lately?"""
    with connection.transaction():
        found = connection.execute(
            "SELECT FROM sign_ins WHERE token_hash = %s AND made_at > now() - make_interval(hours => %s)",
            (token_hash, SIGNED_IN_HOURS),
        ).fetchone()
    return found is not None


def locked_s(connection: Connection[DictRow], address: str) -> int:
    """For how many seconds an address has to wait before it may try again."""
    with connection.transaction():
        row = connection.execute(
            "SELECT ceil(extract(epoch FROM locked_until - clock_timestamp())) AS left FROM wrong_passwords"
            " WHERE address = %s",
            (address,),
        ).fetchone()
    return max(0, int(row["left"])) if row else 0


def was_wrong(connection: Connection[DictRow], address: str) -> int:
    """Count a wrong password of an address: for how many seconds it has to wait now, twice as long each time."""
    with connection.transaction():
        row = connection.execute(
            "INSERT INTO wrong_passwords AS w (address, count) VALUES (%(address)s, 1)"
            " ON CONFLICT (address) DO UPDATE SET last_at = now(), count = CASE"
            " WHEN w.last_at < now() - make_interval(secs => %(forgotten)s) THEN 1 ELSE w.count + 1 END"
            " RETURNING count",
            {"address": address, "forgotten": FORGOTTEN_AFTER_S},
        ).fetchone()
        assert row is not None
        wait_s = 0 if row["count"] <= FREE else min(LONGEST_S, 2 ** min(row["count"] - FREE, 20))
        connection.execute(
            "UPDATE wrong_passwords SET locked_until = clock_timestamp() + make_interval(secs => %s)"
            " WHERE address = %s",
            (wait_s, address),
        )
    return int(wait_s)
