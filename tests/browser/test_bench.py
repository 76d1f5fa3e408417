"""Instruments in the hand, meters left in the circuit, time that can be held, and faults put in by hand."""

import re
from itertools import pairwise

import pytest
from playwright.sync_api import Page, expect

from tests.browser.bench import back_to, hold, open_job, probe, reads, release, says, terminal
from tests.browser.conftest import Server


def take(page: Page, instrument: str) -> None:
    page.get_by_label("Instrument").select_option(label=instrument)


def start(page: Page) -> None:
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)


def test_ohms_on_a_live_circuit_are_refused_and_read_on_a_dead_one(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_job(page, site)
    take(page, "Ohms, continuity")
    probe(page, "S1:13", "S1:14")
    expect(page.get_by_test_id("note")).to_contain_text("never measure resistance on a live circuit")
    reads(page, "- - -")
    page.get_by_role("button", name="Q1 Isolator Handle").click()
    probe(page, "K1:A1", "K1:A2")
    reads(page, "516.6")
    page.get_by_role("button", name="Why?").click()
    expect(page.get_by_test_id("explanation")).to_contain_text("K1")
    terminal(page, "S0:11").click()
    terminal(page, "S0:12").click()
    expect(page.get_by_text("beeps")).to_be_visible()


def test_each_tester_shows_what_it_is_made_to_show(page: Page, site: Server, quiet_console: list[str]) -> None:
    open_job(page, site)
    take(page, "Two-pole tester")
    probe(page, "S0:11", "M1:PE")
    reads(page, "230 V AC")
    expect(page.get_by_test_id("note")).to_have_text("A live pole at the red probe.")
    take(page, "Phase-sequence tester")
    for at in ("Q1:1", "Q1:3", "Q1:5"):
        terminal(page, at).click()
    reads(page, "clockwise")
    page.get_by_role("button", name=re.compile("^G1 .*Swap$")).click()
    reads(page, "counter-clockwise")
    take(page, "Insulation tester")
    expect(page.get_by_test_id("note")).to_contain_text("never test insulation on a live circuit")
    take(page, "Low-impedance voltmeter")
    probe(page, "S1:13", "S1:14")
    expect(page.get_by_test_id("reading")).to_have_text(re.compile(r"^(1[89]\d|20\d|21\d)\.\d$"))


def test_a_clamp_goes_around_wires_and_says_what_they_feed(page: Page, site: Server) -> None:
    open_job(page, site)
    start(page)
    take(page, "Current clamp")
    expect(page.get_by_test_id("note")).to_have_text("Click the conductors that go through the jaw.")
    box = terminal(page, "M1:U1").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] - 14)
    expect(page.get_by_role("group", name="In the jaw").get_by_role("button")).to_have_count(1)
    expect(page.get_by_test_id("reading")).to_have_text(re.compile(r"^[23]\.\d\d$"))
    # It kept the current of the start: six times what runs.
    expect(page.get_by_test_id("largest")).to_have_text(
        re.compile(r"^Largest so far (1[5-9]|2\d)\.\d\d A, at \d\.\d{3} s$")
    )
    page.get_by_role("button", name="Why?").click()
    expect(page.get_by_test_id("explanation")).to_contain_text("M1")
    page.get_by_role("button", name="Flow").click()
    expect(page.locator("[data-flow] text").first).to_have_text(re.compile(r" A$"))
    # Two of three lines carry together what the third does, one of them turned the root of three times as much.
    alone = float(page.get_by_test_id("reading").inner_text())
    box = terminal(page, "M1:V1").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] - 14)
    expect(page.get_by_test_id("reading")).to_have_text(f"{alone:.2f}")
    page.get_by_role("button", name=re.compile("M1:V1 enters the jaw the other way")).click()
    expect(page.get_by_test_id("reading")).not_to_have_text(f"{alone:.2f}")
    assert float(page.get_by_test_id("reading").inner_text()) == pytest.approx(3**0.5 * alone, abs=0.02)


