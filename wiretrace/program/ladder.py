"""Programs of a programmable controller: rungs in words, one a line.

    Q1 = (I1 or Q1) and I2 and not Q2
    M1 = Q1 and not T1
    T1 = on-delay 5 s when Q1
    T2 = off-delay 50 ms when M1
    # what follows a hash is for people

Contacts are inputs I1 to I8, outputs Q1 to Q6, markers M1 to M8 and timers T1 to T4; `not` is a normally
closed instruction. Rungs are worked off from top to bottom, each seeing what those above it have just set.
"""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

INPUTS: Final = tuple(f"I{n}" for n in range(1, 9))
OUTPUTS: Final = tuple(f"Q{n}" for n in range(1, 7))
MARKERS: Final = tuple(f"M{n}" for n in range(1, 9))
TIMERS: Final = tuple(f"T{n}" for n in range(1, 5))
CONTACTS: Final = frozenset((*INPUTS, *OUTPUTS, *MARKERS, *TIMERS))

MAX_RUNGS: Final = 100
DEEPEST: Final = 50
LONGEST_DELAY_US: Final = 24 * 3600 * 1_000_000

_RUNG: Final = re.compile(r"^(\w+)\s*=\s*(?:(on-delay|off-delay)\s+([\d.]+)\s*(ms|s)\s+when\s+)?(.+)$")
_TOKEN: Final = re.compile(r"\s*(\(|\)|\w+|\S)")
_UNIT_US: Final = {"ms": 1_000, "s": 1_000_000}


class ProgramError(ValueError):
    """A rung that cannot be read; the message names the line."""


@dataclass(frozen=True)
class Rung:
    """A coil and its condition in reverse Polish order. A timer has a delay and a way."""

    coil: str
    condition: tuple[str, ...]
    delay_us: int = 0
    off_delay: bool = False

    def closed(self, on: Mapping[str, bool]) -> bool:
        """Does current flow through the rung?"""
        stack: list[bool] = []
        for step in self.condition:
            if step == "not":
                stack.append(not stack.pop())
            elif step in ("and", "or"):
                b, a = stack.pop(), stack.pop()
                stack.append(a and b if step == "and" else a or b)
            else:
                stack.append(on[step])
        return stack[0]


@lru_cache(maxsize=256)
def rungs(program: str) -> tuple[Rung, ...]:
    """The rungs of a program. Raises ProgramError."""
    found = []
    for number, line in enumerate(program.splitlines(), 1):
        text = line.partition("#")[0].strip()
        if text:
            try:
                found.append(_rung(text))
            except ProgramError as error:
                raise ProgramError(f"line {number} of the program: {error}") from None
    if len(found) > MAX_RUNGS:
        raise ProgramError(f"the program has {len(found)} rungs; the limit is {MAX_RUNGS}.")
    return tuple(found)


def _rung(text: str) -> Rung:
    match = _RUNG.match(text)
    if match is None:
        raise ProgramError(f"{text!r} is not of the form Q1 = I1 and not I2.")
    coil, way, size, unit, condition = match.groups()
    if coil not in CONTACTS or coil in INPUTS:
        raise ProgramError(f"there is no coil {coil}.")
    if (coil in TIMERS) != (way is not None):
        raise ProgramError(
            f"{coil} is {'a timer and needs' if coil in TIMERS else 'no timer and cannot have'} a delay."
        )
    tokens = _TOKEN.findall(condition)
    polish, rest = _either(tokens, 0)
    if rest:
        raise ProgramError(f"{rest[0]!r} is not expected here.")
    delay_us = round(_seconds(size) * _UNIT_US[unit]) if way else 0
    if delay_us > LONGEST_DELAY_US:
        raise ProgramError(f"{coil} waits longer than a day.")
    return Rung(coil, tuple(polish), delay_us, way == "off-delay")


def _seconds(text: str) -> float:
    try:
        seconds = float(text)
    except ValueError:
        raise ProgramError(f"{text[:20]!r} is not a time.") from None
    if not math.isfinite(seconds):
        raise ProgramError(f"{text[:20]!r} ... is not a time.")
    return seconds


def _either(tokens: Sequence[str], depth: int) -> tuple[list[str], Sequence[str]]:
    polish, rest = _both(tokens, depth)
    while rest and rest[0] == "or":
        more, rest = _both(rest[1:], depth)
        polish = [*polish, *more, "or"]
    return polish, rest


def _both(tokens: Sequence[str], depth: int) -> tuple[list[str], Sequence[str]]:
    polish, rest = _contact(tokens, depth)
    while rest and rest[0] == "and":
        more, rest = _contact(rest[1:], depth)
        polish = [*polish, *more, "and"]
    return polish, rest


def _contact(tokens: Sequence[str], depth: int) -> tuple[list[str], Sequence[str]]:
    if not tokens:
        raise ProgramError("a contact is missing at the end.")
    if depth > DEEPEST:
        raise ProgramError("it is nested too deeply.")
    first, rest = tokens[0], tokens[1:]
    if first == "not":
        polish, rest = _contact(rest, depth + 1)
        return [*polish, "not"], rest
    if first == "(":
        polish, rest = _either(rest, depth + 1)
        if not rest or rest[0] != ")":
            raise ProgramError("a bracket is not closed.")
        return polish, rest[1:]
    if first not in CONTACTS:
        raise ProgramError(f"there is no contact {first}.")
    return [first], rest
