"""Rules about contactors that feed one motor: interlock, phase exchange, delta."""

from collections.abc import Iterator, Mapping
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from wiretrace.catalogue.machinery.purpose import Does, Windings
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Finding, NothingToCheck, Rule
from wiretrace.checks.motor_circuit import contactors_of, delta_pairs, joined_with
from wiretrace.checks.opposing import opposing
from wiretrace.document.checked import Installed
from wiretrace.simulation.graph import BranchRef


def opposing_contactors_are_interlocked(facts: Facts) -> Iterator[Finding]:
    pairs = opposing(facts)
    if not pairs:
        raise NothingToCheck
    for one, two in pairs:
        free = [(item, other) for item, other in ((one, two), (two, one)) if _coil_fed_while_in(facts, item, other)]
        for item, other in free:
            yield Finding(
                f"{item.id}/{other.id}",
                f"{item.label} can be fed while {other.label} is in, and both together short the lines.",
                f"Lead the coil {item.label} through a normally closed contact of {other.label}.",
                item.id,
                facts.coils_of(item)[0].terminal,
            )


def _coil_fed_while_in(facts: Facts, item: Installed, other: Installed) -> bool:
    """Could the coil be fed with the other's normally closed contacts open, all else closed?"""
    first_ways: NDArray[np.bool_] = facts.remembered(
        "first ways", lambda: facts.mask(lambda ref: not facts.is_pole(ref) and not _other_way(facts, ref))
    )
    opened = tuple(ref for ref in facts.contacts_of(other.id) if facts.rest(ref))
    parts = facts.joined_by(first_ways, but=opened)
    return any(parts.feeds(coil.a, coil.b) is not None for coil in facts.coils_of(item))


def _other_way(facts: Facts, ref: BranchRef) -> bool:
    """The second way of a changeover: closed it excludes the first."""
    return (
        facts.does(ref) is Does.CHANGES_OVER
        and not facts.rest(ref)
        and any(other.a == ref.a and facts.rest(other) for other in facts.contacts_of(ref.place))
    )


def _lines_at(facts: Facts, motor: Installed, contactor: Installed) -> Mapping[str, tuple[str, str]]:
    """Which live pole, by device and terminal, each first lead of a motor gets through a contactor."""
    parts = joined_with(facts, (contactor,))
    found = {}
    for name in motor.kind.three_phase.starts if motor.kind.three_phase else ():
        live = [(p.device, p.terminal) for p in parts.poles_at(facts.node(motor, name)) if p.what == "live"]
        if len(live) == 1:
            found[name] = live[0]
    return found


def reversing_contactors_exchange_two_lines(facts: Facts) -> Iterator[Finding]:
    pairs = [
        (motor, one, two)
        for motor in facts.motors
        for one, two in combinations(contactors_of(facts, motor), 2)
        if len(_lines_at(facts, motor, one)) == len(_lines_at(facts, motor, two)) == 3
    ]
    if not pairs:
        raise NothingToCheck
    for motor, one, two in pairs:
        first, second = _lines_at(facts, motor, one), _lines_at(facts, motor, two)
        if {source for source, _ in first.values()} != {source for source, _ in second.values()}:
            continue  # Mains by one and a converter by the other: no exchange tells the way that it turns.
        moved = sum(first[name] != second[name] for name in first)
        if moved == 2:
            continue
        told = "the same lines in the same order" if moved == 0 else "all three lines exchanged in a ring"
        yield Finding(
            f"{one.id}/{two.id}",
            f"{one.label} and {two.label} give {motor.label} {told}.",
            "It turns the same way with both: exactly two lines must be exchanged.",
            two.id,
            "2",
        )


def delta_is_closed_rightly(facts: Facts) -> Iterator[Finding]:
    motors = [(motor, motor.kind.three_phase) for motor in facts.motors]
    open_ = [(motor, windings) for motor, windings in motors if windings and windings.ends]
    if not open_:
        raise NothingToCheck
    for motor, windings in open_:
        for pair in delta_pairs(facts, motor):
            told = _wrong_delta(facts, motor, windings, pair)
            if told:
                yield Finding(
                    f"{motor.id}/{pair[-1].id if pair else ''}",
                    f"With {facts.labels(pair)} in, {told} of {motor.label}."
                    if pair
                    else f"As it is joined, {told} of {motor.label}.",
                    _right_delta(windings),
                    motor.id,
                    (windings.ends or windings.starts)[0],
                )


def _wrong_delta(facts: Facts, motor: Installed, windings: Windings, pair: tuple[Installed, ...]) -> str:
    """What is wrong with the windings while all leads have a line; nothing where it is right."""
    parts = joined_with(facts, pair)
    lines = {
        name: next((p.terminal for p in parts.poles_at(facts.node(motor, name)) if p.what == "live"), "")
        for name in windings.leads
    }
    if not all(lines.values()):
        return ""
    between = [(lines[a], lines[b]) for a, b in zip(windings.starts, windings.ends or (), strict=True)]
    if all(a != b for a, b in between) and len({frozenset(both) for both in between}) == 3:
        return ""
    names = [_winding(name) for name in windings.starts]
    shorted = ", ".join(name for name, (a, b) in zip(names, between, strict=True) if a == b)
    return f"winding {shorted} has one line at both ends" if shorted else "two windings lie on the same two lines"


def _winding(start: str) -> str:
    """A winding as people call it: U for the one that begins at U1."""
    return start.rstrip("0123456789")


def _right_delta(windings: Windings) -> str:
    """Both ways in which a delta may be closed."""
    first, second, third = windings.starts
    ends = " and ".join((", ".join((windings.ends or ())[:2]), (windings.ends or ("", "", ""))[2]))
    return f"In delta {ends} go to {second}, {third} and {first}, or to {third}, {first} and {second}."


RULES = (
    Rule("interlock", "Opposing contactors are interlocked", opposing_contactors_are_interlocked),
    Rule("phase_exchange", "Reversing contactors exchange two lines", reversing_contactors_exchange_two_lines),
    Rule("delta", "Delta is closed rightly", delta_is_closed_rightly),
)
