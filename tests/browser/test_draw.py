"""Draw: change a circuit, draw one from nothing, lose nothing."""

from playwright.sync_api import Page, expect

from tests.browser.bench import (
    call,
    cursor_to,
    hold,
    join,
    next_terminal,
    open_job,
    place_part,
    probe,
    put,
    reads,
    release,
    saved,
    says,
    spot,
    terminal,
)
from tests.browser.conftest import Server


def draw_start_stop(page: Page) -> None:
    """The three-wire start-stop with supply, breaker, isolator, overload and motor, from an empty sheet."""
    put(page, "Three-phase supply", "Power", 6, 3)
    put(page, "Isolator", "Power", 6, 6)
    put(page, "Circuit breaker, 3 poles", "Power", 6, 12)
    put(page, "Contactor", "Control", 10, 28)
    place_part(page, "Main poles", "Power", 6, 18)
    put(page, "Overload relay", "Power", 6, 24)
    put(page, "Three-phase motor, three leads", "Power", 6, 30)
    put(page, "Circuit breaker, 1 pole", "Control", 10, 5)
    put(page, "Push button, NC", "Control", 10, 13)
    put(page, "Push button, NO", "Control", 10, 20)
    for poles in (("1", "2"), ("3", "4"), ("5", "6")):
        phase = f"L{(int(poles[0]) + 1) // 2}"
        lead = dict(zip(("1", "3", "5"), ("U1", "V1", "W1"), strict=True))[poles[0]]
        join(page, f"G1:{phase}", f"Q1:{poles[0]}")
        for upper, lower in (("Q1", "F1"), ("F1", "K1"), ("K1", "F2")):
            join(page, f"{upper}:{poles[1]}", f"{lower}:{poles[0]}")
        join(page, f"F2:{poles[1]}", f"M1:{lead}")
    join(page, "Q1:2", "F3:1")
    join(page, "F3:2", "S1:11")
    join(page, "S1:12", "S2:13")
    join(page, "S2:14", "K1:A1")
    join(page, "K1:A2", "G1:N")


def test_a_start_stop_drawn_from_nothing_runs_and_survives_a_reload(page: Page, site: Server) -> None:
    job = open_job(page, site, template=None, stage="draw")
    expect(page.get_by_text("An empty sheet")).to_be_visible()
    draw_start_stop(page)
    # The seal-in: K1's own contact beside S2, put there by clicking S2.
    page.mouse.click(*spot(page, "Control", 10, 28))
    place_part(page, "Contact 13-14, NO", "Control", 10, 20)
    # The overload contact in series in the wire from breaker to stop, by clicking that wire.
    page.mouse.click(*spot(page, "Power", 10, 26))
    place_part(page, "Contact 95-96, NC", "Control", 10, 9)
    # A lamp in parallel to the coil.
    put(page, "Indicator lamp", "Control", 10, 28)
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    names = {device["id"]: device["label"] for device in circuit["devices"]}
    wires = {
        frozenset(f"{names[wire[end]['device']]}:{wire[end]['terminal']}" for end in ("a", "b"))
        for wire in circuit["conductors"]
    }
    for a, b in (("F3:2", "F2:95"), ("F2:96", "S1:11"), ("S2:13", "K1:13"), ("S2:14", "K1:14"), ("K1:A1", "H1:X1")):
        assert frozenset((a, b)) in wires, (a, b)
    assert frozenset(("F3:2", "S1:11")) not in wires

    page.get_by_role("button", name="Run", exact=True).click()
    hold(page, "S2 Press")
    says(page, "K1", "in")
    release(page)
    says(page, "M1", "turns forward")
    says(page, "H1", "lit")
    probe(page, "K1:A1", "K1:A2")
    reads(page, "230.8")
    hold(page, "S1 Press")
    says(page, "K1", "out")
    release(page)
    page.reload()
    says(page, "K1", "out")
    hold(page, "S2 Press")
    says(page, "K1", "in")
    release(page)


