"""Work that is bounded: it ends in a named error, wherever it stands, and leaves nothing behind."""

import contextlib
import signal
import threading
import time

import pytest

from wiretrace.errors import NobodyWaits, Stopped, TooMuchWork, TooSlow, WiretraceError
from wiretrace.work import bounded, bounded_anew, unbounded


def burn(seconds: float) -> None:
    until = time.process_time() + seconds
    while time.process_time() < until:
        pass


def test_too_much_computing_is_broken_off_and_named() -> None:
    begun = time.process_time()
    with pytest.raises(TooMuchWork, match=r"This run takes more than 0\.2 s of computing"), bounded(0.2, "This run"):
        burn(5)
    assert time.process_time() - begun < 1


def test_no_rule_of_the_core_catches_it() -> None:
    assert not issubclass(Stopped, WiretraceError)

    def rule() -> None:
        with contextlib.suppress(WiretraceError):
            burn(10)

    with pytest.raises(TooMuchWork), bounded(0.1, "This"):
        rule()


def test_what_swallows_it_once_meets_it_again() -> None:
    """Where nothing can be raised it is lost: then it is raised once more."""

    def careless() -> None:
        with contextlib.suppress(TooMuchWork):
            burn(10)
        burn(10)

    begun = time.process_time()
    with pytest.raises(TooMuchWork), bounded(0.1, "This"):
        careless()
    assert time.process_time() - begun < 2


def test_waiting_costs_nothing_and_little_work_goes_through() -> None:
    with bounded(0.3, "This"):
        time.sleep(0.5)
        burn(0.1)


def test_it_ends_when_nobody_waits_any_more() -> None:
    gone_at = time.process_time() + 0.2
    with pytest.raises(NobodyWaits), bounded(5, "This", lambda: time.process_time() < gone_at):
        burn(4)
    assert time.process_time() < gone_at + 1


def test_what_must_not_be_broken_off_is_not() -> None:
    done = []

    def save() -> None:
        with unbounded():
            burn(0.4)
            done.append(True)
        burn(1)

    with pytest.raises(TooMuchWork), bounded(0.1, "This"):
        save()
    assert done


def test_nothing_is_left_of_it() -> None:
    before = signal.getsignal(signal.SIGPROF)
    with pytest.raises(TooMuchWork), bounded(0.1, "This"):
        burn(1)
    assert signal.getsignal(signal.SIGPROF) is before
    assert signal.getitimer(signal.ITIMER_PROF) == (0, 0)
    burn(0.3)


def test_another_thread_works_unbounded() -> None:
    ended = []

    def work() -> None:
        with bounded(0.1, "This"):
            burn(0.3)
        ended.append(True)

    thread = threading.Thread(target=work)
    thread.start()
    thread.join()
    assert ended == [True]


@pytest.mark.alone
def test_what_waits_too_long_for_its_turn_ends_though_it_computes_nothing() -> None:
    begun = time.monotonic()
    with pytest.raises(TooSlow, match="waited too long"), bounded(60, "This request", time_s=0.4):
        time.sleep(20)
    assert time.monotonic() - begun < 3


def test_a_part_may_take_as_much_as_if_nothing_had_been_done_before() -> None:
    with bounded(0.3, "This"):
        burn(0.2)
        with bounded_anew(0.5):
            burn(0.3)

    def then_goes_on() -> None:
        with bounded_anew(2):
            burn(0.4)
        burn(1)

    with pytest.raises(TooMuchWork), bounded(0.3, "This"):
        then_goes_on()
    with pytest.raises(TooMuchWork, match=r"more than 0\.1 s"), bounded(5, "This"), bounded_anew(0.1):
        burn(2)
