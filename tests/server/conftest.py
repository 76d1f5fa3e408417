"""The application on the test database, with empty tables for every test."""

import os
import shutil
import signal
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from apiflask import APIFlask
from flask.testing import FlaskClient

from scripts.children import marked
from scripts.postgres import Cluster
from server.app import create_app
from server.config import Config
from tests.conftest import reachable_folder


@pytest.fixture(scope="session")
def application(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[APIFlask]:
    web: Path = tmp_path_factory.mktemp("web")
    (web / "index.html").write_text("<title>front end</title>", encoding="utf-8")
    app = create_app(Config(cluster.url, web, database_timeout_s=2.0))
    app.config["PROPAGATE_EXCEPTIONS"] = False
    yield app
    app.extensions["database"].close()


@pytest.fixture
def client(application: APIFlask, cluster: Cluster) -> FlaskClient:
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE jobs, closed_numbers, number_tries, fault_dictionaries RESTART IDENTITY CASCADE")
    return application.test_client()


@pytest.fixture
def folder() -> Iterator[Path]:
    """A folder of data for ./run; what still works for it at the end of the test is killed."""
    made = reachable_folder()
    yield made
    for pid in marked(str(made)):
        os.kill(pid, signal.SIGKILL)
    shutil.rmtree(made, ignore_errors=True)
