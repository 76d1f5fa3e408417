"""Kills and stalls server and database a hundred times while many save: is anything acknowledged lost?

    .venv/bin/python -m scripts.kill --kills 100

It starts `scripts.serve` as ./run does, on a port and a folder of its own. Savers save numbered circuits to jobs of
their own, one after the other, and note what was acknowledged. Who gets no answer in a second gives that save up and
sends the next, so the one given up may still come, late; a third of the times workers are not killed but stand still
for two and a half seconds. In the end every job must hold the last acknowledged circuit, or one that was sent after it.
"""

import argparse
import contextlib
import http.client
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from scripts.children import marked
from scripts.site import ROOT, free_port
from wiretrace.document.circuit import Circuit

VICTIMS = {
    "worker": b"gunicorn",
    "application": b"gunicorn",
    "database": b"bin/postgres",
    "a process of the database": b"postgres: ",
    "front": b"nginx: master",
}
"""What is killed, and a part of its command line."""
STALLED_S = 2.5
PATIENCE_S = 1.0


@dataclass
class Saver:
    """Saves one circuit after the other to a job of its own."""

    port: int
    job: int = 0
    sent: int = 0
    acknowledged: int = 0
    saves: int = 0
    refused: list[str] = field(default_factory=list)
    away_s: float = 0.0
    """The longest time without an answer."""

    given_up: int = 0
    """Saves without an answer, which may still have come."""

    def call(self, method: str, path: str, body: Any = None, patience_s: float = 10) -> tuple[int, Any]:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=patience_s)
        try:
            data = None if body is None else json.dumps(body)
            connection.request(method, f"/api{path}", data, {"Content-Type": "application/json"})
            answer = connection.getresponse()
            return answer.status, json.loads(answer.read() or "null")
        finally:
            connection.close()

    def make_job(self) -> None:
        status, made = self.call("POST", "/jobs", {"title": "Savings", "circuit": circuit(0)})
        assert status == 201, made
        self.job = made["id"]

    def work(self, stop: threading.Event) -> None:
        """Save until told to stop."""
        based_on, last_answer = 1, time.monotonic()
        while not stop.is_set():
            self.sent += 1
            order = {"based_on": based_on, "writer": "saver", "serial": self.sent}
            body = {**order, "circuit": circuit(self.sent)}
            try:
                status, answer = self.call("PUT", f"/jobs/{self.job}/circuit", body, PATIENCE_S)
            except (OSError, ValueError, http.client.HTTPException):
                self.given_up += 1
                time.sleep(0.02)
                continue
            if status == 200:
                based_on, self.acknowledged = answer["version"], self.sent
                self.saves += 1
                self.away_s = max(self.away_s, time.monotonic() - last_answer)
                last_answer = time.monotonic()
            elif status < 500:
                self.refused.append(f"{status} {answer}")
            time.sleep(0.01)

    def lost(self) -> bool:
        """Is what the server has older than what it acknowledged?"""
        _, answer = self.call("GET", f"/jobs/{self.job}")
        return not self.acknowledged <= int(answer["circuit"]["title"]) <= self.sent


def circuit(number: int) -> Any:
    return Circuit(title=str(number)).model_dump(mode="json")


@dataclass(frozen=True)
class Outcome:
    """What a hundred kills did."""

    kills: int
    stalls: int
    saves: int
    given_up: int
    lost: int
    refused: int
    longest_away_s: float
    restarts: tuple[str, ...]


