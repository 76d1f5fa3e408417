"""Prediction sheets over HTTP, kept in PostgreSQL, and what is written into them."""

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from wiretrace.library import library_circuit

CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")
SHEET: dict[str, Any] = {
    "title": "Where does the supply stand?",
    "meters": [
        {
            "letter": "A",
            "red": {"device": "start", "terminal": "13"},
            "black": {"device": "start", "terminal": "14"},
        }
    ],
    "devices": ["contactor"],
    "hands": [{"at_us": 1_000_000, "device": "start", "operation": "press"}],
    "states": [{"title": "At rest", "at_us": 500_000}, {"title": "Start held", "at_us": 2_000_000}],
}


@pytest.fixture
def job(client: FlaskClient) -> int:
    made: dict[str, Any] = client.post("/api/jobs", json={"title": "Sump", "circuit": CIRCUIT}).get_json()
    return int(made["id"])


@pytest.fixture
def sheet(client: FlaskClient, job: int) -> str:
    answer = client.post(f"/api/jobs/{job}/predictions", json={"sheet": SHEET, "circuit": CIRCUIT})
    assert answer.status_code == 201, answer.get_json()
    return f"/api/jobs/{job}/predictions/{answer.get_json()['id']}"


def mark(client: FlaskClient, state: int, answers: dict[str, str]) -> dict[str, Any]:
    body = {"circuit": CIRCUIT, "sheet": SHEET, "state": state, "answers": answers}
    marks: dict[str, Any] = client.post("/api/predictions/mark", json=body).get_json()["marks"]
    return marks


def test_a_sheet_is_kept_with_its_circuit_and_listed(client: FlaskClient, job: int, sheet: str) -> None:
    listed = client.get(f"/api/jobs/{job}/predictions").get_json()["sheets"]
    assert [(line["title"], line["attempts"]) for line in listed] == [(SHEET["title"], 0)]
    read = client.get(sheet).get_json()
    assert (read["circuit"], read["sheet"]["meters"]) == (CIRCUIT, SHEET["meters"])
    changed = {**CIRCUIT, "conductors": CIRCUIT["conductors"][:-1]}
    body = {"based_on": 1, "writer": "me", "circuit": changed}
    assert client.put(f"/api/jobs/{job}/circuit", json=body).status_code == 200
    assert client.get(sheet).get_json()["circuit"] == CIRCUIT


def test_every_answer_is_kept_with_its_time_and_what_it_was_before(client: FlaskClient, sheet: str) -> None:
    begun = client.post(f"{sheet}/attempts", json={"who": "Bench 3"}).get_json()
    where = f"{sheet}/attempts/{begun['id']}"
    for state, place, text in ((0, "A", "0"), (0, "A", "230"), (1, "contactor", "in")):
        answer = client.post(where, json={"state": state, "place": place, "text": text})
        assert answer.status_code == 200, answer.get_json()
    ended = client.patch(where, json={"ended": True}).get_json()
    again = client.patch(where, json={"ended": True}).get_json()
    assert ended["ended_at"] == again["ended_at"] is not None
    (kept,) = client.get(sheet).get_json()["attempts"]
    assert (kept["who"], kept["answers"]) == ("Bench 3", {"0": {"A": "230"}, "1": {"contactor": "in"}})
    assert [change["text"] for change in kept["changes"]] == ["0", "230", "in"]


def test_several_attempts_stand_side_by_side(client: FlaskClient, sheet: str) -> None:
    for who in ("First", "Second"):
        client.post(f"{sheet}/attempts", json={"who": who})
    assert [one["who"] for one in client.get(sheet).get_json()["attempts"]] == ["First", "Second"]


def test_marks_tell_figure_and_misconception_state_by_state(client: FlaskClient) -> None:
    rest = mark(client, 0, {"A": "0", "contactor": "out"})
    assert (rest["A"]["right"], rest["A"]["shown"]) == (False, "230.9 V")
    assert "no_reference" in {fit["name"] for fit in rest["A"]["fits"]}
    assert rest["contactor"]["right"] is True
    held = mark(client, 1, {"A": "0", "contactor": "in"})
    assert (held["A"]["right"], held["contactor"]["right"]) == (True, True)


def test_a_sheet_that_asks_for_what_is_not_there_is_refused_by_name(client: FlaskClient, job: int) -> None:
    wrong = {**SHEET, "devices": ["ghost"]}
    answer = client.post(f"/api/jobs/{job}/predictions", json={"sheet": wrong, "circuit": CIRCUIT})
    assert answer.status_code == 422
    assert answer.get_json()["detail"] == "The device ghost is not there."
    late = {"circuit": CIRCUIT, "sheet": SHEET, "state": 2, "answers": {}}
    assert client.post("/api/predictions/mark", json=late).get_json()["detail"] == "The sheet has 2 states."


def test_what_is_gone_is_told(client: FlaskClient, job: int, sheet: str) -> None:
    assert client.post(f"{sheet}/attempts/99", json={"state": 0, "place": "A", "text": "1"}).status_code == 404
    assert client.patch(f"{sheet}/attempts/99", json={"ended": True}).status_code == 404
    assert client.delete(sheet).status_code == 204
    assert client.get(sheet).status_code == client.delete(sheet).status_code == 404
    assert client.post(f"{sheet}/attempts", json={"who": "x"}).status_code == 404
    assert client.post("/api/jobs/999/predictions", json={"sheet": SHEET, "circuit": CIRCUIT}).status_code == 404


def test_a_job_takes_its_sheets_with_it(client: FlaskClient, job: int, sheet: str) -> None:
    client.post(f"{sheet}/attempts", json={"who": "x"})
    assert client.delete(f"/api/jobs/{job}").status_code == 204
    assert client.get(sheet).status_code == 404


def test_a_sheet_is_told_which_meter_tells_nothing_and_where_one_would(client: FlaskClient) -> None:
    wasted = {
        "letter": "B",
        "red": {"device": "stop", "terminal": "11"},
        "black": {"device": "stop", "terminal": "12"},
    }
    body = {"circuit": CIRCUIT, "sheet": {**SHEET, "meters": [*SHEET["meters"], wasted]}, "apart": [0, 1]}
    found = client.post("/api/predictions/positions", json=body).get_json()
    assert found["useless"] == ["B"]
    best = found["telling"][0]
    assert abs(float(best["first"]) - float(best["second"])) > 200
    assert client.post("/api/predictions/positions", json={**body, "apart": [0, 5]}).status_code == 422
    assert client.post("/api/predictions/positions", json={**body, "apart": None}).get_json()["telling"] == []


def test_a_file_is_read_as_far_as_it_goes_and_each_problem_named(client: FlaskClient) -> None:
    def read(text: str) -> dict[str, Any]:
        answer: dict[str, Any] = client.post("/api/predictions/file", json={"text": text}).get_json()
        return answer

    whole = read(json.dumps(SHEET))
    assert (whole["sheet"]["title"], whole["problems"]) == (SHEET["title"], [])
    broken = read(json.dumps({**SHEET, "hands": [{"at_us": "soon"}, *SHEET["hands"]]}))
    assert [hand["operation"] for hand in broken["sheet"]["hands"]] == ["press"]
    assert any("hands.0" in problem for problem in broken["problems"])
    assert read("{ not json")["detail"] == "This is no JSON, so no prediction sheet."
    assert read("[" * 100_000)["status"] == 400
    assert read("[]")["detail"] == "This is no prediction sheet that could be asked."
