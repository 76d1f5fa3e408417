"""One circuit in two conventions, on the real interface."""

from playwright.sync_api import Page, expect

from tests.browser.bench import (
    call,
    find,
    hold,
    open_job,
    part,
    place,
    probe,
    reads,
    release,
    saved,
    says,
    spot,
)
from tests.browser.conftest import Server


def switch(page: Page, to: str) -> None:
    button = page.get_by_role("group", name="Drawing convention").get_by_role("button", name=to)
    button.click()
    expect(button).to_have_attribute("aria-pressed", "true")


def test_there_and_back_changes_nothing_but_the_drawing(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    before = call(site, "GET", f"/jobs/{job}")["circuit"]
    upright = {name: place(page, name) for name in ("S1:13", "S1:14", "K1:A1", "K1:A2")}
    assert upright["S1:13"][0] == upright["S1:14"][0]
    switch(page, "NEMA")
    lying = {name: place(page, name) for name in upright}
    assert lying["S1:13"][1] == lying["S1:14"][1] == lying["K1:A1"][1]
    assert lying["S1:13"][0] < lying["S1:14"][0] < lying["K1:A1"][0]
    expect(page.get_by_role("img", name="Terminal K1:T1")).to_be_visible()
    expect(page.get_by_role("img", name="Terminal K1:2", exact=True)).to_have_count(0)
    # What is moved on one sheet stays where it is on the other.
    x, y = lying["K1:A1"]
    page.mouse.move(*spot(page, "Control", x + 2, y))
    page.mouse.down()
    page.mouse.move(*spot(page, "Control", x + 4, y))
    page.mouse.up()
    assert place(page, "K1:A1") == (x + 2, y)
    switch(page, "IEC")
    assert {name: place(page, name) for name in upright} == upright
    switch(page, "NEMA")
    assert place(page, "K1:A1") == (x + 2, y)
    switch(page, "IEC")
    saved(page)
    after = call(site, "GET", f"/jobs/{job}")["circuit"]
    assert (after["devices"], after["conductors"]) == (before["devices"], before["conductors"])
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="NEMA")).to_have_attribute("aria-pressed", "true")


def test_a_circuit_under_power_runs_on_while_it_is_redrawn(page: Page, site: Server) -> None:
    open_job(page, site)
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    probe(page, "K1:2", "K1:4")
    reads(page, "399.4")
    switch(page, "NEMA")
    says(page, "K1", "in")
    reads(page, "399.4")
    expect(page.get_by_role("button", name="Red probe on K1:T1")).to_be_visible()
    page.get_by_role("button", name="Why?").click()
    expect(page.get_by_text("Red, on K1:T1 (wire 3L1)")).to_be_visible()


def test_what_is_drawn_on_one_is_found_on_the_other(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    switch(page, "NEMA")
    find(page, "indicator lamp")
    page.mouse.click(*spot(page, "Control", 20, 22))
    expect(part(page, "LT1 Lamp")).to_have_count(1)
    switch(page, "IEC")
    expect(part(page, "LT1 Lamp")).to_have_count(1)
    part(page, "LT1 Lamp").click(force=True)
    page.keyboard.press("Delete")
    switch(page, "NEMA")
    expect(part(page, "S1")).to_have_count(1)
    expect(part(page, "LT1 Lamp")).to_have_count(0)


def test_designations_follow_when_they_are_asked_to(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    switch(page, "NEMA")
    page.get_by_role("button", name="Letter devices the NEMA way").click()
    for name in ("M1 Coil", "PB1", "OL2", "MTR1"):
        expect(part(page, name).first).to_be_attached()
    page.get_by_role("button", name="Undo").click()
    expect(part(page, "K1 Coil")).to_have_count(1)
    expect(page.get_by_role("button", name="NEMA", exact=True)).to_have_attribute("aria-pressed", "true")


def test_a_job_is_made_as_a_ladder_from_the_start(page: Page, site: Server) -> None:
    choices = {"pattern": "start-stop", "convention": "nema"}
    job = call(site, "POST", "/jobs", {"title": "Ladder", "pattern": choices})["id"]
    page.goto(f"{site.address}/jobs/{job}/run")
    hold(page, "PB1 Start Press")
    says(page, "M1", "in")
    release(page)
    says(page, "M1", "in")
