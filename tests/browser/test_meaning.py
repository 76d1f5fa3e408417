"""Drawing by meaning: what two parts are to each other is said, not drawn line by line."""

from playwright.sync_api import Page, expect

from tests.browser.bench import (
    call,
    cursor_to,
    find,
    hold,
    join,
    open_job,
    place_part,
    probe,
    put,
    reads,
    release,
    saved,
    say,
    says,
    terminal,
)
from tests.browser.conftest import Server


def test_a_reversing_starter_from_nothing_by_pointer(page: Page, site: Server) -> None:
    job = open_job(page, site, template=None, stage="draw")
    put(page, "Three-phase supply", "Power", 8, 3)
    put(page, "Isolator", "Power", 8, 6)
    put(page, "Circuit breaker, 3 poles", "Power", 8, 13)
    put(page, "Contactor", "Control", 10, 28)
    place_part(page, "Main poles", "Power", 8, 20)
    put(page, "Contactor", "Control", 19, 28)
    place_part(page, "Main poles", "Power", 22, 20)
    put(page, "Overload relay", "Power", 8, 27)
    put(page, "Three-phase motor, three leads", "Power", 8, 34)
    say(page, "G1", "Q1", "Feed Q1 from G1, 3 poles")
    say(page, "Q1", "F1", "Feed F1 from Q1, 3 poles")
    say(page, "F1", "K1 Main poles", "Feed K1 from F1, 3 poles")
    say(page, "K1 Main poles", "K2 Main poles", "K2 beside K1, two phases exchanged")
    say(page, "K1 Main poles", "F2", "Feed F2 from K1, 3 poles")
    say(page, "F2", "M1", "Feed M1 from F2, 3 poles")
    put(page, "Circuit breaker, 1 pole", "Control", 10, 4)
    put(page, "Push button, NC", "Control", 10, 11)
    put(page, "Push button, NO", "Control", 10, 18)
    put(page, "Push button, NO", "Control", 22, 18)
    join(page, "Q1:2", "F3:1")
    say(page, "F3", "S1", "Feed S1 from F3")
    say(page, "S1", "S2", "Feed S2 from S1")
    say(page, "S1", "S3", "Feed S3 from S1")
    say(page, "S2", "K1 Coil", "Feed K1 from S2")
    say(page, "S3", "K2 Coil", "Feed K2 from S3")
    join(page, "K1:A2", "K2:A2", "G1:N")
    say(page, "S2", "K1 Coil", "Seal S2 with K1")
    say(page, "S3", "K2 Coil", "Seal S3 with K2")
    say(page, "K1 Coil", "K2 Coil", "Interlock K1 and K2")
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    labels = {device["id"]: device["label"] for device in circuit["devices"]}
    wires = {
        frozenset(f"{labels[wire[end]['device']]}:{wire[end]['terminal']}" for end in ("a", "b"))
        for wire in circuit["conductors"]
    }
    for wire in ("K1:2 K2:6", "K1:4 K2:4", "K1:6 K2:2", "K1:22 K2:A1", "K2:22 K1:A1", "K1:13 S2:13", "K2:14 S3:14"):
        assert frozenset(wire.split()) in wires, wire
    found = page.get_by_role("region", name="Check")
    for rule in ("interlock", "phase exchange", "seal"):
        expect(found).not_to_contain_text(rule)
    page.get_by_role("button", name="Run", exact=True).click()
    hold(page, "S2 Press")
    says(page, "K1", "in")
    release(page)
    hold(page, "S3 Press")
    release(page)
    says(page, "K1", "in")
    says(page, "K2", "out")
    probe(page, "M1:U1", "M1:V1")
    reads(page, "398.8")


def test_a_start_stop_from_nothing_by_keyboard_alone(page: Page, site: Server) -> None:
    job = open_job(page, site, template=None, stage="draw")
    page.locator(".board").focus()
    for words, sheet, x, y in (
        ("single-phase supply", "Power", 8, 6),
        ("contactor", "Control", 12, 24),
        ("push button, nc", "Control", 12, 8),
        ("push button, no", "Control", 12, 16),
    ):
        find(page, words)
        cursor_to(page, sheet, x, y)
        page.keyboard.press("Enter")
    for a, b in (("G1:L", "S1:11"), ("S1:12", "S2:13"), ("S2:14", "K1:A1"), ("K1:A2", "G1:N")):
        for name in (a, b):
            find(page, name)
            page.keyboard.press("Enter")
    find(page, "s2 contact")
    find(page, "k1 coil", add=True)
    find(page, "seal")
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    assert len(circuit["conductors"]) == 6
    assert {symbol["part"] for symbol in circuit["sheets"][1]["symbols"]} == {"coil", "11-12", "13-14"}
    page.get_by_role("button", name="Run", exact=True).focus()
    page.keyboard.press("Enter")
    start = page.get_by_role("button", name="S2 Press")
    start.focus()
    page.keyboard.down(" ")
    says(page, "K1", "in")
    page.keyboard.up(" ")
    says(page, "K1", "in")


def test_what_cannot_be_said_is_refused_and_changes_nothing(page: Page, site: Server) -> None:
    job = open_job(page, site, template="reversing-interlocked", stage="draw")
    before = call(site, "GET", f"/jobs/{job}")["circuit"]
    say(page, "K1 Coil", "K2 Coil", "Interlock K1 and K2")
    expect(page.get_by_role("alert")).to_contain_text("These two are interlocked already.")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    assert call(site, "GET", f"/jobs/{job}")["circuit"] == before
    expect(terminal(page, "K1:21")).to_have_count(1)


def test_patterns_are_put_into_a_drawing_one_beside_the_other(page: Page, site: Server) -> None:
    job = open_job(page, site, template=None, stage="draw")
    page.locator(".board").focus()
    find(page, "start-stop pattern")
    expect(terminal(page, "K1:A1")).to_be_visible()
    find(page, "two-wire control pattern")
    expect(terminal(page, "K2:A1")).to_be_visible()
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    assert len(circuit["sheets"]) == 2
    labels = [device["label"] for device in circuit["devices"]]
    assert len(set(labels)) == len(labels)
    expect(page.get_by_text("Check: 1 found")).to_be_visible()
    page.get_by_role("button", name="Run", exact=True).click()
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "K1", "in")
    says(page, "K2", "out")
