"""The steady state of a circuit: what is solved for each kind of current, put together."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

from wiretrace.network.solve import Solution


@dataclass(frozen=True)
class AtFrequency:
    """What sources of one frequency of their own drive, in hertz."""

    frequency_hz: float
    flow: Solution

    @property
    def omega(self) -> float:
        """Angular frequency, radians per second."""
        return 2 * math.pi * self.frequency_hz


def _none() -> tuple[AtFrequency, ...]:
    return ()


@dataclass(frozen=True)
class OperatingPoint:
    """The steady state: its alternating part, its direct part where any source drives one, and others by frequency.

    `tones` are what sources of other frequencies drive. `asked` works out what voltages that die away by themselves
    drive: devices do not act on it, and only a meter asks.
    """

    ac: Solution
    dc: Solution | None = None
    tones: tuple[AtFrequency, ...] = ()
    asked: Callable[[], tuple[AtFrequency, ...]] = field(default=_none, repr=False, compare=False)

    @cached_property
    def fading(self) -> tuple[AtFrequency, ...]:
        """What voltages drive that die away by themselves, each at its frequency."""
        return self.asked()

    @property
    def others(self) -> tuple[AtFrequency, ...]:
        """All that alternates at another frequency than that of the supplies, as a meter sees it."""
        return (*self.tones, *(one for one in self.fading if one.frequency_hz > 0))

    @property
    def alternating(self) -> tuple[Solution, ...]:
        """All that alternates, as a meter sees it: that of the supplies first."""
        return (self.ac, *(one.flow for one in self.others))

    @property
    def direct(self) -> tuple[Solution, ...]:
        """All that is direct, as a meter sees it; it adds with its sign."""
        still = tuple(one.flow for one in self.fading if one.frequency_hz == 0)
        return still if self.dc is None else (self.dc, *still)

    @property
    def parts(self) -> tuple[Solution, ...]:
        """All that alternates, and what is direct."""
        return (*self.alternating, *self.direct)

    def joined(self, a: int, b: int) -> bool:
        """Is there any conducting path between two nodes?"""
        return self.ac.joined(a, b) or (self.dc is not None and self.dc.joined(a, b))

    def largest_v(self, a: int, b: int) -> float:
        """The voltage between two nodes: the direct one or all that alternates together, whichever is larger."""
        alternating = [abs(one.volts_between(a, b)) for one in self.alternating if one.joined(a, b)]
        direct = sum(one.volts_between(a, b).real for one in self.direct if one.joined(a, b))
        return max(math.hypot(*alternating), abs(direct))
