"""Rules about the motor circuit: overload, interlock, phase exchange, delta, current transformers."""

from collections.abc import Iterator, Mapping
from itertools import combinations

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
    ids = {item.id for item in contactors}

    def closed(ref: BranchRef) -> bool:
        return ref.place in ids if facts.is_pole(ref) else facts.kind(ref) in (*PROTECTION, "isolator", "shell_disc")

    return facts.parts(closed, but)


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
    for motor in facts.of(*MOTORS):
        nodes = [facts.node(motor, t.name) for t in motor.structure.terminals if t.name[0] in "UVW"]
        if any(parts.joined(facts.node(relay, "2"), node) for node in nodes):
            return motor
    return None


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
    found = []
    nodes = [facts.node(motor, t.name) for t in motor.structure.terminals if t.name[0] in "UVW"]
    for item in facts.of(*CONTACTORS):
        parts = _with_in(facts, (item,))
        if any(any(p.what == "live" for p in parts.poles_at(node)) for node in nodes):
            found.append(item)
    return found


def _fed_without(facts: Facts, contactor: Installed, place: str, branch: str) -> bool:
    """Can the coil be fed with one contact open and all others of the control side closed?"""
    parts = facts.parts(
        lambda ref: not facts.is_pole(ref) and (ref.place, ref.branch) not in ((place, branch), (place, "97-98"))
    )
    return parts.feeds(facts.node(contactor, "A1"), facts.node(contactor, "A2")) is not None


def _needs(facts: Facts, contactor: Installed, place: str, branch: str) -> bool:
    parts = facts.parts(lambda ref: not facts.is_pole(ref) and (ref.place, ref.branch) != (place, branch))
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
    """Pairs of contactors that join two live poles when both are in."""
    found = []
    out = _with_in(facts, ())
    live = [pole.node for pole in facts.poles if pole.what == "live"]
    poles = {item.id: facts.main_poles(item) for item in facts.of(*CONTACTORS)}
    alone = {name: out.with_closed(refs) for name, refs in poles.items() if refs}
    wired = [item for item in facts.of(*CONTACTORS) if item.id in alone]
    for first, second in combinations(wired, 2):
        both = alone[first.id].with_closed(poles[second.id])
        if any(
            both.joined(a, b) and not alone[first.id].joined(a, b) and not alone[second.id].joined(a, b)
            for a, b in combinations(live, 2)
        ):
            found.append((first, second))
    return found


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

    def closed(ref: BranchRef) -> bool:
        if facts.is_pole(ref):
            return False
        return not (ref.place == other.id and facts.rest(ref)) and not _other_way(facts, ref)

    return facts.parts(closed).feeds(facts.node(item, "A1"), facts.node(item, "A2")) is not None


def _other_way(facts: Facts, ref: BranchRef) -> bool:
    """The second way of a changeover: closed it excludes the first."""
    item = facts.plant.devices[ref.place]
    exclusive = item.device.kind in ("timer_relay", "timer_star_delta", "phase_monitor", "control_relay")
    return (
        exclusive
        and not facts.rest(ref)
        and any(other.a == ref.a and facts.rest(other) for other in facts.plant.branches if other.place == ref.place)
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
    contactors = facts.of(*CONTACTORS)
    sets: list[tuple[Installed, ...]] = [(), *((item,) for item in contactors), *combinations(contactors, 2)]
    found = []
    for some in sets:
        parts = _with_in(facts, some)
        names = ("U1", "V1", "W1", "U2", "V2", "W2")
        at = [[p for p in parts.poles_at(facts.node(motor, n)) if p.what == "live"] for n in names]
        if all(len(poles) == 1 for poles in at):
            found.append(some)
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
