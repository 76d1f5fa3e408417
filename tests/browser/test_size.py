"""Size on the real interface: from a plate to the sheet, own figures, schools, the chart, the circuit, and files."""

import json
import re
import subprocess
from pathlib import Path
from typing import Any

import psycopg
from playwright.sync_api import Page, expect

from scripts.postgres import Cluster
from tests.browser.bench import call, hold, release, says, spot
from tests.browser.conftest import Server
from tests.server.saving import save

PLATE = {
    "Rated power": "7,5 kW",
    "Rated voltage": "400",
    "Rated current": "14.5",
    "Power factor": "0.84",
    "Efficiency": "90.1",
    "Rated speed": "1450",
    "Locked-rotor current, times rated": "7",
}


def fill(page: Page) -> None:
    for field, text in PLATE.items():
        page.get_by_label(field, exact=True).fill(text)
    expect(line(page, "calculated")).to_contain_text("14.3 A")


def line(page: Page, key: str) -> Any:
    return page.locator(f"#line-{key}")


def test_from_a_plate_to_the_sheet(page: Page, site: Server, quiet_console: list[str]) -> None:
    job = open_size(page, site)
    expect(page.get_by_label("Worksheet")).to_contain_text("power and voltage are enough to begin with")
    # A form that is only begun is told nothing; whoever leaves a field that is needed is.
    expect(page.get_by_text("is needed.")).to_have_count(0)
    page.get_by_label("Rated power", exact=True).focus()
    page.get_by_label("Rated voltage", exact=True).focus()
    expect(page.get_by_text("The rated power is needed.")).to_be_visible()
    expect(page.get_by_text("The rated voltage is needed.")).to_have_count(0)
    page.get_by_label("Rated power", exact=True).fill("7.5 kW")
    page.get_by_label("Rated voltage", exact=True).fill("400")
    # What is missing is estimated, and says so.
    expect(page.get_by_label("Efficiency", exact=True)).to_have_attribute("placeholder", "≈ 90.4 %")
    expect(line(page, "full_load")).to_contain_text("estimate")
    fill(page)
    expect(line(page, "calculated")).to_contain_text("1000 × 7.5 / (1.732 × 400 × 0.84 × 0.901)")
    expect(line(page, "breaker_rating")).to_contain_text("20 A")
    # What does not fit is said at the field, and nothing is lost by it.
    page.get_by_label("Rated current", exact=True).fill("24")
    expect(page.get_by_text("24 A is 68% more than the 14.3 A")).to_be_visible()
    page.get_by_label("Rated speed", exact=True).fill("quick")
    expect(page.get_by_role("alert").get_by_text("'quick' is no figure")).to_be_visible()
    expect(line(page, "breaker_rating")).to_contain_text("32 A")
    # It is kept with the job, as it was typed.
    expect_kept(page, site, job, "speed", "quick")
    page.reload()
    expect(page.get_by_label("Rated current", exact=True)).to_have_value("24")


def open_size(page: Page, site: Server, template: str = "start-stop-overload-line", *, empty: bool = True) -> int:
    """Size of a new job; `empty` once somebody has taken out what its motor filled in."""
    job: int = call(site, "POST", "/jobs", {"title": "Condensate sump pump", "template": template})["id"]
    if empty:
        call(site, "PUT", f"/jobs/{job}/sizing", save(0, "w", 1, sizing={}))
    page.goto(f"{site.address}/jobs/{job}/size")
    expect(page.get_by_label("Nameplate", exact=True)).to_be_visible()
    return job


def expect_kept(page: Page, site: Server, job: int, field: str, text: str) -> None:
    for _ in range(60):
        if call(site, "GET", f"/jobs/{job}/sizing")["sizing"]["fields"].get(field) == text:
            return
        page.wait_for_timeout(100)
    raise AssertionError(call(site, "GET", f"/jobs/{job}/sizing"))


