"""Second half of ./run: database, migrations, demo data, application and front, until Ctrl-C.

It starts three programs and starts again what dies. They end with it, however it ends.
"""

import argparse
import contextlib
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from types import FrameType

import psycopg
from psycopg.rows import dict_row

from scripts.children import MARK, end_leftovers, run_folder
from scripts.postgres import Cluster, PostgresError, prepare_cluster
from scripts.site import ROOT, GaveUp, Site
from server.demo import load_demo
from server.store.migrations import DatabaseTooNew, MigrationFailed, migrate
from server.store.retention import prune

LOCAL = Path(os.environ.get("WIRETRACE_LOCAL", ROOT / ".local")).resolve()
FIRST_PORT = 8000
PORTS_TRIED = 50
LOOK_EVERY_S = 0.1
TRY_AGAIN_S = 5.0
ATTEMPTS_AT_ONCE = 3
PRUNE_FIRST_S = 60.0
PRUNE_EVERY_S = 3600.0

STOPPING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


def main() -> int:
    parser = argparse.ArgumentParser(prog="./run", description="Serve Wire Trace on this machine.")
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on")
    parser.add_argument("--port", type=int, default=0, help=f"port; 0 for {FIRST_PORT} or the next free one")
    arguments = parser.parse_args()
    # By hand, since a shell that starts this in the background has it ignore Ctrl-C.
    for number in STOPPING:
        signal.signal(number, _interrupt)
    os.environ[MARK] = str(LOCAL)
    run = run_folder(str(LOCAL))
    cluster: Cluster | None = None
    try:
        if left := end_leftovers(str(LOCAL)):
            _say(f"Stopped {left} processes that an earlier start left behind.")
        port = _port(arguments.host, arguments.port)
        _say("Starting the database ...")
        cluster = prepare_cluster(LOCAL / "postgres")
        cluster.start()
        _fill(cluster)
        _serve(cluster, run, arguments.host, port)
    except KeyboardInterrupt:
        return 0
    except (PostgresError, DatabaseTooNew, MigrationFailed, GaveUp, OSError, psycopg.Error) as error:
        print(f"Cannot go on: {error}", file=sys.stderr)
        return 1
    finally:
        # A second Ctrl-C must not leave the database behind.
        for number in STOPPING:
            signal.signal(number, signal.SIG_IGN)
        _running().unlink(missing_ok=True)
        if cluster is not None:
            _say("Stopping the database ...")
            cluster.stop()
        shutil.rmtree(run, ignore_errors=True)
    return 0


def _fill(cluster: Cluster) -> None:
    """Migrations and demo data."""
    applied = migrate(cluster.url)
    with psycopg.connect(cluster.url, row_factory=dict_row) as connection:
        made = load_demo(connection)
    _say(f"Database ready: {applied} migrations applied, {made} demo jobs made.")


def _serve(cluster: Cluster, run: Path, host: str, port: int) -> None:
    with Site(cluster.url, run, host, port, {"WIRETRACE_HOSTS": _hosts(host)}) as site:
        _remember(site.address, cluster.url)
        _say(f"Wire Trace is at {site.address}   (Ctrl-C stops it)")
        _look_after(cluster, site)


def _look_after(cluster: Cluster, site: Site) -> None:
    """Start again what ends, and prune what has outlived its time, until somebody stops this.

    What does not start, as on a full disk, is tried again and again; the rest serves what it can meanwhile.
    """
    prunes_at_s = time.monotonic() + PRUNE_FIRST_S
    tries_at_s: dict[str, float] = {}
    while True:
        time.sleep(LOOK_EVERY_S)
        now_s = time.monotonic()
        ended = [program for program in site.programs if program.gone]
        again: list[tuple[str, Callable[[], None]]] = [
            (program.title, partial(site.start_again, program)) for program in ended
        ]
        if cluster.process is None or cluster.process.poll() is not None:
            again.insert(0, ("database", partial(cluster.start, ATTEMPTS_AT_ONCE)))
        for title, start in again:
            if now_s >= tries_at_s.get(title, 0):
                tries_at_s[title] = _started_again(title, start, title in tries_at_s)
        tries_at_s = {title: at_s for title, at_s in tries_at_s.items() if title in dict(again) or at_s > now_s}
        if now_s >= prunes_at_s:
            prunes_at_s = now_s + PRUNE_EVERY_S
            _prune(cluster)


def _started_again(title: str, start: Callable[[], None], again: bool) -> float:
    """Start what has ended; when it may be tried again if it ends once more, 0 for at once."""
    if not again:
        _say(f"The {title} ended; it is started again.")
    try:
        start()
    except (PostgresError, GaveUp, OSError) as error:
        if not again:
            _say(f"The {title} does not start: {error}. Is the disk full? It is tried again every {TRY_AGAIN_S:g} s.")
        return time.monotonic() + TRY_AGAIN_S
    if again:
        _say(f"The {title} is there again.")
    return 0.0


def _prune(cluster: Cluster) -> None:
    """Delete what has outlived its time; where the database is away, another time."""
    try:
        with psycopg.connect(cluster.url, row_factory=dict_row, connect_timeout=3) as connection:
            gone = prune(connection)
    except psycopg.Error:
        return
    for words, count in gone.items():
        _say(f"Deleted: {count} {words}.")


def _port(host: str, wanted: int) -> int:
    """The wanted port, or the first free one. Raises OSError when there is none."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    for port in (wanted,) if wanted else range(FIRST_PORT, FIRST_PORT + PORTS_TRIED):
        with socket.socket(family) as listener:
            listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                listener.bind((host, port))
            except OSError:
                continue
            return port
    raise OSError(f"port {wanted} is in use" if wanted else f"no free port from {FIRST_PORT} on")


def _hosts(host: str) -> str:
    """Names under which the server answers besides those of loopback: what was given, and the addresses it is on."""
    given = [name for name in os.environ.get("WIRETRACE_HOSTS", "").split(",") if name]
    addresses = [host]
    if host in ("0.0.0.0", "::"):
        told = subprocess.run(["hostname", "-I"], capture_output=True, text=True, check=False).stdout
        addresses = [*told.split(), socket.gethostname()]
    return ",".join([*given, *(f"[{one}]" if ":" in one else one for one in addresses)])


def _running() -> Path:
    return LOCAL / "running.json"


def _remember(address: str, database: str) -> None:
    """For the next ./run, which says where this one is, and for backup and restore."""
    new = LOCAL / "running.json.new"
    new.write_text(json.dumps({"address": address, "database": database}), encoding="utf-8")
    new.rename(_running())


def _say(text: str) -> None:
    # The terminal may be gone.
    with contextlib.suppress(OSError):
        print(text, flush=True)


def _interrupt(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


if __name__ == "__main__":
    raise SystemExit(main())
