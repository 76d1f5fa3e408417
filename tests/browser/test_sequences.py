"""Operating sequences: recorded, written, played, as a state table, beside a version; worksheets on paper."""

import csv
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.bench import call, hold, open_job, probe, release, says
from tests.browser.conftest import Server
from tests.sweep import todays
from wiretrace.document.circuit import Conductor
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.sequences.sequence import take_steps


def cells(page: Page, step: str) -> list[str]:
    row = page.locator(".state-table tbody tr").filter(has=page.get_by_role("rowheader", name=step))
    return row.locator("td").all_inner_texts()


def test_what_the_hands_do_is_recorded_and_becomes_a_state_table(
    page: Page, site: Server, quiet_console: list[str], tmp_path: Path
) -> None:
    job = open_job(page, site)
    page.get_by_role("button", name="Sequence", exact=True).click()
    page.get_by_role("button", name="Record", exact=True).click()
    page.wait_for_timeout(300)
    hold(page, "S1 Start Press")
    says(page, "M1", "turns forward")
    release(page)
    page.wait_for_timeout(400)
    hold(page, "S0 Stop Press")
    says(page, "K1", "out")
    release(page)
    page.get_by_role("button", name="Stop recording").click()
    words = [box.input_value() for box in page.get_by_label(re.compile("^Words of step")).all()]
    assert words == ["Nothing is touched", "S1 press", "S1 let go", "S0 press", "S0 let go"]
    page.get_by_label("Name of the sequence").fill("Start and stop")
    page.get_by_role("button", name="State table").click()
    table = page.get_by_role("dialog", name="State table: Start and stop")
    expect(table.get_by_role("columnheader", name="K1")).to_be_visible()
    heads = table.get_by_role("columnheader").all_inner_texts()
    at = heads.index("K1") - 1
    told = [cells(page, step)[at] for step in ("Nothing", "S1 press", "S1 let go", "S0 press")]
    assert told == ["out", "in", "in", "out"]
    with page.expect_download() as found:
        table.get_by_role("button", name="CSV").click()
    rows = list(csv.DictReader(Path(found.value.path()).read_text("utf-8").splitlines()))
    assert [row["K1"] for row in rows] == ["out", "in", "in", "out", "out"]
    with page.expect_download() as found:
        table.get_by_role("button", name="PDF").click()
    assert Path(found.value.path()).read_bytes().startswith(b"%PDF")
    table.get_by_role("button", name="Close").click()
    # What was asked for is not there before the server has answered.
    with page.expect_response(lambda answer: answer.request.method == "POST" and "/sequences" in answer.url):
        page.get_by_role("button", name="Keep", exact=True).click()
    kept = call(site, "GET", f"/jobs/{job}/sequences")["sequences"]
    assert [one["name"] for one in kept] == ["What it should do", "Start and stop"]
    page.reload()
    page.get_by_role("button", name="Sequence", exact=True).click()
    expect(page.get_by_label("Sequences of this job").get_by_role("listitem")).to_have_count(2)


def _ends(wire: Conductor) -> list[tuple[str, str]]:
    return [(wire.a.device, wire.a.terminal), (wire.b.device, wire.b.terminal)]


def test_a_version_that_does_something_else_is_told_with_the_first_difference(page: Page, site: Server) -> None:
    job = open_job(page, site)
    circuit = library_circuit("start-stop-overload-line")
    rest = tuple(wire for wire in circuit.conductors if ("contactor", "13") not in _ends(wire))
    unsealed = circuit.model_copy(update={"conductors": rest}).model_dump(mode="json")
    call(site, "POST", f"/jobs/{job}/versions", {"name": "Without seal-in", "circuit": unsealed})
    page.reload()
    page.get_by_role("button", name="Sequence", exact=True).click()
    page.get_by_role("button", name="What it should do 1").click()
    page.get_by_role("button", name="State table").click()
    page.get_by_label("Compare with").select_option(label="Without seal-in")
    expect(page.get_by_text(re.compile("First difference: K1 in “Let go"))).to_be_visible()
    expect(page.locator(".state-table td.other").first).to_contain_text("out")


