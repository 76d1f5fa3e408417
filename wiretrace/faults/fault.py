"""Faults as data: what is wrong, and where."""

from dataclasses import dataclass
from enum import StrEnum


class FaultKind(StrEnum):
    OPEN = "open"
    HIGH_RESISTANCE = "high_resistance"


@dataclass(frozen=True)
class Fault:
    """A fault of one branch of a device, or of one conductor (`branch` empty).

    `place` is the id of the device or conductor. `resistance_ohm` is what a bad joint adds.
    """

    kind: FaultKind
    place: str
    branch: str = ""
    resistance_ohm: float = 0.0
