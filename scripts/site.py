"""The application and the server in front of it, as ./run, the browser tests and the measurements start them."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from types import TracebackType
from typing import Self

from scripts import front
from scripts.children import end_group, start_child
from server.config import MAX_REQUEST_BYTES
from server.lanes import LANES

ROOT = Path(__file__).resolve().parents[1]
WEB = ROOT / "web" / "dist"
BACKLOG = 2048
JSON = {"Content-Type": "application/json"}
ASKED_FIRST = (("GET", "health"), ("POST", "check"), ("POST", "trace/work"))
"""One question for each lane."""
SECONDS_TO_ANSWER = 60
ENDS_IN_A_ROW = 5
A_ROW_S = 20.0


class GaveUp(RuntimeError):
    """A program ends again and again, or never answers."""


@dataclass
class Program:
    """A program that runs as long as the site does, and when it ended by itself."""

    title: str
    command: Sequence[str]
    ending: signal.Signals
    environment: Mapping[str, str] = field(default_factory=dict)
    keep: Sequence[int] = ()
    folder: Path = ROOT
    before: Callable[[], None] = lambda: None
    process: subprocess.Popen[bytes] | None = None
    ends: list[float] = field(default_factory=list)

    def start(self) -> None:
        """Start it. Raises GaveUp when it ended by itself too often lately; being killed is not its fault."""
        now = time.monotonic()
        if self.process is not None and (self.process.poll() or 0) >= 0:
            self.ends = [past for past in self.ends if now - past < A_ROW_S] + [now]
        if len(self.ends) > ENDS_IN_A_ROW:
            raise GaveUp(f"the {self.title} ends again and again; its messages stand above")
        self.process = start_child(
            self.command, ending=self.ending, environment=self.environment, folder=self.folder, keep=self.keep
        )

    def stop(self) -> None:
        """Stop it and whatever it left running."""
        if self.process is not None:
            stopped = self.process.poll() is None
            end_group(self.process, self.ending, seconds=10)
            self.process = None if stopped else self.process

    @property
    def gone(self) -> bool:
        """Has it ended by itself?"""
        return self.process is None or self.process.poll() is not None


class _Held:
    """A socket that is held open, at `path`, whoever listens on it at the moment."""

    def __init__(self, run: Path, name: str) -> None:
        self._bound, self.path = run / f"{name}-bound", run / name
        self._listener = socket.socket(socket.AF_UNIX)
        self._listener.bind(str(self._bound))
        self._listener.listen(BACKLOG)
        self.number = self._listener.fileno()
        # gunicorn takes away the name that the socket was bound to when it ends; this one stays.
        os.link(self._bound, self.path)

    def bound_again(self) -> None:
        if not self._bound.exists():
            os.link(self.path, self._bound)

    def close(self) -> None:
        self._listener.close()


class Site:
    """The application in its lanes, and the server in front, on a database.

    `run` is a folder for their sockets and settings, `more` of the environment; `workers` in each lane, 0 for as many
    as the machine is good for. The sockets are held here, so that requests wait while a program is started again.
    """

    def __init__(
        self, database: str, run: Path, host: str, port: int, more: Mapping[str, str] | None = None, workers: int = 0
    ) -> None:
        self.address = _address(host, port)
        environment = {"WIRETRACE_DATABASE": database, "WIRETRACE_WEB": str(WEB), "XDG_CACHE_HOME": str(run)}
        environment |= more or {}
        self._held = {lane.name: _Held(run, lane.name) for lane in LANES}
        configuration = front.write_configuration(
            run,
            host=host,
            port=port,
            web=WEB,
            sockets={name: held.path for name, held in self._held.items()},
            most=MAX_REQUEST_BYTES,
            shared=bool(environment.get("WIRETRACE_PASSWORD", os.environ.get("WIRETRACE_PASSWORD", ""))),
        )
        numbers = tuple(held.number for held in self._held.values())
        settings = ["-c", "python:server.gunicorn", *(f"--bind=fd://{number}" for number in numbers)]
        self.programs = (
            Program(
                "application",
                [sys.executable, "-m", "gunicorn", *settings, "server.app:create_app()"],
                signal.SIGQUIT,
                {**environment, "WIRETRACE_WORKERS": str(workers)},
                numbers,
                before=self._bound_again,
            ),
            Program("server in front", front.command(configuration), signal.SIGTERM, folder=run),
        )

    def _bound_again(self) -> None:
        for held in self._held.values():
            held.bound_again()

    def start_again(self, program: Program) -> None:
        """Start one that has ended, with whatever it left running stopped first. Raises GaveUp."""
        program.stop()
        program.before()
        program.start()

    def start(self) -> None:
        """Start both and wait until they answer. Raises GaveUp."""
        for program in self.programs:
            self.start_again(program)
        deadline = time.monotonic() + SECONDS_TO_ANSWER
        while time.monotonic() < deadline:
            for program in self.programs:
                if program.gone:
                    raise GaveUp(f"the {program.title} stopped at once; its message stands above")
            if self._answers():
                return
            time.sleep(0.05)
        raise GaveUp(f"the server does not answer at {self.address}")

    def _answers(self) -> bool:
        """Do all lanes answer? A question that is refused is answered too."""
        return all(_answered(f"{self.address}/api/{path}", method) for method, path in ASKED_FIRST)

    def stop(self) -> None:
        """Stop both, the front first."""
        for program in reversed(self.programs):
            program.stop()

    def __enter__(self) -> Self:
        try:
            self.start()
        except BaseException:
            self.__exit__(None, None, None)
            raise
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, traceback: TracebackType | None
    ) -> None:
        self.stop()
        for held in self._held.values():
            held.close()


def _answered(address: str, method: str) -> bool:
    request = urllib.request.Request(address, b"{}" if method == "POST" else None, JSON, method=method)
    try:
        with urllib.request.urlopen(request, timeout=5):
            return True
    except urllib.error.HTTPError as error:
        with error:
            return error.code < 500
    except OSError:
        return False


def free_port() -> int:
    """A port of the loopback interface that nobody listens on."""
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", 0))
        port: int = listener.getsockname()[1]
        return port


def _address(host: str, port: int) -> str:
    """Under which address this machine reaches the server."""
    host = {"0.0.0.0": "127.0.0.1", "::": "::1"}.get(host, host)
    return f"http://[{host}]:{port}" if ":" in host else f"http://{host}:{port}"
