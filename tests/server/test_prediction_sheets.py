"""Prediction sheets over HTTP that ask for more than volts in a sound circuit: faults, currents, what comes next."""

import json
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from tests.server.test_predictions import CIRCUIT, SHEET, Attempt, job

__all__ = ["job"]

WIRE_OFF = {"kind": "open", "place": "contactor", "branch": "coil"}


def kept(client: FlaskClient, job: int, **more: Any) -> str:
    answer = client.post(f"/api/jobs/{job}/predictions", json={"sheet": {**SHEET, **more}, "circuit": CIRCUIT})
    assert answer.status_code == 201, answer.get_json()
    return f"/api/jobs/{job}/predictions/{answer.get_json()['id']}"


def test_a_sheet_asks_about_a_circuit_with_faults_in_it(client: FlaskClient, job: int) -> None:
    told = kept(client, job, faults=[WIRE_OFF])
    body = client.get(told).get_json()
    assert (body["faults"], body["hides"]) == (["The coil K1 is open"], False)
    attempt = Attempt(client, told)
    attempt.write(1, "contactor", "out")
    marks = attempt.compare(1)
    # Sound it would have picked up.
    assert (marks["contactor"]["right"], marks["contactor"]["shown"]) == (True, "out")
    sound = Attempt(client, kept(client, job))
    sound.write(1, "contactor", "out")
    assert sound.compare(1)["contactor"]["right"] is False
    attempt.end()
    assert client.get(f"{told}/key").get_json()["states"][1]["contactor"]["shown"] == "out"


def test_what_a_sheet_hides_is_told_to_whoever_made_it_once_nobody_writes(client: FlaskClient, job: int) -> None:
    hidden = kept(client, job, faults=[WIRE_OFF], told=False)
    assert client.get(hidden).get_json()["faults"] == ["The coil K1 is open"]
    attempt = Attempt(client, hidden)
    body = client.get(hidden).get_json()
    assert (body["faults"], body["hides"], body["sheet"]["faults"]) == ([], True, [])
    assert "coil" not in json.dumps({**body, "circuit": None})
    attempt.write(1, "contactor", "in")
    assert attempt.compare(1)["contactor"]["right"] is False
    attempt.end()
    assert client.get(hidden).get_json()["hides"] is False


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        ({"kind": "open", "place": "contactor", "branch": "nonsense"}, "does not fit the circuit"),
        ({"kind": "open", "place": "nowhere"}, "does not fit the circuit"),
        ({"kind": "melted", "place": "contactor"}, "melted"),
    ],
)
def test_a_sheet_with_a_fault_that_cannot_be_is_refused(
    client: FlaskClient, job: int, fault: dict[str, Any], says: str
) -> None:
    answer = client.post(
        f"/api/jobs/{job}/predictions", json={"sheet": {**SHEET, "faults": [fault]}, "circuit": CIRCUIT}
    )
    assert answer.status_code == 422
    assert says in answer.get_json()["detail"]


def test_a_sheet_of_an_earlier_release_is_about_a_sound_circuit(
    client: FlaskClient, job: int, cluster: Cluster
) -> None:
    old = kept(client, job, version=1)
    with psycopg.connect(cluster.url) as connection:
        connection.execute(
            "UPDATE prediction_sheets SET sheet = jsonb_set(sheet - '{faults,told,clamps,asks_next,next}'::text[],"
            " '{version}', '1')"
        )
    body = client.get(old).get_json()
    assert (body["sheet"]["version"], body["sheet"]["faults"], body["sheet"]["clamps"], body["faults"]) == (
        3,
        [],
        [],
        [],
    )
    file = client.post("/api/predictions/file", json={"text": json.dumps({**SHEET, "version": 1})}).get_json()
    assert (file["sheet"]["version"], file["problems"]) == (3, [])


def test_currents_are_marked_and_what_the_maker_would_measure_next_is_withheld(client: FlaskClient, job: int) -> None:
    clamps = [{"letter": "P", "conductor": "p1-motor"}]
    with_next = {**SHEET, "clamps": clamps, "asks_next": True, "next": "K1:A1 + N: is the coil fed?"}
    kept = client.post(f"/api/jobs/{job}/predictions", json={"sheet": with_next, "circuit": CIRCUIT}).get_json()
    at = f"/api/jobs/{job}/predictions/{kept['id']}"
    attempt = Attempt(client, at)
    assert "is the coil fed" not in json.dumps(client.get(at).get_json())
    for state, place, text in ((0, "P", "0"), (1, "P", "3.2 A"), (1, "NEXT", "S1:14 to N")):
        attempt.write(state, place, text)
    first = attempt.compare(0)
    assert (first["P"]["right"], first["P"]["shown"], set(first)) == (True, "0.00 A", {"A", "P", "contactor"})
    last = attempt.compare(1)
    # 1.6 s after the start: 1.5 kW at 400 V.
    assert (last["P"]["right"], last["P"]["shown"]) == (True, "3.19 A")
    assert last["NEXT"]["shown"] == "K1:A1 + N: is the coil fed?"
    assert (last["NEXT"]["right"], last["NEXT"]["expected"]) == (None, "S1:14 to N")
    attempt.end()
    key = client.get(f"{at}/key").get_json()["states"]
    assert [("NEXT" in row, row["P"]["shown"]) for row in key] == [(False, "0.00 A"), (True, "3.19 A")]
    assert client.get(at).get_json()["sheet"]["next"] == with_next["next"]


def test_a_clamp_around_what_is_not_there_is_refused(client: FlaskClient, job: int) -> None:
    body = {"sheet": {**SHEET, "clamps": [{"letter": "P", "conductor": "gone"}]}, "circuit": CIRCUIT}
    answer = client.post(f"/api/jobs/{job}/predictions", json=body)
    assert answer.status_code == 422
    assert "Clamp P is around the wire gone" in answer.get_json()["detail"]
