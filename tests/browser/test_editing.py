"""Edit without fear: many parts at once, copies, other kinds, wires pulled, sheets, undo over a reload."""

from playwright.sync_api import Page, expect

from tests.browser.bench import (
    call,
    choose_parts,
    cursor_to,
    find,
    hold,
    open_job,
    part,
    place,
    release,
    saved,
    says,
    spot,
    terminal,
)
from tests.browser.conftest import Server


def drag(page: Page, sheet: str, start: tuple[float, float], goal: tuple[float, float]) -> None:
    page.mouse.move(*spot(page, sheet, *start))
    page.mouse.down()
    middle = ((start[0] + goal[0]) / 2, (start[1] + goal[1]) / 2)
    page.mouse.move(*spot(page, sheet, *middle))
    page.mouse.move(*spot(page, sheet, *goal))
    page.mouse.up()


def test_undo_and_redo_survive_a_reload(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    for name in ("H1 Lamp", "H2 Lamp", "H3 Lamp"):
        part(page, name).click(force=True)
        page.keyboard.press("Delete")
    page.get_by_role("button", name="Undo").click()
    saved(page)
    page.reload()
    expect(part(page, "H3 Lamp")).to_have_count(1)
    expect(part(page, "H2 Lamp")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    for name in ("H1 Lamp", "H2 Lamp", "H3 Lamp"):
        expect(part(page, name)).to_have_count(1)
    for _ in range(3):
        page.get_by_role("button", name="Redo").click()
    expect(part(page, "H3 Lamp")).to_have_count(0)
    # At once after an edit, before it is saved.
    page.get_by_role("button", name="Undo").click()
    page.reload()
    page.get_by_role("button", name="Redo").click()
    expect(part(page, "H3 Lamp")).to_have_count(0)
    saved(page)
    labels = {device["label"] for device in call(site, "GET", f"/jobs/{job}")["circuit"]["devices"]}
    assert not labels & {"H1", "H2", "H3"}


def test_a_box_selects_and_all_of_it_moves(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    before = {name: place(page, name) for name in ("H1:X1", "H2:X1", "H3:X1", "K1:A1")}
    right = max(x for x, _ in before.values())
    drag(page, "Control", (before["H1:X1"][0] - 2, 44), (right + 2, before["H1:X1"][1] + 2))
    expect(page.get_by_role("heading", name="3 parts selected")).to_be_visible()
    x, y = before["H2:X1"]
    drag(page, "Control", (x, y + 2), (x + 2, y + 4))
    for name in ("H1:X1", "H2:X1", "H3:X1"):
        assert place(page, name) == (before[name][0] + 2, before[name][1] + 2)
    assert place(page, "K1:A1") == before["K1:A1"]
    page.keyboard.press("Control+z")
    assert place(page, "H2:X1") == before["H2:X1"]


def test_copied_parts_come_with_their_wires_to_another_job(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    choose_parts(page, "S0", "S1", "K1 Coil")
    page.keyboard.press("Control+c")
    job = open_job(page, site, template=None, stage="draw")
    page.mouse.move(*spot(page, "Control", 10, 8))
    page.keyboard.press("Control+v")
    expect(page.get_by_role("heading", name="3 parts selected")).to_be_visible()
    page.keyboard.press("Control+v")
    expect(part(page, "K2 Coil")).to_have_count(1)
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    assert [device["label"] for device in circuit["devices"]] == ["S0", "S1", "K1", "S2", "S3", "K2"]
    ends = [{wire["a"]["terminal"], wire["b"]["terminal"]} for wire in circuit["conductors"]]
    assert ends.count({"12", "13"}) == 2
    assert ends.count({"14", "A1"}) == 2


def test_a_contact_is_deleted_alone_and_its_wire_is_healed(page: Page, site: Server) -> None:
    job = open_job(page, site, template="reversing-interlocked", stage="draw")
    part(page, "K2 Contact 21-22").click(force=True)
    page.get_by_role("button", name="Delete K2 21-22 and its wires").click()
    expect(part(page, "K2 Coil")).to_have_count(1)
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    labels = {device["id"]: device["label"] for device in circuit["devices"]}
    ends = {f"{labels[wire[e]['device']]}:{wire[e]['terminal']}" for wire in circuit["conductors"] for e in "ab"}
    assert not ends & {"K2:21", "K2:22"}
    expect(page.get_by_role("region", name="Check")).to_contain_text("K1 can be fed while K2 is in")
    page.get_by_role("button", name="Run", exact=True).click()
    hold(page, "S1 Open vent Press")
    says(page, "K1", "in")
    release(page)
    says(page, "K1", "in")


def test_normally_open_becomes_normally_closed_with_its_wires(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    part(page, "S0").click(force=True)
    page.get_by_label("Kind").select_option("Push button, NO")
    expect(terminal(page, "S0:13")).to_have_count(1)
    expect(page.get_by_role("region", name="Check")).to_contain_text("S0")
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    stop = next(device for device in circuit["devices"] if device["label"] == "S0")
    ends = {wire[e]["terminal"] for wire in circuit["conductors"] for e in "ab" if wire[e]["device"] == stop["id"]}
    assert ends == {"13", "14"}
    page.get_by_label("Kind").select_option("Emergency stop, NC")
    expect(terminal(page, "S0:12")).to_have_count(1)
    expect(page.get_by_label("Kind")).to_have_value("Emergency stop, NC")
    page.get_by_label("Kind").select_option("Float switch, NO")
    expect(terminal(page, "S0:13")).to_have_count(1)
    page.get_by_label("Kind").select_option("Float switch, NC")
    expect(terminal(page, "S0:13")).to_have_count(0)
    expect(part(page, "S0")).to_have_count(1)


def test_a_contactor_without_a_contact_left_says_so_and_gets_a_block(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    part(page, "K1 Coil").click(force=True)
    properties = page.get_by_label("Properties")
    expect(properties).to_contain_text("No normally open or normally closed contact is left.")
    properties.get_by_role("button", name="Add block 1 NO + 1 NC").click()
    expect(properties).not_to_contain_text("contact is left")
    properties.get_by_role("button", name="Contact 53-54, NO").click()
    page.mouse.click(*spot(page, "Control", 30, 20))
    expect(terminal(page, "K1:53")).to_have_count(1)
    expect(page.locator("[data-caption^='contacts/contactor/coil/']").filter(has_text="53-54 /")).to_be_visible()


def test_a_wire_is_pulled_and_given_back(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    x, top = place(page, "K1:14")
    _, bottom = place(page, "K1:A1")
    run = page.locator(".board [data-wire='4'] path.wire")
    before = run.get_attribute("d")
    middle = (top + bottom) / 2
    drag(page, "Control", (x, round(middle)), (x + 3, round(middle)))
    expect(run).not_to_have_attribute("d", before or "")
    saved(page)
    routes = [sheet["routes"] for sheet in call(site, "GET", f"/jobs/{job}")["circuit"]["sheets"]]
    pulled = [way for sheet in routes for way in sheet.values()]
    assert any(point[0] == x + 3 for way in pulled for point in way)
    page.keyboard.press("Control+z")
    expect(run).to_have_attribute("d", before or "")


def test_sheets_are_added_named_filled_and_taken_away(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    sheets = page.get_by_role("region", name="Sheets")
    sheets.get_by_role("button", name="Add control sheet").click()
    sheets.get_by_label("Control sheet").nth(1).fill("Lamps")
    sheets.get_by_label("Control sheet").nth(1).press("Enter")
    choose_parts(page, "H1 Lamp", "H2 Lamp")
    page.get_by_label("On sheet").select_option("Lamps")
    page.get_by_role("group", name="Sheets").get_by_role("button", name="Control").first.click()
    expect(page.get_by_text("poles Power/")).to_be_visible()
    page.get_by_role("group", name="Sheets").get_by_role("button", name="All").click()
    lamps = page.locator("[data-pages] > g").filter(has=page.get_by_text("Lamps", exact=True))
    expect(lamps.locator('.part[aria-label^="H"]')).to_have_count(2)
    page.keyboard.press("Escape")
    page.mouse.click(*spot(page, "Lamps", 4, 3))
    expect(sheets.get_by_role("button", name="Delete sheet Lamps")).to_have_count(0)
    choose_parts(page, "H1 Lamp", "H2 Lamp")
    page.get_by_label("On sheet").select_option("Control")
    page.mouse.click(*spot(page, "Lamps", 4, 3))
    sheets.get_by_role("button", name="Delete sheet Lamps").click()
    expect(page.get_by_text("Lamps", exact=True)).to_have_count(0)


def test_search_goes_to_devices_wires_and_terminals(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    page.locator(".board").focus()
    find(page, "h3")
    expect(page.get_by_role("heading", name="H3, indicator lamp")).to_be_visible()
    find(page, "wire 4")
    expect(page.get_by_role("heading", name="Wire 4")).to_be_visible()
    find(page, "k1:a2")
    box, spot_of = page.locator(".cursor").bounding_box(), terminal(page, "K1:A2").bounding_box()
    assert box
    assert spot_of
    assert abs(box["x"] + box["width"] / 2 - spot_of["x"] - spot_of["width"] / 2) < 2
    page.keyboard.press("/")
    page.keyboard.type("no such thing")
    expect(page.get_by_role("option")).to_have_count(0)


def test_panel_and_sheet_mark_each_other(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    page.get_by_role("button", name="Panel").click()
    panel = page.get_by_role("region", name="Panel")
    door = panel.get_by_role("group", name="Door")
    expect(door.get_by_role("button")).to_have_text(["Q1", "S0", "S1", "H1", "H2", "H3"])
    expect(panel.get_by_role("row").nth(1)).to_contain_text("X1.1:a")
    door.get_by_role("button", name="S1").click()
    expect(page.locator(".part.selected")).to_have_attribute("aria-label", "S1 Contact 13-14, NO")
    panel.get_by_role("button", name="S1:14").click()
    expect(panel.locator("tr.here")).to_contain_text("S1:14")
    page.get_by_role("button", name="Whole", exact=True).click()
    part(page, "K1 Coil").click(force=True)
    plate = panel.get_by_role("group", name="Mounting plate")
    expect(plate.get_by_role("button", name="K1")).to_have_attribute("aria-pressed", "true")
    part(page, "H3 Lamp").click(force=True)
    page.get_by_label("Sits").select_option("on the mounting plate")
    expect(plate.get_by_role("button", name="H3")).to_be_visible()
    expect(door.get_by_role("button", name="H3")).to_have_count(0)
    part(page, "K1 Coil").click(force=True)
    expect(panel.get_by_role("row", name="K1:A2")).to_contain_text("G1:N")


def test_a_finger_selects_several_parts_without_a_key(page: Page, site: Server) -> None:
    open_job(page, site, template="reversing-interlocked", stage="draw")
    part(page, "H1 Lamp").click(force=True)
    page.get_by_role("button", name="Select further parts").click()
    part(page, "H2 Lamp").click(force=True)
    expect(page.get_by_role("heading", name="2 parts selected")).to_be_visible()
    part(page, "H1 Lamp").click(force=True)
    expect(page.get_by_role("heading", name="H2, indicator lamp")).to_be_visible()
    page.get_by_role("button", name="Tap further parts, then here").click()
    part(page, "H1 Lamp").click(force=True)
    expect(page.get_by_role("heading", name="H1, indicator lamp")).to_be_visible()


def test_a_part_goes_in_parallel_to_a_whole_stretch(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    choose_parts(page, "S0", "S1")
    page.get_by_role("button", name="Push button, NO", exact=True).click()
    part(page, "S1").hover(force=True)
    expect(page.get_by_text("in parallel to S0, S1.")).to_be_visible()
    part(page, "S1").click(force=True)
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    labels = {device["id"]: device["label"] for device in circuit["devices"]}
    ends = [{f"{labels[wire[e]['device']]}:{wire[e]['terminal']}" for e in "ab"} for wire in circuit["conductors"]]
    assert {"S0:11", "S2:13"} in ends
    assert {"S1:14", "S2:14"} in ends


def test_a_wire_is_pulled_by_the_keys_alone(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    x, top = place(page, "K1:14")
    middle = round((top + place(page, "H1:X1")[1]) / 2)
    run = page.locator(".board [data-wire='4'] path.wire")
    before = run.get_attribute("d")
    page.locator(".board").focus()
    cursor_to(page, "Control", int(x), middle)
    for key in ("m", "ArrowRight", "ArrowRight", "Escape"):
        page.keyboard.press(key)
    expect(run).to_have_attribute("d", before or "")
    cursor_to(page, "Control", int(x), middle)
    for key in ("m", "ArrowRight", "ArrowRight", "Enter"):
        page.keyboard.press(key)
    expect(run).not_to_have_attribute("d", before or "")
    page.keyboard.press("Control+z")
    expect(run).to_have_attribute("d", before or "")


def test_a_tap_on_paper_lets_go_of_the_selection(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    part(page, "H1 Lamp").click(force=True)
    expect(page.get_by_role("heading", name="H1, indicator lamp")).to_be_visible()
    x, y = spot(page, "Control", 2, 2)
    page.locator(".board").evaluate(
        """(board, [x, y]) => {
            const at = { clientX: x, clientY: y, pointerId: 7, pointerType: 'touch', bubbles: true, button: 0 };
            board.setPointerCapture = () => {};
            board.dispatchEvent(new PointerEvent('pointerdown', { ...at, buttons: 1 }));
            board.dispatchEvent(new PointerEvent('pointerup', at));
        }""",
        [x, y],
    )
    expect(page.get_by_role("heading", name="Nothing selected")).to_be_visible()


def test_what_an_undo_takes_away_is_no_longer_selected(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    page.get_by_role("button", name="Indicator lamp", exact=True).click()
    page.mouse.click(*spot(page, "Control", 34, 8))
    expect(page.get_by_role("heading", name="H4, indicator lamp")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("heading", name="Nothing selected")).to_be_visible()


def test_a_found_place_does_not_follow_to_another_view(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    whole = page.locator(".board").get_attribute("viewBox")
    page.locator(".board").focus()
    find(page, "k1 coil")
    expect(page.locator(".board")).not_to_have_attribute("viewBox", whole or "")
    near = page.locator(".board").get_attribute("viewBox")
    page.get_by_role("button", name="Run", exact=True).click()
    expect(page.locator(".board")).to_have_attribute("viewBox", near or "")
    page.get_by_role("button", name="Draw", exact=True).click()
    page.get_by_role("button", name="Nearer").click()
    page.get_by_role("button", name="NEMA", exact=True).click()
    ladder = page.locator(".board").get_attribute("viewBox")
    expect(page.get_by_role("button", name="Whole", exact=True)).to_be_disabled()
    expect(page.locator(".board")).to_have_attribute("viewBox", ladder or "")
