"""The rest of what a person meets: other circuits, the view, the look, the list of jobs."""

import re
from itertools import pairwise

import pytest
from playwright.sync_api import Page, expect

from tests.browser.bench import (
    back_to,
    call,
    hold,
    open_job,
    probe,
    reads,
    release,
    saved,
    says,
    show_sheets,
    spot,
    terminal,
)
from tests.browser.conftest import Server
from wiretrace.library import library_circuit
from wiretrace.library.families import FAMILIES


@pytest.mark.parametrize("name", [family.circuits[0].name for family in FAMILIES])
def test_a_circuit_of_each_family_opens_runs_and_draws_without_a_loose_wire(
    page: Page, site: Server, name: str
) -> None:
    """All of them are looked at running in `test_home.py`, and drawn in `tests/core/test_browser_agrees.py`."""
    open_job(page, site, template=name)
    for label in [device.label for device in library_circuit(name).devices if device.kind in ("isolator", "breaker")]:
        says(page, label, "on")
    page.get_by_role("button", name="Draw", exact=True).click()
    paths = page.locator(".wire").evaluate_all("all => all.map((wire) => wire.getAttribute('d'))")
    assert paths
    for path in paths:
        for chain in path.split("M")[1:]:
            if re.search("[HV]", chain):
                continue
            corners = [tuple(float(n) for n in corner.split()) for corner in chain.split("L")]
            for (ax, ay), (bx, by) in pairwise(corners):
                assert ax == bx or ay == by, f"a wire lies askew: {chain}"


def test_star_and_then_delta(page: Page, site: Server) -> None:
    open_job(page, site, template="star-delta-timer-first-closure")
    probe(page, "M1:U1", "M1:U2")
    hold(page, "S1 Start Press")
    says(page, "K2", "in")
    reads(page, "227.2")
    release(page)
    expect(page.locator('[data-says="K3"]')).to_have_text("in")
    says(page, "K2", "out")
    reads(page, "395.6")


def test_hand_off_auto_is_turned_on_the_door(page: Page, site: Server) -> None:
    open_job(page, site, template="hand-off-auto")
    page.get_by_role("button", name="B1 Feed demand Pressure high").click()
    says(page, "K1", "out")
    page.get_by_role("button", name="S3 Mode Turn to auto").click()
    says(page, "K1", "in")
    # The selector shows where it stands.
    expect(page.get_by_role("button", name="S3 Mode Turn to auto")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("button", name="S3 Mode Turn to off")).to_have_attribute("aria-pressed", "false")
    page.get_by_role("button", name="S3 Mode Turn to off").click()
    says(page, "K1", "out")


def test_a_phase_is_lost_and_the_monitor_drops_the_contactor(page: Page, site: Server) -> None:
    open_job(page, site, template="phase-monitor")
    says(page, "K9", "healthy")
    hold(page, "S1 Start Press")
    release(page)
    says(page, "K1", "in")
    phase = page.get_by_role("button", name="G1 Incoming supply L2 present")
    phase.click()
    expect(phase).to_have_attribute("aria-pressed", "false")
    says(page, "G1", "without L2")
    says(page, "K9", "phase lost")
    says(page, "K1", "out")


def test_slow_motion_shows_the_order_of_contacts(page: Page, site: Server) -> None:
    open_job(page, site)
    says(page, "K1", "out")
    page.get_by_role("button", name="1/100").click()
    expect(page.get_by_role("region", name="Time chart").get_by_text("100 ms", exact=True)).to_be_visible()
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    back_to(page, "K1", "moving")
    # While the armature moves the normally closed contact is open already.
    says(page, "H2", "dark")


