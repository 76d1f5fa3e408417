"""What a button is there for, as it follows from what it does when the circuit is worked."""

from collections.abc import Iterator
from dataclasses import dataclass

from wiretrace.catalogue.machinery.purpose import CommandRole
from wiretrace.catalogue.machinery.structure import Params
from wiretrace.checks.drawing import loose_ends
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.effects import Effect, Shown, Verb, effects
from wiretrace.checks.playing.explore import Explorer
from wiretrace.document.checked import Installed

PLAYS = (
    (Verb.STARTS, CommandRole.START),
    (Verb.JOGS, CommandRole.JOG),
    (Verb.STOPS, CommandRole.STOP),
)
"""Who starts something is a start, whatever it stops before. A stop that brakes while it is held is no jog."""


@dataclass(frozen=True)
class Part:
    """The role that a button plays, the contactors that it plays it to, and where that is seen first."""

    item: Installed
    role: CommandRole
    outputs: tuple[str, ...]
    shown: Shown


@dataclass(frozen=True)
class Proposal:
    """A role that is not said, in words, and the parameters that say it."""

    device: str
    role: CommandRole
    words: str
    params: Params


def parts_played(made: Explorer) -> Iterator[Part]:
    """Of every button with a role, said or not, the one that it plays. One that switches on and off plays none."""
    for item in made.commands:
        if item.kind.role(item.params) is None:
            continue
        own = {effect: shown for effect, shown in effects(made).items() if effect.device == item.id and effect.value}
        for verb, role in PLAYS:
            its = [
                effect for effect in own if effect.verb is verb and not (verb is Verb.JOGS and own[effect].here.runs)
            ]
            if its and not _toggles(own, its):
                yield Part(item, role, tuple(effect.output for effect in its), own[its[0]])
            if its:
                break


def _toggles(own: dict[Effect, Shown], its: list[Effect]) -> bool:
    """Does it start what it also stops?"""
    stopped = {effect.output for effect in own if effect.verb is Verb.STOPS}
    return its[0].verb is Verb.STARTS and all(effect.output in stopped for effect in its)


def proposals(facts: Facts) -> tuple[Proposal, ...]:
    """The roles that the drawing does not say and that playing tells. Nothing without a coil, or of half a drawing."""
    if any(True for _ in loose_ends(facts)):
        return ()
    try:
        made = worked(facts)
    except NothingToCheck:
        return ()
    unsaid = (one for one in parts_played(made) if one.item.kind.role(one.item.params) is CommandRole.UNSAID)
    return tuple(
        Proposal(one.item.id, one.role, _words(facts, one), one.item.kind.in_role(one.item.params, one.role))
        for one in unsaid
        if not (made.found.left_out and one.role is not CommandRole.START)
    )


def _words(facts: Facts, one: Part) -> str:
    what = " and ".join(facts.label(output) for output in one.outputs)
    if one.role is CommandRole.JOG:
        return (
            f"{one.item.label} runs {what} only while it is held, as a jog does. Meant to go on, it needs a contact of "
            f"{facts.label(one.outputs[0])} across it."
        )
    return f"{one.item.label} {one.role.value}s {what}."
