"""What is kept for how long: dictionaries, what was thought over, and what a client may make."""

from typing import Any

import psycopg
from flask.testing import FlaskClient
from psycopg.rows import dict_row

from scripts.postgres import Cluster
from server.store.retention import RULES, prune
from server.subjects.exercises import store as exercise_store
from tests.core.circuits import lamp

LAMP = lamp().model_dump(mode="json")
DARK = {"kind": "open", "place": "h1", "branch": "lamp"}


def count(cluster: Cluster, table: str) -> int:
    with psycopg.connect(cluster.url) as connection:
        row = connection.execute(f"SELECT count(*) FROM {table}").fetchone()  # type: ignore[call-overload]
    return int(row[0]) if row else 0


def pruned(cluster: Cluster) -> dict[str, int]:
    with psycopg.connect(cluster.url, row_factory=dict_row) as connection:
        return prune(connection)


def age(cluster: Cluster, statement: str) -> None:
    with psycopg.connect(cluster.url) as connection:
        connection.execute(statement)  # type: ignore[call-overload]


def test_dictionaries_go_when_nobody_asks_for_them_and_the_last_stay(client: FlaskClient, cluster: Cluster) -> None:
    client.post("/api/trace/work", json={"circuit": LAMP})
    rows = count(cluster, "fault_rows")
    assert rows > 0
    assert pruned(cluster) == {}
    age(cluster, "UPDATE fault_dictionaries SET used_at = used_at - interval '31 days'")
    assert list(pruned(cluster).values()) == [1]
    assert (count(cluster, "fault_rows"), count(cluster, "fault_dictionaries")) == (0, 0)
    age(
        cluster,
        "INSERT INTO fault_dictionaries (ref, used_at)"
        " SELECT lpad(n::text, 64, '0'), now() - make_interval(mins => n) FROM generate_series(1, 230) n",
    )
    pruned(cluster)
    assert count(cluster, "fault_dictionaries") == 200
    with psycopg.connect(cluster.url) as connection:
        oldest = connection.execute("SELECT max(ref) FROM fault_dictionaries").fetchone()
    assert oldest == (f"{200:064d}",)


def exercise(client: FlaskClient) -> tuple[str, Any]:
    job = client.post("/api/jobs", json={"title": "P", "circuit": LAMP}).get_json()["id"]
    root = f"/api/jobs/{job}/exercises"
    return root, client.post(root, json={"circuit": LAMP, "faults": [DARK]}).get_json()


def test_what_somebody_worked_on_stays_and_what_was_only_begun_goes(client: FlaskClient, cluster: Cluster) -> None:
    root, begun = exercise(client)
    worked = client.post(root, json={"circuit": LAMP, "faults": [DARK]}).get_json()
    step = {"known": 1, "step": {"kind": "wait", "seconds": 1}}
    assert client.post(f"{root}/{worked['id']}/steps", json=step).status_code == 201
    client.post(f"{root}/{worked['id']}/hints", json={"known": 2, "step": 1})
    assert count(cluster, "followed") > 0
    age(cluster, "UPDATE exercises SET made_at = made_at - interval '31 days'")
    age(cluster, "UPDATE exercise_entries SET made_at = made_at - interval '31 days'")
    gone = pruned(cluster)
    assert len(gone) == 2
    assert client.get(f"{root}/{begun['id']}").status_code == 404
    assert len(client.get(f"{root}/{worked['id']}").get_json()["entries"]) >= 2
    assert count(cluster, "followed") == 0


def test_a_job_takes_so_many_exercises_and_no_more(client: FlaskClient, monkeypatch: Any) -> None:
    monkeypatch.setattr(exercise_store, "MOST_EXERCISES", 2)
    root, _ = exercise(client)
    codes = [client.post(root, json={"circuit": LAMP, "faults": [DARK]}).status_code for _ in range(3)]
    assert codes == [201, 409, 409]


def test_every_rule_runs_on_an_empty_database(client: FlaskClient, cluster: Cluster) -> None:
    assert pruned(cluster) == {}
    assert len({rule.words for rule in RULES}) == len(RULES)
