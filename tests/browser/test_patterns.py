"""A circuit made to choices, from the list of jobs to a running motor."""

from playwright.sync_api import Page, expect

from tests.browser.bench import hold, release, says
from tests.browser.conftest import Server


def test_a_start_stop_with_two_stations_on_a_control_transformer(page: Page, site: Server) -> None:
    page.goto(site.address)
    page.get_by_role("button", name="From a pattern").click()
    page.get_by_label("Machine").fill("Drain pump")
    page.get_by_label("Pattern").select_option(label="Start-stop")
    page.get_by_label("Control voltage from", exact=True).select_option("control transformer")
    page.get_by_label("Stations", exact=True).select_option("2")
    page.get_by_text("Emergency stop", exact=True).click()
    page.get_by_role("button", name="Make the job").click()
    expect(page.locator('.part[aria-label^="S1.2 Contact"]')).to_be_visible()
    expect(page.get_by_test_id("check-summary")).to_contain_text("0 found")
    page.get_by_role("button", name="Run", exact=True).click()
    hold(page, "S1.2 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "M1", "turns forward")
    page.get_by_role("button", name="S9 Emergency stop Struck").click()
    says(page, "K1", "out")


def test_choices_that_a_pattern_has_no_use_for_are_not_asked(page: Page, site: Server) -> None:
    page.goto(site.address)
    page.get_by_role("button", name="An empty sheet").click()
    expect(page.get_by_label("Machine")).to_be_visible()
    expect(page.get_by_label("Stations", exact=True)).to_have_count(0)
    page.get_by_role("button", name="From a pattern").click()
    begin = page.get_by_label("Pattern")
    begin.select_option(label="Interlocked reversing")
    expect(page.get_by_label("Stations", exact=True)).to_be_visible()
    begin.select_option(label="Jog and run")
    expect(page.get_by_label("Stations", exact=True)).to_have_count(0)
    expect(page.get_by_label("Overload contact on the", exact=True)).to_be_visible()
