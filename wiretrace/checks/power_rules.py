"""Rules about the motor circuit: overload, interlock, phase exchange, delta, current transformers."""

from collections.abc import Iterator, Mapping
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from wiretrace.checks.facts import CONTACTORS, MOTORS, OVERLOADS, PROTECTION, Facts, Parts
from wiretrace.checks.finding import Finding, NothingToCheck, Rule
from wiretrace.circuit.checked import Installed
from wiretrace.simulation.plant import BranchRef

DIAL_TOLERANCE = 0.2
IN_THE_WINDING = 0.58


def _motors(facts: Facts) -> list[Installed]:
    found = facts.of(*MOTORS)
    if not found:
        raise NothingToCheck
    return found


def _with_in(facts: Facts, contactors: tuple[Installed, ...], but: tuple[str, ...] = ()) -> Parts:
    """What is joined with these contactors in, protection on; `but` are devices whose poles are left out."""
    ids = frozenset(item.id for item in contactors)
    parts: Parts = facts.remembered(("in", ids, but), lambda: facts.joined_by(_mask_in(facts, ids), but))
    return parts


def _mask_in(facts: Facts, ids: frozenset[str]) -> NDArray[np.bool_]:
    on: NDArray[np.bool_] = facts.remembered(
        "on", lambda: facts.mask(lambda ref: facts.kind(ref) in (*PROTECTION, "isolator", "shell_disc"))
    ).copy()
    for name in ids:
        on[facts.rows_of_poles(name)] = True
    return on


def _leads(facts: Facts, motor: Installed) -> list[int]:
    return [facts.node(motor, t.name) for t in motor.structure.terminals if t.name[0] in "UVW"]


def motor_has_an_overload_relay(facts: Facts) -> Iterator[Finding]:
    relays = facts.of(*OVERLOADS, "shell_disc")
    around = _with_in(facts, tuple(facts.of(*CONTACTORS)), tuple(item.id for item in relays))
    for motor in _motors(facts):
        if motor.params["thermostat"] and (motor.id, "TB1") in facts.used_terminals:
            continue
        leads = [t.name for t in motor.structure.terminals if t.name[0] in "UVW"]
        bare = [name for name in leads if any(p.what == "live" for p in around.poles_at(facts.node(motor, name)))]
        # A winding with both ends out may have its relay at either.
        if motor.device.kind == "motor_six_leads":
            bare = [name for name in bare if f"{name[0]}1" in bare and f"{name[0]}2" in bare]
        if bare:
            yield Finding(
                motor.id,
                f"{motor.label} is fed at {', '.join(bare)} without passing an overload relay.",
                "Between its rated current and the rating of the breaker nothing protects it.",
                motor.id,
                bare[0],
            )


def _relay_of(facts: Facts, relay: Installed) -> Installed | None:
    """The motor whose current passes a relay."""
    parts = _with_in(facts, tuple(facts.of(*CONTACTORS)))
    motors: dict[int, Installed] = facts.remembered("motors", lambda: _motor_at(facts, parts))
    return motors.get(int(parts.label[facts.node(relay, "2")]))


def _motor_at(facts: Facts, parts: Parts) -> dict[int, Installed]:
    """The first motor that has a lead at each part."""
    found: dict[int, Installed] = {}
    for motor in facts.of(*MOTORS):
        for node in _leads(facts, motor):
            found.setdefault(int(parts.label[node]), motor)
    return found


def overload_contact_opens_the_control_circuit(facts: Facts) -> Iterator[Finding]:
    relays = facts.of("overload_relay")
    if not relays:
        raise NothingToCheck
    for relay in relays:
        motor = _relay_of(facts, relay)
        if motor is None:
            continue
        if any(facts.feeds_input(ref) for ref in facts.contacts(relay)):
            continue  # What the program makes of it, no wire tells.
        names = {ref.branch for ref in facts.contacts(relay)}
        feeding = _contactors_of(facts, motor)
        still = [item for item in feeding if _fed_without(facts, item, relay.id, "95-96")]
        if (
            "95-96" not in names
            and "97-98" in names
            and any(_needs(facts, item, relay.id, "97-98") for item in feeding)
        ):
            told, why = "by its normally open contact", "It can only run once the relay has tripped."
        elif "95-96" not in names:
            told, why = "not at all", "A tripped relay stops nothing: it never opens the motor circuit itself."
        elif still:
            told = f"not in every mode: {facts.labels(still)} can be fed past it"
            why = "In that mode a tripped relay stops nothing."
        else:
            continue
        yield Finding(relay.id, f"{relay.label} acts on the control circuit {told}.", why, relay.id, "95")


