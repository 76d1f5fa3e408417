"""What can be sent is bounded before it is looked at: lists, objects, and what they cost."""

import json
import resource
import time
from collections.abc import Iterator
from typing import Any

import pytest
from apiflask import APIFlask
from flask.testing import FlaskClient
from pydantic.json_schema import models_json_schema

from server.openapi import models
from wiretrace.library import library_circuit

CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")


def unbounded(schema: Any, path: str) -> Iterator[str]:
    """Lists and objects of a schema that may hold any number of things."""
    if isinstance(schema, list):
        for index, one in enumerate(schema):
            yield from unbounded(one, f"{path}/{index}")
    if not isinstance(schema, dict):
        return
    if schema.get("type") == "array" and "maxItems" not in schema:
        yield path
    if isinstance(schema.get("additionalProperties"), dict) and "maxProperties" not in schema:
        yield path
    for name, inner in schema.items():
        yield from unbounded(inner, f"{path}/{name}")


def test_every_list_that_is_taken_is_bounded(application: APIFlask) -> None:
    taken = [model for model in models(application) if model[1] == "validation"]
    assert len(taken) > 30
    _, schemas = models_json_schema(taken)
    assert list(unbounded(schemas["$defs"], "")) == []


MANY = 1_300_000
FLOODS: dict[str, tuple[str, str]] = {
    "strays that are none": ("/api/check", '{"circuit": {**, "strays": [' + "0," * MANY + "0]}}"),
    "fields nobody knows": ("/api/check", "{" + ",".join(f'"{n:x}":0' for n in range(350_000)) + "}"),
    "symbols that are none": (
        "/api/check",
        '{"circuit": {**, "sheets": [{"id":"s","title":"t","kind":"power","symbols":[' + "{}," * 9_000 + "{}]}]}}",
    ),
    "parameters that are none": (
        "/api/check",
        '{"circuit": {**, "devices": [{"id":"d","kind":"lamp","label":"H1","params":{'
        + ",".join(f'"{n:x}":null' for n in range(250_000))
        + "}}]}}",
    ),
    "points of one stroke": (
        "/api/drawing/sheets.pdf",
        '{"title":"t","pages":[{"title":"p","width":9,"height":9,"strokes":[{"kind":"line","points":['
        + "0," * MANY
        + "0]}]}]}",
    ),
    "hands": ("/api/simulation/run", '{"circuit": {**}, "until_us": 5, "actions": [' + "1," * MANY + "1]}"),
    "a file of strays": ("/api/import", ""),
}


@pytest.mark.parametrize("what", FLOODS)
def test_megabytes_of_what_is_wrong_cost_neither_seconds_nor_gigabytes(client: FlaskClient, what: str) -> None:
    path, body = FLOODS[what]
    plain = json.dumps({name: value for name, value in CIRCUIT.items() if name not in ("devices", "strays", "sheets")})
    body = body.replace("**", plain[1:-1])
    if path == "/api/import":
        text = plain[:-1] + ', "strays": [' + "0," * MANY + "0]}"
        body = json.dumps({"title": "t", "format": "circuit", "text": text})
    assert len(body) < 4_000_000
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    begun = time.process_time()
    answer = client.post(path, data=body, content_type="application/json")
    took = time.process_time() - begun
    if path == "/api/import":
        assert answer.get_json()["unreadable"][0]["message"].endswith("the limit is 2000.")
    else:
        assert answer.status_code in (413, 422), answer.get_json()
    assert took < 1.5
    assert len(answer.data) < 200_000
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 400_000


def test_what_a_row_of_a_dictionary_may_take_is_not_what_a_request_has_left(client: FlaskClient) -> None:
    """Points of a way in a spare sheet have no say: neither in the name of a dictionary nor in what it shows."""
    route = [[n % 100, n % 77] for n in range(200)]
    wires = [wire["id"] for wire in CIRCUIT["conductors"]]
    spare = [
        {"id": f"s{n}", "title": "t", "kind": "control", "symbols": [], "routes": dict.fromkeys(wires, route)}
        for n in range(12)
    ]
    large = {**CIRCUIT, "sheets": spare, "title": "Large"}
    while client.post("/api/trace/work", json={"circuit": large}).get_json()["done"] == 0:
        pass
    small = client.post("/api/trace/work", json={"circuit": CIRCUIT}).get_json()
    assert small["done"] > 0
    for _ in range(60):
        told = client.post("/api/trace/work", json={"circuit": large}).get_json()
        if told["done"] == told["all"]:
            break
    book = client.post("/api/trace/book", json={"circuit": CIRCUIT}).get_json()
    assert len(book["entries"]) > 100
    assert "takes too long" not in json.dumps(book)
