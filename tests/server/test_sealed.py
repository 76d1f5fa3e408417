"""Sealed faults: a run under them, and nothing that tells of them."""

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.server.test_simulation_api import CIRCUIT, START, press, run
from wiretrace.errors import Problem, SingularNetwork, TooManyEvents, UnstableInstant, WiretraceError

FAULTS: list[dict[str, Any]] = [
    {"kind": "high_resistance", "place": "c4", "resistance_ohm": 4321.0},
    {"kind": "setting", "place": "overload", "name": "dial_a", "value": 0.77},
    {"kind": "stuck", "place": "contactor", "start_us": 1_234_567},
]


def sealed(client: FlaskClient, faults: list[dict[str, Any]] = FAULTS) -> str:
    answer = client.post("/api/simulation/seal", json={"circuit": CIRCUIT, "faults": faults})
    assert answer.status_code == 200, answer.get_json()
    name: str = answer.get_json()["sealed"]
    return name


def leaks(text: str) -> list[str]:
    """Words and figures that tell of the faults."""
    return [
        word for word in ("4321", "0.77", "1234567", "high_resistance", "stuck", "setting", "fault") if word in text
    ]


def test_a_run_under_sealed_faults_is_the_run_under_them_and_tells_nothing(client: FlaskClient) -> None:
    hands = [press(0, "start"), press(900_000, "start", False)]
    open_run = run(client, faults=FAULTS, actions=hands, probes=[START], until_us=3_000_000)
    name = sealed(client)
    body = {"circuit": CIRCUIT, "sealed": name, "actions": hands, "probes": [START], "until_us": 3_000_000}
    answer = client.post("/api/simulation/run", json=body)
    assert run(client, sealed=name, actions=hands, probes=[START], until_us=3_000_000) == open_run
    assert answer.get_json()["frames"][0]["devices"] != run(client, actions=hands)["frames"][-1]["devices"]
    assert leaks(answer.get_data(as_text=True)) == []


def test_what_is_handed_back_cannot_take_a_sealed_fault_away(client: FlaskClient) -> None:
    name = sealed(client, [{"kind": "open", "place": "c4"}])
    half = run(client, sealed=name, actions=[press(0, "start")])
    forged = {**half["end"], "faults": []}
    body = {"circuit": CIRCUIT, "sealed": name, "state": forged, "until_us": 2_000_000}
    assert client.post("/api/simulation/run", json=body).status_code == 422
    rest = run(client, sealed=name, state=half["end"], until_us=2_000_000)
    assert rest["frames"][-1]["devices"]["contactor"]["says"] == "out"


def test_they_belong_to_their_circuit_alone(client: FlaskClient) -> None:
    name = sealed(client)
    mended = {**CIRCUIT, "conductors": [wire for wire in CIRCUIT["conductors"] if wire["id"] != "c4"]}
    for body in ({"circuit": mended, "sealed": name}, {"circuit": CIRCUIT, "sealed": "0" * 32}):
        answer = client.post("/api/simulation/read", json={**body, "probes": [START]})
        assert (answer.status_code, answer.get_json()["type"]) == (404, "/problems/not-found")


def test_reasons_are_not_told(client: FlaskClient) -> None:
    body = {"circuit": CIRCUIT, "sealed": sealed(client), "probes": START}
    answer = client.post("/api/simulation/explain", json=body)
    assert (answer.status_code, answer.get_json()["type"]) == (403, "/problems/withheld")
    assert leaks(json.dumps(answer.get_json()).replace("faults are sealed", "")) == []


@pytest.mark.parametrize("error", [SingularNetwork, UnstableInstant, TooManyEvents])
def test_an_error_of_a_run_does_not_say_where(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch, error: type[WiretraceError]
) -> None:
    def fails(*_: object) -> None:
        raise error("K1:A1 to K1:A2.", (Problem("short", "K1:A1 to K1:A2.", "contactor"),))

    name = sealed(client)
    monkeypatch.setattr("server.api.simulation.run", fails)
    body = {"circuit": CIRCUIT, "until_us": 1_000_000}
    openly = client.post("/api/simulation/run", json=body)
    answer = client.post("/api/simulation/run", json={**body, "sealed": name})
    assert (openly.status_code, answer.status_code) == (422, 422)
    assert "K1:A1" in openly.get_data(as_text=True)
    assert answer.get_json()["problems"] == []
    assert "K1" not in answer.get_data(as_text=True)


@pytest.mark.parametrize(
    ("fault", "told"),
    [
        ({"kind": "open", "place": "nothing"}, "no device or conductor nothing"),
        ({"kind": "loose_terminal", "place": "start", "terminal": "99"}, "no terminal"),
        ({"kind": "gone", "place": "start"}, "kind"),
        ({"kind": "open", "place": "start", "branch": "13-14", "colour": "red"}, "colour"),
    ],
)
def test_faults_that_do_not_fit_are_refused_when_they_are_sealed(
    client: FlaskClient, fault: dict[str, Any], told: str
) -> None:
    answer = client.post("/api/simulation/seal", json={"circuit": CIRCUIT, "faults": [fault]})
    assert answer.status_code == 422
    assert told in json.dumps(answer.get_json())


def test_faults_are_either_open_or_sealed(client: FlaskClient) -> None:
    body = {"circuit": CIRCUIT, "sealed": sealed(client), "faults": FAULTS, "probes": [START]}
    answer = client.post("/api/simulation/read", json=body)
    assert (answer.status_code, "either faults or sealed" in json.dumps(answer.get_json())) == (422, True)
