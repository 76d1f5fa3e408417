"""Why a device stands as it does, times that run, what a short circuit did, and a way back to before it."""

import re

from playwright.sync_api import Page, expect

from tests.browser.bench import hold, open_job, probe, release, says
from tests.browser.conftest import Server


def ask_why(page: Page, label: str) -> None:
    page.locator(f'[data-says="{label}"]').click()


def put_fault(page: Page, words: str) -> None:
    page.get_by_role("button", name="Insert fault").click()
    page.get_by_label("Which fault").fill(words)
    page.keyboard.press("Enter")


def test_a_contactor_says_what_is_missing_and_what_made_it_pull_in(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_job(page, site)
    ask_why(page, "K1")
    why = page.get_by_test_id("why")
    expect(why).to_contain_text("the way from L1 to K1:A1 is open at S1.")
    expect(page.locator(".gap")).to_have_attribute("d", re.compile("^M"))
    # The missing link is tried at once, and stays held.
    why.get_by_role("button", name="Try S1").click()
    says(page, "K1", "in")
    says(page, "M1", "turns forward")
    ask_why(page, "M1")
    expect(why).to_contain_text("Its leads are fed: M1:U1 from L1; M1:V1 from L2; M1:W1 from L3.")
    causes = page.get_by_label("How it came to that").get_by_role("listitem")
    expect(causes.nth(0)).to_contain_text("when K1 1-2 closed.")
    expect(causes.nth(1)).to_contain_text("18 ms after S1 closed.")
    expect(causes.nth(2)).to_contain_text("a hand worked it (press).")
    # A cause is a moment: there the button has just closed and the contactor is still out.
    causes.nth(2).get_by_role("button").click()
    says(page, "K1", "out")
    why.get_by_role("button", name="Close the reason").click()
    expect(why).to_have_count(0)


def test_a_key_asks_why_at_the_cursor(page: Page, site: Server) -> None:
    open_job(page, site)
    page.locator(".part[aria-label^='K1 Coil']").hover()
    page.locator(".board").focus()
    for _ in range(60):
        page.keyboard.press("n")
        if "K1:A1" in page.locator("[aria-live=polite].unseen").last.inner_text():
            break
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("w")
    expect(page.get_by_test_id("why")).to_contain_text("K1: out.")


def test_a_short_circuit_is_shown_with_its_way_and_undone(page: Page, site: Server, quiet_console: list[str]) -> None:
    open_job(page, site)
    put_fault(page, "K1:A1=to K1:A2")
    hold(page, "S1 Start Press")
    says(page, "F1", "tripped")
    release(page)
    notice = page.get_by_role("status").filter(has_text="F1 Control circuit: tripped.")
    notice.get_by_role("button", name="Why?").click()
    why = page.get_by_test_id("why")
    expect(why).to_contain_text(re.compile(r"a short circuit of 8\d\d\.\d A from L1 to N through Q1 1-2, F1, F2 95-96"))
    expect(page.get_by_test_id("short-circuit")).to_have_attribute("d", re.compile("^M"))
    notice.get_by_role("button", name="Before it").click()
    says(page, "F1", "on")
    # From there on without the fault: nothing trips, and what was left can be taken up again.
    page.get_by_label("Faults in the circuit").get_by_role("checkbox").uncheck()
    page.get_by_role("button", name="Go on").click()
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "F1", "on")
    expect(page.get_by_role("button", name=re.compile("What went on at"))).to_have_count(1)


def test_a_timer_shows_how_much_of_its_time_is_left(page: Page, site: Server) -> None:
    open_job(page, site, "star-delta-timer-first-closure")
    hold(page, "S1 Start Press")
    says(page, "K4", "star")
    release(page)
    left = page.locator('[data-clock="K4"] text').first
    expect(left).to_have_text(re.compile(r"^[0-3]\.\d$"))
    expect(page.locator(".part.changed").first).to_be_visible()
    says(page, "K4", "delta")
    expect(page.locator('[data-clock="K4"]')).to_have_count(0)


def test_a_lost_phase_hums_without_a_monitor_and_stops_with_one(page: Page, site: Server) -> None:
    open_job(page, site)
    page.get_by_role("button", name=re.compile("^G1 .*L2 present")).click()
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "M1", "hums")
    open_job(page, site, "phase-monitor")
    says(page, "K9", "healthy")
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    page.get_by_role("button", name=re.compile("^G1 .*L2 present")).click()
    says(page, "K9", "undervoltage")
    says(page, "K1", "out")
    ask_why(page, "K1")
    expect(page.get_by_label("How it came to that")).to_contain_text("K9 11-14 opened.")


def test_an_armature_is_pushed_by_hand_only_where_the_supply_is_locked_off(page: Page, site: Server) -> None:
    open_job(page, site)
    push = page.get_by_role("button", name="K1 Pump contactor Push the armature in")
    push.click(modifiers=["Shift"])
    expect(page.get_by_text("By hand only when isolated and locked out.")).to_be_visible()
    says(page, "K1", "out")
    page.get_by_role("button", name="Understood").click()
    # The padlock goes on in the off position alone, and then the handle stays there.
    lock = page.get_by_role("button", name="Q1 Isolator Lock off")
    lock.click()
    says(page, "Q1", "on")
    page.get_by_role("button", name="Q1 Isolator Handle").click()
    says(page, "Q1", "off")
    lock.click()
    says(page, "Q1", "locked off")
    page.get_by_role("button", name="Q1 Isolator Handle").click()
    says(page, "Q1", "locked off")
    push.click(modifiers=["Shift"])
    says(page, "K1", "in")