def test_a_plate_begins_as_the_motor_of_the_circuit_and_asks_for_what_its_start_needs(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    open_size(page, site, "autotransformer-starter", empty=False)
    expect(page.get_by_label("Rated power", exact=True)).to_have_value("7.5 kW")
    expect(page.get_by_label("Start", exact=True)).to_have_value("by_tap")
    expect(page.get_by_label("Tap of the autotransformer")).to_have_value("65 %")
    # 0.65² x 7 x 15.5
    expect(line(page, "tapped_start")).to_contain_text("45.8 A")
    expect(line(page, "contactor_neutral")).to_be_visible()
    expect(page.get_by_label("Rotor current", exact=True)).to_have_count(0)
    page.get_by_label("Start", exact=True).select_option("wound rotor")
    expect(page.get_by_label("Rotor current", exact=True)).to_be_visible()
    expect(page.get_by_label("Tap of the autotransformer")).to_have_count(0)
    # Insulation is asked for by IEC, terminals in North America.
    expect(page.get_by_label("Insulation", exact=True)).to_be_visible()
    page.get_by_label("Device sizes").select_option("North American")
    expect(page.get_by_label("Terminals marked, °C")).to_be_visible()
    expect(page.get_by_label("Insulation", exact=True)).to_have_count(0)
    # What was changed by hand is taken back from the motor, and what it does not say stays.
    page.get_by_label("Rated power", exact=True).fill("11")
    page.get_by_label("Length of the cable").fill("40")
    page.get_by_role("button", name="Fill in the plate of M1").click()
    expect(page.get_by_label("Rated power", exact=True)).to_have_value("7.5 kW")
    expect(page.get_by_label("Length of the cable")).to_have_value("40")


def test_own_figures_are_checked_with_what_a_slip_would_cost(page: Page, site: Server) -> None:
    open_size(page, site)
    fill(page)
    own = page.get_by_label("Your own figure: Full-load current, calculated")
    own.fill("24.8")
    expect(line(page, "calculated").get_by_role("status")).to_contain_text("Root 3 was left out")
    own.fill("14.3")
    expect(line(page, "calculated").get_by_role("status")).to_contain_text("Right.")
    page.get_by_label("Your own figure: Dial of the overload relay").fill("25.1")
    expect(line(page, "dial").get_by_role("status")).to_contain_text("The relay does not protect below 208 %.")
    page.get_by_label("Your own figure: Breaker, next standard size").fill("16")
    expect(line(page, "breaker_rating").get_by_role("status")).to_contain_text("The next size down was taken")


def test_schools_and_chart_answer_at_once(page: Page, site: Server) -> None:
    open_size(page, site)
    fill(page)
    page.get_by_label("Breaker, times full-load current").select_option("250")
    expect(line(page, "breaker_rating")).to_contain_text("40 A")
    page.get_by_text("What each gives").first.click()
    expect(page.get_by_label("Practice and circuit")).to_contain_text("trips at full load after")
    chart = page.get_by_role("slider", name="Time-current chart")
    chart.focus()
    before = chart.get_attribute("aria-valuetext")
    page.keyboard.press("ArrowRight")
    expect(chart).not_to_have_attribute("aria-valuetext", before or "")
    assert re.search(r"Overload relay, cold [\d.]+ s", chart.get_attribute("aria-valuetext") or "")
    # Dial and time of the start are moved, and the curves follow: a long start trips the relay.
    curve = page.locator(".curve.overload")
    drawn = curve.get_attribute("d")
    page.get_by_label("Start time").fill("3.4")
    expect(page.locator(".size-legend")).to_contain_text("into a healthy start")
    page.get_by_role("slider", name="Dial", exact=True).fill("3")
    expect(curve).not_to_have_attribute("d", drawn or "")
    page.get_by_role("button", name="As worked out").click()
    expect(line(page, "dial_set")).to_have_count(0)


def test_into_the_circuit_in_one_step_that_can_be_undone(page: Page, site: Server) -> None:
    job = open_size(page, site)
    fill(page)
    otherwise = page.get_by_label("Differences from the circuit")
    expect(otherwise).to_contain_text("F2, dial: 3.4 A → 14.5 A")
    otherwise.get_by_text("M1, power factor").click()
    page.get_by_role("button", name=re.compile("^Take ")).click()
    expect(otherwise.get_by_role("listitem")).to_have_count(1)
    for _ in range(100):
        circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
        if next(one for one in circuit["devices"] if one["id"] == "overload")["params"].get("dial_a") == 14.5:
            break
        page.wait_for_timeout(100)
    else:
        raise AssertionError("the dial was not saved")
    # Another plate says what else should change.
    page.get_by_label("Rated current", exact=True).fill("15")
    expect(otherwise).to_contain_text("F2, dial: 14.5 A → 15 A")
    page.get_by_role("button", name="Draw", exact=True).click()
    page.get_by_role("button", name=re.compile("^Undo")).click()
    for _ in range(100):
        circuit = call(site, "GET", f"/jobs/{job}")["circuit"]
        if next(one for one in circuit["devices"] if one["id"] == "overload")["params"].get("dial_a") != 14.5:
            return
        page.wait_for_timeout(100)
    raise AssertionError("it was not undone")


def test_paper_files_and_own_sizes(page: Page, site: Server, tmp_path: Path) -> None:
    open_size(page, site)
    fill(page)

    def got(name: str) -> bytes:
        with page.expect_download() as found:
            page.get_by_role("button", name=name, exact=True).click()
        return Path(found.value.path()).read_bytes()

    page.get_by_label("Start", exact=True).select_option("star_delta")
    # The lines move the buttons below them.
    expect(line(page, "contactor_star")).to_be_visible()
    sheet = tmp_path / "sheet.pdf"
    sheet.write_bytes(got("Sheet (PDF)"))
    text = subprocess.run(["pdftotext", "-layout", sheet, "-"], capture_output=True, text=True, check=True).stdout
    assert re.search(r"Start +star-delta\n", text)
    assert "star_delta" not in text
    page.get_by_label("Start", exact=True).select_option("direct")
    expect(line(page, "contactor_star")).to_have_count(0)
    assert got("Blank form (PDF)").startswith(b"%PDF")
    assert "Dial of the overload relay" in got("Sheet (CSV)").decode()
    assert json.loads(got("Sizing (JSON)"))["fields"]["power"] == "7,5 kW"
    assert got("Get").startswith(b"rating_a")
    own = tmp_path / "own.csv"
    own.write_text("rating_a\n19\n27\n", encoding="utf-8")
    page.get_by_label("Own series as CSV").set_input_files(own)
    expect(line(page, "breaker_rating")).to_contain_text("19 A")
    own.write_text("rating_a\n27\n19\n", encoding="utf-8")
    page.get_by_label("Own series as CSV").set_input_files(own)
    expect(page.get_by_text("sizes must rise; 19 follows 27.")).to_be_visible()
    expect(line(page, "breaker_rating")).to_contain_text("20 A")


def test_a_lost_server_loses_nothing_that_was_typed(page: Page, site: Server, quiet_console: list[str]) -> None:
    job = open_size(page, site)
    fill(page)
    expect_kept(page, site, job, "locked_ratio", "7")
    site.stop()
    page.get_by_label("Length of the cable", exact=True).fill("80")
    expect(page.get_by_text("The server does not answer.")).to_be_visible()
    site.start()
    expect_kept(page, site, job, "length", "80")
    quiet_console.clear()


def test_two_windows_do_not_overwrite_each_other(page: Page, site: Server, quiet_console: list[str]) -> None:
    job = open_size(page, site)
    fill(page)
    expect_kept(page, site, job, "locked_ratio", "7")
    kept = call(site, "GET", f"/jobs/{job}/sizing")
    theirs = {**kept["sizing"], "fields": {**kept["sizing"]["fields"], "length": "99"}}
    call(site, "PUT", f"/jobs/{job}/sizing", save(kept["version"], "another", 1, sizing=theirs))
    page.get_by_label("Rated current", exact=True).fill("15")
    expect(page.get_by_text("This was saved in another window since")).to_be_visible()
    page.get_by_role("button", name="Take theirs").click()
    expect(page.get_by_label("Length of the cable", exact=True)).to_have_value("99")
    expect(page.get_by_label("Rated current", exact=True)).to_have_value("14.5")
    quiet_console.clear()


def test_what_was_carried_over_is_what_the_device_says(page: Page, site: Server) -> None:
    """The dial carried into the circuit is the one that the relay trips by."""
    open_size(page, site)
    fill(page)
    page.get_by_role("button", name=re.compile("^Take ")).click()
    page.get_by_role("button", name="Draw", exact=True).click()
    expect(page.get_by_label("Parts", exact=True)).to_be_visible()
    page.mouse.click(*spot(page, "Power", 11, 27))
    expect(page.get_by_role("textbox", name=re.compile("^Dial, A"))).to_have_value("14.5")


def test_half_a_nameplate_carried_over_still_runs(page: Page, site: Server) -> None:
    """What is missing goes over as an estimate where the motor would contradict itself without it."""
    job = open_size(page, site)
    page.get_by_label("Rated power", exact=True).fill("7.5 kW")
    page.get_by_label("Rated voltage", exact=True).fill("400")
    proposed = page.get_by_label("Differences from the circuit", exact=True)
    expect(proposed).to_contain_text("M1, rated line current: 3.4 A → 14.4 A, an estimate")
    page.get_by_role("button", name=re.compile("^Take ")).click()
    expect(page.get_by_text("Nothing: circuit and sheet agree.")).to_be_visible()
    page.goto(f"{site.address}/jobs/{job}/run")
    hold(page, "S1 Start Press")
    says(page, "K1", "in")
    release(page)


def test_a_sizing_is_opened_from_a_file_and_taken_back(
    page: Page, site: Server, cluster: Cluster, tmp_path: Path, quiet_console: list[str]
) -> None:
    job = open_size(page, site)
    fill(page)
    expect_kept(page, site, job, "speed", "1450")
    with psycopg.connect(cluster.url) as connection:
        connection.execute("UPDATE sizing_versions SET kept_at = kept_at - make_interval(mins => 30)")
    saved = tmp_path / "sizing.json"
    saved.write_text(json.dumps({"fields": {"power": "11 kW", "voltage": "400"}, "schools": {"sizes": "na"}}))
    page.get_by_label("Sizing as JSON").set_input_files(saved)
    expect(page.get_by_label("Rated power", exact=True)).to_have_value("11 kW")
    expect(page.get_by_label("Rated speed", exact=True)).to_have_value("")
    expect_kept(page, site, job, "power", "11 kW")
    # What is no sizing is said, and changes nothing.
    for text, told in (("not a file of ours", "holds no JSON"), ('{"fields": 7}', "valid dictionary")):
        saved.write_text(text)
        page.get_by_label("Sizing as JSON").set_input_files(saved)
        expect(page.get_by_role("alert").get_by_text(told)).to_be_visible()
        expect(page.get_by_label("Rated power", exact=True)).to_have_value("11 kW")
    page.get_by_text("Earlier", exact=True).click()
    lines = page.get_by_label("Earlier sizings").get_by_role("listitem")
    expect(lines).to_have_count(1)
    expect(lines).to_contain_text("7,5 kW, 400, 14.5, 1450")
    lines.get_by_role("button", name=re.compile("^Take back")).click()
    expect(page.get_by_label("Rated speed", exact=True)).to_have_value("1450")
    expect(line(page, "calculated")).to_contain_text("14.3 A")
    expect_kept(page, site, job, "power", "7,5 kW")
    quiet_console.clear()  # The browser notes each refusal by the server.