def _contactors_of(facts: Facts, motor: Installed) -> list[Installed]:
    """Contactors through whose poles a motor gets its lines."""
    feeding: dict[str, list[Installed]] = facts.remembered("feeding", lambda: _feeding(facts))
    return feeding.get(motor.id, [])


def _feeding(facts: Facts) -> dict[str, list[Installed]]:
    """By motor, the contactors that give it a line by themselves."""
    live = [pole.node for pole in facts.poles if pole.what == "live"]
    leads = [(motor.id, node) for motor in facts.of(*MOTORS) for node in _leads(facts, motor)]
    nodes = [node for _, node in leads]
    found: dict[str, list[Installed]] = {}
    for item in facts.of(*CONTACTORS) if nodes else ():
        label = _with_in(facts, (item,)).label
        fed = np.isin(label[nodes], label[live])
        for name in dict.fromkeys(leads[row][0] for row in np.flatnonzero(fed).tolist()):
            found.setdefault(name, []).append(item)
    return found


def _fed_without(facts: Facts, contactor: Installed, place: str, branch: str) -> bool:
    """Can the coil be fed with one contact open and all others of the control side closed?"""
    open_ = tuple(r for r in facts.contacts_of(place) if r.branch in (branch, "97-98"))
    parts = facts.joined_by(facts.control, but=open_)
    return parts.feeds(facts.node(contactor, "A1"), facts.node(contactor, "A2")) is not None


def _needs(facts: Facts, contactor: Installed, place: str, branch: str) -> bool:
    parts = facts.joined_by(facts.control, but=tuple(r for r in facts.contacts_of(place) if r.branch == branch))
    return parts.feeds(facts.node(contactor, "A1"), facts.node(contactor, "A2")) is None


def dial_stands_at_the_motors_current(facts: Facts) -> Iterator[Finding]:
    relays = facts.of(*OVERLOADS)
    if not relays:
        raise NothingToCheck
    for relay in relays:
        motor = _relay_of(facts, relay)
        if motor is None:
            continue
        dial, rated = float(relay.params["dial_a"]), float(motor.params["rated_current_a"])
        wanted = [rated, IN_THE_WINDING * rated] if motor.device.kind == "motor_six_leads" else [rated]
        if all(abs(dial / amperes - 1) > DIAL_TOLERANCE for amperes in wanted):
            low = dial < min(wanted)
            yield Finding(
                relay.id,
                f"{relay.label} is set to {dial:g} A; the nameplate of {motor.label} says {rated:g} A.",
                "It trips a motor that is only fully loaded." if low else "It lets the motor be overloaded.",
                relay.id,
            )


def _opposing(facts: Facts) -> list[tuple[Installed, Installed]]:
    """Pairs of contactors that join two live poles when both are in, and neither does alone."""
    out = _with_in(facts, ())
    live = {int(out.label[pole.node]) for pole in facts.poles if pole.what == "live"}
    edges = {
        item.id: [(int(out.label[ref.a]), int(out.label[ref.b])) for ref in refs]
        for item in facts.of(*CONTACTORS)
        if (refs := facts.main_poles(item))
    }
    order = {item.id: number for number, item in enumerate(facts.of(*CONTACTORS))}
    alone = {name: _joins(live, ends) for name, ends in edges.items()}
    meeting: dict[int, list[str]] = {}
    for name, ends in edges.items():
        # A way through both passes where they meet. That is no live pole, unless one shorts lines by itself.
        for label in {label for pair in ends for label in pair if alone[name] or label not in live}:
            meeting.setdefault(label, []).append(name)
    candidates = {
        tuple(sorted(pair, key=order.__getitem__)) for names in meeting.values() for pair in combinations(names, 2)
    }
    items = {item.id: item for item in facts.of(*CONTACTORS)}
    return [
        (items[one], items[two])
        for one, two in sorted(candidates, key=lambda pair: [order[name] for name in pair])
        if _joins(live, edges[one] + edges[two]) - alone[one] - alone[two]
    ]


