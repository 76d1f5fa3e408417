"""Every view in light and dark, looked at by axe (WCAG 2.2 AA), and at the widths that people have."""

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal
from uuid import uuid4

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.bench import call, probe, show_sheets
from tests.browser.conftest import WELCOMED, Server
from tests.server.saving import save

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
ALSO = ["page-has-heading-one", "landmark-one-main", "heading-order", "region"]
WIDTHS = ((390, 844), (768, 1024), (1024, 768), (1280, 800), (1920, 1080))


# Of the two colour schemes, and of the sizes of screens, half each day.
pytestmark = pytest.mark.by_turns(2)


@pytest.fixture(params=["light", "dark"])
def seen(browser: Browser, request: pytest.FixtureRequest) -> Iterator[Page]:
    scheme: Literal["light", "dark"] = request.param
    context = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme=scheme)
    context.add_init_script(WELCOMED)
    page = context.new_page()
    page.set_default_timeout(60_000)
    yield page
    context.close()


def audit(page: Page, view: str) -> None:
    """No finding of axe on what is shown."""
    page.evaluate(AXE.read_text("utf-8"))
    found: list[dict[str, Any]] = page.evaluate(
        """async ([tags, also]) => {
            const rules = Object.fromEntries(also.map((rule) => [rule, { enabled: true }]));
            const { violations } = await axe.run(document, { runOnly: { type: 'tag', values: tags }, rules });
            const told = ({ html, failureSummary }) => [html.slice(0, 160), failureSummary];
            return violations.map(({ id, help, nodes }) => ({ id, help, where: nodes.slice(0, 4).map(told) }));
        }""",
        [TAGS, ALSO],
    )
    assert found == [], f"{view}: {json.dumps(found, indent=1)}"


def made(site: Server) -> int:
    body = {"title": "Ridge vent", "place": "Bay 4", "template": "reversing-interlocked"}
    job: int = call(site, "POST", "/jobs", body)["id"]
    return job


def test_home_and_library_are_accessible(seen: Page, site: Server) -> None:
    made(site)
    seen.goto(site.address)
    expect(seen.get_by_role("link", name="Ridge vent")).to_be_visible()
    audit(seen, "jobs")
    seen.get_by_role("button", name="From a pattern").click()
    audit(seen, "from a pattern")
    seen.get_by_role("button", name="From a file").click()
    audit(seen, "from a file")
    seen.goto(f"{site.address}/library")
    expect(seen.get_by_role("listitem").first).to_be_visible()
    audit(seen, "library")
    seen.goto(f"{site.address}/first")
    expect(seen.get_by_role("complementary", name="The first minute")).to_be_visible()
    audit(seen, "the first minute")


def test_a_job_is_accessible_running_and_being_drawn(seen: Page, site: Server) -> None:
    job = made(site)
    seen.goto(f"{site.address}/jobs/{job}/run")
    show_sheets(seen)
    probe(seen, "K1:A1", "K1:A2")
    seen.get_by_role("button", name="Why?").click()
    expect(seen.get_by_label("Voltmeter")).to_contain_text("Red, on K1:A1")
    seen.get_by_role("button", name="Trip by hand").click()
    expect(seen.get_by_role("status").filter(has_text="tripped")).to_be_visible()
    audit(seen, "run")
    seen.get_by_role("button", name="Draw", exact=True).click()
    expect(seen.get_by_role("region", name="Parts")).to_be_visible()
    audit(seen, "draw")
    seen.locator('.part[aria-label^="K1 Coil"]').click(force=True)
    seen.get_by_role("button", name="Panel").click()
    expect(seen.get_by_role("heading", name="K1, contactor")).to_be_visible()
    audit(seen, "draw, with a device and the panel")
    for pane, shows in (("Description", "holds 2 times."), ("States", "trip F2")):
        seen.get_by_role("button", name=pane, exact=True).click()
        expect(seen.get_by_role("region", name=pane)).to_contain_text(shows)
        audit(seen, f"draw, with {pane.lower()}")


