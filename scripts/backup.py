"""Writes all jobs and their versions into one file, while the server runs.

.venv/bin/python -m scripts.backup FILE
"""

import argparse
import json
import os
import subprocess
import sys
from pathlib import Path

from scripts.postgres import PostgresError, program

LOCAL = Path(os.environ.get("WIRETRACE_LOCAL", Path(__file__).resolve().parents[1] / ".local"))


def running_database() -> str:
    """The database of WIRETRACE_DATABASE, else that of the ./run of this folder. Raises PostgresError."""
    if given := os.environ.get("WIRETRACE_DATABASE"):
        return given
    try:
        found: str = json.loads((LOCAL / "running.json").read_text("utf-8"))["database"]
    except (OSError, ValueError, KeyError) as error:
        raise PostgresError("nothing runs here: start ./run first, or set WIRETRACE_DATABASE") from error
    return found


def backup(database: str, file: Path) -> None:
    """Write the database into a file, which is there whole or not at all. Raises PostgresError, OSError."""
    half = file.with_name(f"{file.name}.half")
    command = [*program("pg_dump"), "--format=custom", "--no-owner", "--no-privileges", f"--file={half}", database]
    try:
        done = subprocess.run(command, capture_output=True, text=True, check=False)
        if done.returncode != 0:
            raise PostgresError(f"pg_dump failed: {done.stderr.strip()}")
        half.replace(file)
    finally:
        half.unlink(missing_ok=True)


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m scripts.backup", description=__doc__)
    parser.add_argument("file", type=Path)
    arguments = parser.parse_args()
    try:
        backup(running_database(), arguments.file)
    except (PostgresError, OSError) as error:
        print(f"No backup was made: {error}", file=sys.stderr)
        return 1
    print(f"Everything is in {arguments.file} ({arguments.file.stat().st_size} bytes).")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
