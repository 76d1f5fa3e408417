"""What a circuit is to do, written beside the sheet, judged as one draws; what its buttons do; what is being drawn."""

from collections.abc import Callable

from playwright.sync_api import Page, Route, expect

from tests.browser.bench import call, open_job, says
from tests.browser.conftest import Server
from tests.core.circuits import with_params
from tests.core.test_checks import line, rewired
from wiretrace.document.circuit import Circuit


def opened(page: Page, site: Server, made: Circuit) -> int:
    """A job with this circuit, at its drawing."""
    circuit = made.model_dump(mode="json")
    job: int = call(site, "POST", "/jobs", {"title": "Bay 3", "circuit": circuit})["id"]
    page.goto(f"{site.address}/jobs/{job}/draw")
    return job


def described(page: Page, site: Server, made: Circuit) -> int:
    job = opened(page, site, made)
    page.get_by_role("button", name="Description", exact=True).click()
    return job


def held_back(routes: list[Route]) -> Callable[[Route], None]:
    """Answers that wait until they are let go."""
    return lambda route: routes.append(route)


bare = line.model_copy(update={"description": ()})


def test_a_description_is_written_held_and_broken_by_an_edit(page: Page, site: Server) -> None:
    job = described(page, site, bare)
    pane = page.get_by_role("region", name="Description")
    new = pane.get_by_label("New line")
    new.fill("when S0 is pressed, then K1 goes out")
    new.press("Enter")
    new.fill("when S1 is pressed and let go, then K1 stays in")
    new.press("Enter")
    expect(pane.get_by_label("Line 1", exact=True)).to_have_value("when S0 is pressed, then K1 goes out")
    standing = pane.locator("[data-standing]")
    expect(standing).to_have_text(["holds 2 times.", "holds 2 times."])
    # Two wires of the stop go: what was sealed in stays in.
    page.locator('.part[aria-label^="S0 Contact 11-12"] .halo').click(force=True)
    page.get_by_role("button", name="Delete S0 and its wires").click()
    expect(standing.first).to_contain_text("not understood There is no device S0.")
    page.get_by_role("button", name="Undo").click()
    expect(standing.first).to_contain_text("holds")
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Description", exact=True).click()
    expect(pane.get_by_label("Line 2", exact=True)).to_have_value("when S1 is pressed and let go, then K1 stays in")
    kept = call(site, "GET", f"/jobs/{job}")["circuit"]["description"]
    assert kept == ["when S0 is pressed, then K1 goes out", "when S1 is pressed and let go, then K1 stays in"]


def test_a_broken_line_is_found_and_its_moves_are_played(page: Page, site: Server) -> None:
    wrong = rewired(bare, c3_seal="a>stop:11")
    job = described(page, site, wrong.model_copy(update={"description": ("when S0 is pressed, then K1 goes out",)}))
    pane = page.get_by_role("region", name="Description")
    broken = pane.locator('[data-standing="broken"]')
    expect(broken).to_contain_text("does not hold Hold S1, let go of S1, hold S0: K1 is in.")
    expect(page.locator('[data-rule="described"]')).to_contain_text("It does not do this: when S0 is pressed")
    broken.get_by_role("button", name="Play it").click()
    expect(page).to_have_url(f"{site.address}/jobs/{job}/run")
    expect(page.get_by_role("img", name="S0 Contact 11-12, NC, pressed")).to_be_visible()
    says(page, "K1", "in")


def test_what_it_does_is_written_down_and_follows_a_new_name(page: Page, site: Server) -> None:
    described(page, site, bare)
    pane = page.get_by_role("region", name="Description")
    pane.get_by_role("button", name="when F2 trips, then K1 goes out").click()
    expect(pane.get_by_label("Line 1", exact=True)).to_have_value("when F2 trips, then K1 goes out")
    pane.get_by_role("button", name="Write all down").click()
    expect(pane.locator('[data-standing="held"]')).to_have_count(8)
    expect(pane).to_contain_text("All that was seen is written down.")
    page.locator('.part[aria-label^="F2 Contact 95-96"] .halo').click(force=True)
    name = page.get_by_label("Designation")
    name.fill("F12")
    name.press("Enter")
    expect(pane.get_by_label("Line 1", exact=True)).to_have_value("when F12 trips, then K1 goes out")
    expect(pane.locator('[data-standing="held"]')).to_have_count(8)
    # A line that is emptied goes, and one that is written anew is judged anew.
    first = pane.get_by_label("Line 1", exact=True)
    first.fill("when F12 trips, then K1 stays in")
    first.press("Enter")
    expect(pane.locator('[data-standing="broken"]')).to_contain_text("Hold S1, let go of S1, trip F12: K1 is out.")
    pane.get_by_role("button", name="Take line 1 away").click()
    expect(pane.locator("[data-standing]")).to_have_count(7)
    first.fill("half a line")
    first.press("Escape")
    expect(first).to_have_value("when S1 is pressed, then K1 goes in")


