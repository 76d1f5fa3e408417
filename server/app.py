"""The application: create_app(config) puts the pieces together."""

from typing import Any

from apiflask import APIFlask
from flask import Response, request, send_from_directory
from werkzeug.exceptions import NotFound, UnsupportedMediaType

from server import openapi, problems
from server.api import catalogue, checks, formats, jobs, simulation, versions
from server.config import Config, config_from_environment
from server.store import database

CONTENT_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


def create_app(config: Config | None = None) -> APIFlask:
    """Make the application; without a config, from the environment."""
    config = config or config_from_environment()
    app = APIFlask(
        "server", title="Wire Trace", version="1", docs_path=None, json_errors=False, spec_path="/api/openapi.json"
    )
    app.config.update(
        OPENAPI_VERSION="3.1.0",
        MAX_CONTENT_LENGTH=config.max_request_bytes,
        TRUSTED_HOSTS=list(config.hosts),
        AUTO_VALIDATION_ERROR_RESPONSE=False,
        AUTO_404_RESPONSE=False,
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]
    problems.register(app)
    database.install(app, config)
    for module in (jobs, simulation, catalogue, checks, formats, versions):
        app.register_blueprint(module.blueprint)
    app.spec_processor(openapi.tidy)
    _serve_front_end(app, config)
    app.before_request(_json_only)
    app.after_request(_guard)
    return app


def _serve_front_end(app: APIFlask, config: Config) -> None:
    @app.get("/", defaults={"path": ""})
    @app.get("/<path:path>")
    @app.doc(hide=True)
    def front_end(path: str) -> Any:
        """The built front end; a path that is no file belongs to its router."""
        if path.startswith("api/"):
            raise NotFound(f"There is no {path}.")
        if path.startswith("assets/"):
            return send_from_directory(config.web, path, max_age=31_536_000)
        name = path if (config.web / path).is_file() else "index.html"
        return send_from_directory(config.web, name, max_age=0)


def _json_only() -> None:
    """Refuse bodies that a form of some other site could send."""
    if request.method in ("POST", "PUT", "PATCH") and request.mimetype != "application/json":
        raise UnsupportedMediaType("Send application/json.")


def _guard(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = CONTENT_POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    if response.mimetype in ("application/json", "application/problem+json"):
        response.headers["Cache-Control"] = "no-store"
    return response
