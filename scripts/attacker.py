"""One client that wants everything at once, and another one who saves: how long does the other wait?

    .venv/bin/python -m scripts.attacker [--address http://127.0.0.1:8000] [--seconds 60]

The attacker sends, in so many windows each: lists of two million errors, checks of a thousand devices whose answer he
does not wait for, circuits that each need a fault dictionary of their own, one with megabytes that are in no
dictionary's name, jobs without end, and bodies a byte at a time. The other saves every half second, counted by serial.
"""

import argparse
import contextlib
import http.client
import json
import socket
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Final
from urllib.parse import urlsplit

from scripts.answers import many
from wiretrace.document.circuit import MAX_CORNERS
from wiretrace.library import library_circuit

PUMP: Final[dict[str, Any]] = library_circuit("start-stop-overload-line").model_dump(mode="json")
LONG: Final[dict[str, Any]] = library_circuit("star-delta-closed-transition").model_dump(mode="json")
ERRORS: Final = json.dumps({"circuit": {**PUMP, "strays": [0] * 1_200_000}}).encode()
"""Just below what a body may have."""

ROUTES: Final = {wire["id"]: [[0, 0]] * MAX_CORNERS for wire in LONG["conductors"]}
LARGE: Final = many(70).model_dump(mode="json")
"""A thousand devices."""

PAUSE_S: Final = 0.5


@dataclass
class Site:
    host: str
    port: int
    until: float
    """Monotonic time at which all end."""

    answers: Counter[str] = field(default_factory=Counter)

    def ask(self, method: str, path: str, body: Any, patience_s: float = 60) -> tuple[int, Any]:
        """Status and answer. Raises OSError and HTTPException where there is none."""
        with contextlib.closing(http.client.HTTPConnection(self.host, self.port, timeout=patience_s)) as connection:
            data = body if isinstance(body, bytes) else json.dumps(body).encode()
            connection.request(method, f"/api{path}", data, {"Content-Type": "application/json"})
            answer = connection.getresponse()
            return answer.status, json.loads(answer.read() or "null")


def errors_without_end(site: Site, _: int) -> None:
    site.answers[f"errors {site.ask('POST', '/check', ERRORS)[0]}"] += 1


def hung_up(site: Site, _: int) -> None:
    with contextlib.suppress(TimeoutError):
        site.ask("POST", "/check", {"circuit": LARGE}, patience_s=0.3)


def dictionaries(site: Site, number: int) -> None:
    circuit = json.loads(json.dumps(LONG))
    circuit["conductors"][0]["length_m"] = 1 + number / 1000
    site.answers[f"dictionary {site.ask('POST', '/trace/work', {'circuit': circuit})[0]}"] += 1


def padding(site: Site, number: int) -> None:
    circuit = json.loads(json.dumps(LONG))
    circuit["conductors"][0]["length_m"] = 2 + number / 1000
    circuit["sheets"].append({"id": "spare", "title": "Spare", "kind": "control", "routes": ROUTES})
    site.answers[f"padding {site.ask('POST', '/trace/work', {'circuit': circuit})[0]}"] += 1


def jobs(site: Site, number: int) -> None:
    status, made = site.ask("POST", "/jobs", {"title": f"Attack {number}"})
    site.answers[f"job {status}"] += 1
    if status == 201:
        site.ask("DELETE", f"/jobs/{made['id']}", b"")


def slowly(site: Site, _: int) -> None:
    with socket.create_connection((site.host, site.port), timeout=5) as sender:
        sender.sendall(b"POST /api/check HTTP/1.1\r\nHost: here\r\nContent-Length: 500\r\n\r\n")
        for _second in range(5):
            sender.sendall(b"x")
            time.sleep(1)


ATTACKS: Final[dict[Callable[[Site, int], None], int]] = {
    errors_without_end: 4, hung_up: 4, dictionaries: 16, padding: 2, jobs: 4, slowly: 60,
}  # fmt: skip
"""What is done, and in how many windows at once."""


def attack(site: Site, what: Callable[[Site, int], None], window: int) -> None:
    number = window * 100_000
    while time.monotonic() < site.until:
        with contextlib.suppress(OSError, http.client.HTTPException):
            what(site, number := number + 1)


def saves(site: Site) -> list[float]:
    """How long each save of the other one took, in seconds. Raises AssertionError where one was not taken."""
    made = site.ask("POST", "/jobs", {"title": "Pump", "circuit": PUMP})[1]
    took: list[float] = []
    while time.monotonic() < site.until:
        body = {"based_on": 1, "writer": "other", "serial": len(took) + 1, "circuit": PUMP}
        begun = time.monotonic()
        status, answer = site.ask("PUT", f"/jobs/{made['id']}/circuit", body)
        took.append(time.monotonic() - begun)
        assert status == 200, answer
        time.sleep(PAUSE_S)
    site.ask("DELETE", f"/jobs/{made['id']}", b"")
    return took


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m scripts.attacker", description=__doc__)
    parser.add_argument("--address", default="http://127.0.0.1:8000")
    parser.add_argument("--seconds", type=float, default=60)
    parser.add_argument("--share", type=float, default=1.0, help="of the attacker's windows")
    arguments = parser.parse_args()
    parts = urlsplit(arguments.address)
    site = Site(parts.hostname or "", parts.port or 80, time.monotonic() + arguments.seconds)
    windows = [
        threading.Thread(target=attack, args=(site, what, window), daemon=True)
        for what, count in ATTACKS.items()
        for window in range(max(1, round(count * arguments.share)))
    ]
    for window in windows:
        window.start()
    took = sorted(saves(site))
    print(f"{len(took)} saves, median {1000 * took[len(took) // 2]:.0f} ms, longest {1000 * took[-1]:.0f} ms")
    print("what the attacker was answered: " + ", ".join(f"{name}: {n}" for name, n in sorted(site.answers.items())))
    return 0


if __name__ == "__main__":
    sys.exit(main())
