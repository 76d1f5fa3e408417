"""The simulation over HTTP: any worker answers any request from circuit and state alone."""

from typing import Any

import pytest
from flask.testing import FlaskClient

from wiretrace.library import library_circuit

CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")
COIL = {"red": {"device": "contactor", "terminal": "A1"}, "black": {"device": "contactor", "terminal": "A2"}}
START = {"red": {"device": "start", "terminal": "13"}, "black": {"device": "start", "terminal": "14"}}


def press(at_us: int, device: str, value: bool = True) -> dict[str, Any]:
    return {"at_us": at_us, "device": device, "operation": "press", "value": value}


def run(client: FlaskClient, **body: Any) -> dict[str, Any]:
    answer = client.post("/api/simulation/run", json={"circuit": CIRCUIT, "until_us": 1_000_000, **body})
    assert answer.status_code == 200, answer.get_json()
    data: dict[str, Any] = answer.get_json()
    return data


def test_a_press_of_start_seals_in_and_the_reading_follows(client: FlaskClient) -> None:
    data = run(client, actions=[press(0, "start"), press(300_000, "start", False)], probes=[COIL])
    first, last = data["frames"][0], data["frames"][-1]
    assert (first["devices"]["contactor"]["says"], last["devices"]["contactor"]["says"]) == ("out", "in")
    assert last["devices"]["contactor"]["closed"]["13-14"] is True
    assert last["devices"]["contactor"]["closed"]["21-22"] is False
    assert [frame["readings"][0]["display"] for frame in (first, last)] == ["0.000", "230.7"]
    assert last["terminals"]["contactor"]["A1"] == {"standing": "live", "pole": "L1"}
    assert last["conductors_a"]["p1-motor"] == pytest.approx(3.187, abs=0.002)


def test_a_state_taken_up_again_gives_what_one_run_gives(client: FlaskClient) -> None:
    whole = run(client, actions=[press(100_000, "start"), press(600_000, "start", False)])
    half = run(client, actions=[press(100_000, "start")], until_us=500_000)
    rest = run(client, state=half["end"], actions=[press(600_000, "start", False)])
    for device, values in whole["end"]["devices"].items():
        for name, value in values.items():
            expected = pytest.approx(value, rel=1e-12) if isinstance(value, float) else value
            assert rest["end"]["devices"][device][name] == expected, (device, name)
    last, other = rest["frames"][-1]["devices"], whole["frames"][-1]["devices"]
    for device, seen in last.items():
        figures = [figure["value"] for figure in seen.pop("figures")]
        assert figures == pytest.approx([figure["value"] for figure in other[device].pop("figures")], rel=1e-9)
    assert last == other


def test_reading_and_reason_in_a_given_state(client: FlaskClient) -> None:
    state = run(client)["end"]
    answer = client.post("/api/simulation/read", json={"circuit": CIRCUIT, "state": state, "probes": [START, COIL]})
    assert [reading["display"] for reading in answer.get_json()["readings"]] == ["230.9", "0.000"]
    why = client.post("/api/simulation/explain", json={"circuit": CIRCUIT, "state": state, "probes": START}).get_json()
    assert why["red"]["standing"] == "live"
    assert why["black"]["standing"] == "load"
    assert [load["device"] for load in why["black"]["loads"]] == ["contactor"]
    assert why["meter_completes"] is True
    assert "coil K1" in why["sentences"][1]
    assert {"S1", "K1", "S0", "F2", "F1", "Q1"} == {item["label"] for item in why["influences"]}


@pytest.mark.parametrize(
    ("change", "status", "kind", "words"),
    [
        ({"circuit": {**CIRCUIT, "version": 2}}, 422, "newer-version", "newer Wire Trace"),
        ({"circuit": {"format": "something"}}, 422, "malformed-document", "wiretrace/circuit"),
        ({"circuit": {**CIRCUIT, "devices": [{"id": "x"}]}}, 422, "malformed-document", "not shaped"),
        ({"circuit": {**CIRCUIT, "devices": CIRCUIT["devices"] * 200}}, 413, "circuit-too-large", "limit is 2000"),
        ({"probes": [{**COIL, "red": {"device": "contactor", "terminal": "99"}}]}, 422, "unknown-target", "K1:99"),
        ({"actions": [press(0, "nobody")]}, 422, "unknown-target", "nobody"),
        ({"actions": [press(2_000_000, "start")]}, 422, "unknown-target", "outside the run"),
        ({"until_us": -1}, 422, "malformed-request", "until_us"),
        ({"state": {"time_us": 0, "devices": {"contactor": {"position": 1}}}}, 422, "unknown-target", "does not fit"),
    ],
)
def test_bad_input_is_named(client: FlaskClient, change: dict[str, Any], status: int, kind: str, words: str) -> None:
    answer = client.post("/api/simulation/run", json={"circuit": CIRCUIT, "until_us": 1_000_000, **change})
    body = answer.get_json()
    assert (answer.status_code, body["type"]) == (status, f"/problems/{kind}")
    assert answer.content_type == "application/problem+json"
    assert words in body["detail"]


def test_a_kind_that_the_catalogue_lacks_is_told_with_its_device(client: FlaskClient) -> None:
    circuit = {
        **CIRCUIT,
        "devices": [{**CIRCUIT["devices"][0], "kind": "flux_capacitor"}],
        "conductors": [],
        "sheets": [],
    }
    body = client.post("/api/simulation/run", json={"circuit": circuit, "until_us": 1}).get_json()
    assert body["problems"][0]["code"] == "unknown_kind"
    assert body["problems"][0]["device"] == "supply"