def test_meters_are_left_in_the_circuit_by_letters_and_read_on(page: Page, site: Server) -> None:
    open_job(page, site)
    probe(page, "S1:13", "S1:14")
    reads(page, "230.9")
    page.get_by_role("button", name="Leave a meter here").click()
    probe(page, "K1:A1", "K1:A2")
    page.get_by_role("button", name="Leave a meter here").click()
    pins = page.get_by_role("region", name="Meters left in the circuit")
    expect(pins.locator('[data-pin="A"]')).to_have_text("230.9 V")
    expect(pins.locator('[data-pin="B"]')).to_have_text("0.000 V")
    start(page)
    expect(pins.locator('[data-pin="A"]')).to_have_text(re.compile(r"^0\.0\d\d V$"))
    expect(pins.locator('[data-pin="B"]')).to_have_text("230.7 V")
    expect(page.locator(".pin-mark")).to_have_count(4)
    pins.get_by_role("button", name="Take meter A off").click()
    expect(page.locator(".pin-mark")).to_have_count(2)


def test_time_stands_still_goes_back_and_on_another_way(page: Page, site: Server, quiet_console: list[str]) -> None:
    open_job(page, site)
    start(page)
    says(page, "M1", "turns forward")
    back_to(page, "K1", "out")
    was = page.get_by_test_id("clock").inner_text()
    page.wait_for_timeout(300)
    expect(page.get_by_test_id("clock")).to_have_text(was)
    # Another hand at that moment: the overload trips, and start does nothing.
    page.get_by_role("button", name="F2 Motor overload Trip by hand").click()
    page.get_by_role("button", name="Go on").click()
    hold(page, "S1 Start Press")
    release(page)
    says(page, "K1", "out")
    page.get_by_role("button", name=re.compile("^What went on at")).first.click()
    says(page, "K1", "in")
    says(page, "F2", "set")


def test_the_chart_goes_to_any_moment_by_click_and_by_key(page: Page, site: Server) -> None:
    open_job(page, site)
    start(page)
    page.wait_for_timeout(1200)
    chart = page.get_by_role("slider", name="States over time")
    box = chart.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] - 90, box["y"] + 20)
    expect(page.get_by_role("button", name="Go on")).to_be_visible()
    at = page.get_by_test_id("clock").inner_text()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_test_id("clock")).not_to_have_text(at)
    with page.expect_download() as saved:
        page.get_by_role("button", name="CSV").click()
    lines = saved.value.path().read_text("utf-8").splitlines()
    assert lines[0].startswith("time (s),S0,S1,K1")
    assert len(lines) > 2


def test_a_fault_is_put_in_switched_and_taken_out(page: Page, site: Server, quiet_console: list[str]) -> None:
    open_job(page, site)
    start(page)
    page.get_by_role("button", name="Insert fault").click()
    page.get_by_label("Which fault").fill("coil K1 open")
    page.get_by_role("button", name="The coil K1 is open").click()
    says(page, "K1", "out")
    faults = page.get_by_role("list", name="Faults in the circuit")
    page.get_by_role("button", name="Compare with the sound circuit").click()
    rows = page.get_by_role("table", name="With and without the faults").locator("tbody tr")
    expect(rows.first).to_contain_text("K1")
    expect(rows.first).to_have_class("first")
    start_button = "S1 Start Press"
    hold(page, start_button)
    release(page)
    says(page, "K1", "out")
    faults.get_by_role("checkbox").uncheck()
    start(page)
    page.get_by_role("button", name="Remove: The coil K1 is open").click()
    expect(faults.get_by_role("listitem")).to_have_count(0)
    says(page, "K1", "in")


