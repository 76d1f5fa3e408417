"""Numbered SQL files, applied once each and in order; all that are missing in one transaction.

No library: those that are known apply a file and note it in two transactions, so that a kill in between leaves a
database that no start can use.
"""

from pathlib import Path

import psycopg

FOLDER = Path(__file__).parents[1] / "migrations"
LOCK = 7_120_001
"""Held while migrations are applied, so that of several servers on one database one does it."""

_RECORDS = """
CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, applied_at timestamptz NOT NULL DEFAULT now());
DO $$ BEGIN
  -- Until the third migration a library kept these records.
  IF to_regclass('_yoyo_migration') IS NOT NULL THEN
    INSERT INTO migrations (name) SELECT migration_id FROM _yoyo_migration ON CONFLICT DO NOTHING;
  END IF;
END $$;
"""


class DatabaseTooNew(RuntimeError):
    """The database was written by a later release than this one."""


class MigrationFailed(RuntimeError):
    """A migration was refused; the database is as it was before."""


def migrate(database: str, folder: Path = FOLDER) -> int:
    """Apply the migrations that are missing, all or none; return how many there were.

    Raises DatabaseTooNew, MigrationFailed.
    """
    files = sorted(folder.glob("*.sql"))
    with psycopg.connect(database) as connection:
        connection.execute("SELECT pg_advisory_xact_lock(%s)", (LOCK,))
        connection.execute(_RECORDS)
        applied = {row[0] for row in connection.execute("SELECT name FROM migrations").fetchall()}
        if applied - {file.stem for file in files}:
            raise DatabaseTooNew(
                "the database was written by a newer Wire Trace than this one; start that one, or restore a backup"
            )
        missing = [file for file in files if file.stem not in applied]
        for file in missing:
            try:
                connection.execute(file.read_bytes())
            except psycopg.Error as error:
                raise MigrationFailed(f"migration {file.stem} failed, nothing was changed: {error}") from error
            connection.execute("INSERT INTO migrations (name) VALUES (%s)", (file.stem,))
    return len(missing)
