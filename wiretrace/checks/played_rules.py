"""Rules about what a circuit does when it is worked: every stop ends what it is there for, and nothing comes back."""

from collections.abc import Iterable, Iterator

from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, Move, NothingToCheck, Rule
from wiretrace.checks.play import Play, Stopped, played

BROKE = "Where a protection trips or a contactor welds, it was not played any further."
LEFT_OUT = "It has more states than were played: what lies further was not looked at."


def _play(facts: Facts) -> Play:
    if not facts.contactors:
        raise NothingToCheck
    found: Play = facts.remembered("played", lambda: played(facts))
    if not found.states and not found.breaks and not found.left_out:
        raise NothingToCheck
    return found


def _told(moves: Iterable[Move]) -> str:
    return ", ".join(move.words for move in moves)


def _left_out(found: Play, facts: Facts) -> Iterator[CannotTell]:
    if found.left_out:
        yield CannotTell(facts.contactors[0].id, LEFT_OUT)


def _not_played(found: Play, facts: Facts) -> Iterator[CannotTell]:
    """What was left out, and what lies behind a state in which something has broken: neither is clear."""
    yield from _left_out(found, facts)
    if found.breaks:
        yield CannotTell(facts.contactors[0].id, BROKE)


def stops_end_what_they_are_there_for(facts: Facts) -> Iterator[Finding | CannotTell]:
    """A stop is there for whatever it ends in some state; an emergency stop for everything."""
    found = _play(facts)
    yield from _not_played(found, facts)
    if not found.stops:
        raise NothingToCheck
    ends = {(one.stop.id, name) for one in found.stops for name in one.of.runs - one.stays}
    told: set[tuple[str, str]] = set()
    # Those that need no hand to be held come first: they are told more simply.
    for one in sorted(found.stops, key=lambda one: one.of.held):
        latches = one.stop.kind.is_stop(one.stop.params) and one.stop.kind.operations[0].style == "toggle"
        idle = not any(stop == one.stop.id for stop, _ in ends)
        for name in sorted(one.stays):
            its = latches or idle or (one.stop.id, name) in ends
            if its and (one.stop.id, name) not in told:
                told.add((one.stop.id, name))
                yield _still_in(facts, one, name)


def _still_in(facts: Facts, one: Stopped, name: str) -> Finding:
    label = facts.label(name)
    return Finding(
        f"{one.stop.id}/{name}",
        f"{one.stop.label} does not stop {label}: {_told(one.moves)}; {label} stays in.",
        "A stop opens every way that can hold what it stops: this one has a way round it.",
        one.stop.id,
        moves=one.moves,
        seen_us=one.seen_us,
    )


def what_goes_on_can_be_stopped(facts: Facts) -> Iterator[Finding | CannotTell]:
    """Whatever stays in when the hand is taken away is ended by some stop, where there are stops at all."""
    found = _play(facts)
    yield from _not_played(found, facts)
    if not found.stops:
        raise NothingToCheck
    told: set[str] = set()
    for reached in found.states:
        if reached.held or reached.stays_on:
            continue
        worked = [one for one in found.stops if one.of is reached]
        for name in sorted(reached.runs - told):
            if all(name in one.stays for one in worked):
                told.add(name)
                label = facts.label(name)
                begun = f"{_told(reached.moves)}; " if reached.moves else ""
                yield Finding(
                    name,
                    f"No stop ends {label}: {begun}{label} stays in whichever stop is held.",
                    "What goes on by itself needs a stop that opens its circuit.",
                    name,
                    moves=reached.moves,
                    seen_us=reached.state.time_us,
                )


def nothing_comes_back_when_a_stop_is_let_go(facts: Facts) -> Iterator[Finding | CannotTell]:
    found = _play(facts)
    yield from _not_played(found, facts)
    if not found.stops:
        raise NothingToCheck
    told: set[tuple[str, str]] = set()
    for one in found.stops:
        for name in sorted(one.returns):
            if (one.stop.id, name) not in told:
                told.add((one.stop.id, name))
                label = facts.label(name)
                yield Finding(
                    f"{one.stop.id}/{name}",
                    f"{label} comes back when {one.stop.label} is let go: {_told(one.moves)}; {label} is in again.",
                    "A stop must stay a stop until somebody starts: only a start may begin a motion.",
                    one.stop.id,
                    moves=one.moves,
                    seen_us=one.seen_us,
                )


def no_hand_trips_a_protection(facts: Facts) -> Iterator[Finding | CannotTell]:
    found = _play(facts)
    yield from _left_out(found, facts)
    told: set[str] = set()
    for reached in found.breaks:
        for name in sorted(reached.broken - told):
            told.add(name)
            does = _does(facts, name)
            begun = f": {_told(reached.moves)}" if reached.moves else " as soon as the supply comes"
            yield Finding(
                name,
                f"{facts.label(name)} {does}{begun}.",
                "More flows there than may: a short circuit, an earth fault, or a protection that does not fit.",
                name,
                moves=reached.moves,
                seen_us=reached.state.time_us,
            )


def _does(facts: Facts, name: str) -> str:
    if name in {item.id for item in facts.contactors}:
        return "welds"
    return "blows" if "blown" in facts.assembly.devices[name].kind.remedies else "trips"


def over(facts: Facts) -> str:
    """Over how much the circuit was looked at."""
    found: Play | None = facts.remembered("played", lambda: None)
    return f"Held in {found.count} states, {found.moves} moves." if found and found.count else ""


RULES = (
    Rule("stop_stops", "Every stop ends what it is there for", stops_end_what_they_are_there_for),
    Rule("nothing_trips", "No command trips a protection", no_hand_trips_a_protection),
    Rule("can_be_stopped", "What goes on by itself can be stopped", what_goes_on_can_be_stopped),
    Rule("stop_stays", "Nothing comes back when a stop is let go", nothing_comes_back_when_a_stop_is_let_go),
)
