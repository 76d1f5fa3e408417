"""What a circuit does otherwise than another one: both worked, and the effects of their commands compared."""

from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.status import words
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.effects import Effect, effects
from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.telling import whole

PARTLY: Final = "One of them was not played whole: what lies further was not compared."


@dataclass(frozen=True)
class DoesOtherwise:
    """What is done no longer, what is done now, and what of it all was not looked at."""

    lines: tuple[str, ...]
    reason: str = ""


def does_otherwise(before: Facts, after: Facts) -> DoesOtherwise:
    """From one circuit to the other. Devices are the same that have the same id. Raises what a run raises."""
    was, now = _told(before), _told(after)
    lost = [f"{who} no longer {does}" for key, (who, does) in was.items() if key not in now]
    new = [f"{who} now {does}" for key, (who, does) in now.items() if key not in was]
    partly = any(made is not None and not whole(made) for made in (_worked(before), _worked(after)))
    return DoesOtherwise((*lost, *new), PARTLY if partly else "")


def _worked(facts: Facts) -> Explorer | None:
    try:
        return worked(facts)
    except NothingToCheck:
        return None


def _told(facts: Facts) -> dict[tuple[object, ...], tuple[str, str]]:
    """Who does what, by what is the same in both circuits."""
    made = _worked(facts)
    if made is None:
        return {}
    told: dict[tuple[object, ...], tuple[str, str]] = {}
    for effect in effects(made):
        told[effect.device, effect.operation, effect.value, effect.verb, effect.output] = (
            _who(made, effect),
            f"{effect.verb.value} {facts.label(effect.output)}",
        )
    for one, two in made.witness.together:
        told["together", *sorted((one, two))] = (facts.label(one), f"comes in while {facts.label(two)} is in")
    return told


def _who(made: Explorer, effect: Effect) -> str:
    item = made.assembly.devices[effect.device]
    operation = next(one for one in item.kind.operations if one.name == effect.operation)
    if operation.trips:
        return f"{item.label}, tripped,"
    if operation.style == "momentary":
        return item.label
    edge = effects(made)[effect].edges[0]
    return f"{item.label}, {words(made.found.states[edge.to].key[made.place(item.id)])},"
