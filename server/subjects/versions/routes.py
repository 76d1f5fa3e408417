"""/api/jobs/ID/versions: named versions of a job."""

from datetime import datetime
from typing import Annotated, Any

from apiflask import APIBlueprint
from pydantic import StringConstraints

from server.bodies import CheckedCircuit
from server.connection import connection
from server.subjects.versions import store
from wiretrace.document.checked import kept_circuit
from wiretrace.document.circuit import NO_NUL, Circuit, Frozen

blueprint = APIBlueprint("versions", __name__, url_prefix="/api/jobs/<int:job_id>/versions")

Name = Annotated[str, StringConstraints(min_length=1, max_length=100, strip_whitespace=True, pattern=NO_NUL)]


class VersionData(Frozen):
    id: int
    name: str
    made_at: datetime


class VersionList(Frozen):
    versions: tuple[VersionData, ...]


class VersionBody(VersionData):
    circuit: Circuit


class NewVersion(Frozen):
    name: Name
    circuit: CheckedCircuit


@blueprint.get("")
@blueprint.output(VersionList)
def list_versions(job_id: int) -> Any:
    """All versions of a job, the last first."""
    return {"versions": [line.__dict__ for line in store.list_versions(connection(), job_id)]}


@blueprint.post("")
@blueprint.input(NewVersion, arg_name="body")
@blueprint.output(VersionData, status_code=201)
def keep_version(job_id: int, body: NewVersion) -> Any:
    """Keep a circuit as a version of the job."""
    circuit = body.circuit.model_dump(mode="json")
    return store.keep_version(connection(), job_id, body.name, circuit).__dict__


@blueprint.get("/<int:version_id>")
@blueprint.output(VersionBody)
def read_version(job_id: int, version_id: int) -> VersionBody:
    """One version with its circuit."""
    kept = store.read_version(connection(), job_id, version_id)
    return VersionBody(**{**vars(kept), "circuit": kept_circuit(kept.circuit)})


@blueprint.delete("/<int:version_id>")
@blueprint.output({}, status_code=204)
def delete_version(job_id: int, version_id: int) -> Any:
    """Forget a version for good."""
    store.delete_version(connection(), job_id, version_id)
    return ""