def test_size_is_accessible_empty_and_filled_in(seen: Page, site: Server) -> None:
    job = made(site)
    call(site, "PUT", f"/jobs/{job}/sizing", save(0, "w", 1, sizing={}))
    seen.goto(f"{site.address}/jobs/{job}/size")
    expect(seen.get_by_label("Nameplate", exact=True)).to_be_visible()
    audit(seen, "size, empty")
    seen.get_by_label("Rated power", exact=True).fill("7.5 kW")
    seen.get_by_label("Rated voltage", exact=True).fill("400")
    seen.get_by_label("Rated current", exact=True).fill("24")
    seen.get_by_label("Rated speed", exact=True).fill("quick")
    seen.get_by_label("Your own figure: Dial of the overload relay").fill("3")
    expect(seen.get_by_text("into a healthy start").first).to_be_visible()
    seen.get_by_text("What each gives").first.click()
    audit(seen, "size, filled in")


def test_an_exercise_is_accessible_at_rest_in_the_middle_and_in_review(seen: Page, site: Server) -> None:
    job = made(site)
    seen.goto(f"{site.address}/jobs/{job}/trace")
    expect(seen.get_by_role("button", name="Hide it and begin")).to_be_visible()
    audit(seen, "exercise, at rest")
    # One that nobody closed before: the database outlives a test.
    number = uuid4().int % 1_000_000
    seen.get_by_label("Number").fill(str(number))
    seen.get_by_role("button", name="Hide it and begin").click()
    expect(seen.get_by_label("Work order")).to_be_visible()
    seen.get_by_label("Instrument").select_option("ohmmeter")
    for end in ("F1:1", "K1:A2"):
        seen.locator(f'[data-terminal="{end}"]').click()
    seen.get_by_role("button", name="Read it").click()
    # A risk either way: some of the faults that a number can hide leave the control circuit dead.
    risk = re.compile(
        "Ohms or insulation on a live circuit|Measured ohms, a diode or insulation before the circuit was locked out"
    )
    expect(seen.get_by_label("Record", exact=True)).to_contain_text(risk)
    audit(seen, "exercise, in the middle")
    seen.get_by_role("button", name="Give up and see").click()
    expect(seen.get_by_role("button", name=f"Close number {number}")).to_be_visible()
    audit(seen, "exercise, ended under a number")
    seen.get_by_role("button", name=f"Close number {number}").click()
    expect(seen.get_by_test_id("points")).to_be_visible(timeout=120_000)
    audit(seen, "exercise, in review")


OVERLAPPING = """() => {
    const kinds = ['button', 'a', 'input', '[role=status]'].map((kind) => `header ${kind}`).join();
    const all = [...document.querySelectorAll(kinds)].filter((one) => one.offsetParent);
    const name = (one) => one.textContent || one.getAttribute('aria-label') || one.placeholder || '';
    const found = [];
    all.forEach((one, at) => all.slice(at + 1).forEach((other) => {
        if (one.contains(other) || other.contains(one)) return;
        const [a, b] = [one.getBoundingClientRect(), other.getBoundingClientRect()];
        const w = Math.min(a.right, b.right) - Math.max(a.left, b.left);
        const h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
        if (w > 1 && h > 1) found.push([name(one), name(other)]);
    }));
    return found;
}"""


def overlapping(page: Page) -> list[list[str]]:
    """Pairs of things in the head of a page that cover each other, once its own letters are there."""
    page.evaluate("document.fonts.ready")
    met: list[list[str]] = page.evaluate(OVERLAPPING)
    return met


