"""What an apprentice does at the panel, as data, and how long each takes."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Final, Literal, TypeAlias

from pydantic import Field, StringConstraints

from wiretrace.document.circuit import NO_NUL, End, Frozen, Id, Text
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import Open
from wiretrace.faults.kinds.terminals import Bridge
from wiretrace.instruments.measures import Clamp, Measure, TwoPoleTester

SECOND_US: Final = 1_000_000
HELD_US: Final = 600_000


class Begin(Frozen):
    """Walk to the panel, which is under power."""

    kind: Literal["begin"] = "begin"


class Work(Frozen):
    """Work a device by hand; `briefly` lets it go again at once."""

    kind: Literal["work"] = "work"
    device: Id
    operation: Text
    value: bool = True
    briefly: bool = False


class Wait(Frozen):
    """Stand by and watch."""

    kind: Literal["wait"] = "wait"
    seconds: Annotated[int, Field(ge=1, le=600)]


class Read(Frozen):
    """Put an instrument on, and read it."""

    kind: Literal["read"] = "read"
    measure: Measure


class ProveTester(Frozen):
    """See the tester answer at a source that is known to be live."""

    kind: Literal["prove_tester"] = "prove_tester"


class ProveDead(Frozen):
    """See with the two-pole tester that nothing is there."""

    kind: Literal["prove_dead"] = "prove_dead"
    red: End
    black: End


class Lift(Frozen):
    """Take a wire off, or put it back."""

    kind: Literal["lift"] = "lift"
    wire: Id
    off: bool = True


class BridgeOver(Frozen):
    """Put a bridge between two terminals for a test, or take it out."""

    kind: Literal["bridge"] = "bridge"
    red: End
    black: End
    on: bool = True


class Note(Frozen):
    """Write something down."""

    kind: Literal["note"] = "note"
    text: Annotated[str, StringConstraints(min_length=1, max_length=1000, strip_whitespace=True, pattern=NO_NUL)]


class RuleOut(Frozen):
    """Mark a device or wire as not to blame any more, or take the mark back."""

    kind: Literal["rule_out"] = "rule_out"
    place: Id
    out: bool = True


Step: TypeAlias = Annotated[
    Begin | Work | Wait | Read | ProveTester | ProveDead | Lift | BridgeOver | Note | RuleOut,
    Field(discriminator="kind"),
]

COST_S: Final[Mapping[str, int]] = {
    "begin": 60,
    "work": 4,
    "prove_tester": 15,
    "prove_dead": 20,
    "lift": 60,
    "bridge": 45,
    "note": 0,
    "rule_out": 0,
}
"""Seconds that each takes a practised person; instruments and waiting have times of their own."""
OPEN_DOOR_S: Final = 20
"""Before the first thing that is done inside."""
PROBES_S: Final = 20
ONE_PROBE_S: Final = 12
SAME_PROBES_S: Final = 3
CLAMP_S: Final = 15
INSIDE: Final = frozenset(("read", "prove_tester", "prove_dead", "lift", "bridge"))


@dataclass(frozen=True)
class Course:
    """How far somebody has come: simulated time, what he changed at the panel, is it open, what he last measured."""

    at_us: int = 0
    own: tuple[Fault, ...] = ()
    opened: bool = False
    last: Measure | None = None


@dataclass(frozen=True)
class Leg:
    """A stretch of the course: what is changed at the panel, hands with their times, the reading at its end."""

    own: tuple[Fault, ...]
    hands: tuple[tuple[int, str, str, bool], ...]
    until_us: int
    measure: Measure | None


def advance(course: Course, step: Step) -> tuple[Course, Leg]:
    """The leg that a step makes, and how far one has then come."""
    begins = course.at_us + SECOND_US * (OPEN_DOOR_S if step.kind in INSIDE and not course.opened else 0)
    until = begins + SECOND_US * seconds(course, step)
    own, measure = _own(course.own, step), measured(step)
    hands: list[tuple[int, str, str, bool]] = []
    if isinstance(step, Work):
        # The hand is there half way; what comes of it is seen by the end.
        at = (begins + until) // 2
        hands.append((at, step.device, step.operation, step.value))
        if step.briefly:
            hands.append((at + HELD_US, step.device, step.operation, not step.value))
    after = replace(
        course, at_us=until, own=own, opened=course.opened or step.kind in INSIDE, last=measure or course.last
    )
    return after, Leg(own, tuple(hands), until, measure)


def seconds(course: Course, step: Step) -> int:
    """How long a step takes, without opening the door."""
    if isinstance(step, Wait):
        return step.seconds
    if isinstance(step, Read):
        return _reading_s(course.last, step.measure)
    return COST_S[step.kind]


def _reading_s(last: Measure | None, now: Measure) -> int:
    if isinstance(now, Clamp):
        return CLAMP_S
    before, wanted = _ends(last), _ends(now)
    same_meter = last is not None and last.instrument == now.instrument
    if same_meter and before == wanted:
        return SAME_PROBES_S
    return ONE_PROBE_S if same_meter and before & wanted else PROBES_S


def _ends(measure: Measure | None) -> frozenset[End]:
    if measure is None or isinstance(measure, Clamp):
        return frozenset()
    return frozenset(getattr(measure, "ends", ()) or (measure.red, measure.black))  # type: ignore[union-attr]


def measured(step: Step) -> Measure | None:
    """What is read at the end of a step."""
    if isinstance(step, ProveDead):
        return TwoPoleTester(red=step.red, black=step.black)
    return step.measure if isinstance(step, Read) else None


def _own(own: tuple[Fault, ...], step: Step) -> tuple[Fault, ...]:
    """What is changed at the panel after a step: wires that are off, bridges that are in."""
    if isinstance(step, Lift):
        change: Fault = Open(place=step.wire)
        on = step.off
    elif isinstance(step, BridgeOver):
        change = Bridge(place=step.red.device, terminal=step.red.terminal, to=step.black)
        on = step.on
    else:
        return own
    kept = tuple(one for one in own if one != change)
    return (*kept, change) if on else kept
