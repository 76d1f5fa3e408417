"""Named versions of a job over HTTP, kept in PostgreSQL."""

from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.server.saving import save
from wiretrace.library import library_circuit

CIRCUIT = library_circuit("two-wire-float").model_dump(mode="json")


@pytest.fixture
def job(client: FlaskClient) -> int:
    made: dict[str, Any] = client.post("/api/jobs", json={"title": "Sump", "circuit": CIRCUIT}).get_json()
    return int(made["id"])


def keep(client: FlaskClient, job: int, name: str) -> dict[str, Any]:
    answer = client.post(f"/api/jobs/{job}/versions", json={"name": name, "circuit": CIRCUIT})
    assert answer.status_code == 201, answer.get_json()
    data: dict[str, Any] = answer.get_json()
    return data


def test_versions_are_kept_listed_and_read(client: FlaskClient, job: int) -> None:
    first, second = keep(client, job, "As delivered"), keep(client, job, "With a second float")
    listed = client.get(f"/api/jobs/{job}/versions").get_json()["versions"]
    assert [line["name"] for line in listed] == ["With a second float", "As delivered"]
    assert second["id"] > first["id"]
    read = client.get(f"/api/jobs/{job}/versions/{first['id']}").get_json()
    assert read["circuit"] == CIRCUIT


def test_a_version_does_not_change_when_the_job_is_saved(client: FlaskClient, job: int) -> None:
    kept = keep(client, job, "Before")
    changed = {**CIRCUIT, "title": "Another"}
    body = save(1, "me", 1, circuit=changed)
    assert client.put(f"/api/jobs/{job}/circuit", json=body).status_code == 200
    read = client.get(f"/api/jobs/{job}/versions/{kept['id']}").get_json()
    assert read["circuit"]["title"] == CIRCUIT["title"]


def test_versions_go_with_their_job_and_one_by_one(client: FlaskClient, job: int) -> None:
    kept, other = keep(client, job, "One"), keep(client, job, "Two")
    assert client.delete(f"/api/jobs/{job}/versions/{kept['id']}").status_code == 204
    assert client.delete(f"/api/jobs/{job}/versions/{kept['id']}").status_code == 404
    client.delete(f"/api/jobs/{job}")
    assert client.get(f"/api/jobs/{job}/versions").get_json() == {"versions": []}
    assert client.get(f"/api/jobs/{job}/versions/{other['id']}").status_code == 404


@pytest.mark.parametrize("name", ["", "   ", "x" * 101, "a\x00b"])
def test_a_version_needs_a_name(client: FlaskClient, job: int, name: str) -> None:
    answer = client.post(f"/api/jobs/{job}/versions", json={"name": name, "circuit": CIRCUIT})
    assert answer.status_code == 422


def test_a_version_of_no_job_and_of_another_job_is_told(client: FlaskClient, job: int) -> None:
    answer = client.post("/api/jobs/999999/versions", json={"name": "Lost", "circuit": CIRCUIT})
    assert (answer.status_code, answer.get_json()["detail"]) == (404, "There is no job 999999.")
    kept = keep(client, job, "Mine")
    other = client.post("/api/jobs", json={"title": "Other"}).get_json()["id"]
    assert client.get(f"/api/jobs/{other}/versions/{kept['id']}").status_code == 404


def test_a_version_is_not_deleted_by_way_of_another_job(client: FlaskClient, job: int) -> None:
    kept = keep(client, job, "Mine")
    other = client.post("/api/jobs", json={"title": "Other"}).get_json()["id"]
    assert client.delete(f"/api/jobs/{other}/versions/{kept['id']}").status_code == 404
    assert client.get(f"/api/jobs/{job}/versions/{kept['id']}").status_code == 200