def _joins(live: set[int], edges: list[tuple[int, int]]) -> set[tuple[int, int]]:
    """Pairs of live parts that a few edges join."""
    group: dict[int, set[int]] = {}
    for a, b in edges:
        both = group.get(a, {a}) | group.get(b, {b})
        for label in both:
            group[label] = both
    return {pair for both in group.values() for pair in combinations(sorted(both & live), 2)}


def opposing_contactors_are_interlocked(facts: Facts) -> Iterator[Finding]:
    pairs = _opposing(facts)
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
                "A1",
            )


def _coil_fed_while_in(facts: Facts, item: Installed, other: Installed) -> bool:
    """Could the coil be fed with the other's normally closed contacts open, all else closed?"""

    first_ways: NDArray[np.bool_] = facts.remembered(
        "first ways", lambda: facts.mask(lambda ref: not facts.is_pole(ref) and not _other_way(facts, ref))
    )
    opened = tuple(ref for ref in facts.contacts_of(other.id) if facts.rest(ref))
    parts = facts.joined_by(first_ways, but=opened)
    return parts.feeds(facts.node(item, "A1"), facts.node(item, "A2")) is not None


def _other_way(facts: Facts, ref: BranchRef) -> bool:
    """The second way of a changeover: closed it excludes the first."""
    item = facts.plant.devices[ref.place]
    exclusive = item.device.kind in ("timer_relay", "timer_star_delta", "phase_monitor", "control_relay")
    return (
        exclusive
        and not facts.rest(ref)
        and any(other.a == ref.a and facts.rest(other) for other in facts.contacts_of(ref.place))
    )


def _lines_at(facts: Facts, motor: Installed, contactor: Installed) -> Mapping[str, str]:
    """Which live pole each first lead of a motor gets through a contactor."""
    parts = _with_in(facts, (contactor,))
    found = {}
    for name in ("U1", "V1", "W1"):
        live = [p.terminal for p in parts.poles_at(facts.node(motor, name)) if p.what == "live"]
        if len(live) == 1:
            found[name] = live[0]
    return found


def reversing_contactors_exchange_two_lines(facts: Facts) -> Iterator[Finding]:
    pairs = [
        (motor, one, two)
        for motor in facts.of(*MOTORS)
        for one, two in combinations(_contactors_of(facts, motor), 2)
        if len(_lines_at(facts, motor, one)) == len(_lines_at(facts, motor, two)) == 3
    ]
    if not pairs:
        raise NothingToCheck
    for motor, one, two in pairs:
        first, second = _lines_at(facts, motor, one), _lines_at(facts, motor, two)
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
    motors = facts.of("motor_six_leads")
    if not motors:
        raise NothingToCheck
    for motor in motors:
        ends = {name: facts.node(motor, name) for name in ("U1", "V1", "W1", "U2", "V2", "W2")}
        for pair in _delta_pairs(facts, motor):
            parts = _with_in(facts, pair)
            lines = {
                name: next((p.terminal for p in parts.poles_at(node) if p.what == "live"), "")
                for name, node in ends.items()
            }
            if not all(lines.values()):
                continue
            windings = [(lines[f"{n}1"], lines[f"{n}2"]) for n in "UVW"]
            if all(a != b for a, b in windings) and len({frozenset(w) for w in windings}) == 3:
                continue
            shorted = ", ".join(n for n, (a, b) in zip("UVW", windings, strict=True) if a == b)
            told = (
                f"winding {shorted} has one line at both ends" if shorted else "two windings lie on the same two lines"
            )
            yield Finding(
                f"{motor.id}/{pair[-1].id}",
                f"With {facts.labels(pair)} in, {told} of {motor.label}.",
                "In delta U2, V2 and W2 go to V1, W1 and U1, or to W1, U1 and V1.",
                motor.id,
                "U2",
            )


def _delta_pairs(facts: Facts, motor: Installed) -> list[tuple[Installed, ...]]:
    """Contactors, or pairs of them, that put a line on all six leads without joining lines."""
    near = _around(facts, motor)
    sets: list[tuple[Installed, ...]] = [(), *((item,) for item in near), *combinations(near, 2)]
    nodes = [facts.node(motor, name) for name in ("U1", "V1", "W1", "U2", "V2", "W2")]
    found = []
    for some in sets:
        parts = _with_in(facts, some)
        at = [[p for p in parts.poles_at(node) if p.what == "live"] for node in nodes]
        if all(len(poles) == 1 for poles in at):
            found.append(some)
    return found


