"""What a line of an operating description says, as data.

when EVENT [while STATE and ...], then OUTCOME and ... [after 5 s | within 5 s]
while STATE and ..., STATE and ...
never STATE while STATE and ...
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import TypeAlias

RUNS = "runs"
STANDS = "stands"
"""Said of motors: what drives or does not drive them counts, not how fast they are yet."""


class Mode(StrEnum):
    """When an outcome is to be seen."""

    IS = "is"  # in the end, when nothing changes any more by itself
    NOT = "is not"
    GOES = "goes"  # at some time from the event on
    STAYS = "stays"  # all the time from the event on


@dataclass(frozen=True)
class Clause:
    """What is said of a device: a status, as a code, or RUNS or STANDS."""

    device: str
    what: str
    mode: Mode = Mode.IS


class Worked(StrEnum):
    """What happens to a device in an event."""

    PRESSED = "pressed"
    LET_GO = "let go"
    PRESSED_AND_LET_GO = "pressed and let go"
    TURNED = "turned"  # to a position, or worked so that it shows a status
    TRIPS = "trips"
    RESET = "reset"
    GOES = "goes"  # the supply
    RETURNS = "returns"
    COMES = "comes"  # for the first time


@dataclass(frozen=True)
class Event:
    """What happens; `to` is the status of what is turned. Without a device it is said of every supply."""

    device: str
    worked: Worked
    to: str = ""


@dataclass(frozen=True)
class When:
    event: Event
    conditions: tuple[Clause, ...]
    outcomes: tuple[Clause, ...]
    after_s: float | None = None
    within_s: float | None = None


@dataclass(frozen=True)
class While:
    conditions: tuple[Clause, ...]
    outcomes: tuple[Clause, ...]


@dataclass(frozen=True)
class Never:
    states: tuple[Clause, ...]


Line: TypeAlias = When | While | Never


class Unread(Exception):
    """A line that cannot be read, and why in words."""
