"""Versions of a job on the real interface: keep one, see what changed, go back, undo that."""

from playwright.sync_api import Page, expect

from tests.browser.bench import open_job
from tests.browser.conftest import Server


def test_a_version_is_kept_compared_and_gone_back_to(page: Page, site: Server) -> None:
    open_job(page, site, template="start-stop-overload-line")
    page.get_by_role("button", name="Draw", exact=True).click()
    versions = page.get_by_role("region", name="Versions")
    versions.get_by_label("Name of the version").fill("As delivered")
    versions.get_by_role("button", name="Keep").click()
    kept = versions.get_by_role("button", name="As delivered")
    kept.click()
    expect(versions).to_contain_text("Nothing has changed since.")
    page.locator('.part[aria-label^="H1 Lamp"] .halo').click(force=True)
    page.get_by_role("button", name="Delete H1 and its wires").click()
    expect(versions).to_contain_text("Removed")
    expect(versions).to_contain_text("wire K1:A1 to H1:X1")
    lamp = page.locator('.part[aria-label^="H1 Lamp"]')
    expect(lamp).to_have_count(0)
    versions.get_by_role("button", name="Go back to it").click()
    expect(lamp).to_have_count(1)
    expect(versions).to_contain_text("Nothing has changed since.")
    page.get_by_role("button", name="Undo").click()
    expect(lamp).to_have_count(0)
    versions.get_by_role("button", name="Forget it").click()
    expect(kept).to_have_count(0)
