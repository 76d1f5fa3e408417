"""./run where something dies, is killed or does not start: nothing outlives it or is in the next one's way."""

import json
import os
import signal
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest

from scripts.children import MARK, _prefix
from scripts.site import free_port
from server.demo import JOBS
from tests.server.running import PATIENCE_S, called, ended, gone, start, titles, until_it_answers

pytestmark = pytest.mark.by_turns(3)


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGHUP])
def test_nothing_outlives_a_hard_kill_or_a_closed_terminal(folder: Path, how: signal.Signals) -> None:
    port = free_port()
    first = start(folder, port)
    until_it_answers(first)
    first.send_signal(how)
    ended(first)
    assert gone(folder)
    second = start(folder, port)
    until_it_answers(second)
    assert len(titles(port)) == len(JOBS)
    second.send_signal(signal.SIGTERM)
    ended(second)


def test_what_was_left_running_all_the_same_is_stopped_first(folder: Path) -> None:
    # A shell that started the tests in the background would have it ignore the signal.
    left = subprocess.Popen(
        ["sleep", "600"],
        env=os.environ | {MARK: str(folder)},
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )
    port = free_port()
    process = start(folder, port)
    assert "Stopped 1 processes that an earlier start left behind" in until_it_answers(process)
    assert left.wait(timeout=10) == -signal.SIGINT
    process.send_signal(signal.SIGTERM)
    ended(process)


def test_what_dies_meanwhile_is_started_again(folder: Path) -> None:
    port = free_port()
    process = start(folder, port)
    until_it_answers(process)
    for name in (b"postgres\0-D", b"bin/postgres", b"gunicorn", b"nginx: worker", b"nginx: master"):
        victims = called(folder, name)
        for pid in victims:
            os.kill(pid, signal.SIGKILL)
        deadline = time.monotonic() + PATIENCE_S
        while not called(folder, name) - victims:
            assert time.monotonic() < deadline, name
            time.sleep(0.05)
        while True:
            try:
                assert len(titles(port)) == len(JOBS)
                break
            except OSError:
                assert time.monotonic() < deadline, name
                time.sleep(0.05)
    process.send_signal(signal.SIGTERM)
    rest = ended(process)
    assert "The database ended; it is started again." in rest
    assert "The application ended; it is started again." in rest
    assert "The server in front ended; it is started again." in rest


def test_a_first_start_that_is_killed_leaves_nothing_in_the_way(folder: Path) -> None:
    for wait_s in (0.3, 0.6, 0.9, 1.2):
        process = start(folder, free_port())
        time.sleep(wait_s)
        process.kill()
        ended(process)
    port = free_port()
    process = start(folder, port)
    until_it_answers(process)
    assert len(titles(port)) == len(JOBS)
    assert not list((folder / "postgres").glob("new-*"))
    process.send_signal(signal.SIGINT)
    ended(process)


def test_ctrl_c_while_the_database_starts_is_no_error(folder: Path) -> None:
    process = start(folder, free_port())
    assert process.stdout is not None
    while "Starting the database" not in process.stdout.readline():
        pass
    process.send_signal(signal.SIGINT)
    rest = ended(process)
    assert (process.returncode, "Traceback" in rest) == (0, False), rest
    assert gone(folder)


def test_a_database_that_does_not_start_is_waited_for(folder: Path) -> None:
    """As on a disk that is full: what does not need it goes on, and it comes back by itself."""
    port = free_port()
    process = start(folder, port)
    until_it_answers(process)
    data = folder / "postgres" / "data"
    away = data.with_name("away")
    data.rename(away)
    os.kill(min(called(folder, b"bin/postgres")), signal.SIGKILL)
    assert process.stdout is not None
    while "It is tried again every 5 s" not in (line := process.stdout.readline()):
        assert line
    circuit = json.dumps({"circuit": {"format": "wiretrace/circuit", "title": "t"}, "until_us": 5}).encode()
    run = urllib.request.Request(
        f"http://127.0.0.1:{port}/api/simulation/run", circuit, {"Content-Type": "application/json"}
    )
    with urllib.request.urlopen(run, timeout=30) as answer:
        assert answer.status == 200
    with pytest.raises(urllib.error.HTTPError) as refused:
        titles(port)
    with refused.value as answer:
        assert (answer.code, json.load(answer)["type"]) == (503, "/problems/database")
    away.rename(data)
    while "The database is there again." not in (line := process.stdout.readline()):
        assert line
    assert len(titles(port)) == len(JOBS)
    process.send_signal(signal.SIGTERM)
    ended(process)


def test_what_a_killed_start_left_in_the_folder_of_temporary_files_goes(folder: Path) -> None:
    def left() -> list[Path]:
        places = (str(folder), str(folder / "postgres"))
        return [path for place in places for path in Path(tempfile.gettempdir()).glob(f"{_prefix(place)}-*")]

    for _ in range(2):
        process = start(folder, free_port())
        until_it_answers(process)
        assert len(left()) == 2
        process.kill()
        ended(process)
        assert gone(folder)
    process = start(folder, free_port())
    until_it_answers(process)
    process.send_signal(signal.SIGINT)
    ended(process)
    assert left() == []
