"""One connection for each request that needs one."""

from flask import Flask, current_app, g
from psycopg import Connection
from psycopg.rows import DictRow

from server.config import Config
from server.store.database import Pools
from wiretrace.work import unbounded


def install(app: Flask, config: Config) -> None:
    """Give the application its connections and see to it that a request's connection goes back."""
    app.extensions["database"] = Pools(config)
    app.teardown_appcontext(_give_back)


def connection() -> Connection[DictRow]:
    """The connection of this request, fetched on first use.

    Raises psycopg_pool.PoolTimeout when the database does not answer.
    """
    if "connection" not in g:
        with unbounded():
            g.connection = current_app.extensions["database"].pool().getconn()
    held: Connection[DictRow] = g.connection
    return held


def _give_back(error: BaseException | None) -> None:
    held = g.pop("connection", None)
    if held is not None:
        current_app.extensions["database"].pool().putconn(held)
