"""Settings, all from the environment."""

import os
from dataclasses import dataclass
from pathlib import Path

LOOPBACK_HOSTS = ("127.0.0.1", "localhost", "[::1]")
MAX_REQUEST_BYTES = 4 * 1024 * 1024


@dataclass(frozen=True)
class Config:
    """`database` is a PostgreSQL connection string, `web` the folder of the built front end.

    `hosts` are the names under which the server may be addressed; a request for another name is
    refused, so that a web page elsewhere cannot talk to it under a name of its own. With a `password` everybody
    has to give it (any name with it). A request may take `work_s` seconds of computing, and
    `time_s` of time: well under what the servers before it wait.
    """

    database: str
    web: Path
    hosts: tuple[str, ...] = LOOPBACK_HOSTS
    max_request_bytes: int = MAX_REQUEST_BYTES
    database_timeout_s: float = 3.0
    password: str = ""
    work_s: float = 2.0
    time_s: float = 10.0


def config_from_environment() -> Config:
    """WIRETRACE_DATABASE is required; WIRETRACE_HOSTS, _WEB, _PASSWORD and _WORK_S may be set."""
    hosts = os.environ.get("WIRETRACE_HOSTS", "")
    return Config(
        database=os.environ["WIRETRACE_DATABASE"],
        web=Path(os.environ.get("WIRETRACE_WEB", "web/dist")).resolve(),
        hosts=(*LOOPBACK_HOSTS, *(host for host in hosts.split(",") if host)),
        password=os.environ.get("WIRETRACE_PASSWORD", ""),
        work_s=float(os.environ.get("WIRETRACE_WORK_S", "2")),
    )
