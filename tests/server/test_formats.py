"""/api/tidy, /api/export and /api/import over HTTP."""

import pytest
from flask.testing import FlaskClient

from wiretrace.document.circuit import VERSION
from wiretrace.interchange.lists import wire_list
from wiretrace.library import library_circuit

CIRCUIT = library_circuit("two-wire-float").model_dump(mode="json")


def test_a_circuit_is_laid_out_and_stays_the_same_circuit(client: FlaskClient) -> None:
    body = {"circuit": {**CIRCUIT, "sheets": []}, "convention": "iec"}
    answer = client.post("/api/tidy", json=body).get_json()["circuit"]
    assert [sheet["id"] for sheet in answer["sheets"]] == ["power", "control"]
    assert answer["devices"] == CIRCUIT["devices"]
    assert answer["conductors"] == CIRCUIT["conductors"]


def test_a_ladder_is_added_and_the_letters_follow_if_wanted(client: FlaskClient) -> None:
    body = {"circuit": CIRCUIT, "convention": "nema", "keep": True}
    answer = client.post("/api/tidy", json=body).get_json()["circuit"]
    assert answer["convention"] == "nema"
    assert {sheet["convention"] for sheet in answer["sheets"]} == {"iec", "nema"}
    assert answer["devices"] == CIRCUIT["devices"]
    lettered = client.post("/api/tidy", json=body | {"letters": True}).get_json()["circuit"]
    assert {"M1", "MTR1", "CB1"} <= {device["label"] for device in lettered["devices"]}


def test_a_pattern_is_made_and_not_kept(client: FlaskClient) -> None:
    before = client.get("/api/jobs").get_json()
    answer = client.post("/api/pattern", json={"pattern": "reversing", "convention": "nema"}).get_json()["circuit"]
    assert answer["convention"] == "nema"
    assert {"M1", "M2", "MTR1"} <= {device["label"] for device in answer["devices"]}
    assert client.get("/api/jobs").get_json() == before
    assert client.post("/api/pattern", json={"pattern": "perpetual motion"}).status_code == 422


def test_a_netlist_of_devices_goes_out_and_comes_in_again(client: FlaskClient) -> None:
    text = client.post("/api/export/devices.cir", json={"circuit": CIRCUIT}).get_data(as_text=True)
    body = {"title": "Again", "format": "netlist", "text": text + "Q1 c b e BC\n"}
    answer = client.post("/api/import", json=body).get_json()
    assert [device["label"] for device in answer["circuit"]["devices"]] == [d["label"] for d in CIRCUIT["devices"]]
    assert [item["message"] for item in answer["unreadable"]] != []


@pytest.mark.parametrize(
    ("name", "kind", "begins"),
    [
        ("wires.csv", "text/csv", "from device,from terminal"),
        ("terminals.csv", "text/csv", "device,terminal,number"),
        ("parts.csv", "text/csv", "device,kind,function,sits,values"),
        ("circuit.cir", "text/plain", "* Condensate sump"),
    ],
)
def test_exports(client: FlaskClient, name: str, kind: str, begins: str) -> None:
    answer = client.post(f"/api/export/{name}", json={"circuit": CIRCUIT})
    assert answer.status_code == 200
    assert answer.mimetype == kind
    assert answer.get_data(as_text=True).startswith(begins)


def test_an_unknown_export_is_told(client: FlaskClient) -> None:
    answer = client.post("/api/export/drawing.xyz", json={"circuit": CIRCUIT})
    assert answer.status_code == 404
    assert "wires.csv" in answer.get_json()["detail"]


def test_a_list_of_wires_is_read_with_what_could_not_be_read(client: FlaskClient) -> None:
    text = wire_list(library_circuit("two-wire-float")) + "K1,A1,Z9,?,,,,\r\n"
    answer = client.post("/api/import", json={"title": "Read", "format": "wires", "text": text})
    data = answer.get_json()
    assert answer.status_code == 200
    assert len(data["circuit"]["conductors"]) == len(CIRCUIT["conductors"])
    assert any("Z9" in line["message"] for line in data["unreadable"])
    assert "K1: contactor" in data["guessed"]
    assert data["circuit"]["sheets"]


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("not json", "not JSON"),
        ("[" * 100_000, "not JSON"),
        ('{"format": "wiretrace/circuit", "version": 99}', f"reads up to {VERSION}"),
        ('{"format": "wiretrace/circuit", "version": 1, "title": "x", "devices": 7}', "devices: Input should be"),
    ],
)
def test_what_is_no_circuit_is_refused_with_a_reason(client: FlaskClient, text: str, told: str) -> None:
    answer = client.post("/api/import", json={"title": "Bad", "format": "circuit", "text": text})
    data = answer.get_json()
    assert (answer.status_code, data["circuit"]) == (200, None)
    assert any(told in line["message"] for line in data["unreadable"])
