"""The check beside the sheet: found, set aside with a note, brought back, marked on the sheet."""

from playwright.sync_api import Page, expect

from tests.browser.bench import call, open_job, says
from tests.browser.conftest import Server
from tests.core.test_checks import line, rewired


def drawing(page: Page, site: Server, name: str) -> None:
    open_job(page, site, template=name)
    page.get_by_role("button", name="Draw", exact=True).click()


def test_a_finding_is_shown_set_aside_and_brought_back(page: Page, site: Server) -> None:
    drawing(page, site, "two-wire-float")
    check = page.get_by_role("region", name="Check")
    expect(check.get_by_test_id("check-summary")).to_have_text("1 found, 20 clear")
    expect(check).to_contain_text("K1 can come in by itself when the supply returns")
    marks = page.locator(".found-mark")
    expect(marks).to_have_count(2)  # coil and poles of K1
    check.get_by_role("button", name="Show").click()
    expect(page.get_by_role("region", name="Properties")).to_contain_text("K1, contactor")
    check.get_by_role("button", name="Set aside").click()
    page.get_by_label("Note").fill("Fenced off")
    page.keyboard.press("Enter")
    expect(check.get_by_test_id("check-summary")).to_have_text("0 found, 20 clear, 1 set aside")
    expect(check).to_contain_text("Set aside: Fenced off")
    expect(marks).to_have_count(0)
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    page.reload()
    expect(check).to_contain_text("Set aside: Fenced off")
    check.get_by_role("button", name="Bring back").click()
    expect(check.get_by_test_id("check-summary")).to_have_text("1 found, 20 clear")


def test_the_check_follows_the_drawing(page: Page, site: Server) -> None:
    drawing(page, site, "start-stop-overload-line")
    summary = page.get_by_test_id("check-summary")
    expect(summary).to_contain_text("0 found")
    page.locator('.part[aria-label^="F2 Heaters"] .halo').click(force=True)
    dial = page.get_by_label("Dial, A")
    dial.fill("9")
    dial.press("Enter")
    expect(page.get_by_role("region", name="Check")).to_contain_text("F2 is set to 9 A")
    expect(page.get_by_text("Check: 1 found")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(summary).to_contain_text("0 found")


def test_what_a_rule_cannot_judge_is_said_and_is_not_clear(page: Page, site: Server) -> None:
    """What a program makes of an overload contact, no wire tells."""
    open_job(page, site, template="star-delta-plc", stage="draw")
    expect(page.get_by_test_id("check-summary")).to_have_text("0 found, 37 clear, 1 that cannot be told")
    told = page.locator('[data-unclear="overload_contact"]')
    expect(told).to_contain_text("Cannot tell: overload relays open the control circuit")
    expect(told).to_contain_text("What the program makes of F2, no wire tells.")
    expect(page.get_by_text("Check: 1 cannot be told")).to_be_visible()


def test_a_seal_round_the_stop_is_found_as_one_draws_and_its_moves_are_played(page: Page, site: Server) -> None:
    made = rewired(line, c3_seal="a>stop:11").model_dump(mode="json")
    job = call(site, "POST", "/jobs", {"title": "Sealed past the stop", "circuit": made})["id"]
    page.goto(f"{site.address}/jobs/{job}/draw")
    card = page.locator('[data-rule="stop_stops"]')
    expect(card).to_contain_text("S0 does not stop K1: hold S1, let go of S1, hold S0; K1 stays in.")
    card.get_by_role("button", name="Play it").click()
    expect(page).to_have_url(f"{site.address}/jobs/{job}/run")
    # It ends with the stop held and the contactor in.
    held = page.get_by_role("img", name="S0 Contact 11-12, NC, pressed")
    expect(held).to_be_visible()
    says(page, "K1", "in")
    # It is played once: who comes back later finds the bench as he left it.
    page.get_by_role("button", name="Draw", exact=True).click()
    expect(card).to_be_visible()
    page.get_by_role("button", name="Run", exact=True).click()
    expect(held).to_be_visible()


def test_clear_is_not_said_while_the_circuit_is_still_being_worked(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    page.route("**/api/check/played", lambda route: route.abort())
    open_job(page, site, template="start-stop-overload-line", stage="draw")
    expect(page.get_by_text("Check: working it")).to_be_visible()
    page.unroute("**/api/check/played")
    quiet_console.clear()
    page.reload()
    expect(page.get_by_text("Check: clear")).to_be_visible()
    expect(page.get_by_test_id("check-worked")).to_contain_text("Held in 10 states, 19 moves.")


def test_a_narrow_screen_tells_what_was_found_without_the_pane_that_lists_it(page: Page, site: Server) -> None:
    page.set_viewport_size({"width": 768, "height": 1024})
    open_job(page, site, template="two-wire-float", stage="draw")
    expect(page.get_by_text("Check: 1 found")).to_be_visible()
    expect(page.locator(".found-mark")).to_have_count(2)


def test_the_diagram_of_states_follows_the_drawing_and_leads_to_the_bench(page: Page, site: Server) -> None:
    job = open_job(page, site, template="reversing-interlocked", stage="draw")
    page.get_by_role("button", name="States").click()
    states = page.get_by_role("region", name="States")
    expect(states.get_by_test_id("states-summary")).to_contain_text("4 states, of ")
    boxes = states.get_by_role("button", name="Show on the bench")
    expect(boxes).to_have_count(4)
    rows = states.get_by_role("row")
    expect(rows.filter(has_text="at rest").filter(has_text="hold S2")).to_have_count(1)
    # Without the overload relay's reset nothing changes; without K2's coil there is one state less.
    page.locator('.part[aria-label^="K2 Coil"] .halo').click(force=True)
    page.keyboard.press("Delete")
    expect(boxes).to_have_count(3)
    page.get_by_role("button", name="Undo").click()
    expect(boxes).to_have_count(4)
    # By key: to the state in which K2 is in, on the bench.
    there = states.get_by_role("button", name="State: K2 in, M1 turns backward. Show on the bench")
    there.focus()
    page.keyboard.press("Enter")
    expect(page).to_have_url(f"{site.address}/jobs/{job}/run")
    says(page, "K2", "in")
    says(page, "M1", "turns backward")


def test_the_diagram_is_saved_as_a_drawing_and_says_so_when_the_server_does_not_answer(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_job(page, site, template="start-stop-overload-line", stage="draw")
    page.get_by_role("button", name="States").click()
    states = page.get_by_role("region", name="States")
    expect(states.get_by_test_id("states-summary")).to_contain_text("3 states")
    with page.expect_download() as saved:
        states.get_by_role("button", name="SVG").click()
    text = saved.value.path().read_text(encoding="utf-8")
    assert saved.value.suggested_filename == "states.svg"
    assert "F2 tripped" in text
    assert "hold S1" in text
    page.get_by_role("button", name="States").click()
    page.route("**/api/check/diagram", lambda route: route.abort())
    page.get_by_role("button", name="States").click()
    expect(states).to_contain_text("server")
    quiet_console.clear()


def test_one_reason_why_many_rules_cannot_tell_is_said_once(page: Page, site: Server) -> None:
    """Behind a trip nothing was played: one box names the reason, and all that it is about."""
    open_job(page, site, template="residual-current-neutral-mistake", stage="draw")
    boxes = page.locator("[data-unclear~=stop_stops]")
    expect(boxes).to_have_count(1)
    expect(boxes).to_contain_text("every stop ends what it is there for; ")
    expect(boxes).to_contain_text("it was not played any further")
    expect(page.get_by_text("Where a protection trips, a contactor welds")).to_have_count(1)
