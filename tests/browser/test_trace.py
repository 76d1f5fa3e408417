"""Beside a real panel: from what is seen and read there to the fault, through a reload, and by keyboard."""

import re
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from tests.browser.bench import call, terminal
from tests.browser.conftest import Server
from tests.core.circuits import lamp
from wiretrace.layout.tidy import tidy

SECONDS = 60_000


def open_panel(page: Page, site: Server) -> int:
    """A job with a lamp behind a button, opened beside its panel when its fault dictionary is made."""
    circuit = tidy(lamp(), "iec").model_dump(mode="json")
    job: int = call(site, "POST", "/jobs", {"title": "Bench lamp", "circuit": circuit})["id"]
    page.goto(f"{site.address}/jobs/{job}/trace")
    page.get_by_role("button", name="Real panel").click()
    expect(page.get_by_label("Diagnosis")).to_be_visible(timeout=SECONDS)
    return job


def test_from_what_is_seen_and_read_to_the_fault(
    page: Page, site: Server, quiet_console: list[str], tmp_path: Path
) -> None:
    open_panel(page, site)
    page.get_by_role("button", name="2. Hold S1").click()
    page.get_by_label("What H1 does").select_option("dark")
    expect(page.get_by_label("What each observation told")).to_contain_text(
        re.compile(r"2\. Hold S1: H1: dark\. \d+ → \d+")
    )
    # The supply stands at the lamp and it is dark: it is the lamp, or one of its terminals.
    terminal(page, "H1:X1").click()
    terminal(page, "H1:X2").click()
    page.get_by_label("What the meter shows").fill("230,5 V")
    page.get_by_role("button", name="Note", exact=True).click()
    faults = page.get_by_label("Faults that fit").get_by_role("listitem")
    expect(faults.first).to_contain_text("H1")
    # What would make one of the two a slip is thought of besides, and said to be so.
    slips = faults.filter(has_text="if one reading was wrong")
    assert slips.count() > 0
    assert all("H1" in text or "if one reading was wrong" in text for text in faults.all_inner_texts())
    expect(page.locator(".part.changed").first).to_be_visible()
    # What was noted outlives a reload; one observation is taken back.
    page.reload()
    expect(page.get_by_label("Observations").get_by_role("listitem")).to_have_count(2, timeout=SECONDS)
    page.get_by_role("button", name=re.compile("^Forget H1:X1")).click()
    expect(page.get_by_label("Observations").get_by_role("listitem")).to_have_count(1)
    with page.expect_download() as found:
        page.get_by_role("button", name="Fault book (CSV)").click()
    assert "H1:X1 is loose" in Path(found.value.path()).read_text("utf-8")
    with page.expect_download() as found:
        page.get_by_role("button", name="Fault book (PDF)").click()
    assert Path(found.value.path()).read_bytes().startswith(b"%PDF")


