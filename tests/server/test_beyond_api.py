"""Beyond the likely faults: rare ones and pairs worked out on demand, and weights learned from what was found."""

from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.core.circuits import lamp
from wiretrace.diagnosis.hypotheses import WEIGHTS

CIRCUIT = lamp().model_dump(mode="json")


def pair(red: str, black: str) -> dict[str, Any]:
    ends = [dict(zip(("device", "terminal"), one.split(":"), strict=True)) for one in (red, black)]
    return {"red": ends[0], "black": ends[1]}


DARK = {"halt": 1, "device": "h1", "text": "dark"}
LIT = {"halt": 1, "device": "h1", "text": "lit"}
NO_VOLTS = {"halt": 1, **pair("h1:X1", "h1:X2"), "text": "0 V"}


def work(client: FlaskClient, reach: str, *made: dict[str, Any]) -> dict[str, Any]:
    body = {"circuit": CIRCUIT, "reach": reach, "observations": list(made)}
    for _ in range(100):
        answer = client.post("/api/trace/work", json=body)
        assert answer.status_code == 200, answer.get_json()
        progress: dict[str, Any] = answer.get_json()
        if progress["done"] >= progress["all"]:
            return progress
    raise AssertionError(progress)


def advice(client: FlaskClient, reach: str, *made: dict[str, Any]) -> dict[str, Any]:
    body = {"circuit": CIRCUIT, "reach": reach, "observations": list(made)}
    answer = client.post("/api/trace/advice", json=body)
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def test_rare_faults_are_thought_of_once_they_are_worked_out(client: FlaskClient) -> None:
    likely = work(client, "likely")
    before = advice(client, "rare", DARK)
    assert before["reach"] == "likely"
    rare = work(client, "rare")
    assert rare["all"] != likely["all"]
    after = advice(client, "rare", DARK)
    assert after["reach"] == "rare"
    assert after["count"] > before["count"]
    assert advice(client, "likely", DARK)["count"] == before["count"]
    # The likelier ones stay first.
    assert after["likely"][0]["words"] == before["likely"][0]["words"]


def test_what_is_half_worked_out_is_not_advised_from(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    other = {**CIRCUIT, "conductors": [{**one, "length_m": 3.0} for one in CIRCUIT["conductors"]]}
    body = {"circuit": other, "reach": "rare", "observations": [DARK]}
    while (progress := client.post("/api/trace/work", json={**body, "reach": "likely"}).get_json())["done"] < progress[
        "all"
    ]:
        pass
    monkeypatch.setattr("server.subjects.diagnosis.dictionaries.WORK_S", 0.0)
    some = client.post("/api/trace/work", json=body).get_json()
    assert 0 < some["done"] < some["all"]
    assert client.post("/api/trace/advice", json=body).get_json()["reach"] == "likely"


def test_two_slips_mean_something_else_and_the_way_is_halved(client: FlaskClient) -> None:
    work(client, "likely")
    work(client, "rare")
    sure = [{**LIT, "twice": True}, {**NO_VOLTS, "twice": True}]
    found = advice(client, "rare", *sure)
    assert found["outside"]
    assert not found["confirmed"]
    assert (found["region"], found["next"]) == (None, [])
    work(client, "pairs", *sure)
    assert advice(client, "pairs", *sure)["reach"] == "pairs"
    assert not advice(client, "rare", LIT, NO_VOLTS)["outside"]


def test_pairs_are_looked_for_only_from_what_is_known(client: FlaskClient) -> None:
    other = {**CIRCUIT, "conductors": CIRCUIT["conductors"][:2]}
    answer = client.post("/api/trace/work", json={"circuit": other, "reach": "pairs", "observations": [DARK]})
    assert answer.status_code == 404


def test_what_a_motor_or_lamp_may_do_otherwise_is_offered_too(client: FlaskClient) -> None:
    work(client, "likely")
    look = next(one for one in advice(client, "likely")["looks"] if one["device"] == "h1")
    assert {one["says"] for one in look["otherwise"]} >= {one["says"] for state in look["statuses"] for one in state}


def weights(client: FlaskClient) -> dict[str, dict[str, Any]]:
    return {one["kind"]: one for one in advice(client, "likely")["weights"]}


def test_what_was_found_at_panels_is_likelier_from_then_on(client: FlaskClient) -> None:
    work(client, "likely")
    job = client.post("/api/jobs", json={"title": "Bench", "circuit": CIRCUIT}).get_json()["id"]
    before = weights(client)
    assert {kind: one["weight"] for kind, one in before.items()} == pytest.approx(WEIGHTS)
    finds = []
    for _ in range(4):
        answer = client.post(f"/api/jobs/{job}/finds", json={"circuit": CIRCUIT, "kinds": ["short"]})
        assert answer.status_code == 200, answer.get_json()
        finds.append(answer.get_json()["id"])
    after = weights(client)
    assert after["short"]["found"] == 4
    assert 0 < after["short"]["expected"] < 2
    assert after["short"]["weight"] > 1.3 * after["short"]["prior"]
    assert after["loose_terminal"]["weight"] < after["loose_terminal"]["prior"]
    # Taken back, and gone with its job.
    assert client.delete(f"/api/jobs/{job}/finds/{finds[0]}").status_code == 204
    assert client.delete(f"/api/jobs/{job}/finds/{finds[0]}").status_code == 404
    assert weights(client)["short"]["found"] == 3
    client.delete(f"/api/jobs/{job}")
    assert weights(client) == before


@pytest.mark.parametrize("kinds", [[], ["nonsense"], ["short", "short", "short"]])
def test_a_find_of_no_kind_is_refused(client: FlaskClient, kinds: list[str]) -> None:
    job = client.post("/api/jobs", json={"title": "Bench", "circuit": CIRCUIT}).get_json()["id"]
    answer = client.post(f"/api/jobs/{job}/finds", json={"circuit": CIRCUIT, "kinds": kinds})
    assert answer.status_code == 422
    assert answer.get_json()["detail"]
    assert client.post("/api/jobs/999999/finds", json={"circuit": CIRCUIT, "kinds": ["short"]}).status_code == 404
