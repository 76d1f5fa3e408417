"""Some of the mutated documents of `python -m scripts.fuzz`, and what was once wrong with hostile values."""

import json
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from scripts.fuzz import shell_tried, trials, tried
from wiretrace.library import library_circuit

CIRCUIT = library_circuit("star-delta-timer-first-closure").model_dump(mode="json")
LAMPS = "XH1 a b lamp\nXH2 a b lamp\n"
HEADS = "from device,from terminal,to device,to terminal\n"


@pytest.mark.parametrize("first", range(0, 600, 100))
def test_no_mutated_document_upsets_the_server(client: FlaskClient, first: int) -> None:
    client.application.config["PROPAGATE_EXCEPTIONS"] = False
    assert [fault for trial in trials(first, 100) if (fault := tried(client, trial))] == []


def test_no_mutated_document_upsets_the_shell(tmp_path: Path) -> None:
    assert [fault for seed in range(60) if (fault := shell_tried(seed, tmp_path))] == []


@pytest.mark.parametrize("value", [int("9" * 400), -(10**350), "\ud800", "\x00", [], {}, None])
def test_a_value_that_is_none_is_told(client: FlaskClient, value: Any) -> None:
    devices = [{**device, "params": {"rated_current_a": value}} for device in CIRCUIT["devices"]]
    body = json.dumps({"circuit": {**CIRCUIT, "devices": devices}, "until_us": 1})
    answer = client.post("/api/simulation/run", data=body, content_type="application/json")
    assert answer.status_code == 422
    assert answer.get_json()["type"] in ("/problems/malformed-document", "/problems/invalid-circuit")


def test_a_field_called_by_half_a_letter_is_told(client: FlaskClient) -> None:
    """JSON may hold a lone surrogate, which no encoding has: the answer that names it must be one all the same."""
    body = json.dumps({"circuit": {**CIRCUIT, "a\ud800b": 1}})
    answer = client.post("/api/check", data=body, content_type="application/json")
    assert (answer.status_code, answer.get_json()["type"]) == (422, "/problems/malformed-document")


@pytest.mark.parametrize("path", ["x" * 300, "%00", "..%2f..%2fetc%2fpasswd", "9" * 400, "a/b/c"])
def test_a_path_tells_nothing_of_the_files_of_the_machine(client: FlaskClient, path: str) -> None:
    with client.get(f"/{path}") as answer:
        assert answer.data == b"<title>front end</title>"
    assert client.get(f"/assets/{path}").status_code == 404
    assert client.get(f"/api/jobs/{path}").status_code in (404, 405)


@pytest.mark.parametrize(
    ("form", "text"),
    [
        ("wires", HEADS + "".join(f"S{2 * n},13,S{2 * n + 1},14\n" for n in range(450))),
        ("wires", HEADS + "".join(f"H{n},X1,H{n + 1},X2\n" for n in range(1200))),
        ("wires", HEADS + "".join(f"H0,X1,H{n + 1},X2\n" for n in range(1500))),
        ("netlist", "".join(f"XS{n} n{n} n{n + 1} push_button\n" for n in range(1990))),
    ],
)
def test_large_lists_are_read(client: FlaskClient, form: str, text: str) -> None:
    answer = client.post("/api/import", json={"title": "large", "format": form, "text": text})
    assert answer.status_code == 200, answer.get_json()
    assert len(answer.get_json()["circuit"]["devices"]) >= 900


@pytest.mark.parametrize("name", ["inrush_power_factor", "sealed_power_factor"])
def test_a_coil_that_is_all_resistance_runs(client: FlaskClient, name: str) -> None:
    devices = [
        {**one, "params": {**one["params"], name: 1.0}} if one["kind"] == "contactor" else one
        for one in CIRCUIT["devices"]
    ]
    body = {"circuit": {**CIRCUIT, "devices": devices}, "until_us": 1_000_000}
    assert client.post("/api/simulation/run", json=body).status_code == 200


@pytest.mark.parametrize(
    ("form", "text", "told"),
    [
        ("wires", HEADS.strip() + ",number\nH1,X1,H2,X2,1\x00\n", "number: it has letters that cannot be kept"),
        ("wires", HEADS.strip() + ",colour\nH1,X1,H2,X2,r\x00\n", "colour: it has letters that cannot be kept"),
        ("wires", HEADS + "".join(f"H{n},X1,H{n + 1},X2\n" for n in range(2500)), "more than 2000 devices"),
        ("netlist", "".join(f"XH{n} a b lamp\n" for n in range(2500)), "more than 2000 devices"),
        ("netlist", LAMPS + "".join(f"R{n} a b 1k\n" for n in range(2500)), "more than 2000 stray paths"),
    ],
)
def test_what_a_list_cannot_hold_is_told(client: FlaskClient, form: str, text: str, told: str) -> None:
    answer = client.post("/api/import", json={"title": "t", "format": form, "text": text})
    assert answer.status_code == 200
    assert any(told in one["message"] for one in answer.get_json()["unreadable"])


@pytest.mark.parametrize("text", ["K1/coil=open@" + "9" * 200 + "s", "K1/coil=open~" + "9" * 200, "K1/coil=1e17ohm"])
def test_a_fault_that_no_run_takes_is_not_understood(client: FlaskClient, text: str) -> None:
    answer = client.post("/api/faults", json={"circuit": CIRCUIT, "text": text})
    assert (answer.status_code, answer.get_json()["type"]) == (422, "/problems/unknown-target")


def test_a_delay_that_is_none_is_told_with_its_line(client: FlaskClient) -> None:
    circuit = library_circuit("star-delta-plc").model_dump(mode="json")
    for size in ("9" * 400, "90000"):
        devices = [
            {**one, "params": {**one["params"], "program": f"T1 = on-delay {size} s when I1"}}
            if "program" in one["params"] else one
            for one in circuit["devices"]
        ]  # fmt: skip
        answer = client.post("/api/simulation/run", json={"circuit": {**circuit, "devices": devices}, "until_us": 5})
        assert (answer.status_code, "line 1" in answer.get_json()["detail"]) == (422, True)