def test_a_busy_server_is_asked_again_until_the_dictionary_is_done(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    refused = []

    def busy(route: Route) -> None:
        refused.append(route.request.url)
        if len(refused) > 3:
            route.continue_()
        else:
            route.fulfill(status=503, json={"title": "Busy", "detail": "Nobody has time.", "status": 503})

    page.route("**/api/trace/work", busy)
    circuit = tidy(lamp(), "iec").model_dump(mode="json")
    job = call(site, "POST", "/jobs", {"title": "Bench lamp", "circuit": circuit})["id"]
    page.goto(f"{site.address}/jobs/{job}/trace")
    page.get_by_role("button", name="Real panel").click()
    expect(page.get_by_text("Nobody has time.")).to_be_visible()
    expect(page.get_by_label("Diagnosis")).to_be_visible(timeout=SECONDS)
    expect(page.get_by_text("Nobody has time.")).to_have_count(0)
    quiet_console.clear()


def test_the_advice_is_followed_by_keyboard_alone(page: Page, site: Server) -> None:
    open_panel(page, site)
    page.get_by_role("button", name="2. Hold S1").focus()
    page.keyboard.press("Enter")
    page.get_by_label("What H1 does").focus()
    page.keyboard.type("dark")
    expect(page.get_by_label("Observations")).to_contain_text("dark")
    # What was advised before is told from what is advised now.
    expect(page.get_by_label("Measure next")).to_have_attribute("aria-busy", "false")
    advice = page.get_by_label("Measure next").get_by_role("button").filter(has_text=" to ").first
    advice.focus()
    page.keyboard.press("Enter")
    page.get_by_label("What the meter shows").focus()
    page.keyboard.type("0")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Observations").get_by_role("listitem")).to_have_count(2)


def test_a_reading_that_is_none_and_one_that_nothing_explains_are_said(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_panel(page, site)
    page.get_by_role("button", name="2. Hold S1").click()
    terminal(page, "H1:X1").click()
    terminal(page, "H1:X2").click()
    shows = page.get_by_label("What the meter shows")
    shows.fill("much")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is no reading")).to_be_visible()
    assert all("422" in error for error in quiet_console)
    quiet_console.clear()
    expect(page.get_by_label("Observations")).to_have_count(0)
    shows.fill("4711")
    page.keyboard.press("Enter")
    expect(page.get_by_text("does not fit: measure it again")).to_be_visible()


def test_who_knows_the_plant_better_weighs_the_faults_anew(page: Page, site: Server) -> None:
    open_panel(page, site)
    faults = page.get_by_label("Faults that fit").get_by_role("listitem")
    expect(faults.first).to_contain_text("loose")
    page.get_by_text("How often each kind comes about").click()
    page.get_by_label("Welded").fill("500")
    expect(faults.first).to_contain_text("welded")
    page.reload()
    expect(faults.first).to_contain_text("welded", timeout=SECONDS)


def note(page: Page, red: str, black: str, text: str) -> None:
    terminal(page, red).click()
    terminal(page, black).click()
    page.get_by_label("What the meter shows").fill(text)
    page.get_by_role("button", name="Note", exact=True).click()
    expect(page.get_by_label("Observations")).to_contain_text(text)


def test_where_no_known_fault_explains_it_rare_ones_and_pairs_follow_and_the_way_is_halved(
    page: Page, site: Server
) -> None:
    asked: list[str] = []
    page.on("request", lambda one: asked.append(one.post_data or "") if one.url.endswith("/trace/work") else None)
    open_panel(page, site)
    assert all('"reach":"likely"' in one for one in asked)
    # Whatever is seen may be noted, be it seen in no state that a fault leads to.
    page.get_by_role("button", name="2. Hold S1").click()
    options = page.get_by_label("What H1 does").get_by_role("option").all_inner_texts()
    assert "dark" in options
    page.get_by_label("What H1 does").select_option("lit")
    note(page, "H1:X1", "H1:X2", "0 V")
    expect(page.get_by_text("does not fit: measure it again")).to_have_count(1)
    page.get_by_role("button", name="It is the same again").click()
    # The other one is the slip now; it is so as well.
    page.get_by_role("button", name="It is the same again").click()
    beyond = page.get_by_label("Outside the known faults")
    expect(beyond).to_contain_text("No known fault explains this", timeout=SECONDS)
    assert any('"reach":"rare"' in one for one in asked)
    expect(page.get_by_text("are looked at too")).to_have_count(0, timeout=SECONDS)
    expect(page.get_by_text("though it came out the same twice").first).to_be_visible()
    # What is seen that is not as drawn leads to a place.
    page.get_by_label("What H1 does").select_option("dark")
    expect(beyond).to_have_count(0)


def test_what_was_found_is_kept_and_taken_back(page: Page, site: Server) -> None:
    open_panel(page, site)
    page.get_by_role("button", name="2. Hold S1").click()
    page.get_by_label("What H1 does").select_option("dark")
    was = page.get_by_role("button", name="This was it").first
    was.click()
    kept = page.get_by_role("button", pressed=True, name="This was it")
    expect(kept).to_have_text("Kept as found")
    page.get_by_text("How often each kind comes about").click()
    kept.click()
    expect(page.get_by_text("Kept as found")).to_have_count(0)
