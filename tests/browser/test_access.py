"""A server that others can reach: signing in, working, signing out."""

import shutil
from collections.abc import Iterator

import psycopg
import pytest
from playwright.sync_api import Page, expect

from scripts.postgres import Cluster
from scripts.site import Site, free_port
from tests.conftest import reachable_folder

PASSWORD = "glasshouse"


@pytest.fixture(scope="module")
def shared(cluster: Cluster) -> Iterator[Site]:
    run = reachable_folder()
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE jobs, sign_ins, wrong_passwords RESTART IDENTITY CASCADE")
    with Site(cluster.url, run, "127.0.0.1", free_port(), {"WIRETRACE_PASSWORD": PASSWORD}, workers=1) as made:
        yield made
    shutil.rmtree(run, ignore_errors=True)


def test_a_person_signs_in_works_and_signs_out(page: Page, shared: Site, quiet_console: list[str]) -> None:
    page.goto(shared.address)
    page.get_by_label("Password of this server").fill("wrong one")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_have_text("Wrong password. Ask whoever started this server for it.")
    quiet_console.clear()
    page.get_by_label("Password of this server").fill(PASSWORD)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Jobs")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Password of this server")).to_be_visible()
    page.goto(f"{shared.address}/jobs/1")
    expect(page.get_by_label("Password of this server")).to_be_visible()


def test_the_page_to_sign_in_is_read_in_the_dark_and_on_a_phone(page: Page, shared: Site) -> None:
    page.emulate_media(color_scheme="dark")
    page.set_viewport_size({"width": 360, "height": 640})
    page.goto(f"{shared.address}/jobs/1")
    box = page.get_by_role("button", name="Sign in").bounding_box()
    assert box is not None
    assert box["height"] >= 40
    assert box["x"] + box["width"] <= 360
    expect(page.get_by_label("Password of this server")).to_be_focused()
