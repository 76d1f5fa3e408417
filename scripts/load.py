"""A classroom against a running server: each person presses, probes, edits and saves.

    .venv/bin/python -m scripts.load [--address http://127.0.0.1:8000] [--people 200] [--minutes 10] [--haste 1]

Each person has a job of his own and does what the browser does: presses every 10 s and lets go, probes every 4 s,
edits in bursts with a check after each edit, and saves every 30 s. Prints what share of answers came in what time.
It measures from outside, in threads that mostly wait; on the same machine it takes part of the machine.
"""

import argparse
import base64
import contextlib
import http.client
import json
import os
import random
import sys
import tempfile
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Final
from urllib.parse import urlsplit

from scripts.children import marked
from scripts.postgres import start_cluster
from scripts.site import Site, free_port
from server.store.migrations import migrate
from wiretrace.catalogue.registry import KINDS

CIRCUITS: Final = (
    "start-stop-overload-line",
    "reversing-interlocked",
    "star-delta-timer-first-closure",
    "hand-off-auto",
    "phase-monitor",
    "dc-control-pnp",
    "two-wire-float",
    "star-delta-relay",
)
"""What a class works on."""

HANDS: Final = ("push_button", "float_switch")
"""What a person works."""

PRESS_EVERY_S, PROBE_EVERY_S, SAVE_EVERY_S, BURST_EVERY_S = 10.0, 4.0, 30.0, 120.0
EDITS_IN_A_BURST, BETWEEN_EDITS_S = 6, 1.5
AHEAD_US = 60_000_000


@dataclass
class Measured:
    """Every answer: what was asked, how long it took, and what went wrong."""

    lock: threading.Lock = field(default_factory=threading.Lock)
    times_s: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    sizes: dict[str, list[int]] = field(default_factory=lambda: defaultdict(list))
    wrong: Counter[str] = field(default_factory=Counter)

    def note(self, what: str, took_s: float, size: int) -> None:
        with self.lock:
            self.times_s[what].append(took_s)
            self.sizes[what].append(size)

    def fail(self, why: str) -> None:
        with self.lock:
            self.wrong[why] += 1


