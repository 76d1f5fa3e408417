"""Settings of gunicorn: `gunicorn -c python:server.gunicorn 'server.app:create_app()'`.

Workers take one request at a time, so that its work can be bounded (wiretrace/work.py), and there are more of
them than cores, so that a long request does not keep short ones waiting. A server in front takes requests in whole.
"""

import gc
import os
import signal
from typing import Any

from server.parent import end_with_parent

worker_class = "sync"
workers = (os.cpu_count() or 1) + 2
timeout = 15
graceful_timeout = 5
preload_app = True
loglevel = "warning"
control_socket_disable = True
forwarded_allow_ips = ""

_ask_to_end_with_the_main_process = end_with_parent(signal.SIGKILL)


def post_fork(server: Any, worker: Any) -> None:
    """A worker without its main process would go on answering beside the workers of the next."""
    _ask_to_end_with_the_main_process()
    # Compiled circuits live long and hold no cycles: going through all of them takes longer than a press may.
    gc.freeze()
    gc.set_threshold(50_000, 50, 1_000)
