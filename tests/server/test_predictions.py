"""Prediction sheets over HTTP, kept in PostgreSQL, and what is written into them."""

import json
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from server.subjects.predictions import routes as predictions
from tests.server.saving import save
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


class Attempt:
    """An attempt as a browser makes it."""

    def __init__(self, client: FlaskClient, sheet: str, who: str = "Bench 3") -> None:
        self.client, self.sheet = client, sheet
        self.at = f"{sheet}/attempts/{client.post(f'{sheet}/attempts', json={'who': who}).get_json()['id']}"
        self.serial = 0

    def write(self, state: int, place: str, text: str, serial: int = 0, status: int = 200, writer: str = "w") -> Any:
        self.serial = max(self.serial + 1, serial)
        one = {"state": state, "place": place, "text": text, "serial": serial or self.serial}
        answer = self.client.post(self.at, json={"writer": writer, "answers": [one]})
        assert answer.status_code == status, answer.get_json()
        return answer.get_json()

    def compare(self, state: int) -> Any:
        answer = self.client.post(f"{self.at}/compare", json={"state": state})
        assert answer.status_code == 200, answer.get_json()
        return answer.get_json()["marks"][str(state)]

    def end(self) -> Any:
        return self.client.patch(self.at, json={"ended": True}).get_json()


def test_a_sheet_is_kept_with_its_circuit_and_listed(client: FlaskClient, job: int, sheet: str) -> None:
    listed = client.get(f"/api/jobs/{job}/predictions").get_json()["sheets"]
    assert [(line["title"], line["attempts"]) for line in listed] == [(SHEET["title"], 0)]
    read = client.get(sheet).get_json()
    assert (read["circuit"], read["sheet"]["meters"]) == (CIRCUIT, SHEET["meters"])
    changed = {**CIRCUIT, "conductors": CIRCUIT["conductors"][:-1]}
    body = save(1, "me", 1, circuit=changed)
    assert client.put(f"/api/jobs/{job}/circuit", json=body).status_code == 200
    assert client.get(sheet).get_json()["circuit"] == CIRCUIT


def test_every_answer_is_kept_with_its_time_and_what_it_was_before(client: FlaskClient, sheet: str) -> None:
    attempt = Attempt(client, sheet)
    for state, place, text in ((0, "A", "0"), (0, "A", "230"), (1, "contactor", "in")):
        attempt.write(state, place, text)
    ended, again = attempt.end(), attempt.end()
    assert ended["ended_at"] == again["ended_at"] is not None
    (kept,) = client.get(f"{sheet}/attempts").get_json()["attempts"]
    assert (kept["who"], kept["answers"]) == ("Bench 3", {"0": {"A": "230"}, "1": {"contactor": "in"}})
    assert [change["text"] for change in kept["changes"]] == ["0", "230", "in"]
    assert kept == client.get(attempt.at).get_json()


def test_an_answer_that_comes_late_changes_nothing(client: FlaskClient, sheet: str) -> None:
    attempt = Attempt(client, sheet)
    attempt.write(0, "A", "230", serial=7)
    assert attempt.write(0, "A", "0", serial=6)["answers"] == {"0": {"A": "230"}}
    assert attempt.write(0, "contactor", "out", serial=5)["answers"]["0"] == {"A": "230", "contactor": "out"}
    assert attempt.write(0, "A", "231", serial=1, writer="another window")["answers"]["0"]["A"] == "231"
    assert len(client.get(attempt.at).get_json()["changes"]) == 3


def test_what_was_compared_or_has_ended_takes_no_answer(client: FlaskClient, sheet: str) -> None:
    attempt = Attempt(client, sheet)
    attempt.write(0, "A", "0")
    before = attempt.compare(0)
    assert attempt.write(0, "A", "230.9", status=409)["detail"].startswith("This state was compared")
    attempt.write(1, "A", "0")
    assert attempt.compare(0) == before
    ended = attempt.end()
    assert attempt.write(1, "A", "230", status=409)["detail"].startswith("This attempt has ended")
    # One that was taken already, and comes again, is no new one.
    assert attempt.write(1, "A", "0", serial=3)["answers"]["1"] == {"A": "0"}
    assert ended["marks"]["1"]["A"]["right"] is True
    assert attempt.compare(1) == ended["marks"]["1"]


