"""The real thing: gunicorn on the test database, the built front end, Debian's Chromium."""

import shutil
from collections.abc import Iterator
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Browser, Page, expect

from scripts.postgres import Cluster
from scripts.site import Site, free_port
from tests.conftest import reachable_folder

# As long as a busy machine may need; an idle one never waits.
expect.set_options(timeout=30_000)

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


class Server(Site):
    """A running site that a test may stop and start again."""

    running = False

    def start(self) -> None:
        super().start()
        self.running = True

    def stop(self) -> None:
        super().stop()
        self.running = False


@pytest.fixture(scope="session")
def running(cluster: Cluster) -> Iterator[Server]:
    run = reachable_folder()
    with Server(cluster.url, run, "127.0.0.1", free_port(), workers=2) as server:
        yield server
    shutil.rmtree(run, ignore_errors=True)


@pytest.fixture
def site(running: Server, cluster: Cluster) -> Server:
    """The server with an empty list of jobs."""
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE jobs RESTART IDENTITY CASCADE")
    if not running.running:
        running.start()
    return running


WELCOMED = "try { localStorage.setItem('wiretrace-first-minute', 'done') } catch {}"
"""Run before a page: a person who has been here before."""


@pytest.fixture(autouse=True)
def patient(page: Page) -> None:
    page.set_default_timeout(60_000)
    page.add_init_script(WELCOMED)


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
