"""./run, from its arguments and the database to Ctrl-C: what a newcomer does first."""

import os
import signal
import socket
import subprocess
from pathlib import Path

import psycopg
import pytest

from scripts.postgres import PostgresError, start_cluster
from scripts.site import free_port
from server.demo import JOBS
from tests.server.running import ROOT, asked, ended, gone, start, titles, until_it_answers


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
