"""./run as a user starts it, and what works for it."""

import json
import os
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from scripts.children import marked

ROOT = Path(__file__).parents[2]
PATIENCE_S = 120


def start(folder: Path, port: int, **environment: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-u", "-m", "scripts.serve", "--port", str(port)],
        cwd=ROOT,
        env=os.environ | {"WIRETRACE_LOCAL": str(folder)} | environment,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )


def until_it_answers(process: subprocess.Popen[str]) -> str:
    """What it said until it gave its address."""
    assert process.stdout is not None
    said = ""
    for line in process.stdout:
        said += line
        if "Wire Trace is at" in line:
            return said
    raise AssertionError(f"it never answered: {said}")


def titles(port: int) -> list[str]:
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/jobs", timeout=30) as found:
        return [job["title"] for job in json.load(found)["jobs"]]


def called(folder: Path, name: bytes) -> set[int]:
    """Processes of the folder whose command line has `name` in it."""
    return {pid for pid in marked(str(folder)) if name in command_line(pid)}


def command_line(pid: int) -> bytes:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes()
    except OSError:
        return b""


def gone(folder: Path, seconds: float = 30) -> bool:
    """Does nothing work for the folder any more, after some time at most?"""
    deadline = time.monotonic() + seconds
    while marked(str(folder)) and time.monotonic() < deadline:
        time.sleep(0.05)
    return not marked(str(folder))


def ended(process: subprocess.Popen[str]) -> str:
    output, _ = process.communicate(timeout=PATIENCE_S)
    return output


def asked(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    """./run up to where it has read its arguments: it stops before it would install."""
    script = '. scripts/arguments.sh; read_arguments "$@"; echo "$HOST $PORT"'
    return subprocess.run(
        ["bash", "-c", script, "run", *arguments],
        cwd=ROOT,
        env=os.environ | environment,
        stdin=subprocess.DEVNULL,
        capture_output=True,
        text=True,
        check=False,
    )
