"""Benchmarks compare two things in one run; a bare number of milliseconds says little."""

import time
from collections.abc import Callable

import pytest


def median_s(work: Callable[[], object], rounds: int = 200) -> float:
    """Median time of one call in seconds, after a warm-up."""
    for _ in range(5):
        work()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return sorted(times)[len(times) // 2]


@pytest.fixture
def median() -> Callable[..., float]:
    return median_s
