"""Run and measure, as an apprentice does."""

import re

from playwright.sync_api import Page, expect

from tests.browser.bench import hold, open_job, probe, probe_keys, reads, release, says, show_sheets, spot, terminal
from tests.browser.conftest import Server


def test_from_the_list_to_a_running_probed_circuit(page: Page, site: Server) -> None:
    page.goto(site.address)
    expect(page.get_by_text("No jobs yet")).to_be_visible()
    page.get_by_role("link", name="From the library").click()
    page.get_by_label("Search the library").fill("sump before buttons")
    page.get_by_role("button", name="Open as a job: Condensate sump pump").click()
    says(page, "M1", "still")
    show_sheets(page)
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "M1", "turns forward")
    says(page, "H1", "lit")
    says(page, "H2", "dark")
    probe(page, "K1:A1", "K1:A2")
    reads(page, "230.7")
    page.get_by_label("Wire Trace, all jobs").click()
    expect(page.get_by_role("link", name="Condensate sump pump")).to_be_visible()


def test_a_held_stop_holds_and_a_released_one_does_not_restart(page: Page, site: Server) -> None:
    open_job(page, site)
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    hold(page, "S0 Stop Press")
    says(page, "K1", "out")
    says(page, "M1", "still")
    release(page)
    says(page, "H2", "lit")
    says(page, "K1", "out")


def test_the_symbols_on_the_sheet_can_be_held_too(page: Page, site: Server) -> None:
    open_job(page, site)
    symbol = page.locator('.part[aria-label^="S1 Contact 13-14"]')
    page.mouse.move(*spot(page, "Control", 9, 26))
    page.mouse.down()
    says(page, "K1", "in")
    expect(symbol).to_have_class(re.compile("active"))
    page.mouse.up()
    expect(symbol).not_to_have_class(re.compile("active"))
    says(page, "K1", "in")


def test_trip_and_reset_by_hand_and_a_supply_failure(page: Page, site: Server) -> None:
    open_job(page, site)
    hold(page, "S1 Start Press")
    release(page)
    says(page, "K1", "in")
    page.get_by_role("button", name="F2 Motor overload Trip by hand").click()
    says(page, "F2", "tripped")
    says(page, "K1", "out")
    says(page, "H3", "lit")
    page.get_by_role("button", name="F2 Motor overload Reset").click()
    says(page, "F2", "set")
    says(page, "K1", "out")
    hold(page, "S1 Start Press")
    release(page)
    says(page, "K1", "in")
    page.get_by_role("button", name="G1 Incoming supply Supply on").click()
    says(page, "K1", "out")
    says(page, "H2", "dark")
    page.get_by_role("button", name="G1 Incoming supply Supply on").click()
    says(page, "H2", "lit")
    says(page, "K1", "out")


def test_readings_follow_live_on_control_and_power_side(page: Page, site: Server) -> None:
    open_job(page, site)
    probe(page, "S1:13", "S1:14")
    reads(page, "230.9")
    hold(page, "S1 Start Press")
    reads(page, "0.000")
    says(page, "K1", "in")
    release(page)
    reads(page, "0.002")
    probe(page, "M1:U1", "M1:V1")
    reads(page, "398.0")
    hold(page, "S0 Stop Press")
    reads(page, "0.000")
    expect(page.get_by_text("No return path between the probes.")).to_be_hidden()
    release(page)


def test_without_a_return_path_the_meter_says_so(page: Page, site: Server) -> None:
    open_job(page, site)
    hold(page, "S0 Stop Press")
    probe_keys(page, "S0:12", "S1:14")
    reads(page, "0.000")
    expect(page.get_by_text("No return path between the probes.")).to_be_visible()


def test_why_is_told_in_two_sentences_and_drawn(page: Page, site: Server) -> None:
    open_job(page, site)
    probe(page, "S1:13", "S1:14")
    page.get_by_role("button", name="Why?").click()
    told = page.get_by_test_id("explanation")
    expect(told).to_contain_text("Red, on S1:13 (wire 3), is joined to L1 through S0, F2 95-96, F1 and Q1 1-2.")
    expect(told).to_contain_text("Black, on S1:14 (wire 4), reaches N only through the coil K1")
    for hand in ("red", "black"):
        assert len(page.locator(f".trace.{hand}").get_attribute("d") or "") > 20
    hold(page, "S1 Start Press")
    expect(told).to_be_hidden()
    release(page)


def test_potentials_are_shown_by_line_style(page: Page, site: Server) -> None:
    open_job(page, site)

    def standing(number: str, kind: str) -> None:
        expect(page.locator(f'[data-wire="{number}"]').first).to_have_attribute("data-standing", kind)

    standing("1", "live")
    standing("4", "load")
    standing("N", "neutral")
    standing("PE", "earth")
    hold(page, "S0 Stop Press")
    standing("3", "none")
    release(page)
    standing("3", "live")
    dashes = page.evaluate(
        """() => Object.fromEntries(['live', 'neutral', 'earth', 'load', 'none'].map((kind) => {
            const style = getComputedStyle(document.querySelector('[role=group] .wire.' + kind));
            return [kind, [style.strokeDasharray, style.strokeWidth, style.stroke].join(' ')];
        }))"""
    )
    assert len(set(dashes.values())) == 5


def test_keyboard_alone_starts_measures_and_asks_why(page: Page, site: Server) -> None:
    open_job(page, site)
    says(page, "K1", "out")
    page.get_by_role("button", name="S1 Start Press").focus()
    page.keyboard.down("Enter")
    says(page, "K1", "in")
    page.keyboard.up("Enter")
    says(page, "K1", "in")
    expect(page.get_by_role("button", name="S1 Start Press")).to_have_attribute("aria-pressed", "false")
    probe_keys(page, "K1:A1", "K1:A2")
    reads(page, "230.7")
    page.get_by_role("button", name="Why?").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("explanation")).to_contain_text("Red, on K1:A1")


def test_a_button_can_be_latched_for_those_with_one_hand(page: Page, site: Server) -> None:
    open_job(page, site)
    stop = page.get_by_role("button", name="S0 Stop Press")
    stop.click(modifiers=["Shift"])
    expect(stop).to_have_attribute("aria-pressed", "true")
    hold(page, "S1 Start Press")
    page.wait_for_timeout(200)
    says(page, "K1", "out")
    release(page)
    stop.click()
    expect(stop).to_have_attribute("aria-pressed", "false")


def test_touch_holds_as_a_mouse_does(page: Page, site: Server) -> None:
    open_job(page, site)
    box = page.get_by_role("button", name="S1 Start Press").bounding_box()
    assert box is not None
    touch = {"x": box["x"] + box["width"] / 2, "y": box["y"] + box["height"] / 2}
    session = page.context.new_cdp_session(page)
    session.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [touch]})
    says(page, "K1", "in")
    expect(page.get_by_role("button", name="S1 Start Press")).to_have_attribute("aria-pressed", "true")
    session.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    expect(page.get_by_role("button", name="S1 Start Press")).to_have_attribute("aria-pressed", "false")
    says(page, "K1", "in")


def test_every_terminal_has_a_name_for_a_screen_reader(page: Page, site: Server) -> None:
    open_job(page, site)
    expect(terminal(page, "S1:14")).to_have_attribute("aria-label", "Terminal S1:14, only through a load")
    names = page.locator(".terminal").evaluate_all("all => all.map((t) => t.getAttribute('aria-label'))")
    assert len(names) > 50
    assert all(name.startswith("Terminal ") for name in names)