class Person:
    """One person at a browser, with a connection that stays open."""

    def __init__(self, address: str, number: int, measured: Measured, haste: float) -> None:
        parts = urlsplit(address)
        self._connection = http.client.HTTPConnection(parts.hostname or "", parts.port, timeout=60)
        self._chance = random.Random(number)
        self._measured = measured
        self._haste = haste
        self._template = CIRCUITS[number % len(CIRCUITS)]
        self._name: str | None = None
        self._state: Any = None
        self._version, self._serial = 1, 0
        self.job: dict[str, Any] = {}
        self.saved = 0

    def ask(self, what: str, method: str, path: str, body: Any = None) -> Any:
        """One request; its answer, or None where there is none."""
        data = None if body is None else json.dumps(body)
        begun = time.perf_counter()
        try:
            self._connection.request(method, f"/api{path}", data, _headers())
            answer = self._connection.getresponse()
            content = answer.read()
        except (OSError, http.client.HTTPException) as error:
            self._connection.close()
            self._measured.fail(f"{what}: {type(error).__name__}")
            return None
        self._measured.note(what, time.perf_counter() - begun, len(content))
        if answer.status >= 400:
            self._measured.fail(f"{what}: {answer.status} {content[:120]!r}")
            return None
        return json.loads(content) if content else None

    def begin(self) -> None:
        """Make a job and open it."""
        title = f"Pump of person {self._template}"
        self.job = self.ask("make a job", "POST", "/jobs", {"title": title, "template": self._template}) or {}
        if not self.job:
            raise SystemExit(f"No job can be made: {self._measured.wrong.most_common(1)}")
        circuit = self.job["circuit"]
        self._operations = [
            (device["id"], KINDS[device["kind"]].operations[0].name)
            for device in circuit["devices"]
            if device["kind"] in HANDS
        ]
        self._ends = [wire[end] for wire in circuit["conductors"] for end in ("a", "b")]

    def work(self, until: float) -> None:
        """What a person does, each thing at its own pace, until the time has come."""
        now = time.monotonic()
        paces = {
            self.press: PRESS_EVERY_S,
            self.probe: PROBE_EVERY_S,
            self.save: SAVE_EVERY_S,
            self.edit: BURST_EVERY_S,
        }
        due = {what: now + self._chance.random() * pace / self._haste for what, pace in paces.items()}
        while True:
            what, at = min(due.items(), key=lambda item: item[1])
            if at >= until:
                return
            time.sleep(max(0.0, at - time.monotonic()))
            what()
            due[what] = max(time.monotonic(), at + self._chance.uniform(0.8, 1.2) * paces[what] / self._haste)

    def press(self) -> None:
        """Press a button, hold it a moment, let go: a run each."""
        if not self._operations:
            return
        device, operation = self._chance.choice(self._operations)
        for value in (True, False):
            at = self._state["time_us"] if self._state else 0
            action = {"at_us": at, "device": device, "operation": operation, "value": value}
            answer = self._about("press", "run", {"actions": [action], "until_us": at + AHEAD_US})
            if answer:
                self._name, self._state = answer["ref"], _after(answer["frames"], 300_000)
            time.sleep(0.3 / self._haste)

    def probe(self) -> None:
        red, black = self._chance.sample(self._ends, 2)
        self._about("probe", "read", {"probes": [{"red": red, "black": black}]})

    def _about(self, what: str, path: str, body: dict[str, Any]) -> Any:
        """Ask about the circuit by its name, and send it where that is not known."""
        body = {"state": self._state, **body}
        if self._name:
            answer = self.ask(what, "POST", f"/simulation/{path}", {"ref": self._name, **body})
            if answer is not None:
                return answer
        return self.ask(what, "POST", f"/simulation/{path}", {"circuit": self.job["circuit"], **body})

    def edit(self) -> None:
        """A burst of edits: each another length of wire, and a check."""
        for _ in range(EDITS_IN_A_BURST):
            wire = self._chance.choice(self.job["circuit"]["conductors"])
            wire["length_m"] = round(self._chance.uniform(0.5, 9), 2)
            self._name = self._state = None
            self.ask("check", "POST", "/check", {"circuit": self.job["circuit"]})
            time.sleep(BETWEEN_EDITS_S / self._haste)
        self.save()

    def save(self) -> None:
        self._serial += 1
        order = {"based_on": self._version, "writer": "load", "serial": self._serial}
        body = {**order, "circuit": self.job["circuit"]}
        line = self.ask("save", "PUT", f"/jobs/{self.job['id']}/circuit", body)
        if line:
            self._version = line["version"]
            self.saved += 1

    def lost(self) -> bool:
        """Is the circuit on the server another than what was saved last?"""
        there = self.ask("look", "GET", f"/jobs/{self.job['id']}")
        return self.saved > 0 and (there is None or there["version"] != self._version)


def _headers() -> dict[str, str]:
    found = {"Content-Type": "application/json"}
    if password := os.environ.get("WIRETRACE_PASSWORD"):
        found["Authorization"] = "Basic " + base64.b64encode(f"any:{password}".encode()).decode()
    return found


def _after(frames: list[dict[str, Any]], microseconds: int) -> dict[str, Any]:
    """The state that holds so long after the first frame: frames say only what is new in them."""
    devices: dict[str, Any] = {}
    first, last = frames[0]["time_us"], frames[0]["state"]
    for frame in frames:
        if frame["time_us"] > first + microseconds:
            break
        devices.update(frame["state"]["devices"])
        last = frame["state"]
    return {**last, "devices": devices}


def classroom(address: str, people: int, seconds: float, haste: float) -> tuple[Measured, int, float]:
    """Let so many people work; what was measured, how many lost a save, and for how long they worked."""
    measured = Measured()
    class_ = [Person(address, number, measured, haste) for number in range(people)]
    for person in class_:
        person.begin()
    took = _work(class_, seconds)
    lost = sum(person.lost() for person in class_)
    for person in class_:
        person.ask("delete", "DELETE", f"/jobs/{person.job['id']}")
    return measured, lost, took


