"""Hands for the browser tests: what a person does, in a word each."""

import json
import urllib.request
from itertools import pairwise
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server


def call(site: Server, method: str, path: str, body: dict[str, Any] | None = None) -> dict[str, Any]:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        f"{site.address}/api{path}", data, {"Content-Type": "application/json"}, method=method
    )
    with urllib.request.urlopen(request, timeout=10) as answer:
        found: dict[str, Any] = json.load(answer)
        return found


def open_job(page: Page, site: Server, template: str | None = "start-stop-overload-line", stage: str = "run") -> int:
    """Make a job and open it; returns its id."""
    body = {"title": "Condensate sump pump", **({"template": template} if template else {})}
    job_id: int = call(site, "POST", "/jobs", body)["id"]
    page.goto(f"{site.address}/jobs/{job_id}/{stage}")
    expect(page.locator(".board")).to_be_visible()
    return job_id


def saved(page: Page) -> None:
    expect(page.get_by_role("status").get_by_text("Saved", exact=True)).to_be_visible(timeout=15_000)


def hold(page: Page, name: str) -> None:
    """Put the finger on a control; `release` takes it off."""
    page.get_by_role("button", name=name).hover()
    page.mouse.down()


def release(page: Page) -> None:
    """Take the finger off, after at least as long as a finger takes: an armature needs its time."""
    page.wait_for_timeout(150)
    page.mouse.up()


def terminal(page: Page, name: str) -> Any:
    return page.locator(f'[data-terminal="{name}"]')


def probe(page: Page, red: str, black: str) -> None:
    """Red on one terminal, black on the other."""
    page.get_by_role("button", name="Red probe").click()
    terminal(page, red).click()
    terminal(page, black).click()


def reads(page: Page, figure: str) -> None:
    expect(page.get_by_test_id("reading")).to_have_text(figure)


def says(page: Page, label: str, word: str) -> None:
    """What the operator's panel says of a device."""
    expect(page.locator(f'[data-says="{label}"]')).to_have_text(word)


def spot(page: Page, sheet: str, x: float, y: float) -> tuple[float, float]:
    """Place on the screen of a place on a sheet's grid."""
    found: list[float] = page.locator(".board").evaluate(
        """(board, [title, x, y]) => {
            const text = [...board.querySelectorAll('.page-title')].find((t) => t.textContent === title);
            const p = new DOMPoint(x, y).matrixTransform(text.parentNode.getScreenCTM());
            return [p.x, p.y];
        }""",
        [sheet, x, y],
    )
    return found[0], found[1]


def put(page: Page, part: str, sheet: str, x: float, y: float) -> None:
    """Choose a part and put it down at a place of a sheet."""
    page.get_by_role("button", name=part, exact=True).click()
    page.mouse.move(*spot(page, sheet, x, y))
    page.mouse.click(*spot(page, sheet, x, y))


def join(page: Page, *names: str) -> None:
    """Wire terminals one after the other."""
    for a, b in pairwise(names):
        terminal(page, a).click()
        terminal(page, b).click()
