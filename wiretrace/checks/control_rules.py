"""Rules about the control circuit: stop, start, seal-in, overload contact, coil voltage, restart."""

import math
from collections.abc import Iterator

from wiretrace.catalogue.machinery.purpose import Actuator, CommandRole, Does
from wiretrace.checks.facts import Coil, Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.document.checked import Installed
from wiretrace.simulation.graph import BranchRef

COIL_TOLERANCE = 0.15


def _buttons(facts: Facts) -> list[Installed]:
    found = facts.buttons
    if not found:
        raise NothingToCheck
    return found


def _controlled(facts: Facts) -> tuple[Coil, ...]:
    if not facts.coils:
        raise NothingToCheck
    return facts.coils


def stop_is_normally_closed(facts: Facts) -> Iterator[Finding]:
    for item in _buttons(facts):
        contacts = facts.contacts(item) if facts.is_stop(item) else ()
        # Beside a contact that opens, one that closes may do more: brake, for example.
        opens = any(facts.rest(ref) for ref in contacts)
        for ref in contacts:
            if not opens and not facts.rest(ref) and not facts.feeds_input(ref):
                yield Finding(
                    f"{item.id}/{ref.branch}",
                    f"{item.label} is a stop button, but its normally open contact {ref.branch} is used.",
                    "A wire that comes off would leave no way to stop: a stop opens its circuit.",
                    item.id,
                    facts.first_terminal(ref),
                )


def start_is_normally_open(facts: Facts) -> Iterator[Finding]:
    for item in _buttons(facts):
        if facts.is_stop(item):
            continue
        used = facts.contacts(item)
        # One whose role is not said is judged by what it does.
        unsaid = item.kind.role(item.params) is CommandRole.UNSAID
        if used and all(facts.rest(ref) for ref in used) and not unsaid:
            yield Finding(
                item.id,
                f"{item.label} is no stop button, but only its normally closed contact is used.",
                "A start closes its circuit; with a normally closed contact the machine starts with the supply.",
                item.id,
            )


def buttons_have_their_colour(facts: Facts) -> Iterator[Finding]:
    roles = [(item, role) for item in _buttons(facts) if (role := item.kind.role(item.params)) is not None]
    if not roles:
        raise NothingToCheck
    for item, role in roles:
        if not item.kind.wears(item.params):
            yield Finding(
                item.id,
                f"{item.label} is there to {role.value}, but it is {item.params['colour']}.",
                "Red stops and never starts, green never stops, blue resets (IEC 60204-1, 10.2.1).",
                item.id,
            )


def _seal_contacts(facts: Facts) -> list[BranchRef]:
    """Normally open contacts that an armature moves."""
    return [
        ref
        for item in facts.that(Does.OPERATES)
        for ref in (facts.contacts(item) if item.kind.actuator is Actuator.COIL else ())
        if not facts.is_pole(ref) and not facts.rest(ref)
    ]


def seal_in_lies_not_across_the_stop(facts: Facts) -> Iterator[Finding]:
    seals = _seal_contacts(facts)
    stops = [(item, ref) for item in facts.stops for ref in facts.contacts(item) if facts.rest(ref)]
    if not stops:
        raise NothingToCheck
    across: dict[frozenset[int], list[BranchRef]] = {}
    for seal in seals:
        across.setdefault(facts.wired.pair(seal), []).append(seal)
    for item, ref in stops:
        for seal in across.get(facts.wired.pair(ref), ()):
            yield Finding(
                f"{item.id}/{seal.place}",
                f"{facts.label(seal.place)} {seal.branch} lies across the stop {item.label}.",
                "Once it is in, the stop button does nothing: there is a way around it.",
                seal.place,
                facts.first_terminal(seal),
            )


def _coil_key(facts: Facts, coil: Coil) -> str:
    """Of a device with several coils each has a name of its own."""
    return coil.item.id if len(facts.coils_of(coil.item)) == 1 else f"{coil.item.id}/{coil.branch}"


