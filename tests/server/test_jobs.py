"""Jobs: what is saved is found again, and nobody's work is overwritten unseen."""

import json
from typing import Any

import psycopg
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from server.demo import JOBS, load_demo
from tests.server.saving import save
from wiretrace.library import library_circuit


def make(client: FlaskClient, **body: Any) -> dict[str, Any]:
    answer = client.post("/api/jobs", json={"title": "Borehole pump", **body})
    assert answer.status_code == 201
    made: dict[str, Any] = answer.get_json()
    return made


def test_a_job_from_the_library_is_found_again_as_it_was_made(client: FlaskClient) -> None:
    made = make(client, place="Pump house", template="start-stop-overload-line")
    found = client.get(f"/api/jobs/{made['id']}").get_json()
    assert found == made
    expected = library_circuit("start-stop-overload-line").model_dump(mode="json")
    assert found["circuit"] == {**expected, "title": "Borehole pump"}
    line = client.get("/api/jobs").get_json()["jobs"][0]
    assert line == {key: made[key] for key in ("id", "title", "place", "version", "updated_at")}


def test_an_empty_job_has_a_power_and_a_control_sheet(client: FlaskClient) -> None:
    sheets = make(client)["circuit"]["sheets"]
    assert [(sheet["title"], sheet["symbols"]) for sheet in sheets] == [("Power", []), ("Control", [])]


def test_saving_counts_the_version_up_and_keeps_every_value(client: FlaskClient) -> None:
    made = make(client, template="start-stop-overload-line")
    circuit = made["circuit"]
    circuit["devices"][4]["params"]["dial_a"] = 3.0625
    saved = client.put(f"/api/jobs/{made['id']}/circuit", json=save(1, "w1", 1, circuit=circuit))
    assert saved.get_json()["version"] == 2
    assert client.get(f"/api/jobs/{made['id']}").get_json()["circuit"] == circuit


def test_a_save_on_an_old_version_is_a_conflict_and_changes_nothing(client: FlaskClient) -> None:
    made = make(client, template="start-stop-overload-line")
    address, circuit = f"/api/jobs/{made['id']}/circuit", made["circuit"]
    theirs = {**circuit, "title": "theirs"}
    assert client.put(address, json=save(1, "w1", 1, circuit=theirs)).status_code == 200
    mine = client.put(address, json=save(1, "w2", 1, circuit={**circuit, "title": "mine"}))
    assert mine.status_code == 409
    assert mine.content_type == "application/problem+json"
    assert mine.get_json()["current_version"] == 2
    assert client.get(f"/api/jobs/{made['id']}").get_json()["circuit"]["title"] == "theirs"


def test_a_window_that_never_heard_of_its_own_save_may_save_again(client: FlaskClient) -> None:
    made = make(client)
    address = f"/api/jobs/{made['id']}/circuit"
    body = save(1, "w1", 1, circuit=made["circuit"])
    assert client.put(address, json=body).get_json()["version"] == 2
    assert client.put(address, json=body).get_json()["version"] == 2, "the same save is no new version"
    assert client.put(address, json={**body, "serial": 2}).get_json()["version"] == 3
    assert client.put(address, json={**body, "writer": "w2", "based_on": 3}).status_code == 200
    assert client.put(address, json={**body, "serial": 3}).status_code == 409
    assert client.put(address, json={**body, "based_on": 9}).status_code == 409


def test_a_save_that_comes_late_changes_nothing_and_is_answered_what_the_newer_one_was(client: FlaskClient) -> None:
    made = make(client)
    address = f"/api/jobs/{made['id']}/circuit"

    def sent(serial: int, title: str, based_on: int = 1) -> Any:
        circuit = {**made["circuit"], "title": title}
        return client.put(address, json=save(based_on, "w", serial, circuit=circuit))

    newer = sent(2, "B")
    assert (newer.status_code, newer.get_json()["version"]) == (200, 2)
    late = sent(1, "A")
    assert (late.status_code, late.get_json()) == (200, newer.get_json())
    assert client.get(f"/api/jobs/{made['id']}").get_json()["circuit"]["title"] == "B"
    # Also behind a conflict that was decided for what this window has.
    other = save(2, "other", 1, circuit=made["circuit"])
    assert client.put(address, json=other).get_json()["version"] == 3
    assert sent(3, "C", 2).status_code == 409
    assert sent(4, "C", 3).get_json()["version"] == 4
    assert sent(3, "C", 2).get_json()["version"] == 4


