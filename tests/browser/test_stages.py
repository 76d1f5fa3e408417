"""Stages are loaded when opened and stay without the server; commands are found by key, by list and by word."""

import re

from playwright.sync_api import Page, expect

from tests.browser.bench import call, find, hold, open_job, part, put, release, saved, says, terminal
from tests.browser.conftest import Server


def test_a_stage_opens_without_the_server_once_another_was_open(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_job(page, site, stage="draw")
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    page.get_by_role("button", name="Run", exact=True).click()
    expect(page.get_by_role("heading", name="Voltmeter")).to_be_visible()
    expect(page.get_by_text("The server does not answer.")).to_be_visible()
    page.context.set_offline(False)
    page.get_by_role("button", name="Try again").click()
    expect(page.locator('[data-says="K1"]')).to_have_text("out")
    assert all("ERR_" in told for told in quiet_console)
    quiet_console.clear()


def test_a_stage_that_cannot_be_loaded_says_so_and_can_be_tried_again(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    page.route("**/assets/run-*.js", lambda route: route.abort())
    page.goto(f"{site.address}/jobs/{job}/run")
    expect(page.get_by_text("This stage could not be loaded.")).to_be_visible()
    page.unroute("**/assets/run-*.js")
    page.get_by_role("button", name="Try again").click()
    expect(page.locator('[data-says="K1"]')).to_have_text("out")
    assert all("ERR_" in told for told in quiet_console)
    quiet_console.clear()


def test_the_list_of_keys_is_made_from_the_commands_and_does_them(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    part(page, "H1 Lamp").click(force=True)
    page.get_by_role("button", name="Keys").click()
    expect(page.get_by_role("menuitem", name="Undo")).to_contain_text("Ctrl+Z")
    page.get_by_role("menuitem", name="Delete").click()
    expect(part(page, "H1 Lamp")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(part(page, "H1 Lamp")).to_have_count(1)
    find(page, "redo")
    expect(part(page, "H1 Lamp")).to_have_count(0)


def test_a_latching_relay_is_drawn_wired_and_run_like_any_other(page: Page, site: Server) -> None:
    """Nothing in the browser has been told of it but its symbol."""
    job = open_job(page, site, template=None, stage="draw")
    for title, x, y in (
        ("Single-phase supply", 8, 2),
        ("Latching relay, set and reset", 8, 22),
        ("Push button, NO", 8, 12),
        ("Indicator lamp", 24, 22),
    ):
        put(page, title, "Control", x, y)
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    assert [device["kind"] for device in circuit["devices"]] == [
        "supply_single_phase",
        "latching_relay",
        "push_button",
        "lamp",
    ]
    for a, b in (("G1:L", "S1:13"), ("S1:14", "K1:A1"), ("K1:A2", "G1:N")):
        terminal(page, a).click()
        terminal(page, b).click()
    saved(page)
    page.get_by_role("button", name="Run", exact=True).click()
    says(page, "K1", "reset")
    hold(page, "S1 Press")
    release(page)
    says(page, "K1", "set")
    # Its lever is moved by hand only where nothing is live.
    page.get_by_role("button", name="K1 Lever to set").click()
    expect(page.get_by_text("By hand only when isolated and locked out.")).to_be_visible()
    says(page, "K1", "set")
    page.get_by_role("button", name=re.compile("^G1 .*Supply on")).click()
    page.get_by_role("button", name="K1 Lever to set").click()
    says(page, "K1", "reset")
