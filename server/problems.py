"""Every error leaves the server in one format: RFC 9457, application/problem+json."""

import json
import logging
from dataclasses import asdict
from typing import Any

import psycopg
import psycopg_pool
from apiflask import APIFlask, HTTPError
from flask import Response
from werkzeug.exceptions import HTTPException

from server.store.errors import Conflict, NotFound, Refused
from wiretrace.document.circuit import Frozen
from wiretrace.errors import CircuitTooLarge, NewerVersion, Stopped, TooSlow, WiretraceError

log = logging.getLogger(__name__)


class ProblemItem(Frozen):
    """One thing that is wrong, and the place in the circuit that it is about."""

    code: str
    message: str
    device: str | None = None
    terminal: str | None = None
    conductor: str | None = None
    path: str | None = None


class ProblemBody(Frozen):
    """RFC 9457 problem details; `problems` lists each finding with its place."""

    type: str
    title: str
    status: int
    detail: str
    problems: tuple[ProblemItem, ...] = ()
    current_version: int | None = None


class UnknownName(Exception):
    """A circuit is called by a name that this process does not know: it has to be sent."""


class Withheld(Exception):
    """Something that is not told while somebody is still to find it out."""


class NotYours(Exception):
    """Something that another person began."""


def problem(status: int, kind: str, title: str, detail: str, **more: Any) -> Response:
    """A problem response. `kind` is the stable last part of its type."""
    body = ProblemBody(type=f"/problems/{kind}", title=title, status=status, detail=detail, **more)
    # In ASCII: what was sent, and is told of here, may hold halves of letters that no encoding has.
    return Response(json.dumps(body.model_dump()), status, content_type="application/problem+json")


def register(app: APIFlask) -> None:
    """Install the handlers; nothing may leave as an HTML error page."""
    app.register_error_handler(WiretraceError, _core)
    app.register_error_handler(Stopped, _stopped)
    app.register_error_handler(TooSlow, lambda error: problem(503, "busy", "Busy", error.message))
    app.register_error_handler(MemoryError, _too_much_memory)
    app.register_error_handler(Conflict, _conflict)
    app.register_error_handler(NotFound, _not_found)
    app.register_error_handler(Refused, lambda error: problem(409, "moved-on", "Not any more", str(error)))
    app.register_error_handler(UnknownName, lambda error: Response(status=204))
    app.register_error_handler(Withheld, lambda error: problem(403, "withheld", "Not told", str(error)))
    app.register_error_handler(NotYours, lambda error: problem(403, "not-yours", "Somebody else's", str(error)))
    app.register_error_handler(psycopg.OperationalError, _database)
    app.register_error_handler(psycopg_pool.PoolTimeout, _database)
    app.register_error_handler(RecursionError, _too_deep)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(HTTPError, _request)
    app.register_error_handler(Exception, _unexpected)


def _core(error: WiretraceError) -> Response:
    status = 413 if isinstance(error, CircuitTooLarge) else 422
    title = "Newer document" if isinstance(error, NewerVersion) else "The circuit cannot be used"
    items = [asdict(item) for item in error.problems]
    return problem(status, _kind(type(error).__name__), title, error.message, problems=items)


def _stopped(error: Stopped) -> Response:
    """Too much was asked for; or whoever asked has gone, and nobody reads this."""
    return problem(422, _kind(type(error).__name__), "Too much work", error.message)


def _kind(name: str) -> str:
    return "".join(f"-{letter.lower()}" if letter.isupper() else letter for letter in name).lstrip("-")


def _conflict(error: Conflict) -> Response:
    return problem(
        409,
        "conflict",
        "Changed elsewhere",
        "This was saved in another window since you opened it.",
        current_version=error.current_version,
    )


def _not_found(error: NotFound) -> Response:
    return problem(404, "not-found", "Not found", str(error))


def _database(error: Exception) -> Response:
    log.warning("database: %s", error)
    return problem(503, "database", "The database does not answer", "Nothing was saved. Try again in a moment.")


def _too_much_memory(error: MemoryError) -> Response:
    log.warning("a request wanted more memory than a worker may take")
    return problem(413, "too-large", "Too large", "The request asks for more memory than this server gives.")


def _too_deep(error: RecursionError) -> Response:
    return problem(400, "malformed-request", "Malformed request", "The JSON is nested too deeply.")


def _http(error: HTTPException) -> Response:
    status = error.code or 500
    if status == 413:
        return problem(413, "too-large", "Too large", "The request is larger than this server takes.")
    return problem(status, f"http-{status}", error.name, error.description or error.name)


def _request(error: HTTPError) -> Response:
    """A request whose body does not fit the schema."""
    items = []
    for place, fields in (error.detail or {}).items():
        for path, messages in (fields if isinstance(fields, dict) else {"": fields}).items():
            items.append({"code": "shape", "message": f"{path}: {_text(messages)}", "path": f"{place}.{path}"})
    detail = items[0]["message"] if items else str(error.message)
    return problem(error.status_code, "malformed-request", "Malformed request", detail, problems=items)


def _text(messages: Any) -> str:
    return "; ".join(str(m) for m in messages) if isinstance(messages, list) else str(messages)


def _unexpected(error: Exception) -> Response:
    log.exception("unexpected error", exc_info=error)
    return problem(500, "unexpected", "Unexpected error", "The server made a mistake. It has been logged.")