def coil_voltage_is_what_is_there(facts: Facts) -> Iterator[Finding | CannotTell]:
    for coil in _controlled(facts):
        item = coil.item
        made_for, poles = item.kind.operating(item.params, coil.branch), facts.all_closed.feeds(coil.a, coil.b)
        if made_for is None:
            yield CannotTell(item.id, f"What voltage the coil {item.label} is made for is not stated.")
        if made_for is None or poles is None:
            continue
        there, rated = facts.line_v(*poles), made_for.voltage_v
        if math.isfinite(there) and abs(there / rated - 1) > COIL_TOLERANCE:
            higher = there > rated
            yield Finding(
                _coil_key(facts, coil),
                f"The coil {item.label} is made for {rated:g} V; between {poles[0].terminal} and "
                f"{poles[1].terminal} there are {there:.0f} V.",
                "It burns out." if higher else "It does not pull in, or it hums and burns out.",
                item.id,
                coil.terminal,
            )


def coils_can_be_fed(facts: Facts) -> Iterator[Finding]:
    for coil in _controlled(facts):
        item = coil.item
        ends = {facts.assembly.nodes[coil.a], facts.assembly.nodes[coil.b]}
        if not ends & facts.used_terminals or facts.all_closed.feeds(coil.a, coil.b) is not None:
            continue
        if _returns_through_earth(facts, coil):
            yield Finding(
                _coil_key(facts, coil),
                f"The coil {item.label} returns through earth, not through the neutral.",
                "Earth carries no current in service: a residual-current device trips, and frames may become live.",
                item.id,
                coil.terminal,
            )
        else:
            yield Finding(
                _coil_key(facts, coil),
                f"No way leads from a source through the coil {item.label}, even with every contact closed.",
                "It can never pull in: a wire is missing, or both its ends are on one potential.",
                item.id,
                coil.terminal,
            )


def _returns_through_earth(facts: Facts, coil: Coil) -> bool:
    """Is one end joined to a live pole, and the other to earth?"""
    label = facts.all_closed.label
    earths = {int(label[pole.node]) for pole in facts.poles if pole.what == "earth"}
    live = {int(label[pole.node]) for pole in facts.poles if pole.what == "live"}
    a, b = int(label[coil.a]), int(label[coil.b])
    return (a in earths and b in live) or (b in earths and a in live)


def restart_without_a_hand(facts: Facts) -> Iterator[Finding]:
    """A motor that starts with the supply: fed through contacts that stay closed while it is away."""
    if not facts.contactors or not facts.motors:
        raise NothingToCheck

    def stays(ref: BranchRef) -> bool:
        if facts.is_pole(ref) or facts.does(ref) is Does.GIVES_SIGNALS:
            return False
        falls_back = facts.item(ref).kind.actuator in (Actuator.HAND, Actuator.COIL, Actuator.CLOCK)
        return facts.rest(ref) if falls_back else True

    parts = facts.parts(stays)
    for item in facts.contactors:
        poles = item.structure.branches_of(Does.SWITCHES_LOAD)
        feeds_motor = any((item.id, end) in facts.used_terminals for pole in poles for end in (pole.a, pole.b))
        if feeds_motor and any(parts.feeds(coil.a, coil.b) for coil in facts.coils_of(item)):
            yield Finding(
                item.id,
                f"{item.label} can come in by itself when the supply returns: no button has to be pressed.",
                "Two-wire control, only where nobody can be hurt by a start that nobody gave.",
                item.id,
            )


def stop_of_a_controller_is_normally_closed(facts: Facts) -> Iterator[Finding]:
    if not facts.that(Does.TAKES_SIGNALS):
        raise NothingToCheck
    for item in facts.stops:
        for ref in facts.contacts(item):
            if not facts.rest(ref) and facts.feeds_input(ref):
                yield Finding(
                    f"{item.id}/{ref.branch}",
                    f"The stop {item.label} is wired to the controller by its normally open contact.",
                    "A broken wire would go unnoticed until the stop is needed.",
                    item.id,
                    facts.first_terminal(ref),
                )


RULES = (
    Rule("stop_normally_closed", "Stop contacts are normally closed", stop_is_normally_closed),
    Rule("start_normally_open", "Start contacts are normally open", start_is_normally_open),
    Rule("colour", "Buttons have the colour of what they do", buttons_have_their_colour),
    Rule("seal_in_across_stop", "No seal-in across a stop", seal_in_lies_not_across_the_stop),
    Rule("coil_fed", "Every coil can be fed", coils_can_be_fed, absence=True),
    Rule("coil_voltage", "Coil voltages are what is there", coil_voltage_is_what_is_there),
    Rule("automatic_restart", "No motor starts by itself", restart_without_a_hand),
    Rule("controller_stop", "Stops into a controller are normally closed", stop_of_a_controller_is_normally_closed),
)
