"""Operating sequences of a job over HTTP, their tables, paper, and why a device stands as it does."""

from typing import Any

from flask.testing import FlaskClient

from tests.server.test_simulation_api import CIRCUIT, run

SEQUENCE: dict[str, Any] = {"steps": [{"text": "Hold start", "do": [["S1", "press", True]], "wait_s": 0.5}]}


def test_a_job_from_the_library_comes_with_its_sequence(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "Pump", "template": "start-stop-overload-line"}).get_json()["id"]
    (kept,) = client.get(f"/api/jobs/{job}/sequences").get_json()["sequences"]
    assert kept["name"] == "What it should do"
    assert kept["sequence"]["steps"][0]["text"] == "Under power, nothing pressed"


def test_sequences_are_kept_changed_and_forgotten(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "Pump"}).get_json()["id"]
    place = f"/api/jobs/{job}/sequences"
    made = client.post(place, json={"name": "Start", "sequence": SEQUENCE})
    assert made.status_code == 201
    at = f"{place}/{made.get_json()['id']}"
    save = {"based_on": 1, "writer": "w", "serial": 2, "name": "Start and wait", "sequence": SEQUENCE}
    changed = client.put(at, json=save).get_json()
    assert (changed["name"], changed["sequence"]["steps"][0]["wait_s"]) == ("Start and wait", 0.5)
    assert changed["version"] == 2
    # What comes late changes nothing; what another window made of the same is told.
    assert client.put(at, json={**save, "serial": 1, "name": "Late"}).get_json() == changed
    assert client.put(at, json={**save, "writer": "other"}).status_code == 409
    assert client.delete(at).status_code == 204
    assert client.get(place).get_json() == {"sequences": []}
    assert client.put(at, json=save).status_code == 404
    assert client.delete(at).status_code == 404
    gone = client.post("/api/jobs/999999999/sequences", json={"name": "x", "sequence": SEQUENCE})
    assert (gone.status_code, gone.get_json()["detail"]) == (404, "There is no job 999999999.")


def test_a_table_is_made_beside_another_circuit_and_as_csv(client: FlaskClient) -> None:
    other = {**CIRCUIT, "conductors": [wire for wire in CIRCUIT["conductors"] if wire["id"] != "c4"]}
    body = {"circuit": CIRCUIT, "sequence": SEQUENCE, "against": other}
    answer = client.post("/api/sequence/table", json=body).get_json()
    assert answer["table"]["rows"][0]["statuses"]["K1"] == "pulled_in"
    assert {"row": 0, "device": "K1"} in answer["different"]
    text = client.post("/api/sequence/table.csv", json={"circuit": CIRCUIT, "sequence": SEQUENCE}).get_data(
        as_text=True
    )
    assert text.splitlines()[0].startswith("Step,From s,To s,G1,Q1")
    bad = {"steps": [{"text": "x", "do": [["S9", "press", True]]}]}
    refused = client.post("/api/sequence/table", json={"circuit": CIRCUIT, "sequence": bad})
    assert refused.status_code == 422
    assert "S9" in refused.get_json()["detail"]


def test_paper_comes_as_pdf_and_a_part_of_no_kind_is_refused(client: FlaskClient) -> None:
    answer = client.post("/api/paper", json={"title": "x", "parts": [{"kind": "words", "text": "y"}]})
    assert (answer.mimetype, answer.get_data()[:4]) == ("application/pdf", b"%PDF")
    assert client.post("/api/paper", json={"title": "x", "parts": [{"kind": "film"}]}).status_code == 422


def test_why_is_told_with_causes(client: FlaskClient) -> None:
    press = {"at_us": 100_000, "device": "start", "operation": "press", "value": True}
    told = run(client, circuit=CIRCUIT, actions=[press], until_us=500_000)
    states = [frame["state"] for frame in told["frames"]]
    body = {"circuit": CIRCUIT, "state": states[-1], "device": "contactor", "before": states[:-1], "actions": [press]}
    answer = client.post("/api/simulation/why", json=body).get_json()
    assert answer["sentences"][0] == "K1: in."
    assert answer["causes"][-1]["sentence"].endswith("17 ms after a hand worked it (press).")
    assert [way["whole"] for way in answer["ways"]] == [True, True]
    nobody = client.post("/api/simulation/why", json={**body, "device": "ghost"})
    assert (nobody.status_code, nobody.get_json()["detail"]) == (422, "There is no device ghost.")


def test_a_sequence_of_a_newer_release_is_refused_and_one_of_an_earlier_is_read(client: FlaskClient) -> None:
    newer = client.post("/api/sequence/table", json={"circuit": CIRCUIT, "sequence": {**SEQUENCE, "version": 3}})
    assert newer.status_code == 422
    assert "reads up to 2" in newer.get_json()["detail"]
    former = {"steps": [{"text": "Nothing", "expect": {"K1": "out"}}]}
    read = client.post("/api/sequence/table", json={"circuit": CIRCUIT, "sequence": former}).get_json()
    assert read["table"]["rows"][0]["unmet"] == {}
