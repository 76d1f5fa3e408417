"""What all tests share: a real PostgreSQL, made for this process of the run and stopped after it."""

import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

import wiretrace  # noqa: F401  (first, since it settles with how many threads numpy counts)
from scripts.postgres import Cluster, start_cluster
from server.store.migrations import migrate
from tests.sweep import todays

# The same examples at every run: a red test is red for everybody.
# No deadline: a busy machine is no defect.
settings.register_profile("repeatable", derandomize=True, deadline=None)
settings.load_profile("repeatable")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Of the tests of a file that take turns (`by_turns`) those of today."""
    taking: dict[tuple[Path, int], list[pytest.Item]] = {}
    for item in items:
        if marker := item.get_closest_marker("by_turns"):
            taking.setdefault((item.path, marker.args[0]), []).append(item)
    today = {id(item) for (_, parts), turns in taking.items() for item in todays(turns, parts)}
    later = [item for turns in taking.values() for item in turns if id(item) not in today]
    if later:
        items[:] = [item for item in items if item not in later]
        config.hook.pytest_deselected(items=later)


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A migrated cluster of its own. It need not outlive a power failure."""
    folder = reachable_folder()
    made = start_cluster(folder, "-c", "fsync=off", "-c", "full_page_writes=off")
    migrate(made.url)
    yield made
    made.stop()
    shutil.rmtree(folder, ignore_errors=True)


def reachable_folder() -> Path:
    """An empty folder that the ordinary user may enter, who has the data when the tests run as root."""
    folder = Path(tempfile.mkdtemp(prefix="wiretrace-test-"))
    folder.chmod(0o755)
    return folder