def test_a_line_that_is_still_being_typed_is_not_lost_by_a_click_on_another(page: Page, site: Server) -> None:
    described(page, site, bare)
    pane = page.get_by_role("region", name="Description")
    offer = pane.get_by_role("button", name="Write all down")
    expect(offer).to_be_visible()
    pane.get_by_label("New line").fill("never H1 is lit while H2 is lit")
    offer.click()
    expect(pane.get_by_label("Line 1", exact=True)).to_have_value("never H1 is lit while H2 is lit")
    expect(pane.locator('[data-standing="held"]')).to_have_count(9)


def test_a_button_is_told_what_it_does_and_says_so_with_one_click(page: Page, site: Server) -> None:
    unsaid = {"role": "unsaid", "colour": "green"}
    opened(page, site, with_params(bare, {"start": unsaid, "stop": unsaid}))
    told = page.get_by_role("region", name="What buttons do")
    expect(told).to_contain_text("S1 starts K1.")
    told.get_by_role("button", name="Make it a stop, red").click()
    expect(told).not_to_contain_text("S0 stops K1.")
    page.locator('.part[aria-label^="S0 Contact 11-12"] .halo').click(force=True)
    expect(page.get_by_label("Role")).to_have_value("stop")
    expect(page.get_by_role("combobox", name="Colour")).to_have_value("red")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Role")).to_have_value("unsaid")
    expect(page.get_by_role("combobox", name="Colour")).to_have_value("green")


def test_what_was_found_before_an_edit_is_marked_as_old_until_it_is_worked_anew(page: Page, site: Server) -> None:
    opened(page, site, rewired(bare, c3_seal="a>stop:11"))
    card = page.locator('[data-rule="stop_stops"]')
    expect(card).to_be_visible()
    expect(card).not_to_contain_text("Of the drawing as it was")
    waiting: list[Route] = []
    page.route("**/api/check/played", held_back(waiting))
    page.locator('.part[aria-label^="H1 Lamp"] .halo').click(force=True)
    page.get_by_role("button", name="Delete H1 and its wires").click()
    expect(card).to_contain_text("Of the drawing as it was")
    expect(page.get_by_test_id("check-summary")).to_contain_text("still working it")
    page.unroute("**/api/check/played")
    page.wait_for_timeout(900)
    for route in waiting:
        route.continue_()
    expect(card).not_to_contain_text("Of the drawing as it was")


def test_half_a_drawing_is_told_as_that(page: Page, site: Server) -> None:
    opened(page, site, bare.model_copy(update={"conductors": bare.conductors[:28]}))
    expect(page.get_by_text("Check: still being drawn")).to_be_visible()
    drawn = page.get_by_role("region", name="Still being drawn")
    expect(drawn).to_contain_text("K1:A2 has no wire")
    expect(page.get_by_test_id("check-summary")).to_contain_text("0 found")
    expect(page.locator(".found-mark")).to_have_count(0)


def test_a_diagram_of_a_drawing_that_was_changed_leads_nowhere(page: Page, site: Server) -> None:
    job = open_job(page, site, template="reversing-interlocked", stage="draw")
    page.get_by_role("button", name="States").click()
    states = page.get_by_role("region", name="States")
    there = states.get_by_role("button", name="State: K2 in, M1 turns backward. Show on the bench")
    expect(there).to_be_visible()
    waiting: list[Route] = []
    page.route("**/api/check/diagram", held_back(waiting))
    page.locator('.part[aria-label^="H1 Lamp"] .halo').click(force=True)
    page.get_by_role("button", name="Delete H1 and its wires").click()
    expect(states.get_by_test_id("states-summary")).to_contain_text("Of the circuit as it was")
    there.click(force=True)
    page.wait_for_timeout(300)
    expect(page).to_have_url(f"{site.address}/jobs/{job}/draw")
    page.unroute("**/api/check/diagram")
    for route in waiting:
        route.continue_()
    expect(states.get_by_test_id("states-summary")).not_to_contain_text("Of the circuit as it was")
    there.click()
    expect(page).to_have_url(f"{site.address}/jobs/{job}/run")


def test_what_commands_do_otherwise_since_a_version_is_told(page: Page, site: Server) -> None:
    opened(page, site, bare)
    versions = page.get_by_role("region", name="Versions")
    versions.get_by_label("Name of the version").fill("As delivered")
    versions.get_by_role("button", name="Keep").click()
    versions.get_by_role("button", name="As delivered").click()
    told = versions.get_by_test_id("does-otherwise")
    expect(told).to_contain_text("Every command does what it did.")
    page.locator('.part[aria-label^="S1 Contact 13-14"] .halo').click(force=True)
    page.get_by_role("button", name="Delete S1 and its wires").click()
    expect(told).to_contain_text("S1 no longer starts K1")
