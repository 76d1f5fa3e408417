"""The connection pool, and one connection for each request that needs one."""

from pathlib import Path

from flask import Flask, current_app, g
from psycopg import Connection
from psycopg.rows import DictRow, dict_row
from psycopg_pool import ConnectionPool
from yoyo import get_backend, read_migrations

from server.config import Config

MIGRATIONS = Path(__file__).parents[1] / "migrations"


def migrate(database: str) -> int:
    """Apply the migrations that are missing; return how many there were."""
    backend = get_backend(database.replace("postgresql://", "postgresql+psycopg://", 1))
    try:
        with backend.lock():
            missing = backend.to_apply(read_migrations(str(MIGRATIONS)))
            backend.apply_migrations(missing)
            return len(missing)
    finally:
        backend.connection.close()


def install(app: Flask, config: Config) -> ConnectionPool[Connection[DictRow]]:
    """Give the application its pool and see to it that a request's connection goes back."""
    pool = ConnectionPool(
        config.database,
        connection_class=Connection[DictRow],
        kwargs={"row_factory": dict_row, "connect_timeout": 3},
        min_size=0,
        max_size=8,
        timeout=config.database_timeout_s,
        check=ConnectionPool.check_connection,
        open=True,
    )
    app.extensions["database"] = pool
    app.teardown_appcontext(_give_back)
    return pool


def connection() -> Connection[DictRow]:
    """The connection of this request, fetched on first use.

    Raises psycopg_pool.PoolTimeout when the database does not answer.
    """
    if "connection" not in g:
        g.connection = current_app.extensions["database"].getconn()
    held: Connection[DictRow] = g.connection
    return held


def _give_back(error: BaseException | None) -> None:
    held = g.pop("connection", None)
    if held is not None:
        current_app.extensions["database"].putconn(held)