def test_a_step_is_written_without_the_bench_and_bad_seconds_change_nothing(page: Page, site: Server) -> None:
    open_job(page, site)
    page.get_by_role("button", name="Sequence", exact=True).click()
    page.get_by_role("button", name="Write one").click()
    page.get_by_label("What is done").select_option(label="S1 press")
    page.get_by_role("button", name="Add step").click()
    seconds = page.get_by_label("Seconds of step 1")
    seconds.fill("-3")
    expect(seconds).to_have_value("0.5")
    seconds.fill("2.5")
    page.get_by_role("button", name="Play").click()
    says(page, "K1", "in")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_label("Sequences of this job")).to_contain_text("Operating sequence")


def test_a_sheet_is_printed_with_and_without_its_answers(page: Page, site: Server, quiet_console: list[str]) -> None:
    open_job(page, site)
    probe(page, "S1:13", "S1:14")
    page.get_by_role("button", name="Leave a meter here").click()
    page.get_by_role("button", name="Predict").click()
    page.get_by_role("button", name="Make a sheet").click()
    page.get_by_role("button", name="Ask about this moment").click()
    page.get_by_role("button", name="Keep the sheet").click()
    sizes = []
    for name in ("Worksheet (PDF)", "Answer key (PDF)"):
        with page.expect_download() as found:
            page.get_by_role("button", name=name).click()
        content = Path(found.value.path()).read_bytes()
        assert content.startswith(b"%PDF")
        sizes.append(len(content))
    assert min(sizes) > 3_000
    page.get_by_label("Who fills it in").fill("Bench 3")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label(re.compile("^A, ")).fill("0")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Saved", exact=True).last).to_be_visible()
    page.get_by_role("button", name="Other attempts").click()
    # Nothing of the answers is told while somebody writes.
    expect(page.get_by_role("button", name="Answer key (PDF)")).to_be_disabled()
    expect(page.get_by_role("button", name="Attempts side by side")).to_be_disabled()
    page.get_by_label("Attempts").get_by_role("button").click()
    page.get_by_role("button", name="End", exact=True).click()
    expect(page.get_by_role("status").filter(has_text="Ended")).to_be_visible()
    expect(page.get_by_label(re.compile("^A, "))).to_have_attribute("readonly", "")
    page.get_by_role("button", name="Other attempts").click()
    page.get_by_role("button", name="Attempts side by side").click()
    row = page.get_by_role("dialog", name="Attempts side by side").get_by_role("row").nth(1)
    expect(row).to_contain_text("230.9 V")
    expect(row.locator("td.other")).to_contain_text("0")


SHARES = 6


@pytest.mark.parametrize("share", todays(range(SHARES), SHARES))
def test_every_circuit_of_the_library_goes_through_its_sequence_on_the_bench(
    page: Page, site: Server, quiet_console: list[str], share: int
) -> None:
    """Played sixty times as fast in one convention and the other: at the end every device says what it should."""
    for name in library_names()[share::SHARES]:
        sound = []
        for step in library_sequence(name).steps:
            if step.faults:
                break
            sound.append(step)
        sequence = library_sequence(name).model_copy(update={"steps": tuple(sound)})
        *_, last = take_steps(library_circuit(name), sequence)
        expected = {label: view.says for label, view in last.views().items() if view.says}
        open_job(page, site, name)
        page.get_by_role("button", name=re.compile("60$")).click()
        page.get_by_role("button", name="Sequence", exact=True).click()
        page.get_by_role("button", name=re.compile("^What it should do \\d")).click()
        clock, end_s = page.get_by_test_id("clock"), sum(step.wait_s for step in sound)
        for convention in ("IEC", "NEMA"):
            page.get_by_role("group", name="Drawing convention").get_by_role("button", name=convention).click()
            if convention == "NEMA":
                # Away from the end of the first play, which would else count as that of the second.
                page.get_by_label("Previous event").click()
                expect(clock).not_to_have_text(f"{end_s:.3f} s")
            page.get_by_role("button", name="Play").click()
            expect(clock).to_have_text(f"{end_s:.3f} s")
            shown = page.locator("[data-says]").evaluate_all(
                "all => Object.fromEntries(all.map((one) => [one.dataset.says, one.innerText.trim()]))"
            )
            told = {label: word for label, word in expected.items() if label in shown}
            assert {label: shown[label] for label in told} == told, (name, convention)
            assert page.locator(".notice-error").count() == 0
