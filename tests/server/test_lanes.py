"""Nothing about a new route or table is settled in silence: which lane it has, and how long it is kept."""

import re

import psycopg
import pytest
from apiflask import APIFlask

from scripts.postgres import Cluster
from server.lanes import LANES
from server.store.retention import RULES, STAYS

QUICK = {
    "DELETE /api/jobs/{job_id}",
    "DELETE /api/jobs/{job_id}/exercises/{exercise_id}",
    "DELETE /api/jobs/{job_id}/finds/{find_id}",
    "DELETE /api/jobs/{job_id}/predictions/{sheet_id}",
    "DELETE /api/jobs/{job_id}/sequences/{sequence_id}",
    "DELETE /api/jobs/{job_id}/versions/{version_id}",
    "DELETE /api/session",
    "GET /api/catalogue",
    "GET /api/health",
    "GET /api/jobs",
    "GET /api/jobs/{job_id}",
    "GET /api/jobs/{job_id}/exercises",
    "GET /api/jobs/{job_id}/panel",
    "GET /api/jobs/{job_id}/predictions",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}/attempts",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}",
    "GET /api/jobs/{job_id}/sequences",
    "GET /api/jobs/{job_id}/sizing",
    "GET /api/jobs/{job_id}/sizing/earlier",
    "GET /api/jobs/{job_id}/sizing/earlier/{version}",
    "GET /api/jobs/{job_id}/versions",
    "GET /api/jobs/{job_id}/versions/{version_id}",
    "GET /api/library",
    "GET /api/library/{name}",
    "GET /api/session",
    "GET /api/size/form",
    "PATCH /api/jobs/{job_id}",
    "POST /api/jobs/{job_id}/predictions",
    "POST /api/jobs/{job_id}/predictions/{sheet_id}/attempts",
    "POST /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}",
    "POST /api/jobs/{job_id}/sequences",
    "POST /api/jobs/{job_id}/versions",
    "PUT /api/jobs/{job_id}/circuit",
    "PUT /api/jobs/{job_id}/panel",
    "PUT /api/jobs/{job_id}/sequences/{sequence_id}",
    "PUT /api/jobs/{job_id}/sizing",
}
"""What is answered at once, with no computing: one that is not, and is in no lane, would keep saves waiting."""

KEEPS_NOTHING_OF_ANYBODY = {
    "DELETE /api/session",
    "POST /api/check",
    "POST /api/check/diagram",
    "POST /api/check/difference",
    "POST /api/check/played",
    "POST /api/compare",
    "POST /api/drawing/{name}",
    "POST /api/export/{name}",
    "POST /api/faults",
    "POST /api/import",
    "POST /api/paper",
    "POST /api/pattern",
    "POST /api/predictions/file",
    "POST /api/predictions/positions",
    "POST /api/predictions/proposed",
    "POST /api/sequence/table",
    "POST /api/sequence/table.csv",
    "POST /api/simulation/explain",
    "POST /api/simulation/first-differences",
    "POST /api/simulation/map",
    "POST /api/simulation/measure",
    "POST /api/simulation/read",
    "POST /api/simulation/run",
    "POST /api/simulation/why",
    "POST /api/size",
    "POST /api/size/carry",
    "POST /api/size/sheet.csv",
    "POST /api/tidy",
    "POST /api/trace/advice",
    "POST /api/trace/book",
    "POST /api/trace/book.csv",
    "POST /api/trace/work",
}
"""What is no reading and lies under no job: it computes, keeps what it computed for everybody, or signs out."""


@pytest.fixture(scope="module")
def operations(application: APIFlask) -> list[str]:
    return [
        f"{method.upper()} {path}"
        for path, found in application.spec["paths"].items()
        for method in found
        if method != "parameters"
    ]


def lanes_of(operation: str) -> list[str]:
    path = re.sub(r"\{\w+\}", "1", operation)
    return [lane.name for lane in LANES if any(re.match(asked, path) for asked in lane.asked)]


def test_an_operation_that_has_no_lane_is_one_that_answers_at_once(operations: list[str]) -> None:
    assert {one for one in operations if not lanes_of(one)} == QUICK


def test_no_operation_has_two_lanes(operations: list[str]) -> None:
    assert [one for one in operations if len(lanes_of(one)) > 1] == []


def test_of_every_table_it_is_said_how_long_its_rows_stay(cluster: Cluster) -> None:
    with psycopg.connect(cluster.url) as connection:
        rows = connection.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
    tables = {row[0] for row in rows}
    pruned = {rule.table for rule in RULES}
    assert tables == pruned | set(STAYS)
    assert pruned & set(STAYS) == set()


def test_what_keeps_something_of_somebody_lies_under_his_job(operations: list[str]) -> None:
    """So that one check of access holds for all of it."""
    elsewhere = {
        one for one in operations if not one.startswith("GET ") and not one.partition(" ")[2].startswith("/api/jobs")
    }
    assert elsewhere == KEEPS_NOTHING_OF_ANYBODY
