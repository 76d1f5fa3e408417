"""Every script that the documents cite, in a short form: what measures and attacks must itself run."""

import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from scripts.breaks import ALL, Break, fits
from scripts.postgres import Cluster
from scripts.site import Site, free_port
from tests.conftest import reachable_folder

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def site(cluster: Cluster) -> Iterator[Site]:
    run = reachable_folder()
    with Site(cluster.url, run, "127.0.0.1", free_port()) as made:
        yield made
    shutil.rmtree(run, ignore_errors=True)


def ran(name: str, *words: str) -> str:
    """What a script says; it must end well."""
    done = subprocess.run(
        [sys.executable, "-m", f"scripts.{name}", *words], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def test_a_class_works_for_a_few_seconds_and_nothing_is_wrong(site: Site) -> None:
    told = ran("load", "--address", site.address, "--people", "8", "--minutes", "0.1", "--haste", "10")
    assert "0 jobs lost a save" in told
    assert "wrong" not in told
    assert all(re.search(rf"^{what} +[1-9]", told, re.MULTILINE) for what in ("press", "probe", "check", "save")), told


def test_more_servers_are_compared() -> None:
    assert re.search(r"2: \d+, [\d.]+ times", ran("load", "--servers", "2", "--minutes", "0.02"))


def test_answers_are_timed(site: Site) -> None:
    ran("load", "--address", site.address, "--people", "1", "--minutes", "0.01")
    assert len(re.findall(r": [\d.]+ ms", ran("answers", site.address, "--circuits", "2", "--no-picture"))) == 6


def test_a_sheet_is_panned_edited_and_checked() -> None:
    told = ran("sheet_speed", "--copies", "2")
    assert "16 parts" in told or "17 parts" in told
    assert re.search(r"check after an edit: \d+ ms", told)


def test_a_picture_is_taken(tmp_path: Path) -> None:
    ran("screenshots", "run", "--into", str(tmp_path))
    assert (tmp_path / "run.png").stat().st_size > 20_000


def test_the_short_way_to_a_dictionary_is_attacked() -> None:
    assert re.search(r"^[1-9]\d* rows compared, 0 found", ran("adversary_short", "4"), re.MULTILINE)


def test_what_has_outlived_its_time_is_deleted(cluster: Cluster, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("WIRETRACE_DATABASE", cluster.url)
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE fault_dictionaries CASCADE")
        connection.execute(
            "INSERT INTO fault_dictionaries (ref, used_at) VALUES (repeat('a', 64), now() - interval '40 days')"
        )
    assert "Deleted: 1 fault dictionaries that nobody has asked for in 30 days." in ran("prune")
    assert ran("prune") == ""


def test_one_client_that_wants_everything_keeps_no_save_waiting(site: Site) -> None:
    told = ran("attacker", "--address", site.address, "--seconds", "14", "--share", "0.2")
    longest = re.search(r"^\d+ saves, median \d+ ms, longest (\d+) ms", told)
    assert longest is not None, told
    assert int(longest[1]) < 2_000, told
    assert "errors 413" in told, told


def test_mutated_documents_are_sent() -> None:
    ran("fuzz", "--documents", "20", "--first", "900000")


@pytest.mark.parametrize("broken", ALL, ids=lambda broken: broken.name)
def test_what_is_to_be_broken_on_purpose_stands_in_the_code(broken: Break) -> None:
    assert fits(broken)


def test_every_script_that_the_documents_cite_is_run_by_a_test() -> None:
    pages = [*(ROOT / "docs").glob("*.md"), ROOT / "README.md"]
    cited = {name for page in pages for name in re.findall(r"scripts[./]([a-z_]+)\b(?!/)", page.read_text("utf-8"))}
    tests = "\n".join(path.read_text("utf-8") for path in (ROOT / "tests").rglob("*.py"))
    modules = {path.stem for path in (ROOT / "scripts").glob("*.py")}
    untried = {name for name in cited & modules if f"scripts.{name}" not in tests and f'ran("{name}"' not in tests}
    assert untried <= {"front", "broken"}