def test_all_eight_stages_will_fit_the_bar_of_a_narrow_screen(page: Page, site: Server) -> None:
    page.set_viewport_size({"width": 1024, "height": 768})
    for path in ("run", "draw"):
        page.goto(f"{site.address}/jobs/{made(site)}/{path}")
        stages = page.get_by_role("navigation", name="Stages")
        expect(stages).to_be_visible()
        stages.evaluate(
            """bar => ['Size', 'Check', 'Wire', 'Prove', 'Trace', 'Teach'].forEach((title) => {
                if (bar.children.length === 8) return;
                const one = bar.children[0].cloneNode(true);
                one.textContent = title;
                bar.append(one);
            })"""
        )
        assert stages.get_by_role("button").count() == 8
        assert overlapping(page) == []
        over = page.locator("header").evaluate("one => one.scrollWidth - one.clientWidth")
        assert over <= 0, f"{over} px too wide"


@pytest.mark.parametrize(("width", "height"), WIDTHS)
def test_nothing_overlaps_or_runs_off_the_screen(page: Page, site: Server, width: int, height: int) -> None:
    job = made(site)
    page.set_viewport_size({"width": width, "height": height})
    for path in ("/", "/library", f"/jobs/{job}/run", f"/jobs/{job}/draw", f"/jobs/{job}/size", f"/jobs/{job}/trace"):
        page.goto(site.address + path)
        expect(page.locator("main")).to_be_visible()
        page.wait_for_timeout(400)
        over = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        assert over <= 0, f"{path} at {width} is {over} px too wide"
        cut: list[str] = page.evaluate(
            """() => [...document.querySelectorAll('header button, header a, header input, nav button')]
                .filter((one) => one.offsetParent)
                .filter((one) => { const b = one.getBoundingClientRect();
                    return b.left < -1 || b.right > innerWidth + 1 || b.top < -1 || b.bottom > innerHeight + 1; })
                .map((one) => one.textContent || one.getAttribute('aria-label') || '')"""
        )
        assert cut == [], f"{path} at {width}: {cut}"
        met = overlapping(page)
        assert met == [], f"{path} at {width}: {met}"
        if path.endswith("/run"):
            board = page.locator(".board-window").bounding_box()
            assert board is not None
            assert board["width"] > 200
            assert board["height"] > 200


def test_on_a_phone_one_pane_is_in_sight_at_a_time(page: Page, site: Server) -> None:
    job = made(site)
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{site.address}/jobs/{job}/run")
    expect(page.locator(".board")).to_be_visible()
    panes = page.get_by_role("navigation", name="Panes")
    for button in panes.get_by_role("button").all():
        box = button.bounding_box()
        assert box is not None
        assert box["height"] >= 44
    panes.get_by_role("button", name="Door").click()
    expect(page.get_by_role("region", name="Operator's panel")).to_be_visible()
    expect(page.locator(".board")).to_have_count(0)
    panes.get_by_role("button", name="Meter").click()
    expect(page.get_by_role("region", name="Voltmeter")).to_be_visible()
    expect(page.get_by_role("region", name="Operator's panel")).to_have_count(0)
    panes.get_by_role("button", name="Sheets").click()
    expect(page.locator(".board")).to_be_visible()


def test_panes_fold_and_stay_folded(page: Page, site: Server) -> None:
    job = made(site)
    page.goto(f"{site.address}/jobs/{job}/run")
    panes = page.get_by_role("navigation", name="Panes")
    wide = page.locator(".board-window").bounding_box()
    panes.get_by_role("button", name="Meter").click()
    panes.get_by_role("button", name="Time chart").click()
    expect(page.get_by_role("region", name="Voltmeter")).to_have_count(0)
    wider = page.locator(".board-window").bounding_box()
    assert wide is not None
    assert wider is not None
    assert wider["width"] > wide["width"] + 200
    assert wider["height"] > wide["height"] + 100
    page.reload()
    expect(page.locator(".board")).to_be_visible()
    expect(page.get_by_role("region", name="Voltmeter")).to_have_count(0)
    panes.get_by_role("button", name="Meter").click()
    expect(page.get_by_role("region", name="Voltmeter")).to_be_visible()
