"""The application: create_app(config) puts the pieces together."""

import re
import socket
from functools import partial
from typing import Any

from apiflask import APIFlask
from flask import Response, request, send_from_directory
from werkzeug.exceptions import BadRequest, NotFound, UnsupportedMediaType

from server import access, connection, openapi, person, problems
from server.config import Config, config_from_environment
from server.subjects import blueprints
from wiretrace.work import bounded

CONTENT_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


class Application(APIFlask):
    """Every request has so much computing and no more, and none for a client that has hung up."""

    def dispatch_request(self) -> Any:
        with bounded(self.config["WORK_S"], "This request", _client_waits, self.config["TIME_S"]):
            return super().dispatch_request()


def _client_waits() -> bool:
    """Is the other end of the connection still there? Known only of a socket that the server hands on."""
    connection: socket.socket | None = request.environ.get("gunicorn.socket")
    if connection is None:
        return True
    try:
        return connection.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) != b""
    except BlockingIOError:
        return True
    except OSError:
        return False


def create_app(config: Config | None = None) -> APIFlask:
    """Make the application; without a config, from the environment."""
    config = config or config_from_environment()
    app = Application(
        "server", title="Wire Trace", version="1", docs_path=None, json_errors=False, spec_path="/api/openapi.json"
    )
    app.config.update(
        OPENAPI_VERSION="3.1.0",
        WORK_S=config.work_s,
        TIME_S=config.time_s,
        MAX_CONTENT_LENGTH=config.max_request_bytes,
        AUTO_VALIDATION_ERROR_RESPONSE=False,
        AUTO_404_RESPONSE=False,
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]
    problems.register(app)
    connection.install(app, config)
    person.install(app, shared=bool(config.password))
    for blueprint in blueprints():
        app.register_blueprint(blueprint)
    app.spec_processor(partial(openapi.tidy, app))
    _serve_front_end(app, config)
    _answer_to_names(app, config.hosts)
    app.before_request(_json_only)
    access.install(app, config.password)
    app.after_request(_guard)
    return app


def _serve_front_end(app: APIFlask, config: Config) -> None:
    # Known beforehand: a path that somebody makes up never meets the file system.
    files = {entry.name for entry in config.web.iterdir() if entry.is_file()} if config.web.is_dir() else set()

    @app.get("/", defaults={"path": ""})
    @app.get("/<path:path>")
    @app.doc(hide=True)
    def front_end(path: str) -> Any:
        """The built front end; a path that is no file belongs to its router."""
        if path.startswith("api/"):
            raise NotFound(f"There is no {path}.")
        if path.startswith("assets/"):
            return send_from_directory(config.web, path, max_age=31_536_000)
        return send_from_directory(config.web, path if path in files else "index.html", max_age=0)


def _answer_to_names(app: APIFlask, hosts: tuple[str, ...]) -> None:
    """Refuse a request under another name. Not left to the framework: it takes all IPv6 addresses for one."""
    names = {host.lower() for host in hosts}

    @app.before_request
    def known_name() -> None:
        name = re.sub(r":\d+$", "", request.host).lower()
        if name not in names:
            raise BadRequest(f"This server does not answer to the name {name or 'of nobody'}.")


def _json_only() -> None:
    """Refuse bodies that a form of some other site could send."""
    if (
        request.path != access.PAGE
        and request.method in ("POST", "PUT", "PATCH")
        and request.mimetype != "application/json"
    ):
        raise UnsupportedMediaType("Send application/json.")


def _guard(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = CONTENT_POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    if response.mimetype in ("application/json", "application/problem+json"):
        response.headers["Cache-Control"] = "no-store"
    return response
