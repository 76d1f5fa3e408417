"""Rules about the control circuit: stop, start, seal-in, overload contact, coil voltage, restart."""

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from wiretrace.checks.facts import BUTTONS, CONTACTORS, MOMENTARY, MOTORS, Facts
from wiretrace.checks.finding import Finding, NothingToCheck, Rule
from wiretrace.circuit.checked import Installed
from wiretrace.simulation.plant import BranchRef

COIL_TOLERANCE = 0.15


def _buttons(facts: Facts) -> list[Installed]:
    found = facts.of(*BUTTONS)
    if not found:
        raise NothingToCheck
    return found


def _controlled(facts: Facts) -> list[tuple[Installed, int, int]]:
    found = list(facts.coils)
    if not found:
        raise NothingToCheck
    return found


def stop_is_normally_closed(facts: Facts) -> Iterator[Finding]:
    for item in _buttons(facts):
        for ref in facts.contacts(item) if facts.is_stop(item) else ():
            if not facts.rest(ref) and not facts.feeds_input(ref):
                yield Finding(
                    f"{item.id}/{ref.branch}",
                    f"{item.label} is a stop button, but its normally open contact {ref.branch} is used.",
                    "A wire that comes off would leave no way to stop: a stop opens its circuit.",
                    item.id,
                    ref.branch.split("-")[0],
                )


def start_is_normally_open(facts: Facts) -> Iterator[Finding]:
    for item in _buttons(facts):
        if facts.is_stop(item):
            continue
        used = facts.contacts(item)
        if used and all(facts.rest(ref) for ref in used):
            yield Finding(
                item.id,
                f"{item.label} is no stop button, but only its normally closed contact is used.",
                "A start closes its circuit; with a normally closed contact the machine starts with the supply.",
                item.id,
            )


def _seal_contacts(facts: Facts) -> list[BranchRef]:
    """Normally open contacts that an armature moves."""
    return [
        ref
        for item, _, _ in facts.coils
        for ref in facts.contacts(item)
        if not facts.is_pole(ref) and not facts.rest(ref)
    ]


def start_has_a_seal_in(facts: Facts) -> Iterator[Finding]:
    seals = _seal_contacts(facts)
    others = facts.mask(lambda ref: not facts.is_pole(ref) and facts.kind(ref) != "plc")
    starts = [
        (item, ref)
        for item in _buttons(facts)
        if not facts.is_stop(item) and "jog" not in item.device.function.lower()
        for ref in facts.contacts(item)
        if not facts.rest(ref) and _leads_to_a_coil(facts, others, ref)
    ]
    if not starts:
        raise NothingToCheck
    sealed = {facts.at_rest.pair(seal) for seal in seals}
    for item, ref in starts:
        if facts.at_rest.pair(ref) not in sealed:
            yield Finding(
                f"{item.id}/{ref.branch}",
                f"Nothing seals {item.label} in: no contact of a contactor lies across {ref.branch}.",
                "It runs only while the button is held. For jogging that is right; then name the button so.",
                item.id,
                ref.branch.split("-")[0],
            )


def _leads_to_a_coil(facts: Facts, others: NDArray[np.bool_], ref: BranchRef) -> bool:
    """Is a coil fed only while this contact is closed, all `others` being closed?"""
    without = facts.joined_by(others, but=(ref,))
    at_coils = without.label[[node for _, a, b in facts.coils for node in (a, b)]]
    return bool(np.isin(at_coils, list(without.pair(ref))).any())


def seal_in_lies_not_across_the_stop(facts: Facts) -> Iterator[Finding]:
    seals = _seal_contacts(facts)
    stops = [
        (item, ref)
        for item in (*facts.of(*BUTTONS), *facts.of("emergency_stop"))
        if facts.is_stop(item) or item.device.kind == "emergency_stop"
        for ref in facts.contacts(item)
        if facts.rest(ref)
    ]
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
                seal.branch.split("-")[0],
            )


def coil_voltage_is_what_is_there(facts: Facts) -> Iterator[Finding]:
    for item, a, b in _controlled(facts):
        poles = facts.all_closed.feeds(a, b)
        if poles is None:
            continue
        there, rated = facts.line_v(*poles), float(item.params["coil_voltage_v"])
        if math.isfinite(there) and abs(there / rated - 1) > COIL_TOLERANCE:
            higher = there > rated
            yield Finding(
                item.id,
                f"The coil {item.label} is made for {rated:g} V; between {poles[0].terminal} and "
                f"{poles[1].terminal} there are {there:.0f} V.",
                "It burns out." if higher else "It does not pull in, or it hums and burns out.",
                item.id,
                "A1",
            )


def coils_can_be_fed(facts: Facts) -> Iterator[Finding]:
    for item, a, b in _controlled(facts):
        used = {(item.id, "A1"), (item.id, "A2")} & facts.used_terminals
        if used and facts.all_closed.feeds(a, b) is None:
            yield Finding(
                item.id,
                f"No way leads from a source through the coil {item.label}, even with every contact closed.",
                "It can never pull in: a wire is missing, or both its ends are on one potential.",
                item.id,
                "A1",
            )


def restart_without_a_hand(facts: Facts) -> Iterator[Finding]:
    """A motor that starts with the supply: fed through contacts that stay closed while it is away."""
    contactors = facts.of(*CONTACTORS)
    if not contactors or not facts.of(*MOTORS):
        raise NothingToCheck

    def stays(ref: BranchRef) -> bool:
        kind = facts.kind(ref)
        if facts.is_pole(ref) or kind == "plc":
            return False
        moves = kind in MOMENTARY or "coil" in {b.name for b in facts.plant.devices[ref.place].structure.branches}
        return facts.rest(ref) if moves else True

    parts = facts.parts(stays)
    for item in contactors:
        a, b = facts.node(item, "A1"), facts.node(item, "A2")
        feeds_motor = any((item.id, f"{n}") in facts.used_terminals for n in range(1, 7))
        if feeds_motor and parts.feeds(a, b) is not None:
            yield Finding(
                item.id,
                f"{item.label} can come in by itself when the supply returns: no button has to be pressed.",
                "Two-wire control, only where nobody can be hurt by a start that nobody gave.",
                item.id,
            )


def stop_of_a_controller_is_normally_closed(facts: Facts) -> Iterator[Finding]:
    if not facts.of("plc"):
        raise NothingToCheck
    for item in (*facts.of(*BUTTONS), *facts.of("emergency_stop")):
        if facts.is_stop(item) or item.device.kind == "emergency_stop":
            for ref in facts.contacts(item):
                if not facts.rest(ref) and facts.feeds_input(ref):
                    yield Finding(
                        f"{item.id}/{ref.branch}",
                        f"The stop {item.label} is wired to the controller by its normally open contact.",
                        "A broken wire would go unnoticed until the stop is needed.",
                        item.id,
                        ref.branch.split("-")[0],
                    )


RULES = (
    Rule("stop_normally_closed", "Stop contacts are normally closed", stop_is_normally_closed),
    Rule("start_normally_open", "Start contacts are normally open", start_is_normally_open),
    Rule("seal_in", "Start buttons are sealed in", start_has_a_seal_in),
    Rule("seal_in_across_stop", "No seal-in across a stop", seal_in_lies_not_across_the_stop),
    Rule("coil_fed", "Every coil can be fed", coils_can_be_fed),
    Rule("coil_voltage", "Coil voltages are what is there", coil_voltage_is_what_is_there),
    Rule("automatic_restart", "No motor starts by itself", restart_without_a_hand),
    Rule("controller_stop", "Stops into a controller are normally closed", stop_of_a_controller_is_normally_closed),
)