def test_a_title_that_comes_late_changes_nothing(client: FlaskClient) -> None:
    made = make(client)

    def rename(serial: int, title: str, writer: str = "w") -> Any:
        body = {"title": title, "place": "", "writer": writer, "serial": serial}
        return client.patch(f"/api/jobs/{made['id']}", json=body).get_json()["title"]

    assert rename(2, "Second") == "Second"
    assert rename(1, "First") == "Second"
    assert rename(1, "Elsewhere", "other") == "Elsewhere"
    assert rename(3, "Third") == "Third"


def test_a_job_can_be_renamed_and_deleted(client: FlaskClient) -> None:
    made = make(client)
    answer = client.patch(
        f"/api/jobs/{made['id']}", json={"title": "  Well pump  ", "place": "Bay 2", "writer": "w", "serial": 1}
    )
    assert (answer.get_json()["title"], answer.get_json()["place"]) == ("Well pump", "Bay 2")
    assert client.delete(f"/api/jobs/{made['id']}").status_code == 204
    assert client.get(f"/api/jobs/{made['id']}").status_code == 404
    assert client.delete(f"/api/jobs/{made['id']}").status_code == 404
    assert (
        client.put(
            f"/api/jobs/{made['id']}/circuit",
            json=save(1, "w1", 1, circuit=made["circuit"]),
        ).status_code
        == 404
    )


def test_a_circuit_that_contradicts_itself_is_refused_with_the_place(client: FlaskClient) -> None:
    made = make(client, template="start-stop-overload-line")
    circuit = made["circuit"]
    circuit["conductors"][0]["b"] = {"device": "isolator", "terminal": "9"}
    circuit["devices"][4]["params"]["dial_a"] = 0.0
    refused = client.put(f"/api/jobs/{made['id']}/circuit", json=save(1, "w1", 1, circuit=circuit))
    assert refused.status_code == 422
    problems = {item["code"]: item for item in refused.get_json()["problems"]}
    assert problems["unknown_terminal"]["conductor"] == "p1-supply"
    assert "Q1:9" in problems["unknown_terminal"]["message"]
    assert problems["value_out_of_range"]["device"] == "overload"
    assert client.get(f"/api/jobs/{made['id']}").get_json()["version"] == 1


def test_a_title_is_needed_and_a_template_must_exist(client: FlaskClient) -> None:
    assert client.post("/api/jobs", json={"title": "   "}).status_code == 422
    assert client.post("/api/jobs", json={"title": "a\u0000b"}).status_code == 422
    assert client.post("/api/jobs", json={"title": "x", "template": "nothing"}).status_code == 404
    assert client.get("/api/jobs").get_json() == {"jobs": []}


def test_the_demo_data_is_made_once(client: FlaskClient, cluster: Cluster) -> None:
    with psycopg.connect(cluster.url, row_factory=psycopg.rows.dict_row) as connection:
        assert load_demo(connection) == len(JOBS)
        assert load_demo(connection) == 0
    titles = [job["title"] for job in client.get("/api/jobs").get_json()["jobs"]]
    assert titles == [title for title, _, _ in JOBS]


def test_hostile_text_comes_back_as_text(client: FlaskClient) -> None:
    title = "<script>alert(1)</script>'; DROP TABLE jobs; --"
    made = make(client, title=title)
    assert json.loads(client.get(f"/api/jobs/{made['id']}").data)["title"] == title
