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
from pathlib import Path
from types import FrameType

import psycopg
from psycopg.rows import dict_row

from scripts.children import MARK, end_leftovers, run_folder
from scripts.postgres import Cluster, PostgresError, prepare_cluster
from scripts.site import ROOT, GaveUp, Site
from server.demo import load_demo
from server.store.migrations import DatabaseTooNew, MigrationFailed, migrate

LOCAL = Path(os.environ.get("WIRETRACE_LOCAL", ROOT / ".local")).resolve()
FIRST_PORT = 8000
PORTS_TRIED = 50
LOOK_EVERY_S = 0.1

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
    """Start again what ends, until somebody stops this."""
    while True:
        time.sleep(LOOK_EVERY_S)
        if cluster.process is None or cluster.process.poll() is not None:
            _say("The database ended; it is started again.")
            cluster.start()
        for program in site.programs:
            if program.gone:
                _say(f"The {program.title} ended; it is started again.")
                site.start_again(program)


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
