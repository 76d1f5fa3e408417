"""Settings of gunicorn: `gunicorn -c python:server.gunicorn --bind A --bind B --bind C 'server.app:create_app()'`.

Workers take one request at a time, so that its work can be bounded (wiretrace/work.py). Each belongs to a lane
(server/lanes.py) and listens at the socket of that alone: the sockets are given in the order of the lanes; with one
socket all workers are at it. A server in front takes requests in whole and chooses the lane.
"""

import contextlib
import gc
import os
import resource
import signal
from collections import Counter
from pathlib import Path
from typing import Any

from server.lanes import LANES
from server.parent import end_with_parent

_EACH = int(os.environ.get("WIRETRACE_WORKERS", "0"))
"""Workers of each lane; 0 for as many as the lane is good for."""

worker_class = "sync"
workers = sum(_EACH or lane.workers for lane in LANES)
# Well behind the time that a request may take (server/config.py). The front waits longer: for its turn, too.
timeout = 20
graceful_timeout = 5
preload_app = True
loglevel = "warning"
# Signs of life lie in memory: a full disk keeps no worker from beginning.
worker_tmp_dir = "/dev/shm" if os.access("/dev/shm", os.W_OK) else None
control_socket_disable = True
forwarded_allow_ips = ""

MORE_BYTES = int(os.environ.get("WIRETRACE_MORE_BYTES", "1500000000"))
"""Memory that one request may want besides what a worker has."""
RETIRES_AT_BYTES = 700_000_000
"""Memory with which a worker makes place for a new one, when it has answered."""

_ask_to_end_with_the_main_process = end_with_parent(signal.SIGKILL)


def pre_fork(server: Any, worker: Any) -> None:
    """A new worker takes the place that is free: in the lane that lacks most of its workers."""
    there = Counter(getattr(one, "lane", None) for one in server.WORKERS.values())
    worker.lane = min(LANES, key=lambda lane: there[lane] / (_EACH or lane.workers))


def post_fork(server: Any, worker: Any) -> None:
    """A worker without its main process would go on answering beside the workers of the next."""
    if len(worker.sockets) == len(LANES):
        worker.sockets = [worker.sockets[LANES.index(worker.lane)]]
    _ask_to_end_with_the_main_process()
    # Compiled circuits live long and hold no cycles: going through all of them takes longer than a press may.
    gc.freeze()
    gc.set_threshold(50_000, 50, 1_000)
    most = _pages(0) + MORE_BYTES
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    # What takes long gives way to what answers at once; where that is forbidden, all are alike.
    with contextlib.suppress(OSError):
        os.nice(worker.lane.polite)


def post_request(worker: Any, request: Any, environment: Any, response: Any) -> None:
    """A worker that has grown ends when it has answered; another takes its place."""
    if _pages(1) > RETIRES_AT_BYTES:
        worker.log.warning("A worker has grown to %d MB; another takes its place.", _pages(1) // 1_000_000)
        worker.alive = False


def _pages(which: int) -> int:
    """Memory of this process in bytes: 0 all that is mapped, 1 what is in use."""
    return int(Path("/proc/self/statm").read_text("ascii").split()[which]) * resource.getpagesize()