def test_edits_are_taken_back_and_made_again(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    before = call(site, "GET", f"/jobs/{job}")["circuit"]
    page.mouse.click(*spot(page, "Control", 9, 26))
    page.get_by_label("Designation").fill("S7")
    page.get_by_label("Designation").press("Enter")
    expect(page.locator(".designation", has_text="S7")).to_be_visible()
    page.get_by_role("button", name="Delete S7 and its wires").click()
    expect(page.locator(".designation", has_text="S7")).to_have_count(0)
    saved(page)
    assert len(call(site, "GET", f"/jobs/{job}")["circuit"]["devices"]) == len(before["devices"]) - 1
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".designation", has_text="S7")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.locator(".designation", has_text="S1")).to_be_visible()
    saved(page)
    assert call(site, "GET", f"/jobs/{job}")["circuit"] == before
    page.get_by_role("button", name="Redo").click()
    expect(page.locator(".designation", has_text="S7")).to_be_visible()


def test_a_part_is_moved_by_dragging_and_its_wires_follow(page: Page, site: Server) -> None:
    job = open_job(page, site, stage="draw")
    page.mouse.move(*spot(page, "Control", 26, 36))
    page.mouse.down()
    page.mouse.move(*spot(page, "Control", 28, 36))
    page.mouse.move(*spot(page, "Control", 30, 36))
    page.mouse.up()
    saved(page)
    circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
    lamp = next(s for s in circuit["sheets"][1]["symbols"] if s["device"] == "stopped-lamp")
    assert (lamp["x"], lamp["y"]) == (30, 34)
    expect(terminal(page, "H2:X1")).to_have_attribute("cx", "30")
    page.get_by_role("button", name="Run", exact=True).click()
    says(page, "H2", "lit")


def test_a_wire_is_deleted_and_the_circuit_behaves_accordingly(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    page.mouse.click(*spot(page, "Control", 13, 23))
    expect(page.get_by_role("heading", name="Wire 3")).to_be_visible()
    page.keyboard.press("Delete")
    page.get_by_role("button", name="Run", exact=True).click()
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)
    says(page, "K1", "out")


def test_bad_values_are_refused_where_they_are_typed(page: Page, site: Server) -> None:
    open_job(page, site, stage="draw")
    page.mouse.click(*spot(page, "Power", 12, 27))
    dial = page.get_by_label("Dial, A")
    for text in ("0", "many", "7000"):
        dial.fill(text)
        dial.press("Enter")
        expect(dial).to_have_attribute("aria-invalid", "true")
        expect(dial).to_have_value(text)
    expect(page.get_by_role("alert")).to_contain_text("Dial must lie from 0.1 to 630 A")
    page.get_by_label("Designation").fill("K1")
    page.get_by_label("Designation").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("There is a K1 already.")
    terminal(page, "S1:13").click()
    terminal(page, "S0:12").click()
    expect(page.get_by_role("alert")).to_contain_text("joined already")


def test_chatter_is_named_and_does_not_hang(page: Page, site: Server) -> None:
    open_job(page, site, template=None, stage="draw")
    put(page, "Three-phase supply", "Power", 6, 4)
    put(page, "Contactor", "Control", 10, 20)
    place_part(page, "Contact 21-22, NC", "Control", 10, 10)
    join(page, "G1:L1", "K1:21")
    join(page, "K1:22", "K1:A1")
    join(page, "K1:A2", "G1:N")
    page.get_by_role("button", name="Run", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("K1 chatters. It opens its own coil and closes it again")


def test_drawing_by_keyboard_alone(page: Page, site: Server) -> None:
    """A lamp between supply and neutral, without touching the mouse."""
    job = open_job(page, site, template=None, stage="draw")
    choose(page, "Three-phase supply")
    cursor_to(page, "Power", 6, 6)
    page.keyboard.press("Enter")
    expect(terminal(page, "G1:L1")).to_be_visible()
    choose(page, "Indicator lamp")
    cursor_to(page, "Control", 8, 14)
    page.keyboard.press("Enter")
    for name in ("G1:L1", "H1:X1", "H1:X2", "G1:N"):
        next_terminal(page, name)
        page.keyboard.press("Enter")
    saved(page)
    assert len(call(site, "GET", f"/jobs/{job}")["circuit"]["conductors"]) == 2
    # Move the lamp two to the right.
    cursor_to(page, "Control", 8, 14)
    page.keyboard.press("m")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(terminal(page, "H1:X1")).to_have_attribute("cx", "10")
    page.get_by_role("button", name="Run", exact=True).focus()
    page.keyboard.press("Enter")
    says(page, "H1", "lit")


def choose(page: Page, part: str) -> None:
    page.get_by_role("button", name=part, exact=True).focus()
    page.keyboard.press("Enter")
