"""The application as a whole: errors in one format, guards, generated documents."""

import json
from pathlib import Path

import jsonschema
import pytest
from flask.testing import FlaskClient

from scripts.documents import DOCS, device_pages, documents, shell_page
from scripts.postgres import Cluster
from server.app import create_app
from server.config import Config
from tests.server.saving import save
from wiretrace.catalogue.registry import KINDS
from wiretrace.library import library_circuit, library_names


def test_the_front_end_answers_every_path_that_is_not_the_interface(client: FlaskClient) -> None:
    for path in ("/", "/jobs/3/run"):
        with client.get(path) as answer:
            assert b"front end" in answer.data
    missing = client.get("/api/nothing")
    assert (missing.status_code, missing.content_type) == (404, "application/problem+json")


def test_every_answer_carries_the_security_headers(client: FlaskClient) -> None:
    headers = client.get("/api/jobs").headers
    assert "default-src 'self'" in headers["Content-Security-Policy"]
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Cache-Control"] == "no-store"


def test_a_foreign_host_name_and_a_form_of_another_site_are_refused(client: FlaskClient) -> None:
    assert client.get("/api/jobs", headers={"Host": "elsewhere.example"}).status_code == 400
    form = client.post("/api/jobs", data='{"title": "x"}', content_type="text/plain")
    assert (form.status_code, form.content_type) == (415, "application/problem+json")
    for method in (client.post, client.put, client.patch):
        assert method("/api/jobs/1", data={"title": "x"}).status_code == 415


@pytest.mark.parametrize(
    ("data", "status"),
    [(b"{", 400), (b"[" * 100_000, 400), (b'"' + b"x" * 5_000_000 + b'"', 413)],
    ids=["broken", "deep", "large"],
)
def test_hostile_bodies_get_a_problem(client: FlaskClient, data: bytes, status: int) -> None:
    answer = client.post("/api/jobs", data=data, content_type="application/json")
    assert (answer.status_code, answer.content_type) == (status, "application/problem+json")


def test_without_a_database_the_answer_is_a_problem_and_simulation_still_works(tmp_path: Path) -> None:
    app = create_app(Config("postgresql://app@127.0.0.1:1/none", tmp_path, database_timeout_s=0.3))
    try:
        lost = app.test_client().get("/api/jobs")
        assert (lost.status_code, lost.get_json()["type"]) == (503, "/problems/database")
        circuit = library_circuit("start-stop-overload-line").model_dump(mode="json")
        run = app.test_client().post("/api/simulation/run", json={"circuit": circuit, "until_us": 1000})
        assert run.status_code == 200
    finally:
        app.extensions["database"].close()


def test_the_database_may_go_and_come_back(client: FlaskClient, cluster: Cluster) -> None:
    made = client.post("/api/jobs", json={"title": "Shade screen"}).get_json()
    cluster.stop()
    try:
        body = save(1, "w1", 1, circuit=made["circuit"])
        assert client.put(f"/api/jobs/{made['id']}/circuit", json=body).status_code == 503
    finally:
        cluster.start()
    assert client.get(f"/api/jobs/{made['id']}").get_json() == made


def test_a_request_gives_its_connection_back(client: FlaskClient) -> None:
    for _ in range(30):
        assert client.get("/api/jobs").status_code == 200
    assert client.application.extensions["database"].pool().get_stats()["pool_size"] <= 8


@pytest.mark.parametrize(
    "name", ["openapi.json", "circuit.schema.json", "prediction-sheet.schema.json", "sizing.schema.json"]
)
def test_the_generated_documents_are_up_to_date(name: str) -> None:
    """If this fails: .venv/bin/python -m scripts.documents && (cd web && npm run api)."""
    assert json.loads((DOCS / name).read_text("utf-8")) == json.loads(json.dumps(documents()[name]))


def test_every_device_has_its_page() -> None:
    written = {path.name: path.read_text("utf-8") for path in (DOCS / "devices").glob("*.md")}
    assert written == device_pages()


def test_the_page_of_the_command_line_is_its_help() -> None:
    assert (DOCS / "shell.md").read_text("utf-8") == shell_page()


def test_every_reference_of_the_interface_document_resolves() -> None:
    text = (DOCS / "openapi.json").read_text("utf-8")
    names = set(json.loads(text)["components"]["schemas"])
    used = {part.split('"')[0] for part in text.split("#/components/schemas/")[1:]}
    assert used <= names


def test_library_circuits_fit_the_published_schema() -> None:
    schema = json.loads((DOCS / "circuit.schema.json").read_text("utf-8"))
    for name in library_names():
        jsonschema.validate(library_circuit(name).model_dump(mode="json", exclude_defaults=False), schema)


def test_the_catalogue_is_served_whole(client: FlaskClient) -> None:
    kinds = {kind["name"]: kind for kind in client.get("/api/catalogue").get_json()["kinds"]}
    assert list(kinds) == list(KINDS)
    coil = next(p for p in kinds["contactor"]["params"] if p["name"] == "coil_voltage_v")
    assert (coil["unit"], coil["default"], coil["minimum"], coil["maximum"]) == ("V", 230.0, 6.0, 690.0)
    assert sorted(
        circuit["name"]
        for family in client.get("/api/library").get_json()["families"]
        for circuit in family["circuits"]
    ) == list(library_names())


def test_the_catalogue_serves_what_things_are_for(client: FlaskClient) -> None:
    kinds = {kind["name"]: kind for kind in client.get("/api/catalogue").get_json()["kinds"]}
    relay = kinds["overload_relay"]
    assert relay["protects"] == {"against": ["overload"], "dial": "dial_a", "opens": "95-96", "closes": "97-98"}
    assert relay["actuator"] == "current"
    coil, poles, *contacts = kinds["contactor"]["parts"]
    assert (coil["does"], poles["does"], poles["fed"]) == ("operates", "switches load", ["1", "3", "5"])
    assert poles["leads_on"] == ["2", "4", "6"]
    assert contacts[1]["contacts"] == [{"a": "21", "b": "22", "closed_at_rest": True}]
    assert kinds["contactor"]["operating"]["coil"] == {
        "voltage_v": 230.0,
        "takes_va": 8.0,
        "power_factor": 0.275,
        "direct": False,
    }
    assert kinds["contactor"]["racing"] == ["pick_up_ms", "drop_out_ms"]
    assert kinds["contactor"]["breaks"]["coil"] == ["opens", "bad joint", "shorts"]
    assert kinds["control_transformer"]["ratings"]["gives_va"] == 160.0
