"""What all tests share: a real PostgreSQL, made for this run and stopped after it."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from scripts.postgres import Cluster, start_cluster
from server.store.database import migrate

# The same examples at every run: a red test is red for everybody.
settings.register_profile("repeatable", derandomize=True)
settings.load_profile("repeatable")


@pytest.fixture(scope="session")
def cluster(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Cluster]:
    """A migrated cluster of its own on a free port of loopback."""
    folder = tmp_path_factory.mktemp("postgres")
    # PostgreSQL runs as another user when the tests run as root: it must be able to enter.
    for path in (folder, *folder.parents):
        if path.owner() == Path.home().owner() and path.is_relative_to("/tmp/pytest-of-" + path.owner()):
            path.chmod(0o755)
    made = start_cluster(folder / "cluster")
    migrate(made.url)
    yield made
    made.stop()