def test_the_load_is_in_the_hand_and_an_overloaded_motor_trips_its_relay(page: Page, site: Server) -> None:
    open_job(page, site)
    page.get_by_label("Load of M1").select_option(label="jammed")
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "M1", "hums")
    says(page, "F2", "tripped")
    page.get_by_label("Load of M1").select_option(label="no load")
    expect(page.get_by_label("Faults in the circuit")).to_contain_text("M1, load: no load")
    page.get_by_label("Load of M1").select_option(label="load as set")
    expect(page.get_by_label("Faults in the circuit").get_by_role("listitem")).to_have_count(0)


def test_maps_of_two_moments_stand_side_by_side(page: Page, site: Server, quiet_console: list[str]) -> None:
    open_job(page, site)
    probe(page, "S1:13", "K1:A2")
    page.get_by_role("button", name="Map", exact=True).click()
    page.get_by_role("button", name="Table", exact=True).click()
    table = page.get_by_role("dialog", name="Potentials to K1:A2")
    row = table.get_by_role("row").filter(has=page.get_by_role("rowheader", name="K1:A1"))
    expect(row.get_by_role("cell")).to_have_count(1)
    expect(row.get_by_role("cell").first).to_have_text("0.000")
    table.get_by_role("button", name="Keep this moment beside").click()
    table.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="S1 Start Press").click(modifiers=["Shift"])
    says(page, "M1", "turns forward")
    page.get_by_role("button", name="Table", exact=True).click()
    expect(row.get_by_role("cell")).to_have_text(["0.000", "230.7"])
    expect(row.get_by_role("cell").last).to_have_class("changed")


def test_the_bench_is_worked_by_keyboard_alone(page: Page, site: Server, quiet_console: list[str]) -> None:
    """A fault put in, the button held, time stood still and stepped, the reason asked, the fault taken out again."""

    def press(name: str | re.Pattern[str], key: str = "Enter") -> None:
        page.get_by_role("button", name=name).first.focus()
        page.keyboard.press(key)

    open_job(page, site)
    press("Insert fault")
    page.keyboard.type("K1:A1=open")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Faults in the circuit")).to_contain_text("K1:A1 is loose")
    press("S1 Start Press", "Shift+Enter")
    press(re.compile("why does K1 say so"))
    expect(page.get_by_test_id("why")).to_contain_text("K1: out.")
    page.get_by_label("Faults in the circuit").get_by_role("checkbox").focus()
    page.keyboard.press("Space")
    says(page, "K1", "in")
    press("Stand still")
    press("Previous event")
    press("Previous event")
    press("Go on")
    press("Predict")
    press("Make a sheet")
    expect(page.get_by_text("No meter is left in the circuit yet")).to_be_visible()
    press("Sequence")
    press("What it should do")
    press("State table")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_the_clamp_keeps_the_largest_current_of_a_star_delta_run_up(page: Page, site: Server) -> None:
    """In star a third of 7 times 15.5 A at most; closing in delta is what is largest."""
    open_job(page, site, "star-delta-timer-first-closure")
    page.get_by_label("Instrument").select_option(label="Current clamp")
    wire = page.locator('[data-wire="L1"] path').first
    box = wire.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.get_by_label("In the jaw").get_by_role("button")).to_have_count(1)
    hold(page, "S1 Start Press")
    says(page, "K2", "in")
    release(page)
    says(page, "K3", "in")
    page.wait_for_timeout(500)
    text = page.get_by_test_id("largest").inner_text()
    found = re.match(r"Largest so far (\d+\.\d+) A, at (\d+\.\d+) s", text)
    assert found is not None, text
    assert 30 < float(found[1]) < 110


def test_two_buttons_held_at_once_let_neither_contactor_in(page: Page, site: Server) -> None:
    open_job(page, site, "reversing-interlocked")
    for name in ("S1 Open vent Press", "S2 Close vent Press"):
        page.get_by_role("button", name=name).click(modifiers=["Shift"])
    page.wait_for_timeout(400)
    says(page, "K1", "out")
    says(page, "K2", "out")
    page.get_by_role("button", name="S2 Close vent Press").click()
    says(page, "K1", "in")


def test_reversing_without_interlocks_is_a_short_circuit_and_can_be_undone(page: Page, site: Server) -> None:
    open_job(page, site, "reversing-interlocked")
    for words in ("S1/11-12=welded", "S2/11-12=welded", "K1/21-22=welded", "K2/21-22=welded"):
        put_fault(page, words)
        expect(page.get_by_label("Faults in the circuit")).to_contain_text(words[:2])
    for name in ("S1 Open vent Press", "S2 Close vent Press"):
        page.get_by_role("button", name=name).click(modifiers=["Shift"])
    says(page, "Q2", "tripped")
    notice = page.get_by_role("status").filter(has_text="Q2")
    notice.get_by_role("button", name="Why?").click()
    expect(page.get_by_test_id("why")).to_contain_text(re.compile(r"a short circuit of [\d.]+ A from L\d to L\d"))
    notice.get_by_role("button", name="Before it").click()
    says(page, "Q2", "on")
