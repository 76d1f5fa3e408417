"""./run, from its arguments and the database to Ctrl-C, hard kills included: what a newcomer does first."""

import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from scripts.children import MARK, _prefix, marked
from scripts.postgres import PostgresError, start_cluster
from scripts.site import free_port
from server.demo import JOBS
from tests.conftest import reachable_folder

ROOT = Path(__file__).parents[2]
PATIENCE_S = 120


@pytest.fixture
def folder() -> Iterator[Path]:
    made = reachable_folder()
    yield made
    for pid in marked(str(made)):
        os.kill(pid, signal.SIGKILL)
    shutil.rmtree(made, ignore_errors=True)


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


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["--port", "99999"], "Port 99999 cannot be used: choose one from 1024 to 65535"),
        (["--port", "80"], "Port 80 cannot be used"),
        (["--port", "0"], "Port 0 cannot be used"),
        (["--port=eight"], "eight is not a port"),
        (["--port"], "--port needs a value"),
        (["--host", "192.0.2.77"], "192.0.2.77 is not an address of this machine"),
        (["--host", "nowhere.invalid"], "There is no host nowhere.invalid"),
        (["--host", "0.0.0.0"], "Set a shared password"),
        (["--fast"], "./run does not know --fast"),
    ],
)
def test_what_cannot_be_served_is_told_in_one_sentence(arguments: list[str], said: str) -> None:
    result = asked(*arguments)
    assert (result.returncode, result.stdout) == (2, "")
    assert said in result.stderr
    assert "Traceback" not in result.stderr


def test_the_arguments_are_understood() -> None:
    assert asked().stdout == "127.0.0.1 0\n"
    assert asked("--host", "[::1]", "--port=08080").stdout == "::1 8080\n"
    assert asked("--host", "0.0.0.0", WIRETRACE_PASSWORD="glasshouse").stdout == "0.0.0.0 0\n"
    assert "too short" in asked("--host", "0.0.0.0", WIRETRACE_PASSWORD="short").stderr
    assert "--host ADDRESS" in asked("--help").stdout


def test_it_serves_the_demo_data_and_ctrl_c_stops_all_of_it(folder: Path) -> None:
    port = free_port()
    for _ in range(2):  # the second time it finds what the first left
        process = start(folder, port)
        said = until_it_answers(process)
        assert titles(port) == [title for title, _, _ in JOBS]
        process.send_signal(signal.SIGINT)
        rest = ended(process)
        assert process.returncode == 0, rest
        assert f"Wire Trace is at http://127.0.0.1:{port}" in said
        assert "Stopping the database" in rest
        assert not (folder / "postgres" / "data" / "postmaster.pid").exists()
        assert gone(folder, seconds=0)
        with socket.socket() as free:
            free.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            free.bind(("127.0.0.1", port))


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
    assert (refused.value.code, json.load(refused.value)["type"]) == (503, "/problems/database")
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


def test_data_that_belong_to_another_user_are_told_with_how_to_mend_it(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    start_cluster(folder / "postgres").stop()
    monkeypatch.setattr(Path, "owner", lambda path: "somebody")
    with pytest.raises(PostgresError, match=rf"data belongs to somebody.*chown -R \w+: {folder / 'postgres'}"):
        start_cluster(folder / "postgres")


def test_data_elsewhere_are_found_by_the_next_start(folder: Path) -> None:
    """WIRETRACE_LOCAL, also where it is not whole: what runs there is told, and nothing of another folder."""
    (folder / "running.json").write_text('{"address": "http://127.0.0.1:8123"}', encoding="utf-8")
    script = f"cd {folder.parent}; . {ROOT}/scripts/arguments.sh; place_data; flock() {{ return 1; }}; one_at_a_time"
    done = subprocess.run(
        ["bash", "-c", script], env=os.environ | {"WIRETRACE_LOCAL": folder.name}, capture_output=True, text=True,
        check=False,
    )  # fmt: skip
    assert "already running at http://127.0.0.1:8123" in done.stdout


def test_the_second_of_two_starts_says_so() -> None:
    script = ". scripts/arguments.sh; one_at_a_time; echo started; sleep 600"
    first = subprocess.Popen(["bash", "-c", script], cwd=ROOT, stdout=subprocess.PIPE, text=True)
    try:
        assert first.stdout is not None
        line = first.stdout.readline()
        # Somebody may be serving from this folder while the tests run.
        if line == "started\n":
            second = subprocess.run(["bash", "-c", script], cwd=ROOT, capture_output=True, text=True, check=False)
            assert (second.returncode, "started" in second.stdout) == (0, False)
            assert "Another ./run is starting" in second.stdout or "already running" in second.stdout
        else:
            assert "already running" in line or "is starting" in line
    finally:
        first.kill()
        first.communicate()


def test_a_port_in_use_is_told(folder: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        process = start(folder, taken.getsockname()[1])
        output = ended(process)
    assert process.returncode == 1
    assert "is in use" in output


def test_a_database_of_a_newer_release_is_refused_in_plain_words(folder: Path) -> None:
    cluster = start_cluster(folder / "postgres")
    with psycopg.connect(cluster.url) as connection:
        connection.execute("CREATE TABLE migrations (name text PRIMARY KEY, applied_at timestamptz DEFAULT now())")
        connection.execute("INSERT INTO migrations (name) VALUES ('9999.of-a-later-release')")
    cluster.stop()
    process = start(folder, free_port())
    output = ended(process)
    assert (process.returncode, "Traceback" in output) == (1, False)
    assert "written by a newer Wire Trace" in output


def test_a_cluster_starts_stops_and_starts_again_with_its_data(folder: Path) -> None:
    cluster = start_cluster(folder / "cluster")
    with psycopg.connect(cluster.url) as connection:
        connection.execute("CREATE TABLE kept (what text)")
    cluster.stop()
    cluster.stop()  # stopping what is stopped is no error
    again = start_cluster(folder / "cluster")
    with psycopg.connect(again.url) as connection:
        assert connection.execute("SELECT count(*) FROM kept").fetchone() == (0,)
    again.stop()


def test_root_writes_nothing_where_the_ordinary_user_could_plant_a_link(folder: Path) -> None:
    """What is written into the folder of the data is written by its owner, so a link there leads nowhere."""
    cluster = start_cluster(folder / "cluster")
    cluster.stop()
    owner = (folder / "cluster" / "data").stat().st_uid
    assert (owner != 0) or os.geteuid() != 0
    precious = folder / "precious"
    precious.write_text("kept", encoding="utf-8")
    precious.chmod(0o600)
    inside = [path for path in (folder / "cluster" / "data").rglob("*") if path.lstat().st_uid != owner]
    assert inside == []
