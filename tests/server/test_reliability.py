"""What is promised of data: nothing acknowledged is lost, a backup brings all back, migrations are all or none."""

from pathlib import Path
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient

from scripts.backup import backup, running_database
from scripts.kill import torture
from scripts.postgres import Cluster, PostgresError
from scripts.restore import restore
from server.demo import JOBS, load_demo
from server.store.migrations import FOLDER, DatabaseTooNew, MigrationFailed, migrate
from wiretrace.document.circuit import Circuit


def test_no_acknowledged_save_is_lost_whatever_is_killed() -> None:
    """Some of `python -m scripts.kill`, which kills a hundred times."""
    outcome = torture(kills=8, savers=4, seed=7)
    assert (outcome.lost, outcome.refused) == (0, 0)
    assert outcome.saves > 20
    assert outcome.restarts


def everything(client: FlaskClient) -> list[Any]:
    jobs = client.get("/api/jobs").get_json()["jobs"]
    return [
        (client.get(f"/api/jobs/{job['id']}").get_json(), client.get(f"/api/jobs/{job['id']}/versions").get_json())
        for job in jobs
    ]


def test_a_backup_of_a_running_server_brings_everything_back(
    client: FlaskClient, cluster: Cluster, tmp_path: Path
) -> None:
    circuit = Circuit(title="Pump").model_dump(mode="json")
    for title in ("Irrigation pump", "Shade screen"):
        job = client.post("/api/jobs", json={"title": title, "circuit": circuit}).get_json()["id"]
        client.post(f"/api/jobs/{job}/versions", json={"name": "as built", "circuit": circuit})
    before = everything(client)
    file = tmp_path / "all.backup"
    backup(cluster.url, file)
    for job, _ in before:
        client.delete(f"/api/jobs/{job['id']}")
    client.post("/api/jobs", json={"title": "Made since"})
    restore(cluster.url, file)
    assert everything(client) == before
    made = client.post("/api/jobs", json={"title": "Made after"}).get_json()["id"]
    assert made not in [job["id"] for job, _ in before]
    assert list(tmp_path.iterdir()) == [file]


@pytest.mark.parametrize("content", [b"", b"not a backup", None])
def test_a_backup_that_is_not_whole_changes_nothing(
    client: FlaskClient, cluster: Cluster, tmp_path: Path, content: bytes | None
) -> None:
    client.post("/api/jobs", json={"title": "Irrigation pump"})
    file = tmp_path / "all.backup"
    backup(cluster.url, file)
    file.write_bytes(file.read_bytes()[:-40] if content is None else content)
    before = everything(client)
    with pytest.raises(PostgresError):
        restore(cluster.url, file)
    with pytest.raises(PostgresError, match="no file"):
        restore(cluster.url, tmp_path / "other")
    assert everything(client) == before


def test_a_backup_of_a_newer_release_is_refused_and_changes_nothing(
    client: FlaskClient, cluster: Cluster, tmp_path: Path
) -> None:
    client.post("/api/jobs", json={"title": "Irrigation pump"})
    file = tmp_path / "newer.backup"
    with psycopg.connect(cluster.url) as connection:
        connection.execute("INSERT INTO migrations (name) VALUES ('9999.of-a-later-release')")
    try:
        backup(cluster.url, file)
    finally:
        with psycopg.connect(cluster.url) as connection:
            connection.execute("DELETE FROM migrations WHERE name LIKE '9999%'")
    before = everything(client)
    with pytest.raises(DatabaseTooNew, match="newer Wire Trace"):
        restore(cluster.url, file)
    assert everything(client) == before


def test_a_backup_needs_something_that_runs(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.delenv("WIRETRACE_DATABASE", raising=False)
    monkeypatch.setattr("scripts.backup.LOCAL", tmp_path)
    with pytest.raises(PostgresError, match=r"start \./run first"):
        running_database()
    (tmp_path / "running.json").write_text('{"database": "postgresql://somewhere"}', encoding="utf-8")
    assert running_database() == "postgresql://somewhere"


@pytest.fixture
def empty(cluster: Cluster) -> Any:
    """An empty database beside the one of the tests."""
    with psycopg.connect(cluster.url, autocommit=True) as connection:
        connection.execute("CREATE DATABASE beside")
        yield cluster.url.replace("/postgres?", "/beside?")
        connection.execute("DROP DATABASE beside WITH (FORCE)")


def tables(database: str) -> set[str]:
    with psycopg.connect(database) as connection:
        rows = connection.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
    return {row[0] for row in rows}


def test_migrations_that_fail_half_way_leave_nothing(empty: str, tmp_path: Path) -> None:
    for file in FOLDER.glob("*.sql"):
        (tmp_path / file.name).write_bytes(file.read_bytes())
    (tmp_path / "0100.good.sql").write_text("CREATE TABLE good (a int);", encoding="utf-8")
    (tmp_path / "0101.bad.sql").write_text("CREATE TABLE half (a int); SELECT 1 / 0;", encoding="utf-8")
    with pytest.raises(MigrationFailed, match=r"0101\.bad failed, nothing was changed"):
        migrate(empty, tmp_path)
    assert tables(empty) == set()
    (tmp_path / "0101.bad.sql").write_text("CREATE TABLE half (a int);", encoding="utf-8")
    assert migrate(empty, tmp_path) == len(list(tmp_path.iterdir()))
    assert tables(empty) >= {"jobs", "job_versions", "good", "half"}
    with pytest.raises(DatabaseTooNew):
        migrate(empty)


def test_a_database_of_an_earlier_release_is_taken_on(empty: str) -> None:
    """Until the third migration a library kept the records."""
    with psycopg.connect(empty) as connection:
        for name in ("0001.jobs", "0002.job-versions"):
            connection.execute((FOLDER / f"{name}.sql").read_bytes())
        connection.execute("CREATE TABLE _yoyo_migration (migration_hash text, migration_id text)")
        connection.execute("INSERT INTO _yoyo_migration VALUES ('h1', '0001.jobs'), ('h2', '0002.job-versions')")
        connection.execute("INSERT INTO jobs (title, circuit) VALUES ('Irrigation pump', '{}')")
    assert migrate(empty) == len(list(FOLDER.glob("*.sql"))) - 2
    with psycopg.connect(empty) as connection:
        assert connection.execute("SELECT title FROM jobs").fetchall() == [("Irrigation pump",)]
        # It had its demo jobs, and may have deleted them.
        assert load_demo(connection) == 0


def test_deleted_demo_jobs_do_not_come_back(empty: str) -> None:
    migrate(empty)
    with psycopg.connect(empty, row_factory=psycopg.rows.dict_row) as connection:
        assert load_demo(connection) == len(JOBS)
        connection.execute("DELETE FROM jobs")
        assert load_demo(connection) == 0
