"""Second half of ./run: database, migrations, demo data, and the server until Ctrl-C."""

import argparse
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from types import FrameType

import psycopg
from psycopg.rows import dict_row

from scripts.postgres import Cluster, PostgresError, start_cluster
from server.demo import load_demo
from server.store.database import migrate

ROOT = Path(__file__).resolve().parents[1]
LOCAL = Path(os.environ.get("WIRETRACE_LOCAL", ROOT / ".local")).resolve()
RUNNING = LOCAL / "running.json"
FIRST_PORT = 8000
PORTS_TRIED = 50
WORKERS = 2
SECONDS_TO_ANSWER = 30


def main() -> int:
    parser = argparse.ArgumentParser(prog="./run", description="Serve Wire Trace on this machine.")
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on (default: loopback only)")
    parser.add_argument("--port", type=int, default=None, help=f"port (default: {FIRST_PORT} or the next free one)")
    arguments = parser.parse_args()
    # By hand, since a shell that starts this in the background has it ignore Ctrl-C.
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _interrupt)
    if (address := _already_running()) is not None:
        print(f"Wire Trace is already running at {address}")
        return 0
    try:
        port = _port(arguments.host, arguments.port)
        print("Starting the database ...", flush=True)
        cluster = start_cluster(LOCAL / "postgres")
    except (PostgresError, OSError) as error:
        print(f"Cannot start: {error}", file=sys.stderr)
        return 1
    try:
        return _serve(cluster, arguments.host, port)
    except KeyboardInterrupt:
        return 0
    finally:
        # A second Ctrl-C must not leave the database behind.
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, signal.SIG_IGN)
        RUNNING.unlink(missing_ok=True)
        print("Stopping the database ...", flush=True)
        cluster.stop()


def _serve(cluster: Cluster, host: str, port: int) -> int:
    applied = migrate(cluster.url)
    with psycopg.connect(cluster.url, row_factory=dict_row) as connection:
        made = load_demo(connection)
    print(f"Database ready: {applied} migrations applied, {made} demo jobs made.", flush=True)
    environment = os.environ | {"WIRETRACE_DATABASE": cluster.url, "WIRETRACE_WEB": str(ROOT / "web" / "dist")}
    command = [sys.executable, "-m", "gunicorn", "--no-control-socket", "--bind", f"{host}:{port}", "--workers",
               str(WORKERS), "--threads", "4", "--log-level", "warning", "server.app:create_app()"]  # fmt: skip
    server = subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True)
    address = f"http://{'127.0.0.1' if host == '0.0.0.0' else host}:{port}"
    try:
        _wait_until_it_answers(server, address)
        RUNNING.write_text(json.dumps({"pid": os.getpid(), "address": address}), encoding="utf-8")
        print(f"Wire Trace is at {address}   (Ctrl-C stops it)", flush=True)
        return server.wait()
    finally:
        server.terminate()
        server.wait()


def _wait_until_it_answers(server: subprocess.Popen[bytes], address: str) -> None:
    for _ in range(SECONDS_TO_ANSWER * 10):
        if server.poll() is not None:
            raise SystemExit("The server stopped at once; its message stands above.")
        try:
            with urllib.request.urlopen(f"{address}/api/jobs", timeout=2):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    raise SystemExit(f"The server does not answer at {address}.")


def _already_running() -> str | None:
    """Address of a server that another ./run in this folder has started."""
    try:
        running = json.loads(RUNNING.read_text("utf-8"))
        os.kill(running["pid"], 0)
        with urllib.request.urlopen(f"{running['address']}/api/jobs", timeout=2):
            return str(running["address"])
    except (OSError, ValueError, KeyError):
        return None


def _port(host: str, wanted: int | None) -> int:
    """The wanted port, or the first free one. Raises OSError when there is none."""
    for port in range(FIRST_PORT, FIRST_PORT + PORTS_TRIED) if wanted is None else (wanted,):
        with socket.socket() as listener:
            listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                listener.bind((host, port))
            except OSError:
                continue
            return port
    raise OSError(f"port {wanted} is in use" if wanted else f"no free port from {FIRST_PORT} on")


def _interrupt(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


if __name__ == "__main__":
    raise SystemExit(main())
