"""The interface keeps to its own document, whatever it is sent."""

from typing import Any

import pytest
import schemathesis
from apiflask import APIFlask
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from wiretrace.library import library_circuit

CHECKS = (not_a_server_error, content_type_conformance, response_schema_conformance, status_code_conformance)
CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")
OPERATIONS = [
    "GET /api/health",
    "GET /api/jobs",
    "POST /api/jobs",
    "GET /api/jobs/{job_id}",
    "PATCH /api/jobs/{job_id}",
    "DELETE /api/jobs/{job_id}",
    "PUT /api/jobs/{job_id}/circuit",
    "POST /api/simulation/run",
    "POST /api/simulation/read",
    "POST /api/simulation/measure",
    "POST /api/simulation/map",
    "POST /api/simulation/first-differences",
    "POST /api/simulation/why",
    "POST /api/simulation/explain",
    "GET /api/jobs/{job_id}/versions",
    "POST /api/jobs/{job_id}/versions",
    "GET /api/jobs/{job_id}/versions/{version_id}",
    "DELETE /api/jobs/{job_id}/versions/{version_id}",
    "GET /api/jobs/{job_id}/predictions",
    "POST /api/jobs/{job_id}/predictions",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}",
    "DELETE /api/jobs/{job_id}/predictions/{sheet_id}",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}/key",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}/attempts",
    "POST /api/jobs/{job_id}/predictions/{sheet_id}/attempts",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}",
    "POST /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}/compare",
    "GET /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}/belief",
    "POST /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}",
    "PATCH /api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}",
    "POST /api/predictions/positions",
    "POST /api/predictions/proposed",
    "POST /api/predictions/file",
    "GET /api/jobs/{job_id}/sequences",
    "POST /api/jobs/{job_id}/sequences",
    "PUT /api/jobs/{job_id}/sequences/{sequence_id}",
    "DELETE /api/jobs/{job_id}/sequences/{sequence_id}",
    "POST /api/sequence/table",
    "POST /api/sequence/table.csv",
    "POST /api/paper",
    "GET /api/size/form",
    "POST /api/size",
    "POST /api/size/carry",
    "POST /api/size/sheet.csv",
    "GET /api/jobs/{job_id}/sizing",
    "PUT /api/jobs/{job_id}/sizing",
    "GET /api/jobs/{job_id}/sizing/earlier",
    "GET /api/jobs/{job_id}/sizing/earlier/{version}",
    "GET /api/jobs/{job_id}/exercises",
    "POST /api/jobs/{job_id}/exercises",
    "GET /api/jobs/{job_id}/exercises/{exercise_id}",
    "DELETE /api/jobs/{job_id}/exercises/{exercise_id}",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/steps",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/hints",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/answers",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/proof",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/end",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/review",
    "GET /api/jobs/{job_id}/exercises/{exercise_id}/record.csv",
    "POST /api/jobs/{job_id}/exercises/{exercise_id}/close",
    "GET /api/jobs/{job_id}/panel",
    "PUT /api/jobs/{job_id}/panel",
    "POST /api/jobs/{job_id}/finds",
    "DELETE /api/jobs/{job_id}/finds/{find_id}",
    "POST /api/trace/work",
    "POST /api/trace/advice",
    "POST /api/trace/book",
    "POST /api/trace/book.csv",
    "POST /api/check",
    "POST /api/check/played",
    "POST /api/check/diagram",
    "POST /api/check/difference",
    "POST /api/compare",
    "POST /api/faults",
    "POST /api/pattern",
    "POST /api/tidy",
    "POST /api/import",
    "POST /api/export/{name}",
    "POST /api/drawing/{name}",
    "GET /api/session",
    "DELETE /api/session",
    "GET /api/catalogue",
    "GET /api/library",
    "GET /api/library/{name}",
]


@pytest.fixture(scope="session")
def operations(application: APIFlask) -> dict[str, Any]:
    """Every operation by its name; the document is read once."""
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", application)
    return {result.ok().label: result.ok() for result in schema.get_all_operations()}


def test_every_operation_is_tried(operations: dict[str, Any]) -> None:
    assert sorted(operations) == sorted(OPERATIONS)


@pytest.mark.by_turns(2)
@pytest.mark.parametrize("label", OPERATIONS)
def test_whatever_is_sent_the_answer_keeps_to_the_document(operations: dict[str, Any], label: str) -> None:
    operation = operations[label]

    @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck), database=None)
    @given(case=operation.as_strategy())
    def once(case: Any) -> None:
        # Random bodies seldom hold a real circuit: about half of the time one is put in.
        if isinstance(case.body, dict) and "circuit" in case.body and len(str(case.body)) % 2:
            case.body = {**case.body, "circuit": CIRCUIT}
        case.call_and_validate(checks=CHECKS)

    once()
