"""The application behind the server in front of it: slow senders, large requests, clients that hang up, a password."""

import base64
import contextlib
import json
import shutil
import socket
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from benchmarks.test_speed import many_starters
from scripts import front
from scripts.postgres import Cluster
from scripts.site import Site, free_port
from server.app import create_app
from server.config import LOOPBACK_HOSTS, Config
from tests.conftest import reachable_folder
from wiretrace.library import library_circuit

CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")


@pytest.fixture(scope="module")
def site(cluster: Cluster) -> Iterator[Site]:
    """A site with one worker, which may compute for long."""
    run = reachable_folder()
    with Site(cluster.url, run, "127.0.0.1", free_port(), {"WIRETRACE_WORK_S": "60"}, workers=1) as made:
        yield made
    shutil.rmtree(run, ignore_errors=True)


def ask(site: Site, path: str, body: Any = None, timeout: float = 60) -> tuple[int, Any]:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(f"{site.address}{path}", data, {"Content-Type": "application/json"})
    try:
        with urllib.request.urlopen(request, timeout=timeout) as answer:
            return answer.status, json.load(answer)
    except urllib.error.HTTPError as error:
        return error.code, json.load(error)


def connected(site: Site) -> socket.socket:
    return socket.create_connection(("127.0.0.1", int(site.address.rsplit(":", 1)[1])), timeout=30)


def head(path: str, length: int) -> bytes:
    lines = (f"POST {path} HTTP/1.1", "Host: 127.0.0.1", "Content-Type: application/json", f"Content-Length: {length}")
    return "\r\n".join((*lines, "", "")).encode()


def test_sixty_slow_senders_keep_nobody_waiting(site: Site) -> None:
    with contextlib.ExitStack() as open_connections:
        slow = [open_connections.enter_context(connected(site)) for _ in range(60)]
        for number, sender in enumerate(slow):
            # Half of them do not even finish what comes before the body.
            sender.sendall(head("/api/check", 500)[: None if number % 2 else 40])
        for _ in range(5):
            for sender in slow:
                sender.sendall(b"x")
            begun = time.monotonic()
            assert ask(site, "/api/health") == (200, {"answers": True})
            status, answer = ask(site, "/api/simulation/run", {"circuit": CIRCUIT, "until_us": 1000})
            assert (status, len(answer["frames"])) == (200, 1)
            assert time.monotonic() - begun < 20


def test_a_client_that_hangs_up_ends_its_work(site: Site) -> None:
    """Six checks of a thousand devices each before the only worker; then nobody waits for them any more."""
    circuit = many_starters(84).model_dump(mode="json")
    begun = time.monotonic()
    assert ask(site, "/api/check", {"circuit": circuit})[0] == 200
    one_s = time.monotonic() - begun
    body = json.dumps({"circuit": circuit}).encode()
    with contextlib.ExitStack() as open_connections:
        for _ in range(6):
            sender = open_connections.enter_context(connected(site))
            sender.sendall(head("/api/check", len(body)) + body)
        time.sleep(one_s / 2)
    begun = time.monotonic()
    assert ask(site, "/api/health")[0] == 200
    assert time.monotonic() - begun < 3.5 * one_s


def test_what_is_too_large_or_malformed_is_told_in_the_form_of_all_errors(site: Site) -> None:
    with connected(site) as sender:
        sender.sendall(head("/api/check", 50_000_000))
        answer = sender.recv(65_536)
    assert b" 413 " in answer.split(b"\r\n", 1)[0]
    assert json.loads(answer.split(b"\r\n\r\n", 1)[1])["type"] == "/problems/too-large"
    with connected(site) as sender:
        sender.sendall(b"GET /api/jobs HTTP/1.1\r\nHost: a\x00b\r\n\r\n")
        assert b" 400 " in sender.recv(65_536).split(b"\r\n", 1)[0]


def test_while_the_application_is_away_it_is_told(site: Site) -> None:
    application = site.programs[0]
    application.stop()
    try:
        # Requests wait for it at its socket; one that waits too long is told.
        with pytest.raises((TimeoutError, urllib.error.URLError)):
            ask(site, "/api/health", timeout=1)
    finally:
        site.start()
    assert ask(site, "/api/health")[0] == 200
    assert json.loads(json.dumps(front.AWAY))["status"] == 503


def test_the_front_end_is_sent_compressed_and_may_be_kept(site: Site) -> None:
    # The largest: what is smaller than a packet is not worth compressing.
    assets = (Path(__file__).parents[2] / "web" / "dist" / "assets").glob("*.js")
    name = max(assets, key=lambda path: path.stat().st_size).name
    request = urllib.request.Request(f"{site.address}/assets/{name}", headers={"Accept-Encoding": "gzip"})
    with urllib.request.urlopen(request, timeout=30) as answer:
        assert answer.headers["Content-Encoding"] == "gzip"
        assert "immutable" in answer.headers["Cache-Control"]
        assert answer.headers["X-Content-Type-Options"] == "nosniff"


@pytest.mark.parametrize(("host", "listens"), [("::1", "[::1]:8123"), ("0.0.0.0", "0.0.0.0:8123")])
def test_any_address_can_be_listened_on(tmp_path: Path, host: str, listens: str) -> None:
    file = front.write_configuration(
        tmp_path, host=host, port=8123, web=tmp_path, application=tmp_path / "s", most=1000
    )
    assert f"listen {listens};" in file.read_text("utf-8")


def test_with_a_password_nobody_gets_in_without(cluster: Cluster, tmp_path: Path) -> None:
    app = create_app(Config(cluster.url, tmp_path, password="glasshouse"))
    client = app.test_client()

    def status(path: str, given: str | None) -> int:
        token = base64.b64encode(f"anybody:{given}".encode()).decode()
        headers = {"Authorization": f"Basic {token}"} if given is not None else {}
        return client.get(path, headers=headers).status_code

    for path in ("/api/jobs", "/api/health", "/", "/assets/x.js", "/api/openapi.json"):
        refused = client.get(path)
        assert (refused.status_code, refused.get_json()["type"]) == (401, "/problems/password")
        assert "Basic" in refused.headers["WWW-Authenticate"]
    assert [status("/api/jobs", given) for given in ("wrong", "", "glasshous", "glassh\u00f6use")] == [401] * 4
    assert status("/api/jobs", "glasshouse") == 200
    app.extensions["database"].close()


@pytest.mark.parametrize(
    ("name", "status"),
    [
        ("127.0.0.1", 200),
        ("localhost:8000", 200),
        ("LOCALHOST", 200),
        ("[::1]:8000", 200),
        ("[fd00::2]:8000", 200),
        ("[fd00::3]:8000", 400),
        ("192.0.2.9", 400),
        ("localhost.elsewhere.example", 400),
        ("[", 400),
    ],
)
def test_it_answers_to_its_own_names_alone(cluster: Cluster, tmp_path: Path, name: str, status: int) -> None:
    app = create_app(Config(cluster.url, tmp_path, hosts=(*LOOPBACK_HOSTS, "[fd00::2]")))
    assert app.test_client().get("/api/health", headers={"Host": name}).status_code == status
    app.extensions["database"].close()
