"""The application behind the server in front of it: slow senders, large requests, clients that hang up, lanes."""

import contextlib
import json
import shutil
import socket
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
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
from tests.server.saving import save
from wiretrace.library import library_circuit

pytestmark = pytest.mark.alone

CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")


@pytest.fixture(scope="module")
def site(cluster: Cluster) -> Iterator[Site]:
    """A site with one worker, which may compute for long."""
    run = reachable_folder()
    with Site(cluster.url, run, "127.0.0.1", free_port(), {"WIRETRACE_WORK_S": "60"}, workers=1) as made:
        yield made
    shutil.rmtree(run, ignore_errors=True)


def ask(site: Site, path: str, body: Any = None, timeout: float = 60, method: str | None = None) -> tuple[int, Any]:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(f"{site.address}{path}", data, {"Content-Type": "application/json"}, method=method)
    try:
        with urllib.request.urlopen(request, timeout=timeout) as answer:
            return answer.status, json.load(answer)
    except urllib.error.HTTPError as error:
        with error:
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
    """Six checks of a thousand devices each before the only worker of the lane; then nobody waits for them any more."""
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
    assert ask(site, "/api/check", {"circuit": CIRCUIT})[0] == 200
    assert time.monotonic() - begun < 3.5 * one_s


def test_long_work_keeps_neither_a_save_nor_a_press_waiting(site: Site) -> None:
    """Sixteen windows wait for fault dictionaries, in a lane with one worker; another one saves and presses."""
    long = {"circuit": library_circuit("star-delta-closed-transition").model_dump(mode="json")}
    made = ask(site, "/api/jobs", {"title": "Pump"})[1]
    ask(site, "/api/simulation/run", {"circuit": CIRCUIT, "until_us": 1000})
    took = []
    with ThreadPoolExecutor(16) as windows:
        waiting = [windows.submit(ask, site, "/api/trace/work", long) for _ in range(16)]
        time.sleep(0.3)
        for number in range(8):
            begun = time.monotonic()
            body = save(1, "w", number + 1, circuit=made["circuit"])
            assert ask(site, f"/api/jobs/{made['id']}/circuit", body, method="PUT")[0] == 200
            assert ask(site, "/api/simulation/run", {"circuit": CIRCUIT, "until_us": 1000})[0] == 200
            took.append(time.monotonic() - begun)
        assert not all(one.done() for one in waiting)
        assert {one.result()[0] for one in waiting} == {200}
    assert max(took) < 1.5


def test_a_large_save_keeps_no_small_one_waiting(site: Site) -> None:
    """Where a body goes is decided by its length: documents of megabytes wait for each other, and others do not."""
    made = ask(site, "/api/jobs", {"title": "Pump"})[1]
    large = json.dumps(save(1, "x", 1, circuit={**made["circuit"], "title": "t" * 3_900_000})).encode()
    with contextlib.ExitStack() as open_connections:
        for _ in range(12):
            sender = open_connections.enter_context(connected(site))
            sender.sendall(head(f"/api/jobs/{made['id']}/circuit", len(large)).replace(b"POST", b"PUT") + large)
        begun = time.monotonic()
        body = save(1, "w", 1, circuit=made["circuit"])
        assert ask(site, f"/api/jobs/{made['id']}/circuit", body, method="PUT")[0] == 200
        assert time.monotonic() - begun < 1.5


def test_a_request_that_wants_too_much_memory_is_refused_and_its_worker_replaced(cluster: Cluster) -> None:
    run = reachable_folder()
    more = {"WIRETRACE_MORE_BYTES": "60000000", "WIRETRACE_WORK_S": "60"}
    with Site(cluster.url, run, "127.0.0.1", free_port(), more, workers=1) as site:
        text = "x" * 3_900_000
        # Read, copied and read again, it is many times its size; a drawing of it is more than may be had.
        strokes = [{"kind": "line", "points": [[0, 0]] * 400} for _ in range(2_000)]
        page = {"title": "P", "width": 10, "height": 10, "strokes": strokes}
        status, problem = ask(site, "/api/drawing/sheets.pdf", {"title": "t", "pages": [page]})
        assert (status, problem["type"]) in ((413, "/problems/too-large"), (503, "/problems/away"))
        assert ask(site, "/api/import", {"title": "t", "format": "wires", "text": text})[0] in (200, 413, 422, 503)
        assert ask(site, "/api/import", {"title": "t", "format": "wires", "text": "from device,to device"})[0] == 200
        assert ask(site, "/api/health")[0] == 200
    shutil.rmtree(run, ignore_errors=True)


def test_what_is_too_large_or_malformed_is_told_in_the_form_of_all_errors(site: Site) -> None:
    with connected(site) as sender:
        sender.sendall(head("/api/check", 50_000_000))
        answer = sender.recv(65_536)
    assert b" 413 " in answer.split(b"\r\n", 1)[0]
    assert json.loads(answer.split(b"\r\n\r\n", 1)[1])["type"] == "/problems/too-large"


ODD = {
    "a way out": (b"GET /..%2f HTTP/1.1", 400),
    "a nul in the path": (b"GET /%00 HTTP/1.1", 400),
    "a nul in an asset": (b"GET /assets/%00 HTTP/1.1", 400),
    "half an escape": (b"GET /%zz HTTP/1.1", 400),
    "bytes that are no letters": (b"GET /api/jobs/\xff\xfe HTTP/1.1", 400),
    "a tunnel": (b"CONNECT elsewhere:1 HTTP/1.1", 400),
    "TLS": (b"\x16\x03\x01\x02\x00\x01\x00\xfc\x03\x03", 400),
    "a word": (b"HELLO", 400),
    "a later HTTP": (b"GET / HTTP/3.0", 505),
    "an unknown method": (b"TRACE / HTTP/1.1", 405),
    "a long address": (b"GET /" + b"a" * 70_000 + b" HTTP/1.1", 414),
    "a long head": (b"GET / HTTP/1.1\r\nX: " + b"a" * 70_000, 400),
    "an unknown coding": (b"POST /api/jobs HTTP/1.1\r\nTransfer-Encoding: gzip", 501),
    "no such asset": (b"GET /assets/nothing.js HTTP/1.1", 404),
    "what is internal": (b"GET /known HTTP/1.1", 404),
    "a nul in the host": (b"GET /api/jobs HTTP/1.1\r\nHost: a\x00b", 400),
    "a number that is none": (b"GET /api/jobs/" + b"9" * 40 + b" HTTP/1.1", 404),
}


@pytest.mark.parametrize("what", ODD)
def test_what_no_browser_sends_is_answered_in_the_form_of_all_errors(site: Site, what: str) -> None:
    request, status = ODD[what]
    with connected(site) as sender:
        host = b"" if b"Host:" in request else b"\r\nHost: 127.0.0.1"
        sender.sendall(request + host + b"\r\nConnection: close\r\n\r\n")
        answer = b""
        while piece := sender.recv(65_536):
            answer += piece
    head_of, body = answer.split(b"\r\n\r\n", 1)
    assert int(head_of.split()[1]) == status
    assert b"application/problem+json" in head_of
    problem = json.loads(body)
    assert (problem["status"], bool(problem["type"]), bool(problem["detail"])) == (status, True, True)


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
        tmp_path, host=host, port=8123, web=tmp_path, sockets={"quick": tmp_path / "s"}, most=1000
    )
    assert f"listen {listens};" in file.read_text("utf-8")


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
