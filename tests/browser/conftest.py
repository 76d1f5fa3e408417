"""The real thing: gunicorn on the test database, the built front end, Debian's Chromium."""

import os
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Browser, Page

from scripts.postgres import Cluster, free_port

ROOT = Path(__file__).parents[2]
ARGUMENTS = [
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--font-render-hinting=none",
]


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": "/usr/bin/chromium", "chromium_sandbox": False, "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "color_scheme": "light"}


@dataclass
class Server:
    """A running server that a test may stop and start again."""

    database: str
    port: int
    process: subprocess.Popen[bytes] | None = field(default=None)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        environment = os.environ | {"WIRETRACE_DATABASE": self.database, "WIRETRACE_WEB": str(ROOT / "web" / "dist")}
        command = [sys.executable, "-m", "gunicorn", "--no-control-socket", "--bind", f"127.0.0.1:{self.port}",
                   "--workers", "2", "--threads", "4", "--log-level", "error", "server.app:create_app()"]  # fmt: skip
        self.process = subprocess.Popen(command, cwd=ROOT, env=environment, stderr=subprocess.DEVNULL)
        for _ in range(150):
            try:
                with urllib.request.urlopen(f"{self.address}/api/library", timeout=1):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        raise RuntimeError("the server does not answer")

    def stop(self) -> None:
        if self.process:
            self.process.terminate()
            self.process.wait()
            self.process = None


@pytest.fixture(scope="session")
def running(cluster: Cluster) -> Iterator[Server]:
    server = Server(cluster.url, free_port())
    server.start()
    yield server
    server.stop()


@pytest.fixture
def site(running: Server, cluster: Cluster) -> Server:
    """The server with an empty list of jobs."""
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE jobs RESTART IDENTITY CASCADE")
    if running.process is None:
        running.start()
    return running


@pytest.fixture(autouse=True)
def quiet_console(page: Page) -> Iterator[list[str]]:
    """A test fails on any error in the console that it did not take out of the list itself."""
    errors: list[str] = []
    page.on("console", lambda message: errors.append(message.text) if message.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: errors.append(str(error)))
    yield errors
    assert errors == []


@pytest.fixture
def second_window(browser: Browser, browser_context_args: dict[str, Any]) -> Iterator[Page]:
    context = browser.new_context(**browser_context_args)
    yield context.new_page()
    context.close()
