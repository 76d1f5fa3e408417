"""Writes docs/screenshots from the demo data: a server and a database of their own, Debian's Chromium.

Run it after a change to a view: .venv/bin/python -m scripts.screenshots
"""

import argparse
import re
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path

import psycopg
from playwright.sync_api import Page, ViewportSize, sync_playwright
from psycopg.rows import dict_row

from scripts.postgres import start_cluster
from scripts.site import Site, free_port
from server.demo import load_demo
from server.store.migrations import migrate

ROOT = Path(__file__).resolve().parents[1]
SHOTS = ROOT / "docs" / "screenshots"
SIZE: ViewportSize = {"width": 1280, "height": 800}
CHROMIUM = ["--disable-gpu", "--disable-background-networking", "--font-render-hinting=none"]


def on_the_real_thing(work: Callable[[Page, str], None]) -> None:
    """Do something with a page, on a site and a database of their own with the demo data."""
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        folder.chmod(0o755)
        cluster = start_cluster(folder / "postgres")
        try:
            migrate(cluster.url)
            with psycopg.connect(cluster.url, row_factory=dict_row) as connection:
                load_demo(connection)
            with Site(cluster.url, folder, "127.0.0.1", free_port()) as site, sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path="/usr/bin/chromium", chromium_sandbox=False, args=CHROMIUM
                )
                work(browser.new_page(viewport=SIZE), site.address)
                browser.close()
        finally:
            cluster.stop()


