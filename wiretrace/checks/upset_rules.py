"""Rules about what happens when a protection trips, the supply goes and comes back, or a line of it is lost."""

from collections.abc import Iterator, Sequence
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.lost import started_without_a_line
from wiretrace.checks.playing.states import Edge, How, Reached
from wiretrace.checks.playing.telling import moved, not_played, told

Found = Iterator[Finding | CannotTell]
COMES_BACK: Final = "Only a start may begin a motion: what comes back by itself hurts whoever stands in it."


def a_trip_ends_it_in_every_mode(facts: Facts) -> Found:
    """What a protection ends in one state it ends in all; one that ends nothing at all protects nothing."""
    made = worked(facts)
    yield from not_played(made)
    trips = _upset(made, How.TRIP)
    if not trips:
        raise NothingToCheck
    ends = {(edge.device, name) for here, edge in trips for name in here.runs - made.found.states[edge.to].runs}
    for here, edge in trips:
        item = facts.assembly.devices[edge.device]
        idle = item.kind.protects is not None and not any(device == item.id for device, _ in ends)
        for name in sorted(made.found.states[edge.to].runs & here.runs):
            if idle or (item.id, name) in ends:
                yield moved(
                    made,
                    f"{item.id}/{name}",
                    "{moves}; {label} stays in.",
                    "A trip ends what it protects in every mode, by hand as by itself.",
                    (here, (edge,)),
                    name,
                )


def a_reset_starts_nothing(facts: Facts) -> Found:
    made = worked(facts)
    yield from not_played(made)
    trips = [(here, edge) for here, edge in _upset(made, How.TRIP) if not here.stays_on]
    resets = [(here, trip, edge) for here, trip in trips for edge in _next(made, trip.to, How.RESET)]
    if not resets:
        raise NothingToCheck
    yield from _come_back(made, resets)


def nothing_starts_with_the_supply(facts: Facts) -> Found:
    """Not when it first comes, and not when it comes back, or a line of it."""
    made = worked(facts)
    yield from not_played(made)
    if not facts.contactors:
        raise NothingToCheck
    for name in sorted(made.found.states[0].runs if not made.found.states[0].stays_on else ()):
        message = f"{facts.label(name)} comes in as soon as the supply comes."
        yield Finding(name, message, COMES_BACK, name)
    gone = [(here, edge) for how in (How.SUPPLY, How.PHASE) for here, edge in _upset(made, how) if not here.stays_on]
    back = [(here, off, edge) for here, off in gone for edge in _next(made, off.to, off.how, off.device)]
    yield from _come_back(made, back)


def _come_back(made: Explorer, ways: Sequence[tuple[Reached, Edge, Edge]]) -> Iterator[Finding]:
    """Contactors that are in again after a step that takes something away and one that gives it back."""
    for here, off, edge in ways:
        up, settled = made.found.rested(edge.to)
        for name in sorted(made.found.states[up].runs & (here.runs - made.found.states[off.to].runs)):
            key = f"{edge.device}/{edge.moves[-1].operation}/{name}"
            words = "{moves}; {label} is in again."
            yield moved(made, key, words, COMES_BACK, (here, (off, edge, *settled)), name)


def a_lost_line_ends_it_in_every_mode(facts: Facts) -> Found:
    """Where a relay watches the lines, or their loss lets a coil go, it is so in every state."""
    made = worked(facts)
    yield from not_played(made)
    if not facts.that(Does.FEELS_VOLTAGE):
        raise NothingToCheck
    yield from _starts_without_a_line(made)
    lost = [(here, edge) for here, edge in _upset(made, How.PHASE) if not edge.moves[0].value]

    def what(edge: Edge) -> tuple[str, str]:
        return edge.device, edge.moves[0].operation

    rested = {edge.to: made.found.states[edge.to].runs for _, edge in lost}
    ends = {(*what(edge), name) for here, edge in lost for name in here.runs - rested[edge.to]}
    for here, edge in lost:
        for name in sorted(here.runs & rested[edge.to]):
            if (*what(edge), name) in ends:
                yield moved(
                    made,
                    "/".join((*what(edge), name)),
                    "{moves}; {label} stays in.",
                    "What watches the lines ends the motion in every mode: a motor on two lines burns.",
                    (here, (edge,)),
                    name,
                )


def _starts_without_a_line(made: Explorer) -> Iterator[Finding]:
    known: set[str] = set()
    for one in started_without_a_line(made):
        for name in sorted(one.came - known):
            known.add(name)
            label = made.facts.label(name)
            yield Finding(
                f"start/{name}",
                f"{label} comes in without a line: {told(one.moves)}.",
                "A relay that watches the lines stands before the contactor: behind it, it sees them too late.",
                name,
                moves=one.moves,
                seen_us=one.seen_us,
            )


def _upset(made: Explorer, how: How) -> list[tuple[Reached, Edge]]:
    """What was done to states in which something runs."""
    states = made.found.states
    return [
        (states[edge.of], edge)
        for edge in made.found.edges
        if edge.how is how and states[edge.of].runs and not states[edge.of].held and _begins(edge)
    ]


def _begins(edge: Edge) -> bool:
    """Does it take something away, and not give it back?"""
    return edge.how is How.TRIP or not edge.moves[0].value


def _next(made: Explorer, number: int, how: How, device: str = "") -> Sequence[Edge]:
    return [
        edge
        for edge in made.found.leaving[number]
        if edge.how is how and (how is How.RESET or edge.moves[0].value) and device in ("", edge.device)
    ]


RULES = (
    Rule("trip_ends", "A trip ends it in every mode", a_trip_ends_it_in_every_mode),
    Rule("reset_starts_nothing", "Resetting alone starts nothing", a_reset_starts_nothing),
    Rule("supply_starts_nothing", "Nothing starts with the supply", nothing_starts_with_the_supply),
    Rule("lost_line", "A lost line ends it in every mode", a_lost_line_ends_it_in_every_mode),
)
