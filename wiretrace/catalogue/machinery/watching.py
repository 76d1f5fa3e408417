"""Relays that watch quantities: each finding runs a delay of its own, whatever else is found meanwhile."""

from collections.abc import Iterable, Mapping
from typing import Final

from wiretrace.catalogue.machinery.structure import DeviceState

SURELY: Final = 1e-6
"""Share by which a quantity must pass a threshold: on it, rounding would decide."""


def below(value: float, limit: float) -> bool:
    """Is it surely below a limit that is positive?"""
    return value < limit * (1 - SURELY)


def above(value: float, limit: float) -> bool:
    """Is it surely above a limit that is positive?"""
    return value > limit * (1 + SURELY)


def idle(findings: Iterable[str]) -> dict[str, None]:
    """The state variables of findings that are not there."""
    return {f"{finding}_at_us": None for finding in findings}


def timed(
    state: DeviceState, findings: Iterable[str], present_s: Mapping[str, float], now_us: int
) -> dict[str, int | None]:
    """When each finding has lasted long enough. `present_s` are the delays of those that are there, seconds."""
    dues: dict[str, int | None] = {}
    for finding in findings:
        name = f"{finding}_at_us"
        due = state[name]
        if finding not in present_s:
            dues[name] = None
        elif isinstance(due, int):
            dues[name] = due
        else:
            dues[name] = now_us + max(1, round(1e6 * present_s[finding]))
    return dues


def elapsed(state: DeviceState, findings: Iterable[str], now_us: int) -> list[str]:
    """The findings whose delay is over now, in the order given."""
    return [finding for finding in findings if state[f"{finding}_at_us"] == now_us]
