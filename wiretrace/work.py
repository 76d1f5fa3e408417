"""How much computing a piece of work may take, and whether anybody still waits for it.

A document of a few kilobytes can ask for more than a machine can do in an hour. What answers others bounds its work
by `bounded`; where that is exceeded, TooMuchWork ends it, wherever it stands. That goes by a timer signal, which
only the main thread of a process hears; elsewhere, work is unbounded.
"""

import signal
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from types import FrameType
from typing import Final

from wiretrace.errors import NobodyWaits, TooMuchWork

LOOK_EVERY_S: Final = 0.05
AGAIN_AFTER_S: Final = 0.5


@dataclass
class _Bound:
    until_s: float
    seconds: float
    what: str
    anybody: Callable[[], bool]


_bound: _Bound | None = None
"""What the work of this process is bounded by; of the main thread alone."""


@contextmanager
def bounded(seconds: float, what: str, anybody: Callable[[], bool] = lambda: True) -> Iterator[None]:
    """Let the work inside take `seconds` of computing (not of waiting), while `anybody` waits for it.

    `what` completes "... takes more than". Not to be nested; does nothing outside the main thread. Raises
    TooMuchWork, NobodyWaits.
    """
    global _bound
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    before = signal.signal(signal.SIGPROF, _look)
    _bound = _Bound(time.process_time() + seconds, seconds, what, anybody)
    signal.setitimer(signal.ITIMER_PROF, LOOK_EVERY_S, LOOK_EVERY_S)
    try:
        yield
    finally:
        _bound = None
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)


@contextmanager
def unbounded() -> Iterator[None]:
    """Inside `bounded`: what must not be broken off half-way, such as talk with a database."""
    global _bound
    held, _bound = _bound, None
    try:
        yield
    finally:
        _bound = held


def _look(number: int, frame: FrameType | None) -> None:
    if _bound is None:
        return
    if time.process_time() > _bound.until_s:
        # Once more later, in case this is raised where nothing can be raised.
        _bound.until_s += AGAIN_AFTER_S
        raise TooMuchWork(f"{_bound.what} takes more than {_bound.seconds:g} s of computing; it was broken off.")
    if not _bound.anybody():
        raise NobodyWaits("Whoever asked has gone.")
