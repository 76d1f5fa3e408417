"""Processes that end with the one that started them, and are told from all others by a mark."""

import hashlib
import os
import shutil
import signal
import subprocess
import tempfile
import time
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import IO

from server.parent import end_with_parent

MARK = "WIRETRACE_PLACE"
"""Environment variable of every child: the folder that it works for."""


def start_child(
    command: Sequence[str],
    *,
    ending: signal.Signals,
    output: IO[bytes] | None = None,
    environment: Mapping[str, str] | None = None,
    folder: Path | None = None,
    keep: Sequence[int] = (),
) -> subprocess.Popen[bytes]:
    """Start a program in a session of its own, so that a Ctrl-C reaches only its parent, who stops it in order.

    `ending` is the signal that it gets if the parent dies; `keep` are open files that it inherits.
    """
    return subprocess.Popen(
        command,
        stdin=subprocess.DEVNULL,
        stdout=output,
        stderr=output,
        env={**os.environ, **(environment or {})},
        cwd=folder,
        start_new_session=True,
        pass_fds=keep,
        preexec_fn=end_with_parent(ending),
    )


def end_group(process: subprocess.Popen[bytes], ending: signal.Signals, seconds: float) -> None:
    """Stop a child of `start_child` and all that it started; what does not obey is killed."""
    if process.poll() is None:
        process.send_signal(ending)
        try:
            process.wait(seconds)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()
    try:
        os.killpg(process.pid, signal.SIGKILL)
    except (ProcessLookupError, PermissionError):
        return


def end_leftovers(place: str, seconds: float = 15.0) -> int:
    """Stop what an earlier start for `place` left running; return how many processes there were."""
    left = marked(place)
    for pid in left:
        _send(pid, signal.SIGINT)
    deadline = time.monotonic() + seconds
    while marked(place) and time.monotonic() < deadline:
        time.sleep(0.05)
    for pid in marked(place):
        _send(pid, signal.SIGKILL)
    return len(left)


def run_folder(place: str) -> Path:
    """A new folder for the sockets and settings of what works for `place`: short, as paths of sockets have to be.

    Those that an earlier one was killed in are taken away: nothing may work for `place` any more.
    """
    for left in Path(tempfile.gettempdir()).glob(f"{_prefix(place)}-*"):
        shutil.rmtree(left, ignore_errors=True)
    return Path(tempfile.mkdtemp(prefix=f"{_prefix(place)}-"))


def marked(place: str) -> list[int]:
    """Processes of this user that work for `place`, without this one.

    They bear the mark in their environment, or, where they write over that (nginx does), stand in a run folder.
    """
    wanted, prefix = f"{MARK}={place}".encode(), f"{tempfile.gettempdir()}/{_prefix(place)}-"
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit() or int(entry.name) == os.getpid():
            continue
        try:
            bears = wanted in (entry / "environ").read_bytes().split(b"\0")
            if bears or os.readlink(entry / "cwd").startswith(prefix):
                found.append(int(entry.name))
        except OSError:
            continue
    return found


def _prefix(place: str) -> str:
    return f"wiretrace-{hashlib.sha256(place.encode()).hexdigest()[:12]}"


def _send(pid: int, number: signal.Signals) -> None:
    try:
        os.kill(pid, number)
    except (ProcessLookupError, PermissionError):
        return
