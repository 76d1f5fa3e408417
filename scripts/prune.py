"""Deletes what has outlived its time (server/store/retention.py), where no ./run does it every hour.

.venv/bin/python -m scripts.prune
"""

import sys

import psycopg
from psycopg.rows import dict_row

from scripts.backup import running_database
from scripts.postgres import PostgresError
from server.store.retention import prune


def main() -> int:
    try:
        with psycopg.connect(running_database(), row_factory=dict_row) as connection:
            gone = prune(connection)
    except (PostgresError, psycopg.Error) as error:
        print(f"Nothing was deleted: {error}", file=sys.stderr)
        return 1
    for words, count in gone.items():
        print(f"Deleted: {count} {words}.")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
