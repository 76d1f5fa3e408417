"""A rule about commands: what a button does when the circuit is worked is what the drawing says that it is for."""

from collections.abc import Iterator
from typing import Final

from wiretrace.catalogue.machinery.purpose import CommandRole
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.effects import Shown, Verb, effects
from wiretrace.checks.playing.roles import parts_played
from wiretrace.checks.playing.telling import moved, not_played
from wiretrace.document.checked import Installed

SAID_AND_PLAYED: Final = {
    (CommandRole.START, CommandRole.JOG): (
        "{{label}} is there to start, but {what} is in only while it is held: {{moves}}.",
        "A normally open contact of {what} across it seals it in. What is to run only while it is held is a jog.",
    ),
    (CommandRole.START, CommandRole.STOP): (
        "{{label}} is there to start, but all it does is stop {what}: {{moves}}.",
        "Its contact or its wires are those of a stop.",
    ),
    (CommandRole.STOP, CommandRole.START): (
        "{{label}} is there to stop, but it starts {what}: {{moves}}.",
        "Whoever strikes it to stop the machine sets it going.",
    ),
    (CommandRole.STOP, CommandRole.JOG): (
        "{{label}} is there to stop, but {what} is in while it is held: {{moves}}.",
        "Whoever strikes it to stop the machine sets it going.",
    ),
    (CommandRole.JOG, CommandRole.STOP): (
        "{{label}} is there to jog, but all it does is stop {what}: {{moves}}.",
        "Its contact or its wires are those of a stop.",
    ),
}
"""What is found and why, by the role that the drawing says and the one that is played."""
BEGINS: Final = {
    CommandRole.JOG: (
        "{{label}} is there to jog, but {what} stays in when it is let go: {{moves}}.",
        "Jogging must end with the hand: the fingers of whoever jogs are near. It opens the seal-in before it closes.",
    ),
    CommandRole.RESET: (
        "{{label}} is there to reset, but {what} comes in: {{moves}}.",
        "A reset alone starts nothing: a start has a button of its own.",
    ),
}
"""The same of a button that may not begin anything that goes on, in any state."""


def commands_do_what_they_are_there_for(facts: Facts) -> Iterator[Finding | CannotTell]:
    made = worked(facts)
    yield from not_played(made)
    if not any(item.kind.role(item.params) not in (None, CommandRole.UNSAID) for item in made.commands):
        raise NothingToCheck
    if made.found.left_out:
        return
    for part in parts_played(made):
        said = part.item.kind.role(part.item.params)
        words = SAID_AND_PLAYED.get((said, part.role)) if said else None
        if words is not None:
            yield _finding(facts, part.item, part.outputs[0], words, part.shown)
    for effect, shown in effects(made).items():
        item = made.assembly.devices[effect.device]
        words = BEGINS.get(item.kind.role(item.params) or CommandRole.UNSAID)
        if words is not None and effect.value and effect.verb is Verb.STARTS:
            yield _finding(facts, item, effect.output, words, shown)


def _finding(facts: Facts, item: Installed, output: str, words: tuple[str, str], shown: Shown) -> Finding:
    message, why = (text.format(what=facts.label(output)) for text in words)
    return moved(worked(facts), item.id, message, why, (shown.here, shown.edges), item.id)


RULES = (Rule("role_true", "Buttons do what they are there for", commands_do_what_they_are_there_for, absence=True),)
