"""What was risky in a step, and how far the panel is proved dead: the steps of safe working, as they are taught.

Switch off, lock off, prove the tester, prove dead, prove the tester again (EN 50110-1, clause 6.2). Nothing here says
that a panel is safe to touch.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import IntEnum
from typing import Final

from wiretrace.diagnosis.isolation import leaves_live
from wiretrace.document.circuit import End
from wiretrace.instruments.measures import LowImpedanceVoltmeter, TwoPoleTester, Voltmeter
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state
from wiretrace.training.exercise.bench import Outcome, Seen
from wiretrace.training.exercise.record import Risk
from wiretrace.training.exercise.steps import BridgeOver, Lift, ProveDead, Read, Step, Work

LIVE_V: Final = 12.0
"""The first step of a two-pole tester (EN 61243-3)."""


class Proof(IntEnum):
    """How far the proof of being dead has come; it begins anew when the lock comes off."""

    NONE = 0
    TESTER = 1
    DEAD = 2
    PROVED = 3


@dataclass(frozen=True)
class Care:
    """What the risk of the next step depends on.

    `tripped` are devices that have tripped and were not looked into since; `again` those that were reset without.
    `live` are pairs of terminals between which a voltage was read.
    """

    locked: bool = False
    proof: Proof = Proof.NONE
    tripped: frozenset[str] = frozenset()
    again: frozenset[str] = frozenset()
    live: frozenset[str] = frozenset()


def after(assembly: Assembly, care: Care, step: Step, outcome: Outcome) -> tuple[Care, tuple[Risk, ...]]:
    """What holds after a step, and what was risky in it."""
    risks = tuple(_risks(assembly, care, step, outcome))
    proof = _proof(assembly, care, step, outcome) if outcome.locked_off else Proof.NONE
    tripped = {device for device in care.tripped if outcome.seen[device].attention}
    again = set(care.again)
    if outcome.shown is not None:
        tripped, again = set(), set()
    if isinstance(step, Work) and _resets(care, step):
        again.add(step.device)
    tripped |= {event.device for event in outcome.events if _protects(assembly, outcome.seen, event.device)}
    return replace(
        care,
        locked=outcome.locked_off,
        proof=proof,
        tripped=frozenset(tripped),
        again=frozenset(again),
        live=care.live | _found_live(step, outcome),
    ), risks


def _found_live(step: Step, outcome: Outcome) -> frozenset[str]:
    """Between what a voltage was read in this step."""
    if not isinstance(step, Read) or outcome.shown is None or outcome.shown.value is None:
        return frozenset()
    measure = step.measure
    if not isinstance(measure, Voltmeter | LowImpedanceVoltmeter | TwoPoleTester) or abs(outcome.shown.value) < LIVE_V:
        return frozenset()
    return frozenset([_pair(measure.red, measure.black)])


def _pair(red: End, black: End) -> str:
    return " ".join(sorted(f"{one.device}:{one.terminal}" for one in (red, black)))


def replacing(care: Care) -> tuple[Risk, ...]:
    """What is risky in replacing a part as things stand."""
    return () if care.locked and care.proof is Proof.PROVED else (Risk.REPLACED_LIVE,)


def _risks(assembly: Assembly, care: Care, step: Step, outcome: Outcome) -> Iterator[Risk]:
    proved = care.locked and care.proof is Proof.PROVED
    if isinstance(step, Read) and outcome.shown is not None and outcome.shown.refused:
        yield Risk.LIVE
    elif isinstance(step, Read) and step.measure.instrument in ("ohmmeter", "diode", "insulation") and not proved:
        yield Risk.NOT_PROVED
    if isinstance(step, ProveDead) and not _live_under_power(assembly, care, step):
        yield Risk.PROOF_OF_NOTHING
    if isinstance(step, Lift | BridgeOver) and not proved:
        yield Risk.WIRES_NOT_PROVED
    if isinstance(step, Lift | BridgeOver) and care.locked and _touches_live(assembly, step, outcome):
        yield Risk.STAYS_LIVE
    if isinstance(step, BridgeOver) and step.on:
        yield Risk.BRIDGED
    if isinstance(step, Work) and step.value and not care.locked and _dead_only(assembly, step):
        yield Risk.WORKED_LIVE
    if _resets(care, step):
        yield Risk.RESET_UNSEEN
    for event in outcome.events:
        if event.device in care.again and _protects(assembly, outcome.seen, event.device):
            yield Risk.SAME_FAULT


def _touches_live(assembly: Assembly, step: Lift | BridgeOver, outcome: Outcome) -> bool:
    """Is a terminal that is worked at one that the isolator leaves live, as the supplies now stand?"""
    if isinstance(step, BridgeOver):
        ends = {step.red, step.black}
    else:
        ends = {end for wire in assembly.circuit.conductors if wire.id == step.wire for end in (wire.a, wire.b)}
    return not ends.isdisjoint(leaves_live(assembly, {device: seen.on for device, seen in outcome.seen.items()}))


def _dead_only(assembly: Assembly, step: Work) -> bool:
    operations = assembly.devices[step.device].kind.operations
    return next(one for one in operations if one.name == step.operation).dead_only


def _resets(care: Care, step: Step) -> bool:
    """Is a protection worked that has tripped, and that nobody has looked into?"""
    return isinstance(step, Work) and step.value and step.device in care.tripped


def _protects(assembly: Assembly, seen: Mapping[str, Seen], device: str) -> bool:
    """Is it a protection that has tripped?"""
    return assembly.devices[device].kind.protects is not None and seen[device].attention


def _proof(assembly: Assembly, care: Care, step: Step, outcome: Outcome) -> Proof:
    if step.kind == "prove_tester":
        return Proof.PROVED if care.proof >= Proof.DEAD else Proof.TESTER
    if isinstance(step, ProveDead) and outcome.shown is not None:
        dead = outcome.shown.value == 0 and _live_under_power(assembly, care, step)
        return Proof.DEAD if dead and care.proof >= Proof.TESTER else Proof.NONE
    return care.proof


def _live_under_power(assembly: Assembly, care: Care, step: ProveDead) -> bool:
    """Was a voltage read there, or would the sound circuit put under power have one? Else none proves nothing."""
    if _pair(step.red, step.black) in care.live:
        return True
    frame = frame_of(assembly, initial_state(assembly))
    return abs(read_voltage(assembly, frame.point, step.red, step.black).voltage_v) >= LIVE_V
