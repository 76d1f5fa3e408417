"""What a rule of the trade says about a circuit."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeAlias

from wiretrace.checks.facts import Facts


@dataclass(frozen=True)
class Move:
    """One thing that a hand does, when, and how it is told."""

    at_us: int
    device: str
    operation: str
    value: bool
    words: str


@dataclass(frozen=True)
class Finding:
    """One thing found: what, why it matters at the panel, and where.

    `key` names it within its rule, so that it can be set aside with a note and recognised again.
    """

    key: str
    message: str
    why: str
    device: str | None = None
    terminal: str | None = None
    conductor: str | None = None
    moves: tuple[Move, ...] = ()
    """What a hand does to see it, from the circuit just put under power."""
    seen_us: int = 0
    """When it is seen then: a clock may have to run out after the last move."""
    drawing: bool = False
    """Is it about what is still being drawn, so that the next wire may settle it?"""


@dataclass(frozen=True)
class CannotTell:
    """Something that a rule is about, and why it cannot judge that."""

    device: str
    why: str


class Outcome(StrEnum):
    FOUND = "found"
    CLEAR = "clear"
    CANNOT_TELL = "cannot tell"
    NOT_ASKED = "nothing of the kind here"


@dataclass(frozen=True)
class Result:
    """What one rule came to, and what it could not judge if there was anything: that is never clear."""

    rule: str
    title: str
    outcome: Outcome
    findings: tuple[Finding, ...]
    reason: str = ""
    over: str = ""
    """Over how much it was looked at, of a rule for which the circuit was worked."""


class NothingToCheck(Exception):
    """The circuit has none of the things that a rule is about."""


Check: TypeAlias = Callable[[Facts], Iterable[Finding | CannotTell]]


@dataclass(frozen=True)
class Rule:
    """A rule: its name in notes, its title, and the function that looks.

    `absence` is true of one that finds that something does not happen: in a half-drawn circuit it may still.
    """

    name: str
    title: str
    check: Check
    absence: bool = False