def test_a_sheet_fills_the_view_and_the_wheel_zooms(page: Page, site: Server) -> None:
    open_job(page, site)

    def shown() -> float:
        return float((page.locator(".board").get_attribute("viewBox") or "").split()[2])

    whole = shown()
    page.get_by_role("group", name="Sheets").get_by_role("button", name="Control").click()
    assert shown() < whole
    page.mouse.move(*spot(page, "Control", 12, 20))
    before = shown()
    page.mouse.wheel(0, -300)
    page.wait_for_timeout(200)
    assert shown() < before
    page.get_by_role("button", name="Whole", exact=True).click()
    show_sheets(page)
    assert shown() == whole
    page.get_by_role("button", name="Nearer").click()
    near = shown()
    assert near < whole
    page.locator(".board").focus()
    page.keyboard.press("+")
    assert shown() < near
    page.keyboard.press("-")
    assert abs(shown() - near) < 1e-6
    page.keyboard.press("0")
    assert shown() == whole


def test_a_pan_slides_the_drawing_and_leaves_it_where_it_is_let_go(page: Page, site: Server) -> None:
    open_job(page, site)
    lamp = page.locator('.part[aria-label^="H1 Lamp"]')
    before = lamp.bounding_box()
    assert before
    page.mouse.move(*spot(page, "Control", 2, 2))
    page.mouse.down(button="middle")
    for step in (40, 80, 120):
        x, y = spot(page, "Control", 2, 2)
        page.mouse.move(x + 40, y + step / 4)
    page.mouse.up(button="middle")
    after = lamp.bounding_box()
    assert after
    assert abs(after["x"] - before["x"]) > 20
    assert page.locator(".board").evaluate("board => board.style.transform") == ""
    terminal(page, "S1:13").click()
    expect(page.get_by_role("button", name="Red probe on S1:13")).to_be_visible()


def test_dark_and_light_are_remembered(page: Page, site: Server) -> None:
    page.goto(site.address)
    root = page.locator("html")
    page.get_by_role("button", name="Show dark colours").click()
    expect(root).to_have_class(re.compile("dark"))
    page.reload()
    expect(root).to_have_class(re.compile("dark"))
    ink, paper = page.evaluate(
        "() => ['--ink', '--paper'].map((name) => getComputedStyle(document.documentElement).getPropertyValue(name))"
    )
    assert ink != paper
    page.get_by_role("button", name="Show light colours").click()
    expect(root).not_to_have_class(re.compile("dark"))


def test_a_job_is_renamed_in_its_title(page: Page, site: Server) -> None:
    job = open_job(page, site)
    title = page.get_by_role("textbox", name="Title of the job")
    title.fill("Sump pump, east")
    title.press("Enter")
    page.get_by_label("Wire Trace, all jobs").click()
    expect(page.get_by_role("link", name="Sump pump, east")).to_be_visible()
    assert call(site, "GET", f"/jobs/{job}")["title"] == "Sump pump, east"


def test_the_probes_are_exchanged_and_taken_off(page: Page, site: Server) -> None:
    open_job(page, site)
    probe(page, "S1:13", "S1:14")
    reads(page, "230.9")
    page.get_by_role("button", name="Exchange the probes").click()
    expect(page.get_by_role("button", name="Red probe on S1:14")).to_be_visible()
    reads(page, "230.9")
    page.get_by_role("button", name="Take off").click()
    reads(page, "- - -")


def test_a_wire_has_its_number_and_size(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    page.mouse.click(*spot(page, "Control", 9, 31))
    expect(page.get_by_role("heading", name="Wire 4")).to_be_visible()
    page.get_by_label("Cross-section, mm²").fill("2,5")
    page.get_by_label("Cross-section, mm²").press("Enter")
    page.get_by_label("Number").fill("44")
    page.get_by_label("Number").press("Enter")
    expect(page.get_by_role("heading", name="Wire 44")).to_be_visible()
    saved(page)
    wires = call(site, "GET", f"/jobs/{job}")["circuit"]["conductors"]
    assert [(w["number"], w["cross_section_mm2"]) for w in wires if w["number"] == "44"] == [("44", 2.5)]
    expect(terminal(page, "S1:14")).to_be_visible()
