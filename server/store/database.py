"""Connections to the database: a pool for each process."""

import os
from collections.abc import Iterator
from contextlib import contextmanager

from psycopg import Connection, Transaction
from psycopg.rows import DictRow, dict_row
from psycopg_pool import ConnectionPool

from server.config import Config
from wiretrace.work import unbounded


class SettledConnection(Connection[DictRow]):
    """A connection whose transactions are not broken off when the computing of a request has taken too long."""

    @contextmanager
    def transaction(self, savepoint_name: str | None = None, force_rollback: bool = False) -> Iterator[Transaction]:
        with unbounded(), super().transaction(savepoint_name, force_rollback) as held:
            yield held


class Pools:
    """A pool of connections for each process: a forked worker must not talk on its parent's."""

    def __init__(self, config: Config) -> None:
        self._config = config
        self._pid = 0
        self._pool: ConnectionPool[SettledConnection] | None = None

    def pool(self) -> ConnectionPool[SettledConnection]:
        """This process's pool."""
        if self._pool is None or self._pid != os.getpid():
            self._pid = os.getpid()
            self._pool = ConnectionPool(
                self._config.database,
                connection_class=SettledConnection,
                kwargs={"row_factory": dict_row, "connect_timeout": 3},
                min_size=0,
                max_size=8,
                timeout=self._config.database_timeout_s,
                check=ConnectionPool.check_connection,
                open=True,
            )
        return self._pool

    def close(self) -> None:
        """Give up this process's connections."""
        if self._pool is not None and self._pid == os.getpid():
            self._pool.close()
        self._pool = None
