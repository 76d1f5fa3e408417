"""How much computing and time a piece of work may take, and whether anybody still waits for it.

A document of a few kilobytes can ask for more than a machine can do in an hour. What answers others bounds its work
by `bounded`; where that is exceeded, TooMuchWork or TooSlow ends it, wherever it stands. That goes by timer signals,
which only the main thread of a process hears; elsewhere, work is unbounded.
"""

import signal
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from types import FrameType
from typing import Final

from wiretrace.errors import NobodyWaits, TooMuchWork, TooSlow

LOOK_EVERY_S: Final = 0.05
LOOK_AT_CLOCK_EVERY_S: Final = 0.5
AGAIN_AFTER_S: Final = 0.5
_TIMERS: Final = {
    signal.SIGPROF: (signal.ITIMER_PROF, LOOK_EVERY_S),
    signal.SIGALRM: (signal.ITIMER_REAL, LOOK_AT_CLOCK_EVERY_S),
}
"""Computing is looked at as it passes, and time as it does."""


@dataclass
class _Bound:
    until_s: float
    seconds: float
    what: str
    anybody: Callable[[], bool]
    ends_at_s: float


_bound: _Bound | None = None
"""What the work of this process is bounded by; of the main thread alone."""


@contextmanager
def bounded(
    seconds: float, what: str, anybody: Callable[[], bool] = lambda: True, time_s: float = float("inf")
) -> Iterator[None]:
    """Let the work inside take `seconds` of computing and `time_s` of time, while `anybody` waits for it.

    `what` completes "... takes more than". Not to be nested; does nothing outside the main thread. Raises
    TooMuchWork, TooSlow, NobodyWaits.
    """
    global _bound
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    before = {number: signal.signal(number, _look) for number in _TIMERS}
    _bound = _Bound(time.process_time() + seconds, seconds, what, anybody, time.monotonic() + time_s)
    for timer, every_s in _TIMERS.values():
        signal.setitimer(timer, every_s, every_s)
    try:
        yield
    finally:
        _bound = None
        for number, (timer, _) in _TIMERS.items():
            signal.setitimer(timer, 0)
            signal.signal(number, before[number])


@contextmanager
def bounded_anew(seconds: float) -> Iterator[None]:
    """Inside `bounded`: let this part take `seconds` of computing, whatever was done before. Raises what that does."""
    global _bound
    held = _bound
    if held is None:
        yield
        return
    _bound = replace(held, until_s=time.process_time() + seconds, seconds=seconds)
    try:
        yield
    finally:
        _bound = held


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
    if time.monotonic() > _bound.ends_at_s:
        _bound.ends_at_s += AGAIN_AFTER_S
        raise TooSlow(f"{_bound.what} waited too long for its turn; it was broken off. Try again.")
    if not _bound.anybody():
        raise NobodyWaits("Whoever asked has gone.")
