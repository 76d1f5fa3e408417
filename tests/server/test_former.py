"""What an earlier release wrote is opened, gone on with, and loses nothing: a whole database of it."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient
from psycopg import sql

from scripts.postgres import Cluster
from server.app import create_app
from server.config import Config
from server.store.migrations import migrate
from wiretrace.document.circuit import VERSION

FORMER = Path(__file__).parents[1] / "former"
EXERCISES = "/api/jobs/1/exercises"


@pytest.fixture(scope="module", params=sorted(path.name for path in FORMER.glob("*.sql")))
def former(request: pytest.FixtureRequest, cluster: Cluster, tmp_path_factory: Any) -> Iterator[FlaskClient]:
    """A server of this release on the database of an earlier one."""
    name = f"former_{request.param.removesuffix('.sql')}"
    with psycopg.connect(cluster.url, autocommit=True) as connection:
        connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
    url = cluster.url.replace("/postgres?", f"/{name}?")
    with psycopg.connect(url) as connection:
        connection.execute((FORMER / request.param).read_text("utf-8"))  # type: ignore[call-overload]
    assert migrate(url) > 0
    app = create_app(Config(url, tmp_path_factory.mktemp("web")))
    app.config["PROPAGATE_EXCEPTIONS"] = False
    yield app.test_client()
    app.extensions["database"].close()


def got(client: FlaskClient, path: str) -> Any:
    answer = client.get(path)
    assert answer.status_code == 200, (path, answer.get_json())
    return answer.get_json()


def relay(circuit: Any) -> Any:
    return next(device for device in circuit["devices"] if device["id"] == "k1")


def test_a_job_and_its_versions_keep_their_meaning(former: FlaskClient) -> None:
    job = got(former, "/api/jobs/1")
    assert (job["title"], job["place"], job["circuit"]["version"]) == ("Sump pump", "Boiler house", VERSION)
    # A coil for direct current had its drop-out where it was not looked at any more.
    assert relay(job["circuit"])["params"] == {
        "coil_kind": "DC",
        "coil_voltage_v": 24.0,
        "drop_out_dc_percent": 10.0,
    }
    (line,) = got(former, "/api/jobs/1/versions")["versions"]
    version = got(former, f"/api/jobs/1/versions/{line['id']}")
    assert (version["name"], version["circuit"]) == ("as built", job["circuit"])
    saved = {"based_on": job["version"], "writer": "w", "serial": 1, "circuit": job["circuit"]}
    assert former.put("/api/jobs/1/circuit", json=saved).status_code == 200
    run = former.post("/api/simulation/run", json={"circuit": job["circuit"], "until_us": 1_000_000})
    assert run.status_code == 200


def test_sequences_and_the_sizing_are_there(former: FlaskClient) -> None:
    (sequence,) = got(former, "/api/jobs/1/sequences")["sequences"]
    assert (sequence["name"], sequence["sequence"]["steps"][0]["expect"]) == ("Start", {"H1": "lit"})
    sizing = got(former, "/api/jobs/1/sizing")
    assert (sizing["version"], sizing["sizing"]["fields"]["power"]) == (1, "1.5 kW")


def test_an_attempt_is_gone_on_with_and_marked(former: FlaskClient) -> None:
    (line,) = got(former, "/api/jobs/1/predictions")["sheets"]
    sheet = f"/api/jobs/1/predictions/{line['id']}"
    (attempt,) = got(former, sheet)["attempts"]
    at = f"{sheet}/attempts/{attempt['id']}"
    assert got(former, at)["answers"] == {"0": {"A": "230"}}
    answer = {"writer": "w", "answers": [{"state": 1, "place": "h1", "text": "lit", "serial": 1}]}
    assert former.post(at, json=answer).status_code == 200
    marks = former.patch(at, json={"ended": True}).get_json()["marks"]
    assert (marks["0"]["A"]["right"], marks["1"]["h1"]["right"]) == (False, True)


def test_exercises_go_on_and_ended_ones_are_reviewed(former: FlaskClient) -> None:
    going, ended, drawn = (one["id"] for one in reversed(got(former, EXERCISES)["exercises"]))
    record = got(former, f"{EXERCISES}/{going}")
    assert [entry["kind"] for entry in record["entries"]] == ["begin", "work", "read", "answer"]
    assert "seed" not in str(got(former, f"{EXERCISES}/{drawn}"))
    step = {"known": 4, "step": {"kind": "wait", "seconds": 2}}
    taken = former.post(f"{EXERCISES}/{going}/steps", json=step)
    assert (taken.status_code, taken.get_json()["seen"]["h1"]["says"]) == (201, "dark")
    right = {"known": 5, "fault": {"kind": "open", "place": "h1", "branch": "lamp"}}
    assert former.post(f"{EXERCISES}/{going}/answers", json=right).get_json()["right"] is True
    assert got(former, f"{EXERCISES}/{ended}")["hidden"]
    for _ in range(60):
        review = former.post(f"{EXERCISES}/{ended}/review", json={}).get_json()["review"]
        if review:
            break
    assert {reason["words"] for reason in review["reasons"]} >= {"1 sound part named."}


def test_nothing_of_a_number_is_taken_for_something_else(former: FlaskClient) -> None:
    """Rows of dictionaries were kept by number, and sealed faults by a name: neither is there any more."""
    circuit = got(former, "/api/jobs/1")["circuit"]
    assert former.post("/api/simulation/seal", json={"circuit": circuit, "faults": []}).status_code == 405
