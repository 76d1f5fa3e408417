"""The state of a circuit: plain data, to be written out and taken up again."""

from collections.abc import Mapping
from dataclasses import dataclass

from wiretrace.catalogue.machinery.structure import DeviceState
from wiretrace.errors import Problem, UnknownTarget


@dataclass(frozen=True)
class State:
    """Everything that changes while the circuit runs: the time, and every device. Faults are no part of it."""

    time_us: int
    devices: Mapping[str, DeviceState]


@dataclass(frozen=True)
class Action:
    """A hand on a device: at a time, an operation of its kind, on or off."""

    at_us: int
    device: str
    operation: str
    value: bool = True


def bad_state(message: str, device: str | None = None) -> UnknownTarget:
    """The error for a state or action that does not belong to the circuit."""
    return UnknownTarget(message, (Problem("state_does_not_fit", message, device),))