def _take(first: Page, address: str, names: Sequence[str], folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    browser = first.context.browser
    if browser is None:
        raise RuntimeError("the page has no browser")
    for name in names:
        path, work, scheme = VIEWS[name]
        context = browser.new_context(viewport=SIZE, color_scheme=scheme)  # type: ignore[arg-type]
        page = context.new_page()
        if name != "first-minute":
            page.add_init_script("localStorage.setItem('wiretrace-first-minute', 'done')")
        page.goto(address + path)
        page.wait_for_timeout(800)
        work(page)
        page.wait_for_timeout(500)
        page.screenshot(path=folder / f"{name}.png")
        context.close()


def _start(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^S1 .* Press")).hover()
    page.mouse.down()
    page.wait_for_timeout(400)
    page.mouse.up()
    page.wait_for_timeout(800)


def _probe(page: Page, red: str, black: str) -> None:
    if not page.locator(f'[data-terminal="{red}"]').count():
        page.get_by_role("group", name="Sheets").get_by_role("button", name="Both").click()
    for name in (red, black):
        page.locator(f'[data-terminal="{name}"]').click()
    page.wait_for_timeout(300)
    page.get_by_role("button", name="Why?").click()


def _run(page: Page) -> None:
    _start(page)
    _probe(page, "K1:21", "K1:22")


def _tripped(page: Page) -> None:
    _start(page)
    page.get_by_role("button", name="Trip by hand").click()
    page.wait_for_timeout(600)


def _star(page: Page) -> None:
    _start(page)
    _probe(page, "M1:U1", "M1:U2")


def _select_coil(page: Page) -> None:
    page.locator('.part[aria-label^="K1 Coil"] .halo').click(force=True)


def _ladder(page: Page) -> None:
    page.get_by_role("button", name="NEMA", exact=True).click()
    _start(page)


def _panel(page: Page) -> None:
    page.get_by_role("button", name="Panel", exact=True).click()
    page.locator('.part[aria-label^="S1 "] .halo').click(force=True)
    page.locator('.part[aria-label^="K1 Coil"] .halo').click(force=True, modifiers=["Shift"])


def _faulty(page: Page) -> None:
    _start(page)
    page.get_by_role("button", name="Insert fault").click()
    page.get_by_label("Which fault").fill("K1 coil open")
    page.get_by_role("button", name="The coil K1 is open").click()
    page.wait_for_timeout(500)
    page.get_by_role("button", name="Compare with the sound circuit").click()
    page.get_by_role("button", name="Black probe").click()
    page.locator('[data-terminal="K1:A2"]').click()
    page.get_by_role("button", name="Map", exact=True).click()


def _predicted(page: Page) -> None:
    for red, black in (("S1:13", "S1:14"), ("S0:11", "S0:12")):
        page.get_by_role("button", name="Red probe").click()
        for name in (red, black):
            page.locator(f'[data-terminal="{name}"]').click()
        page.get_by_role("button", name="Leave a meter here").click()
    page.get_by_role("button", name="Take off", exact=True).click()
    page.get_by_role("button", name="Predict").click()
    page.get_by_role("button", name="Make a sheet").click()
    page.get_by_label("Title of the sheet").fill("Where does the supply stand?")
    page.get_by_role("button", name="Ask about this moment").click()
    page.get_by_label("Name of state 1").fill("At rest")
    page.get_by_role("button", name="Keep the sheet").click()
    page.get_by_label("Who fills it in").fill("Bench 3")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label("A, S1:13 to S1:14").fill("0")
    page.get_by_label("B, S0:11 to S0:12").fill("full")
    page.get_by_role("button", name="Run and compare").click()
    page.wait_for_timeout(600)


def _states(page: Page) -> None:
    page.get_by_role("button", name="States", exact=True).click()
    page.wait_for_timeout(3000)


def _state_table(page: Page) -> None:
    page.get_by_role("button", name="Sequence", exact=True).click()
    page.get_by_role("button", name=re.compile("^What it should do")).click()
    page.get_by_role("button", name="State table").click()
    page.wait_for_timeout(1500)


def _trace(page: Page) -> None:
    """Beside a panel: held, the contactor stays out, and the supply stands at the stop button."""
    page.get_by_role("button", name="Real panel").click()
    page.get_by_label("Diagnosis").wait_for(timeout=180_000)
    page.get_by_role("button", name="2. The level rises").click()
    page.get_by_label("What K1 does").select_option("out")
    page.wait_for_timeout(1500)
    page.get_by_label("Measure next").get_by_role("button").filter(has_text=" to ").first.click()
    page.get_by_label("What the meter shows").fill("0")
    page.get_by_role("button", name="Note", exact=True).click()
    page.wait_for_timeout(1500)


def _size(page: Page) -> None:
    """The plate of the first job, and a dial that somebody worked out with a root 3 too many."""
    page.get_by_label("Your own figure: Full-load current, calculated").fill("5.9")
    page.get_by_text("What each gives").first.click()
    page.wait_for_timeout(1200)


def _hide(page: Page) -> None:
    """A broken wire, chosen by the instructor, and three readings on the way to it."""
    page.get_by_role("button", name="Choose one").click()
    page.get_by_label("Which fault").fill("wire 3 from S0:12 to S1:13 is open")
    page.get_by_label("Faults of this name").get_by_role("button").first.click()
    page.get_by_role("button", name="Hide it and begin").click()
    page.get_by_role("button", name="Hold: S1, press").click()
    page.get_by_role("cell", name="S1 pressed").wait_for()
    for number, red in enumerate(("F2:96", "S1:14", "S0:12"), 2):
        for end in (red, "K1:A2"):
            page.locator(f'[data-terminal="{end}"]').click()
        page.get_by_role("button", name="Read it").click()
        page.locator(f".exercise-record tbody tr:nth-child({number + 1})").wait_for()


def _exercise(page: Page) -> None:
    _hide(page)
    page.get_by_role("button", name="What to measure").click()
    page.locator(".exercise-told").wait_for(timeout=120_000)


def _review(page: Page) -> None:
    """The exercise of the view before, given up, and what was still possible after its second reading."""
    page.get_by_role("button", name="Give up and see").click()
    page.get_by_test_id("points").wait_for(timeout=120_000)
    page.locator(".exercise-record tbody").get_by_role("button", name="3", exact=True).click()
    page.wait_for_timeout(500)


VIEWS: dict[str, tuple[str, Callable[[Page], None], str]] = {
    "first-minute": ("/", lambda page: None, "light"),
    "jobs": ("/", lambda page: page.wait_for_timeout(3000), "light"),
    "library": ("/library", lambda page: page.wait_for_timeout(4000), "light"),
    "tripped": ("/library/start-stop-overload-line", _tripped, "light"),
    "run": ("/jobs/1/run", _run, "light"),
    "run-dark": ("/jobs/1/run", _run, "dark"),
    "faults": ("/library/start-stop-overload-line", _faulty, "light"),
    "predict": ("/jobs/1/run", _predicted, "light"),
    "why": ("/jobs/2/run", lambda page: _probe(page, "S1:13", "S1:14"), "light"),
    "draw": ("/jobs/1/draw", _select_coil, "light"),
    "ladder": ("/jobs/7/run", _ladder, "light"),
    "panel": ("/jobs/1/draw", _panel, "light"),
    "states": ("/jobs/8/draw", _states, "light"),
    "state-table": ("/jobs/8/run", _state_table, "light"),
    "trace": ("/jobs/3/trace", _trace, "light"),
    "size": ("/jobs/1/size", _size, "light"),
    "exercise": ("/jobs/1/trace", _exercise, "light"),
    "review": ("/jobs/1/trace", _review, "dark"),
    "star-delta": ("/jobs/8/run", _star, "light"),
}


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m scripts.screenshots", description=__doc__)
    parser.add_argument("names", nargs="*", help="which of them; all without")
    parser.add_argument("--into", type=Path, default=SHOTS)
    told = parser.parse_args()
    on_the_real_thing(lambda page, address: _take(page, address, told.names or list(VIEWS), told.into))


if __name__ == "__main__":
    main()