def torture(kills: int, savers: int, seed: int = 1, pause_s: float = 0.5) -> Outcome:
    """Kill so many times, at random moments, and compare."""
    folder = Path(tempfile.mkdtemp(prefix="wiretrace-kill-"))
    folder.chmod(0o755)
    chance, port = random.Random(seed), free_port()
    log = (folder / "log").open("wb")
    server = subprocess.Popen(
        [sys.executable, "-u", "-m", "scripts.serve", "--port", str(port)],
        cwd=ROOT,
        env=os.environ | {"WIRETRACE_LOCAL": str(folder)},
        stdout=log,
        stderr=subprocess.STDOUT,
    )
    stop, all_savers, stalls = threading.Event(), [Saver(port) for _ in range(savers)], 0
    threads = [threading.Thread(target=saver.work, args=(stop,)) for saver in all_savers]
    try:
        _until_it_answers(port)
        for saver in all_savers:
            saver.make_job()
        for thread in threads:
            thread.start()
        for _ in range(kills):
            time.sleep(chance.uniform(0.2, 1) * pause_s)
            if chance.random() < 1 / 3:
                stalls += 1
                _stall(folder)
            else:
                _kill(chance, folder)
            _until_it_answers(port)
        time.sleep(pause_s)
        stop.set()
        for thread in threads:
            thread.join()
        # What was given up may still wait for its turn.
        time.sleep(STALLED_S)
        lost = sum(saver.lost() for saver in all_savers)
    finally:
        stop.set()
        server.send_signal(signal.SIGTERM)
        server.wait()
        log.close()
        if sys.exc_info()[0] is not None:
            print((folder / "log").read_text("utf-8", "replace")[-3000:])
    told = (folder / "log").read_text("utf-8", "replace")
    shutil.rmtree(folder, ignore_errors=True)
    restarts = tuple(line for line in told.splitlines() if "is started again" in line)
    longest = max(saver.away_s for saver in all_savers)
    refused = sum(len(saver.refused) for saver in all_savers)
    saves, given_up = sum(saver.saves for saver in all_savers), sum(saver.given_up for saver in all_savers)
    return Outcome(kills - stalls, stalls, saves, given_up, lost, refused, longest, restarts)


def _workers(folder: Path) -> list[int]:
    """All processes of the application but the main one."""
    found = [pid for pid in marked(str(folder)) if VICTIMS["worker"] in _command_line(pid)]
    return [pid for pid in found if _parent(pid) in found]


def _stall(folder: Path) -> None:
    """Let all workers stand still for a while, with whatever they have in hand and what waits for them."""
    workers = _workers(folder)
    for number, pause_s in ((signal.SIGSTOP, STALLED_S), (signal.SIGCONT, 0.0)):
        for pid in workers:
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, number)
        time.sleep(pause_s)


def _kill(chance: random.Random, folder: Path) -> None:
    """Kill one of the victims, hard."""
    name = chance.choice(list(VICTIMS))
    found = [pid for pid in marked(str(folder)) if VICTIMS[name] in _command_line(pid)]
    if name == "application":
        # The main process is the parent of the others.
        found = [pid for pid in found if _parent(pid) not in found]
    elif name == "worker":
        found = _workers(folder)
    if found:
        os.kill(chance.choice(found), signal.SIGKILL)


def _command_line(pid: int) -> bytes:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes()
    except OSError:
        return b""


def _parent(pid: int) -> int:
    try:
        return int(Path(f"/proc/{pid}/stat").read_text("ascii", "replace").rsplit(")", 1)[1].split()[1])
    except (OSError, IndexError):
        return 0


def _until_it_answers(port: int, seconds: float = 120) -> None:
    """Wait until some answers in a row were right."""
    begun, right = time.monotonic(), 0
    asks = Saver(port)
    while right < 5:
        if time.monotonic() - begun > seconds:
            raise RuntimeError(f"no answer within {seconds:g} s")
        try:
            status, _ = asks.call("GET", "/jobs")
            right = right + 1 if status == 200 else 0
        except (OSError, ValueError, http.client.HTTPException):
            right = 0
        time.sleep(0.02)


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m scripts.kill", description=__doc__)
    parser.add_argument("--kills", type=int, default=100)
    parser.add_argument("--savers", type=int, default=8)
    arguments = parser.parse_args()
    outcome = torture(arguments.kills, arguments.savers)
    print(
        f"{outcome.kills} kills and {outcome.stalls} stalls, {outcome.saves} acknowledged saves, {outcome.given_up} "
        f"given up, {outcome.lost} jobs lost any; "
        f"{outcome.refused} saves refused; longest away {outcome.longest_away_s:.1f} s; "
        f"{len(outcome.restarts)} programs started again"
    )
    return 1 if outcome.lost or outcome.refused else 0


if __name__ == "__main__":
    raise SystemExit(main())
