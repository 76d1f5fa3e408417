"""Tidy, export and import on the real interface."""

import csv
import json
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.bench import open_job
from tests.browser.conftest import Server
from wiretrace.document.circuit import VERSION
from wiretrace.interchange.lists import wire_list
from wiretrace.library import library_circuit


def drawing(page: Page, site: Server, name: str) -> None:
    open_job(page, site, template=name)
    page.get_by_role("button", name="Draw", exact=True).click()


def exported(page: Page, title: str, folder: Path) -> str:
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name=title).click()
    path = folder / download.value.suggested_filename
    download.value.save_as(path)
    return path.read_text("utf-8")


def test_exports_of_a_job(page: Page, site: Server, tmp_path: Path) -> None:
    drawing(page, site, "two-wire-float")
    rows = list(csv.reader(exported(page, "List of wires (CSV)", tmp_path).splitlines()))
    assert len(rows) == 1 + len(library_circuit("two-wire-float").conductors)
    assert json.loads(exported(page, "Circuit (JSON)", tmp_path))["format"] == "wiretrace/circuit"
    assert "Float switch" in exported(page, "List of parts (CSV)", tmp_path)
    assert exported(page, "This state for SPICE", tmp_path).rstrip().endswith(".end")
    picture = exported(page, "Drawing (SVG)", tmp_path)
    assert picture.startswith("<svg")
    (tmp_path / "picture.svg").write_text(picture, encoding="utf-8")
    page.goto((tmp_path / "picture.svg").as_uri())
    assert page.locator("text", has_text="K1").count() >= 2
    # No word is larger than a name on the sheet, two modules, whatever the window was.
    sizes = page.locator("text").evaluate_all("all => all.map((one) => parseFloat(getComputedStyle(one).fontSize))")
    assert 0.5 < min(sizes) <= max(sizes) < 2.5


def test_a_drawing_on_paper_and_for_drawing_programs(page: Page, site: Server, tmp_path: Path) -> None:
    drawing(page, site, "reversing-interlocked")
    for title, begins in (("Drawing on A4 (PDF)", b"%PDF"), ("Drawing (DXF)", b"  0\n")):
        page.get_by_role("button", name="Export").click()
        with page.expect_download() as download:
            page.get_by_role("menuitem", name=title).click()
        path = tmp_path / download.value.suggested_filename
        download.value.save_as(path)
        data = path.read_bytes()
        assert data.startswith(begins)
        assert len(data) > 5_000


def test_tidy_is_one_step_that_can_be_undone(page: Page, site: Server) -> None:
    drawing(page, site, "hand-off-auto")
    part = page.locator('.part[aria-label^="K1 Coil"]')
    before = part.get_attribute("transform")
    page.get_by_role("button", name="Tidy").click()
    expect(part).not_to_have_attribute("transform", before or "")
    page.get_by_role("button", name="Undo").click()
    expect(part).to_have_attribute("transform", before or "")


def test_a_list_of_wires_becomes_a_job_that_runs(page: Page, site: Server, tmp_path: Path) -> None:
    path = tmp_path / "Sump.csv"
    path.write_text(wire_list(library_circuit("start-stop-overload-line")) + "Z9,?,K1,A1,,,,\r\n", encoding="utf-8")
    page.goto(site.address)
    page.get_by_role("button", name="From a file").click()
    page.get_by_label("File", exact=True).set_input_files(path)
    count = len(library_circuit("start-stop-overload-line").conductors)
    expect(page.get_by_text(f"devices and {count} wires could be read.")).to_be_visible()
    expect(page.get_by_text(f"Line {count + 2}")).to_be_visible()
    expect(page.get_by_text("K1: contactor")).to_be_visible()
    page.get_by_role("button", name="Make a job of it").click()
    expect(page.get_by_label("Title of the job")).to_have_value("Sump")
    expect(page.locator('.part[aria-label^="K1 Coil"]')).to_be_visible()


def test_a_file_that_is_no_circuit_is_told_and_nothing_is_lost(page: Page, site: Server, tmp_path: Path) -> None:
    path = tmp_path / "broken.json"
    path.write_text('{"format": "something else"}', encoding="utf-8")
    open_job(page, site, template="two-wire-float")
    page.goto(site.address)
    jobs = page.get_by_role("list", name="Jobs").get_by_role("listitem")
    expect(jobs.first).to_be_visible()
    count = jobs.count()
    page.get_by_role("button", name="From a file").click()
    page.get_by_label("File", exact=True).set_input_files(path)
    expect(page.get_by_text("A circuit document is an object")).to_be_visible()
    expect(jobs).to_have_count(count)


def test_what_is_left_of_a_half_right_circuit_becomes_a_job_only_when_it_is_wanted(
    page: Page, site: Server, tmp_path: Path
) -> None:
    data = json.loads(library_circuit("two-wire-float").model_dump_json())
    data["version"] = 9
    data["devices"][-1]["kind"] = "<script>alert(1)</script>"
    path = tmp_path / "Half.json"
    path.write_text(json.dumps(data), encoding="utf-8")
    open_job(page, site, template="two-wire-float")
    page.goto(site.address)
    jobs = page.get_by_role("list", name="Jobs").get_by_role("listitem")
    expect(jobs.first).to_be_visible()
    count = jobs.count()
    page.get_by_role("button", name="From a file").click()
    page.get_by_label("File", exact=True).set_input_files(path)
    expect(page.get_by_text(f"version: is 9, read as {VERSION}.")).to_be_visible()
    expect(page.get_by_text("the catalogue has no <script>alert(1)</script>")).to_be_visible()
    expect(page.get_by_text(f"{len(data['devices']) - 1} devices and")).to_be_visible()
    expect(jobs).to_have_count(count)
    page.get_by_role("button", name="Make a job of it").click()
    expect(page.locator('.part[aria-label^="K1 Coil"]')).to_be_visible()
    expect(page.locator('.part[aria-label^="M1"]')).to_have_count(0)


def test_a_netlist_of_devices_becomes_a_job(page: Page, site: Server, tmp_path: Path) -> None:
    path = tmp_path / "Lamp.cir"
    path.write_text("XG1 L N PE supply_single_phase\nXH1 L N lamp\nQ1 a b c BC\n", encoding="utf-8")
    page.goto(site.address)
    page.get_by_role("button", name="From a file").click()
    page.get_by_label("File", exact=True).set_input_files(path)
    expect(page.get_by_text("2 devices and 2 wires could be read.")).to_be_visible()
    expect(page.get_by_text("Line 3: Q1 is nothing that the catalogue has.")).to_be_visible()
    page.get_by_role("button", name="Make a job of it").click()
    expect(page.locator('.part[aria-label^="H1 Lamp"]')).to_be_visible()
