"""Puts what a backup holds in place of all that is there, while the server runs. All of it, or nothing.

    .venv/bin/python -m scripts.restore FILE

The file is first tried in a database of its own; only when it is whole, and not of a newer release, the real one is
touched.
"""

import argparse
import secrets
import subprocess
import sys
from pathlib import Path

import psycopg
from psycopg.conninfo import make_conninfo
from psycopg.sql import SQL, Identifier

from scripts.backup import running_database
from scripts.postgres import PostgresError, program
from server.store.migrations import DatabaseTooNew, MigrationFailed, migrate

EMPTY = "DROP SCHEMA public CASCADE;\nCREATE SCHEMA public;\n"


def restore(database: str, file: Path) -> None:
    """Replace the content of a database by that of a backup. Raises PostgresError, DatabaseTooNew, OSError."""
    script = _script(file)
    trial = f"trial_{secrets.token_hex(4)}"
    with psycopg.connect(database, autocommit=True) as connection:
        connection.execute(SQL("CREATE DATABASE {}").format(Identifier(trial)))
        try:
            there = make_conninfo(database, dbname=trial)
            _apply(there, script)
            migrate(there)
        finally:
            connection.execute(SQL("DROP DATABASE {} WITH (FORCE)").format(Identifier(trial)))
    _apply(database, script)
    migrate(database)


def _script(file: Path) -> str:
    """What a backup does, as SQL. Raises PostgresError for what is no backup."""
    if not file.is_file():
        raise PostgresError(f"there is no file {file}")
    command = [*program("pg_restore"), "--no-owner", "--no-privileges", "--file=-", str(file)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise PostgresError(f"{file} is no whole backup: {done.stderr.strip()}")
    return done.stdout


def _apply(database: str, script: str) -> None:
    """Run a script in an emptied database, as one transaction."""
    command = [*program("psql"), "--quiet", "--no-psqlrc", "--single-transaction", "--set=ON_ERROR_STOP=1", database]
    done = subprocess.run(command, input=EMPTY + script, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise PostgresError(f"psql failed: {done.stderr.strip()}")


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m scripts.restore", description=__doc__)
    parser.add_argument("file", type=Path)
    arguments = parser.parse_args()
    try:
        restore(running_database(), arguments.file)
    except (PostgresError, DatabaseTooNew, MigrationFailed, OSError, psycopg.Error) as error:
        print(f"Nothing was changed: {error}", file=sys.stderr)
        return 1
    print("All is as it was when the backup was made. Windows that are open should be loaded anew.")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
