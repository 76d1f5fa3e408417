"""Breaks the code on purpose, one way at a time, and sees whether a test notices.

    .venv/bin/python -m scripts.breaks            all of them, about ten minutes
    .venv/bin/python -m scripts.breaks wheel      those with a word in their name

It works on a copy. A break that no test notices, or that no longer fits the code, is told, and the exit code is 1.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Final

from scripts import (
    broken_bench,
    broken_beyond,
    broken_drives,
    broken_exercise,
    broken_front,
    broken_net,
    broken_physics,
    broken_played,
    broken_saved,
    broken_sheets,
    broken_short,
    broken_sizes,
    broken_trace,
)
from scripts.broken import BREAKS, Break
from scripts.site import ROOT

ALL: Final = (
    *BREAKS,
    *broken_front.BREAKS,
    *broken_bench.BREAKS,
    *broken_trace.BREAKS,
    *broken_exercise.BREAKS,
    *broken_short.BREAKS,
    *broken_net.BREAKS,
    *broken_saved.BREAKS,
    *broken_physics.BREAKS,
    *broken_sizes.BREAKS,
    *broken_beyond.BREAKS,
    *broken_drives.BREAKS,
    *broken_played.BREAKS,
    *broken_sheets.BREAKS,
)
LEFT_OUT: Final = (".git", ".venv", ".local", "node_modules", "dist", "__pycache__", ".hypothesis", "docs")


def noticed(broken: Break, copy: Path) -> str:
    """Whether a test fails once the code is broken this way: "noticed", or what is wrong."""
    file = copy / broken.file
    sound = file.read_text("utf-8")
    if sound.count(broken.before) != 1:
        return f"does not fit: it stands {sound.count(broken.before)} times in {broken.file}"
    file.write_text(sound.replace(broken.before, broken.after), encoding="utf-8")
    try:
        front = broken.file.startswith("web/")
        python = str(copy / ".venv" / "bin" / "python")
        command = ["npx", "vitest", "run"] if front else [python, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider"]
        done = subprocess.run(
            [*command, *broken.tests.split()],
            cwd=copy / "web" if front else copy,
            env={**os.environ, "WIRETRACE_ALL": "1"},
            capture_output=True,
            check=False,
        )
        return "noticed" if done.returncode == 1 else f"NOT NOTICED by {broken.tests} (exit {done.returncode})"
    finally:
        file.write_text(sound, encoding="utf-8")


def fits(broken: Break) -> bool:
    """Does what is to be broken stand in the code, once?"""
    return (ROOT / broken.file).read_text("utf-8").count(broken.before) == 1


def main() -> int:
    words = sys.argv[1:]
    chosen = [broken for broken in ALL if all(word in broken.name for word in words)]
    with tempfile.TemporaryDirectory(prefix="wiretrace-breaks-") as made:
        copy = Path(made) / "copy"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(*LEFT_OUT))
        (copy / ".venv").symlink_to(ROOT / ".venv")
        (copy / "web" / "node_modules").symlink_to(ROOT / "web" / "node_modules")
        told = []
        for broken in chosen:
            told.append(noticed(broken, copy))
            print(f"{told[-1]}: {broken.name}", flush=True)
    print(f"{told.count('noticed')} of {len(told)} noticed.")
    return 0 if told.count("noticed") == len(told) else 1


if __name__ == "__main__":
    raise SystemExit(main())
