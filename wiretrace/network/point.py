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
    def alternating(self) -> tuple[Solution, ...]:
        """All that alternates, as a meter sees it: that of the supplies first."""
        return (self.ac, *(one.flow for one in (*self.tones, *self.fading)))

    @property
    def parts(self) -> tuple[Solution, ...]:
        """All that alternates, and what is direct."""
        return self.alternating if self.dc is None else (*self.alternating, self.dc)

    def joined(self, a: int, b: int) -> bool:
        """Is there any conducting path between two nodes?"""
        return self.ac.joined(a, b) or (self.dc is not None and self.dc.joined(a, b))

    def largest_v(self, a: int, b: int) -> float:
        """The voltage between two nodes: the direct one or all that alternates together, whichever is larger."""
        alternating = [abs(one.volts_between(a, b)) for one in self.alternating if one.joined(a, b)]
        direct = abs(self.dc.volts_between(a, b)) if self.dc is not None and self.dc.joined(a, b) else 0.0
        return max(math.hypot(*alternating), direct)
