"""Rules about what a circuit does when it is worked: every stop ends what it is there for, and nothing comes back."""

from collections.abc import Iterator
from typing import Final

from wiretrace.catalogue.machinery.status import tells, words
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.states import How, Reached
from wiretrace.checks.playing.stopping import Stopped, stopped
from wiretrace.checks.playing.telling import broken_by_hand, left_out, moved, not_played, told
from wiretrace.document.checked import Installed

BURNS: Final = "burns out"
WHY_BURNT: Final = "Its coil takes more than it stands: a wrong voltage, or an armature that is kept from closing."
WHY_TRIPPED: Final = "More flows there than may: a short circuit, an earth fault, or a protection that does not fit."


def _stops(made: Explorer) -> tuple[Stopped, ...]:
    found = stopped(made)
    if not found:
        raise NothingToCheck
    return found


def stops_end_what_they_are_there_for(facts: Facts) -> Iterator[Finding | CannotTell]:
    """A stop is there for whatever it ends in some state; an emergency stop for everything."""
    made = worked(facts)
    yield from not_played(made)
    found = _stops(made)
    ends = {(one.stop.id, name) for one in found for name in one.of.runs - one.stays}
    known: set[tuple[str, str]] = set()
    for one in found:
        latches = one.stop.kind.is_stop(one.stop.params) and one.stop.kind.operations[0].style == "toggle"
        idle = not any(stop == one.stop.id for stop, _ in ends)
        for name in sorted(one.stays):
            its = latches or idle or (one.stop.id, name) in ends
            if its and (one.stop.id, name) not in known:
                known.add((one.stop.id, name))
                yield _still_in(facts, one, name)


def _still_in(facts: Facts, one: Stopped, name: str) -> Finding:
    label = facts.label(name)
    return Finding(
        f"{one.stop.id}/{name}",
        f"{one.stop.label} does not stop {label}: {told(one.moves)}; {label} stays in.",
        "A stop opens every way that can hold what it stops: this one has a way round it.",
        one.stop.id,
        moves=one.moves,
        seen_us=one.seen_us,
    )


def nothing_starts_while_a_stop_is_held(facts: Facts) -> Iterator[Finding | CannotTell]:
    """By no other command: what a stop ends, or all where it ends nothing, stays out while it is held or struck."""
    made = worked(facts)
    yield from not_played(made)
    ends = {(one.stop.id, name) for one in stopped(made) for name in one.of.runs - one.stays}
    known: set[tuple[str, str]] = set()
    if not made.stops:
        raise NothingToCheck
    for edge in made.found.edges:
        here, there = made.found.states[edge.of], made.found.states[made.found.rested(edge.to)[0]]
        if edge.how is not How.HAND or edge.lets_go:
            continue
        for stop in (stop for stop in made.stops if stop.id != edge.device and _is_held(made, stop, here)):
            idle = not any(device == stop.id for device, _ in ends)
            for name in sorted(there.runs - here.runs):
                if (idle or (stop.id, name) in ends) and (stop.id, name) not in known:
                    known.add((stop.id, name))
                    how = "held" if stop.id in here.held else words(here.key[made.place(stop.id)])
                    yield moved(
                        made,
                        f"{stop.id}/{name}",
                        f"{{label}} starts while {stop.label} is {how}: {{moves}}.",
                        "A stop keeps out what it stops for as long as somebody holds it.",
                        (here, (edge,)),
                        name,
                    )


def _is_held(made: Explorer, stop: Installed, here: Reached) -> bool:
    """Is it held, struck, or turned to off?"""
    status = here.key[made.place(stop.id)]
    if stop.kind.off:
        return tells(status, stop.kind.off)
    return stop.id in here.held or status != made.found.states[0].key[made.place(stop.id)]


def what_goes_on_can_be_stopped(facts: Facts) -> Iterator[Finding | CannotTell]:
    """Whatever stays in when the hand is taken away is ended by some stop, where there are stops at all."""
    made = worked(facts)
    yield from not_played(made)
    found = _stops(made)
    known: set[str] = set()
    for reached in made.found.states:
        if reached.held or reached.stays_on or reached.broken:
            continue
        tried = [one for one in found if one.of is reached]
        for name in sorted(reached.runs - known):
            if tried and all(name in one.stays for one in tried):
                known.add(name)
                label = facts.label(name)
                moves, seen_us = made.found.moves_to(reached.number)
                begun = f"{told(moves)}; " if moves else ""
                yield Finding(
                    name,
                    f"No stop ends {label}: {begun}{label} stays in whichever stop is held.",
                    "What goes on by itself needs a stop that opens its circuit.",
                    name,
                    moves=moves,
                    seen_us=seen_us,
                )


def nothing_comes_back_when_a_stop_is_let_go(facts: Facts) -> Iterator[Finding | CannotTell]:
    made = worked(facts)
    yield from not_played(made)
    known: set[tuple[str, str]] = set()
    for one in _stops(made):
        for name in sorted(one.returns):
            if (one.stop.id, name) not in known:
                known.add((one.stop.id, name))
                label = facts.label(name)
                yield Finding(
                    f"{one.stop.id}/{name}",
                    f"{label} comes back when {one.stop.label} is let go: {told(one.back_moves)}; {label} is in again.",
                    "A stop must stay a stop until somebody starts: only a start may begin a motion.",
                    one.stop.id,
                    moves=one.back_moves,
                    seen_us=one.back_seen_us,
                )


def no_hand_trips_a_protection(facts: Facts) -> Iterator[Finding | CannotTell]:
    made = worked(facts)
    yield from left_out(made)
    known: set[str] = set()
    for number, names in broken_by_hand(made):
        for name in sorted(names - known):
            known.add(name)
            moves, seen_us = made.found.moves_to(number)
            begun = f": {told(moves)}" if moves else " as soon as the supply comes"
            does = _does(made, number, name)
            yield Finding(
                name,
                f"{facts.label(name)} {does}{begun}.",
                WHY_BURNT if does == BURNS else WHY_TRIPPED,
                name,
                moves=moves,
                seen_us=seen_us,
            )


def _does(made: Explorer, number: int, name: str) -> str:
    if tells(made.found.states[number].key[made.place(name)], "coil_burnt"):
        return BURNS
    if name in {item.id for item in made.facts.contactors}:
        return "welds"
    return "blows" if "blown" in made.assembly.devices[name].kind.remedies else "trips"


def over(facts: Facts) -> str:
    """Over how much the circuit was looked at."""
    found = worked(facts).found
    return f"Held in {len(found.states)} states, {found.runs} moves."


RULES = (
    Rule("stop_stops", "Every stop ends what it is there for", stops_end_what_they_are_there_for),
    Rule("stop_holds", "Nothing starts while a stop is held", nothing_starts_while_a_stop_is_held),
    Rule("nothing_trips", "No command trips, welds or burns anything out", no_hand_trips_a_protection),
    Rule("can_be_stopped", "What goes on by itself can be stopped", what_goes_on_can_be_stopped),
    Rule("stop_stays", "Nothing comes back when a stop is let go", nothing_comes_back_when_a_stop_is_let_go),
)