def _work(class_: Sequence[Person], seconds: float) -> float:
    """Let all work at once; how long that took."""
    begun = time.monotonic()
    threads = [threading.Thread(target=person.work, args=(begun + seconds,)) for person in class_]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return time.monotonic() - begun


def report(measured: Measured, lost: int, took_s: float) -> str:
    """A line for each kind of request: how many, in what time, how large."""
    lines = [f"{'':14}{'number':>8}{'median':>9}{'95 %':>9}{'99 %':>9}{'longest':>9}{'bytes':>9}"]
    counted = {name: found for name, found in measured.times_s.items() if name in ("press", "probe", "check", "save")}
    everything = [time_s for found in counted.values() for time_s in found]
    for name, times in (*counted.items(), ("all", everything)):
        ordered = sorted(times) or [0.0]
        at = [1000 * ordered[min(len(ordered) - 1, int(len(ordered) * share))] for share in (0.5, 0.95, 0.99, 1)]
        size = sum(measured.sizes.get(name, [0])) // max(1, len(measured.sizes.get(name, [0])))
        lines.append(f"{name:14}{len(times):8}" + "".join(f"{ms:6.0f} ms" for ms in at) + f"{size:9}")
    rate = len(everything) / took_s
    lines.append(f"{rate:.0f} requests a second for {took_s:.0f} s; {lost} jobs lost a save")
    lines += [f"wrong: {count} x {why}" for why, count in measured.wrong.most_common(8)]
    return "\n".join(lines)


def memory_mb(place: str) -> float:
    """What all processes of a ./run take, shared pages counted once."""
    total = 0
    for pid in marked(place):
        try:
            for line in Path(f"/proc/{pid}/smaps_rollup").read_text("ascii").splitlines():
                total += int(line.split()[1]) if line.startswith("Pss:") else 0
        except (OSError, IndexError):
            continue
    return total / 1024


def servers(count: int, people: int, seconds: float) -> float:
    """Requests a second that so many servers of one worker each carry on one PostgreSQL, asked without a pause."""
    with contextlib.ExitStack() as open_things:
        folder = Path(open_things.enter_context(tempfile.TemporaryDirectory()))
        folder.chmod(0o755)
        cluster = start_cluster(folder / "postgres")
        open_things.callback(cluster.stop)
        migrate(cluster.url)
        addresses = []
        for number in range(count):
            run = folder / str(number)
            run.mkdir()
            site = Site(cluster.url, run, "127.0.0.1", free_port(), workers=1)
            addresses.append(open_things.enter_context(site).address)
        measured = Measured()
        class_ = [Person(addresses[n % count], n, measured, haste=1e6) for n in range(people)]
        for person in class_:
            person.begin()
        measured.times_s.clear()
        took_s = _work(class_, seconds)
        if measured.wrong:
            raise SystemExit(f"wrong: {measured.wrong.most_common(3)}")
        return sum(len(times) for times in measured.times_s.values()) / took_s


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m scripts.load", description=__doc__)
    parser.add_argument("--address", default="http://127.0.0.1:8000")
    parser.add_argument("--people", type=int, default=200)
    parser.add_argument("--minutes", type=float, default=10)
    parser.add_argument("--haste", type=float, default=1.0, help="2 for twice the load")
    parser.add_argument("--place", default=str(Path(__file__).resolve().parents[1] / ".local"), help="of ./run")
    parser.add_argument("--servers", type=int, help="instead: what one and so many servers of one worker carry")
    arguments = parser.parse_args()
    if arguments.servers:
        one, more = (servers(count, 16, arguments.minutes * 60) for count in (1, arguments.servers))
        print(f"one server: {one:.0f} requests a second; {arguments.servers}: {more:.0f}, {more / one:.2f} times")
        return 0
    before = memory_mb(arguments.place)
    found = classroom(arguments.address, arguments.people, arguments.minutes * 60, arguments.haste)
    print(report(*found))
    print(f"memory of the server: {before:.0f} MB before, {memory_mb(arguments.place):.0f} MB after")
    return 1 if found[0].wrong or found[1] else 0


if __name__ == "__main__":
    sys.exit(main())
