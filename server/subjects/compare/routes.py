"""/api/compare: what is different between two circuits."""

from apiflask import APIBlueprint

from server.bodies import CheckedCircuit
from wiretrace.document.changes import difference
from wiretrace.document.circuit import Frozen

blueprint = APIBlueprint("compare", __name__, url_prefix="/api/compare")


class CompareRequest(Frozen):
    before: CheckedCircuit
    after: CheckedCircuit


class Differences(Frozen):
    """In words, by what happened to it. Where parts stand on a sheet is no difference."""

    added: tuple[str, ...]
    removed: tuple[str, ...]
    rewired: tuple[str, ...]
    changed: tuple[str, ...]


@blueprint.post("")
@blueprint.input(CompareRequest, arg_name="body")
@blueprint.output(Differences)
def compare(body: CompareRequest) -> Differences:
    """What was added, removed, rewired and changed from one circuit to the other."""
    return Differences(**vars(difference(body.before, body.after)))
