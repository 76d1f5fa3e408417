"""Nothing that somebody drew is lost: reloads, restarts, lost connections, two windows."""

import os
import signal

from playwright.sync_api import Page, expect

from scripts.postgres import Cluster
from tests.browser.bench import call, open_job, saved, spot
from tests.browser.conftest import Server


def rename(page: Page, label: str) -> None:
    """Give the start button another designation: the smallest visible edit."""
    page.mouse.click(*spot(page, "Control", 9, 26))
    page.get_by_label("Designation").fill(label)
    page.get_by_label("Designation").press("Enter")
    expect(page.locator(".designation", has_text=label)).to_be_visible()


def label_on_server(site: Server, job: int) -> str:
    devices = call(site, "GET", f"/jobs/{job}")["circuit"]["devices"]
    label: str = next(device["label"] for device in devices if device["id"] == "start")
    return label


def test_it_saves_itself_and_survives_server_and_database_restarts(
    page: Page, site: Server, cluster: Cluster, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    rename(page, "S11")
    saved(page)
    assert label_on_server(site, job) == "S11"
    site.stop()
    cluster.stop()
    cluster.start()
    site.start()
    page.reload()
    expect(page.locator(".designation", has_text="S11")).to_be_visible()
    # The check may have been asked for while there was nobody.
    assert all("ERR_" in told for told in quiet_console)
    quiet_console.clear()


def test_two_windows_get_a_conflict_and_no_work_is_lost(
    page: Page, second_window: Page, site: Server, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    second_window.goto(f"{site.address}/jobs/{job}/draw")
    expect(second_window.locator(".board")).to_be_visible()
    rename(page, "S21")
    saved(page)
    rename(second_window, "S22")
    alert = second_window.get_by_role("alert")
    expect(alert).to_contain_text("saved in another window")
    assert label_on_server(site, job) == "S21"

    # A reload keeps both the conflict and the work.
    second_window.reload()
    expect(second_window.get_by_role("alert")).to_contain_text("saved in another window")
    expect(second_window.locator(".designation", has_text="S22")).to_be_visible()
    second_window.get_by_role("button", name="Save mine as a new job").click()
    expect(second_window.get_by_role("textbox", name="Title of the job")).to_have_value("Condensate sump pump (copy)")
    expect(second_window.locator(".designation", has_text="S22")).to_be_visible()
    assert label_on_server(site, job) == "S21"
    assert label_on_server(site, job + 1) == "S22"
    quiet_console.clear()


def test_in_a_conflict_either_side_can_be_chosen(
    page: Page, second_window: Page, site: Server, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    second_window.goto(f"{site.address}/jobs/{job}/draw")
    expect(second_window.locator(".board")).to_be_visible()
    rename(page, "S31")
    saved(page)
    rename(second_window, "S32")
    second_window.get_by_role("button", name="Show theirs, drop mine").click()
    expect(second_window.locator(".designation", has_text="S31")).to_be_visible()
    rename(second_window, "S33")
    saved(second_window)
    rename(page, "S34")
    page.get_by_role("button", name="Replace theirs with mine").click()
    saved(page)
    assert label_on_server(site, job) == "S34"
    assert [text for text in quiet_console if "409" not in text] == []
    quiet_console.clear()


def test_a_lost_server_is_told_and_changes_survive_a_reload(page: Page, site: Server, quiet_console: list[str]) -> None:
    job = open_job(page, site, stage="draw")
    site.stop()
    rename(page, "S41")
    expect(page.get_by_role("status").filter(has_text="No connection")).to_contain_text("kept in this browser")
    # Drawing goes on, and undo too.
    rename(page, "S42")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".designation", has_text="S41")).to_be_visible()
    site.start()
    page.reload()
    expect(page.locator(".designation", has_text="S41")).to_be_visible()
    saved(page)
    assert label_on_server(site, job) == "S41"
    quiet_console.clear()


def test_a_lost_database_is_told_and_saved_when_it_comes_back(
    page: Page, site: Server, cluster: Cluster, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    cluster.stop()
    try:
        rename(page, "S51")
        expect(page.get_by_role("status").filter(has_text="database does not answer")).to_be_visible(timeout=10_000)
        # The core needs no database: the circuit still runs.
        page.get_by_role("button", name="Run", exact=True).click()
        expect(page.locator('[data-says="H2"]')).to_have_text("lit")
    finally:
        cluster.start()
    saved(page)
    assert label_on_server(site, job) == "S51"
    # The last refusal may be told in the console after the save that followed it.
    page.wait_for_timeout(500)
    quiet_console.clear()


def test_a_job_that_is_not_there_is_told(page: Page, site: Server, quiet_console: list[str]) -> None:
    page.goto(f"{site.address}/jobs/999/run")
    expect(page.get_by_role("alert")).to_contain_text("There is no job 999.")
    quiet_console.clear()


def test_a_job_is_deleted_only_when_one_is_sure(page: Page, site: Server) -> None:
    call(site, "POST", "/jobs", {"title": "Shade screen"})
    page.goto(site.address)
    page.get_by_role("button", name="Delete Shade screen").click()
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("link", name="Shade screen")).to_be_visible()
    page.get_by_role("button", name="Delete Shade screen").click()
    page.get_by_role("button", name="Delete for good").click()
    expect(page.get_by_text("No jobs yet")).to_be_visible()


def test_with_a_full_storage_the_work_is_in_this_window_alone_and_that_is_said(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    page.evaluate(
        "() => { let size = 2 ** 20; while (size >= 1) { try {"
        " localStorage.setItem('filler' + size + Math.random(), 'x'.repeat(size)); } catch { size /= 2; } } }"
    )
    site.stop()
    rename(page, "S61")
    told = page.get_by_role("status").filter(has_text="no room to keep your changes")
    expect(told).to_contain_text("in this window alone")
    with page.expect_download() as download:
        told.get_by_role("button", name="Save as a file").click()
    assert '"S61"' in download.value.path().read_text("utf-8")
    expect(page.get_by_role("status").get_by_text("Not saved", exact=True)).to_be_visible()
    site.start()
    saved(page)
    assert label_on_server(site, job) == "S61"
    quiet_console.clear()


def test_a_job_deleted_elsewhere_leaves_the_work_in_ones_hands(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    call(site, "DELETE", f"/jobs/{job}")
    rename(page, "S71")
    expect(page.get_by_role("alert")).to_contain_text("This job was deleted elsewhere.")
    # Not even a reload takes it away.
    page.reload()
    expect(page.get_by_text("This browser has changes to it that were never saved.")).to_be_visible()
    page.get_by_role("button", name="Save them as a new job").click()
    expect(page.locator(".designation", has_text="S71")).to_be_visible()
    assert label_on_server(site, job + 1) == "S71"
    quiet_console.clear()


def test_a_server_that_hangs_is_told(page: Page, site: Server, quiet_console: list[str]) -> None:
    job = open_job(page, site, stage="draw")
    application = site.programs[0].process
    assert application is not None
    os.killpg(application.pid, signal.SIGSTOP)
    try:
        rename(page, "S81")
        told = page.get_by_role("status").filter(has_text="No connection")
        expect(told).to_contain_text("kept in this browser")
    finally:
        os.killpg(application.pid, signal.SIGCONT)
    saved(page)
    assert label_on_server(site, job) == "S81"
    quiet_console.clear()


def test_a_third_window_leaves_the_draft_of_the_second_alone(
    page: Page, site: Server, quiet_console: list[str]
) -> None:
    job = open_job(page, site, stage="draw")
    second = page.context.new_page()
    second.goto(f"{site.address}/jobs/{job}/draw")
    expect(second.locator(".board")).to_be_visible()
    # The second window cannot save: what it has is a draft.
    second.route("**/circuit", lambda route: route.abort())
    rename(second, "S91")
    expect(second.get_by_role("status").filter(has_text="kept in this browser")).to_be_visible()
    third = page.context.new_page()
    third.goto(f"{site.address}/jobs/{job}/draw")
    expect(third.locator(".designation", has_text="S1")).to_be_visible()
    expect(third.locator(".designation", has_text="S91")).to_have_count(0)
    third.close()
    # Once the second is closed, whoever comes next takes its work over.
    second.close()
    fourth = page.context.new_page()
    fourth.goto(f"{site.address}/jobs/{job}/draw")
    expect(fourth.locator(".designation", has_text="S91")).to_be_visible()
    saved(fourth)
    assert label_on_server(site, job) == "S91"
    quiet_console.clear()