def test_what_is_written_while_a_state_is_compared_is_what_is_marked(
    client: FlaskClient, sheet: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    attempt = Attempt(client, sheet)
    attempt.write(0, "A", "0")
    real, written = predictions._marked, []

    def marks_slowly(*given: Any) -> Any:
        found = real(*given)
        if not written:
            written.append(attempt.write(0, "A", "230.9"))
        return found

    monkeypatch.setattr(predictions, "_marked", marks_slowly)
    marks = attempt.compare(0)
    assert (marks["A"]["expected"], marks["A"]["right"]) == ("230.9", True)


def test_nothing_is_told_of_answers_while_somebody_writes(client: FlaskClient, sheet: str, cluster: Cluster) -> None:
    assert client.get(f"{sheet}/key").status_code == 200
    first, second = Attempt(client, sheet, "First"), Attempt(client, sheet, "Second")
    first.write(0, "A", "230.9")
    first.end()
    read = client.get(sheet).get_data(as_text=True)
    assert "230.9" not in read
    for path in ("key", "attempts"):
        told = client.get(f"{sheet}/{path}")
        assert (told.status_code, told.get_json()["type"]) == (403, "/problems/withheld")
    assert client.post("/api/predictions/mark", json={}).status_code == 405
    second.end()
    assert client.get(f"{sheet}/key").get_json()["states"][0]["A"]["shown"] == "230.9 V"
    third = Attempt(client, sheet, "Left")
    assert client.get(f"{sheet}/key").status_code == 403
    with psycopg.connect(cluster.url) as connection:
        connection.execute("UPDATE prediction_attempts SET started_at = now() - interval '13 hours'")
    assert client.get(f"{sheet}/key").status_code == 200
    third.write(0, "A", "1")
    assert client.get(f"{sheet}/key").status_code == 403


def test_several_attempts_stand_side_by_side(client: FlaskClient, sheet: str) -> None:
    for who in ("First", "Second"):
        Attempt(client, sheet, who).end()
    assert [one["who"] for one in client.get(sheet).get_json()["attempts"]] == ["First", "Second"]
    marked = client.get(f"{sheet}/attempts").get_json()["attempts"]
    assert [one["marks"]["0"]["A"]["right"] for one in marked] == [None, None]


def test_marks_tell_figure_and_misconception_state_by_state(client: FlaskClient, sheet: str) -> None:
    attempt = Attempt(client, sheet)
    attempt.write(0, "A", "0")
    attempt.write(0, "contactor", "out")
    rest = attempt.compare(0)
    assert (rest["A"]["right"], rest["A"]["shown"]) == (False, "230.9 V")
    assert "no_reference" in {fit["name"] for fit in rest["A"]["fits"]}
    assert rest["contactor"]["right"] is True
    attempt.write(1, "A", "0")
    attempt.write(1, "contactor", "in")
    held = attempt.compare(1)
    assert (held["A"]["right"], held["contactor"]["right"]) == (True, True)


def test_the_one_misconception_behind_the_answers_is_for_whoever_wrote_them(client: FlaskClient, sheet: str) -> None:
    attempt = Attempt(client, sheet)
    belief = f"{attempt.at}/belief"
    assert client.get(belief).get_json() == {"named": [], "apart": None}
    attempt.write(0, "A", "0")
    attempt.compare(0)
    assert client.get(belief).get_json()["named"] == []
    assert client.get(f"{sheet}/attempts/99/belief").status_code == 404


def test_a_sheet_proposes_its_meters(client: FlaskClient) -> None:
    body = {"circuit": CIRCUIT, "hands": SHEET["hands"], "states": SHEET["states"]}
    meters = client.post("/api/predictions/proposed", json=body).get_json()["meters"]
    assert [one["letter"] for one in meters] == list("ABCDEF")
    kept = client.post("/api/jobs", json={"title": "Proposed", "circuit": CIRCUIT}).get_json()["id"]
    made = {"sheet": {**SHEET, "meters": meters}, "circuit": CIRCUIT}
    assert client.post(f"/api/jobs/{kept}/predictions", json=made).status_code == 201
    bare = {**CIRCUIT, "conductors": [], "sheets": []}
    refused = client.post("/api/predictions/proposed", json={**body, "circuit": bare, "hands": []})
    assert (refused.status_code, refused.get_json()["detail"]) == (
        422,
        "Nothing is wired yet: there is nothing to be asked about.",
    )


def test_a_sheet_that_asks_for_what_is_not_there_is_refused_by_name(client: FlaskClient, job: int) -> None:
    wrong = {**SHEET, "devices": ["ghost"]}
    answer = client.post(f"/api/jobs/{job}/predictions", json={"sheet": wrong, "circuit": CIRCUIT})
    assert answer.status_code == 422
    assert answer.get_json()["detail"] == "The device ghost is not there."


def test_what_is_gone_is_told(client: FlaskClient, job: int, sheet: str) -> None:
    attempt = Attempt(client, sheet)
    late = client.post(f"{attempt.at}/compare", json={"state": 2})
    assert (late.status_code, late.get_json()["detail"]) == (422, "The sheet has 2 states.")
    for path in ("/attempts/99", "/attempts/99/compare"):
        assert client.get(sheet + path).status_code in (404, 405)
    assert client.post(f"{sheet}/attempts/99", json={"writer": "w", "answers": []}).status_code == 404
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
