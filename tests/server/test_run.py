"""./run, from the database to Ctrl-C: what a newcomer does first."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from scripts.postgres import free_port, start_cluster
from server.demo import JOBS

ROOT = Path(__file__).parents[2]


@pytest.fixture
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    made = tmp_path_factory.mktemp("local")
    for path in (made, made.parent):
        path.chmod(0o755)
    return made


def start(folder: Path, port: int) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-u", "-m", "scripts.serve", "--port", str(port)],
        cwd=ROOT,
        env=os.environ | {"WIRETRACE_LOCAL": str(folder)},
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )


def answer(port: int) -> list[str]:
    """Titles of the jobs, once the server answers."""
    for _ in range(200):
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/jobs", timeout=2) as found:
                return [job["title"] for job in json.load(found)["jobs"]]
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the server does not answer")


def test_it_serves_the_demo_data_and_ctrl_c_stops_all_of_it(folder: Path) -> None:
    port = free_port()
    for _ in range(2):  # the second time it finds what the first left
        process = start(folder, port)
        try:
            assert answer(port) == [title for title, _, _ in JOBS]
            while not (folder / "running.json").exists():
                time.sleep(0.05)
            process.send_signal(signal.SIGINT)
            output, _ = process.communicate(timeout=30)
        finally:
            process.kill()
        assert process.returncode == 0, output
        assert f"Wire Trace is at http://127.0.0.1:{port}" in output
        assert "Stopping the database" in output
        assert not (folder / "postgres" / "data" / "postmaster.pid").exists()
        with socket.socket() as free:
            free.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            free.bind(("127.0.0.1", port))


def test_a_second_run_says_that_the_first_is_there(folder: Path) -> None:
    port = free_port()
    first = start(folder, port)
    try:
        answer(port)
        while not (folder / "running.json").exists():
            time.sleep(0.05)
        second = start(folder, free_port())
        output, _ = second.communicate(timeout=30)
        assert (second.returncode, f"already running at http://127.0.0.1:{port}" in output) == (0, True)
    finally:
        first.send_signal(signal.SIGTERM)
        first.communicate(timeout=30)


def test_a_port_in_use_is_told(folder: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        process = start(folder, taken.getsockname()[1])
        output, _ = process.communicate(timeout=30)
    assert process.returncode == 1
    assert "is in use" in output


def test_a_cluster_starts_stops_and_starts_again_with_its_data(folder: Path) -> None:
    cluster = start_cluster(folder / "cluster")
    cluster.stop()
    cluster.stop()  # stopping what is stopped is no error
    again = start_cluster(folder / "cluster")
    assert again.password == cluster.password
    again.stop()