def _around(facts: Facts, motor: Installed) -> list[Installed]:
    """Contactors that a way from the motor's leads meets before it comes to a live pole."""
    out = _with_in(facts, ())
    live = {int(out.label[pole.node]) for pole in facts.poles if pole.what == "live"}
    at: dict[int, list[tuple[str, int]]] = facts.remembered("poles at", lambda: _poles_at(facts, out))
    seen = {int(out.label[node]) for node in _leads(facts, motor)}
    ways, found = list(seen), set()
    for label in ways:
        for name, far in at.get(label, ()) if label not in live else ():
            found.add(name)
            if far not in seen:
                seen.add(far)
                ways.append(far)
    return [item for item in facts.of(*CONTACTORS) if item.id in found]


def _poles_at(facts: Facts, out: Parts) -> dict[int, list[tuple[str, int]]]:
    """By part, the contactors that have a main pole there, each with the part at its other end."""
    found: dict[int, list[tuple[str, int]]] = {}
    for item in facts.of(*CONTACTORS):
        for ref in facts.main_poles(item):
            a, b = int(out.label[ref.a]), int(out.label[ref.b])
            found.setdefault(a, []).append((item.id, b))
            found.setdefault(b, []).append((item.id, a))
    return found


def current_transformers_are_closed(facts: Facts) -> Iterator[Finding]:
    transformers = facts.of("current_transformer")
    if not transformers:
        raise NothingToCheck
    meters = facts.of("ammeter", "ammeter_digital")
    sound = facts.parts(lambda ref: facts.kind(ref) in PROTECTION)
    unfused = facts.wired
    for item in transformers:
        a, b = facts.node(item, "S1"), facts.node(item, "S2")
        if not sound.joined(a, b):
            why = "An open secondary raises a voltage that can kill. Close it through a meter or a link."
            yield Finding(f"{item.id}/open", f"The secondary of {item.label} is not closed.", why, item.id, "S1")
        elif not unfused.joined(a, b):
            why = "A fuse that blows opens the secondary: a current transformer is never fused."
            yield Finding(
                f"{item.id}/fused", f"A fuse or breaker lies in the secondary of {item.label}.", why, item.id, "S1"
            )
        links = [link for link in facts.of("terminal_shorting") if unfused.joined(facts.node(link, "1a"), a)]
        if not links and sound.joined(a, b):
            why = "Without one the meter cannot be taken away while current flows."
            yield Finding(f"{item.id}/link", f"{item.label} has no shorting link before its meter.", why, item.id, "S1")
        for meter in meters:
            if unfused.joined(facts.node(meter, "S1"), a) or unfused.joined(facts.node(meter, "S2"), a):
                yield from _ratio(item, meter)


def _ratio(item: Installed, meter: Installed) -> Iterator[Finding]:
    primary = float(item.params["primary_a"]) / float(item.params["turns"])
    ratio = primary / float(item.params["secondary_a"])
    names = ("primary_a", "secondary_a") if meter.device.kind == "ammeter_digital" else ("scale_a", "rated_a")
    told = float(meter.params[names[0]]) / float(meter.params[names[1]])
    if abs(told / ratio - 1) > 0.01:
        yield Finding(
            f"{item.id}/{meter.id}",
            f"{meter.label} is set for {told * float(item.params['secondary_a']):g} A; with its turns {item.label} "
            f"is one of {primary:g} A.",
            f"It shows {told / ratio:.2g} times the current.",
            meter.id,
        )


RULES = (
    Rule("motor_overload", "Every motor has an overload relay", motor_has_an_overload_relay),
    Rule("overload_contact", "Overload relays open the control circuit", overload_contact_opens_the_control_circuit),
    Rule("dial", "Dials stand at the motor's current", dial_stands_at_the_motors_current),
    Rule("interlock", "Opposing contactors are interlocked", opposing_contactors_are_interlocked),
    Rule("phase_exchange", "Reversing contactors exchange two lines", reversing_contactors_exchange_two_lines),
    Rule("delta", "Delta is closed rightly", delta_is_closed_rightly),
    Rule("current_transformer", "Current transformers are closed, linked and told", current_transformers_are_closed),
)