def test_a_fault_that_is_written_out_is_understood_or_asked_about(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_job(page, site)
    page.get_by_role("button", name="Insert fault").click()
    words = page.get_by_label("Which fault")
    words.fill("K1:A9=open")
    words.press("Enter")
    expect(page.get_by_text("There is no terminal K1:A9 in this circuit.")).to_be_visible()
    expect(words).to_have_value("K1:A9=open")
    # A refusal is told on the screen; the browser notes it too.
    quiet_console.clear()
    words.fill("S1:13=to S1:14")
    words.press("Enter")
    expect(page.get_by_text("A bridge from S1:13 to S1:14")).to_be_visible()
    says(page, "K1", "in")


def test_the_map_shows_what_is_hot_and_what_is_cold_to_the_black_probe(page: Page, site: Server) -> None:
    open_job(page, site)
    page.get_by_role("button", name="Black probe").click()
    terminal(page, "K1:A2").click()
    page.get_by_role("button", name="Map", exact=True).click()
    figure = page.locator('[data-potential="start:14"]')
    expect(figure).to_have_text("0.0")
    expect(page.locator('[data-potential="start:13"]')).to_have_text("231")
    expect(page.locator('[data-potential="contactor:A2"]')).to_have_text("ref")
    start(page)
    expect(figure).to_have_text("231")
    page.get_by_role("button", name="Map", exact=True).click()
    expect(page.locator("[data-potential]")).to_have_count(0)


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (768, 1024), (390, 844)])
def test_a_selector_is_one_switch_and_a_name_stands_below_what_it_names(
    page: Page, site: Server, width: int, height: int
) -> None:
    """Its positions in one row, no word broken; the same however wide the door is."""
    open_job(page, site, "hand-off-auto")
    page.set_viewport_size({"width": width, "height": height})
    if width < 1024:
        page.get_by_role("button", name="Door", exact=True).click()
    switch = page.get_by_role("group", name="Positions of S3")
    expect(switch.get_by_role("button", pressed=True)).to_have_text("Off")
    boxes = [position.bounding_box() for position in switch.get_by_role("button").all()]
    assert [text.strip() for text in switch.get_by_role("button").all_inner_texts()] == ["Hand", "Off", "Auto"]
    tops = {round(box["y"]) for box in boxes if box}
    assert len(boxes) == 3
    assert len(tops) == 1
    for left, right in pairwise(box for box in boxes if box):
        assert left["x"] + left["width"] == pytest.approx(right["x"], abs=1.5)
    lines = switch.get_by_role("button").evaluate_all("all => all.map((one) => one.scrollWidth <= one.clientWidth + 1)")
    assert lines == [True, True, True]
    stop = page.get_by_role("button", name="S0 Stop Press")
    name = page.locator(".door strong", has_text=re.compile("^S0$"))
    button, label = stop.bounding_box(), name.bounding_box()
    assert button
    assert label
    assert label["y"] >= button["y"] + button["height"] - 2
    switch.get_by_role("button", name="Turn to auto").click()
    expect(switch.get_by_role("button", pressed=True)).to_have_text("Auto")


def test_faults_are_narrowed_by_kind_and_by_words(page: Page, site: Server) -> None:
    open_job(page, site, "hand-off-auto")
    page.get_by_role("button", name="Insert fault").click()
    kinds = page.get_by_role("group", name="Kinds of fault")
    stuck = kinds.get_by_role("button", name=re.compile(r"^Stuck \d+$"))
    count = int(stuck.inner_text().split()[-1])
    stuck.click()
    offered = page.get_by_role("list", name="Faults to choose from").get_by_role("listitem")
    expect(offered.first).to_contain_text("does not move")
    assert all("does not move" in words for words in offered.all_inner_texts())
    page.get_by_label("Which fault").fill("K1")
    expect(offered).to_have_text(["K1 does not move"])
    expect(kinds.get_by_role("button", name=re.compile("^Stuck"))).to_have_text("Stuck 1")
    assert count > 5
    # Once more: every kind again.
    kinds.get_by_role("button", name="Stuck 1").click()
    expect(offered.first).not_to_contain_text("does not move")
    offered.first.click()
    expect(page.get_by_role("list", name="Faults in the circuit").get_by_role("listitem")).to_have_count(1)
