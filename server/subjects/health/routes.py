"""/api/health: does the server answer, and its database?"""

from apiflask import APIBlueprint

from server.connection import connection
from wiretrace.document.circuit import Frozen

blueprint = APIBlueprint("health", __name__, url_prefix="/api/health")


class Health(Frozen):
    """The application and its database answer."""

    answers: bool


@blueprint.get("")
@blueprint.output(Health)
def health() -> Health:
    """Answers when application and database do; else with a problem."""
    with connection().transaction():
        connection().execute("SELECT 1")
    return Health(answers=True)
