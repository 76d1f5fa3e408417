"""Lanes: workers of their own for what answers at once, for what computes a little, and for what takes long.

Whoever waits for long work takes the workers of that lane and no others. The quicker a lane, the more it is preferred
where there is not enough of the machine for all.
"""

import os
from dataclasses import dataclass


@dataclass(frozen=True)
class Lane:
    """`asked` are patterns of "METHOD path" that belong to it; `polite` is how much it gives way to others."""

    name: str
    workers: int
    polite: int
    asked: tuple[str, ...] = ()


_CORES = os.cpu_count() or 1
_EXERCISE = r"/api/jobs/\d+/exercises"
_ATTEMPT = r"/api/jobs/\d+/predictions/\d+"

LANES = (
    Lane("quick", _CORES, 0),
    Lane(
        "steady",
        _CORES + 1,
        2,
        (
            r"POST /api/(simulation|faults|compare|tidy|pattern|size)\b",
            r"POST /api/check$",
            r"POST /api/jobs$",
            r"POST /api/jobs/\d+/finds$",
            rf"GET {_EXERCISE}/\d+\b",
            rf"POST {_EXERCISE}/\d+/(steps|proof|end|close)$",
        ),
    ),
    Lane(
        "long",
        _CORES,
        8,
        (
            r"POST /api/check/",
            r"POST /api/(import|export|drawing|paper|sequence|trace|predictions)\b",
            rf"POST {_EXERCISE}$",
            rf"POST {_EXERCISE}/\d+/(hints|answers|review)$",
            rf"POST {_ATTEMPT}/attempts/\d+/compare$",
            rf"PATCH {_ATTEMPT}/attempts/\d+$",
            rf"GET {_ATTEMPT}/key$",
            rf"GET {_ATTEMPT}/attempts/\d+/belief$",
        ),
    ),
)
"""The first takes whatever belongs to no other."""

LARGE_DIGITS = {"quick": (6, "steady"), "steady": (7, "long")}
"""Digits of the length of a body from which it goes into a slower lane: a large one is not answered at once."""
