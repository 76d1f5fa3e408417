"""Faults as data: what is wrong, where, and from when on."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from wiretrace.circuit.document import End


class FaultKind(StrEnum):
    """What can be wrong, with the fields of `Fault` that tell where and how.

    An element is a device (`place`) and one of its branches (`branch`); a conductor is a `place`
    without a branch; a clamp is a `place` with a `terminal`.
    """

    OPEN = "open"  # element, conductor or clamp
    HIGH_RESISTANCE = "high_resistance"  # the same, `resistance_ohm` in series
    SHORT = "short"  # element, `resistance_ohm` across it
    WELDED = "welded"  # contact that stays closed
    WRONG_CONTACT = "wrong_contact"  # contact that is closed where it should be open, and the other way round
    STUCK = "stuck"  # device that does not move
    BRIDGE = "bridge"  # `resistance_ohm` from a clamp to the clamp `to`
    MOVED = "moved"  # conductor whose end stands on the clamp `to`; `end` says which
    EXCHANGED = "exchanged"  # conductor and `other`, whose ends at `end` and `other_end` are exchanged
    SETTING = "setting"  # device whose parameter `name` is worth `value`
    OPERATED = "operated"  # device on which the operation `name` was done, once


@dataclass(frozen=True)
class Fault:
    """One fault, from `start_us` on. See FaultKind for the fields that count.

    An intermittent fault has a `slot_us`: in every stretch of that length it is there or not, by
    chance that follows from `seed`.
    """

    kind: FaultKind
    place: str
    branch: str = ""
    resistance_ohm: float = 0.0
    terminal: str = ""
    to: End | None = None
    end: str = "a"
    other: str = ""
    other_end: str = "a"
    name: str = ""
    value: bool | int | float | str = True
    start_us: int = 0
    slot_us: int = 0
    seed: int = 0

    @property
    def terminal_goes_bad(self) -> bool:
        """Is it a clamp that is open or a bad joint?"""
        return bool(self.terminal) and self.kind in (FaultKind.OPEN, FaultKind.HIGH_RESISTANCE)

    def active(self, now_us: int) -> bool:
        """Is the fault there at this time?"""
        if now_us < self.start_us:
            return False
        return self.slot_us == 0 or _chance(self.seed, (now_us - self.start_us) // self.slot_us)

    def next_change_us(self, now_us: int) -> int | None:
        """When it next comes or goes after `now_us`, or None for never."""
        if now_us < self.start_us:
            return self.start_us
        if self.slot_us == 0:
            return None
        slot = (now_us - self.start_us) // self.slot_us
        there = _chance(self.seed, slot)
        for ahead in range(1, SLOTS_AHEAD):
            if _chance(self.seed, slot + ahead) != there:
                return self.start_us + (slot + ahead) * self.slot_us
        return self.start_us + (slot + SLOTS_AHEAD) * self.slot_us


SHORTEST_SLOT_US: Final = 10_000
"""A joint that comes and goes within half a period has no steady state to compute."""

SLOTS_AHEAD: Final = 64
"""How far a change is looked for; a fair coin falls that often on one side once in 10^19."""

_WORD: Final = (1 << 64) - 1


def _chance(seed: int, slot: int) -> bool:
    """A fair coin for each slot: one step of the SplitMix64 generator (Steele, Lea, Flood 2014)."""
    z = (seed * 0x9E3779B97F4A7C15 + (slot + 1) * 0xD1342543DE82EF95) & _WORD
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & _WORD
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & _WORD
    return bool((z ^ (z >> 31)) & 1)
