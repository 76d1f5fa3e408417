"""/api/session: has this browser signed in, and the way out."""

from typing import Any

from apiflask import APIBlueprint

from server import access
from wiretrace.document.circuit import Frozen

blueprint = APIBlueprint("session", __name__, url_prefix="/api/session")


class Session(Frozen):
    """Whether this browser gave a password that it may sign out of; on one's own machine none is asked for."""

    signed_in: bool


@blueprint.get("")
@blueprint.output(Session)
def read_session() -> Session:
    """Whether there is anything to sign out of."""
    return Session(signed_in=access.signed_in())


@blueprint.delete("")
@blueprint.output({}, status_code=204)
def sign_out() -> Any:
    """Sign out: what this browser has is worth nothing any more."""
    access.sign_out()
    return ""


@blueprint.get("/known")
@blueprint.doc(hide=True)
def known() -> Any:
    """Asked by the server in front before it sends a file: whoever gets here may have it."""
    return "", 204
