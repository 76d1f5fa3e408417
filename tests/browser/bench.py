"""Hands for the browser tests: what a person does, in a word each."""

import json
import re
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
        found: dict[str, Any] = json.loads(answer.read() or "{}")
        return found


def open_job(page: Page, site: Server, template: str | None = "start-stop-overload-line", stage: str = "run") -> int:
    """Make a job and open it with all its sheets in view; returns its id."""
    body = {"title": "Condensate sump pump", **({"template": template} if template else {})}
    job_id: int = call(site, "POST", "/jobs", body)["id"]
    page.goto(f"{site.address}/jobs/{job_id}/{stage}")
    expect(page.locator(".board")).to_be_visible()
    if page.get_by_role("group", name="Sheets").count():
        show_sheets(page)
    return job_id


def show_sheets(page: Page) -> None:
    """All sheets beside each other."""
    page.get_by_role("group", name="Sheets").get_by_role("button", name=re.compile("^(Both|All)$")).click()


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


def back_to(page: Page, label: str, word: str) -> None:
    """Let time stand still, and step back until a device says this."""
    page.get_by_role("button", name="Stand still").click()
    previous = page.get_by_role("button", name="Previous event")
    for _ in range(400):
        if page.locator(f'[data-says="{label}"]').inner_text() == word:
            break
        previous.click()
    says(page, label, word)


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


def place_part(page: Page, name: str, sheet: str, x: float, y: float) -> None:
    """Put a further part of the selected device down."""
    page.get_by_label("Properties").get_by_role("button", name=name).click()
    page.mouse.move(*spot(page, sheet, x, y))
    page.mouse.click(*spot(page, sheet, x, y))


def place(page: Page, name: str) -> tuple[float, float]:
    """Where a terminal stands on its sheet."""
    found = terminal(page, name)
    return float(found.get_attribute("cx")), float(found.get_attribute("cy"))


def join(page: Page, *names: str) -> None:
    """Wire terminals one after the other."""
    for a, b in pairwise(names):
        terminal(page, a).click()
        terminal(page, b).click()


def cursor_to(page: Page, sheet: str, x: int, y: int) -> None:
    """Walk the cursor there with the arrow keys."""
    for _ in range(4):
        page.keyboard.press("s")
        if where(page)[0] == sheet:
            break
    for _ in range(120):
        here = where(page)
        if here[1:] == (x, y):
            return
        keys = (("ArrowLeft", "ArrowRight"), ("ArrowUp", "ArrowDown"))
        axis = 0 if here[1] != x else 1
        page.keyboard.press(keys[axis][(here[1], here[2])[axis] < (x, y)[axis]])
    raise AssertionError(f"the cursor does not reach {sheet} {x},{y}")


def where(page: Page) -> tuple[str, int, int]:
    """Sheet and grid place of the keyboard cursor."""
    title, x, y = page.locator(".board").evaluate(
        """(board) => {
            const box = board.querySelector('.cursor').getBoundingClientRect();
            const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
            for (const text of board.querySelectorAll('.page-title')) {
                const page = text.parentNode.querySelector('.page').getBoundingClientRect();
                if (cx < page.left || cx > page.right) continue;
                const p = new DOMPoint(cx, cy).matrixTransform(text.parentNode.getScreenCTM().inverse());
                return [text.textContent, Math.round(p.x), Math.round(p.y)];
            }
        }"""
    )
    return title, x, y


def next_terminal(page: Page, name: str) -> None:
    for _ in range(60):
        page.keyboard.press("n")
        if page.locator("[aria-live=polite].unseen").inner_text().startswith(f"{name},"):
            return
    raise AssertionError(f"the cursor does not come to {name}")


def find(page: Page, words: str, add: bool = False) -> None:
    """Go there, take it up or do it by the field of the key "/"; what fits first is taken."""
    page.keyboard.press("/")
    page.keyboard.type(words)
    page.keyboard.press("Shift+Enter" if add else "Enter")


def part(page: Page, name: str) -> Any:
    """A part on the sheets by the beginning of its name."""
    return page.locator(f'.part[aria-label^="{name}"] .halo')


def choose_parts(page: Page, *names: str) -> None:
    """Select parts, the first with a click, the others with shift."""
    for index, name in enumerate(names):
        part(page, name).click(force=True, modifiers=["Shift"] if index else [])


def say(page: Page, first: str, second: str, offer: str) -> None:
    """Select two parts and choose what they are to be to each other."""
    choose_parts(page, first, second)
    page.get_by_role("group", name="Between these two").get_by_role("button", name=offer, exact=True).click()


def probe_keys(page: Page, red: str, black: str) -> None:
    """Probes by keyboard, so that the mouse can go on holding a button."""
    board = page.locator(".board")
    board.evaluate("board => board.focus()")
    for name, key in ((red, "r"), (black, "b")):
        for _ in range(80):
            page.keyboard.press("n")
            if page.locator("[aria-live=polite].unseen").inner_text().startswith(f"{name},"):
                break
        page.keyboard.press(key)
