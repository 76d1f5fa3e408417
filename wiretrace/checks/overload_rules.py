"""Rules about overload: a relay for every motor, in the control circuit, at the motor's current."""

from collections.abc import Iterator
from functools import partial

from wiretrace.catalogue.machinery.purpose import Against, Does, Protects
from wiretrace.catalogue.machinery.structure import Role, number
from wiretrace.catalogue.machinery.temperature_sensors import TITLES
from wiretrace.checks.facts import Facts, Parts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.checks.motor_circuit import contactors_of, delta_pairs, joined_with, leads_of
from wiretrace.document.checked import Installed

DIAL_TOLERANCE = 0.2
IN_THE_WINDING = 0.58


def motor_has_an_overload_relay(facts: Facts) -> Iterator[Finding | CannotTell]:
    if not facts.that(Does.TURNS):
        raise NothingToCheck
    for motor in facts.that(Does.TURNS):
        if motor.kind.three_phase is None:
            yield CannotTell(motor.id, f"Whether {motor.label} is protected: only motors of three phases are judged.")
    relays = [item for item in facts.protecting(Against.OVERLOAD) if not item.structure.parts_that(Does.TURNS)]
    relays += [transformer for relay in relays for transformer in _transformers_of(facts, relay)]
    around = joined_with(facts, tuple(facts.contactors), tuple(item.id for item in relays))
    for motor in facts.motors:
        if _protects_itself(facts, motor):
            continue
        windings = motor.kind.three_phase
        leads = windings.leads if windings else ()
        # A source that limits what it gives is as good as a relay, as a converter is for its motor.
        own = {item.id for item in facts.items if item.kind.limits_current}
        bare = [
            name
            for name in leads
            if any(p.what == "live" and p.device not in own for p in around.poles_at(facts.node(motor, name)))
        ]
        # A winding with both ends out may have its relay at either.
        if windings and windings.ends:
            pairs = list(zip(windings.starts, windings.ends, strict=True))
            bare = [name for name in bare if any(name in pair and set(pair) <= set(bare) for pair in pairs)]
        if bare:
            yield Finding(
                motor.id,
                f"{motor.label} is fed at {', '.join(bare)} without passing an overload relay.",
                "Between its rated current and the rating of the breaker nothing protects it.",
                motor.id,
                bare[0],
            )


def _protects_itself(facts: Facts, motor: Installed) -> bool:
    """Is something in its windings wired that feels their heat?"""
    feels = (motor.kind.protects.opens, motor.kind.protects.tells) if motor.kind.protects else ()
    return any(
        (motor.id, branch.a) in facts.used_terminals for branch in motor.structure.branches if branch.name in feels
    )


def _transformers_of(facts: Facts, relay: Installed) -> list[Installed]:
    """The current transformers that feed a relay."""
    if not relay.structure.parts_that(Does.MEASURES):
        return []
    own = {facts.node(relay, end) for b in relay.structure.branches_of(Does.MEASURES) for end in (b.a, b.b)}
    steps = Does.STEPS_CURRENT_DOWN
    return [
        item
        for item in facts.that(steps)
        if any(
            facts.wired.joined(facts.node(item, end), node)
            for branch in item.structure.branches_of(steps)
            if branch.role is Role.SOURCE
            for end in (branch.a, branch.b)
            for node in own
        )
    ]


def _relay_of(facts: Facts, relay: Installed) -> tuple[Installed, str, int] | None:
    """The motor whose current passes a relay, the lead that it comes to, and the node behind the relay."""
    through = relay.structure.branches_of(Does.FEELS_CURRENT, Does.SWITCHES_LOAD)
    behind = [facts.node(relay, through[0].b)] if through else []
    for transformer in _transformers_of(facts, relay) if not through else ():
        primary = next(b for b in transformer.structure.branches_of(Does.STEPS_CURRENT_DOWN) if b.role is Role.PATH)
        behind += [facts.node(transformer, primary.a), facts.node(transformer, primary.b)]
    # The lead that it is wired to comes before those that a contactor joins to it.
    for contactors in ((), tuple(facts.contactors)):
        parts = joined_with(facts, contactors)
        motors: dict[int, tuple[Installed, str]] = facts.remembered(
            ("motors", bool(contactors)), partial(_motor_at, facts, parts)
        )
        for node in behind:
            if int(parts.label[node]) in motors:
                return (*motors[int(parts.label[node])], node)
    return None


def _motor_at(facts: Facts, parts: Parts) -> dict[int, tuple[Installed, str]]:
    """The first motor that has a lead at each part, and that lead."""
    found: dict[int, tuple[Installed, str]] = {}
    for motor in facts.motors:
        for name in motor.kind.three_phase.leads if motor.kind.three_phase else ():
            found.setdefault(int(parts.label[facts.node(motor, name)]), (motor, name))
    return found


def overload_contact_opens_the_control_circuit(facts: Facts) -> Iterator[Finding | CannotTell]:
    relays = [item for item in facts.that(Does.FEELS_CURRENT, Does.MEASURES) if item.kind.protects]
    if not relays:
        raise NothingToCheck
    for relay in relays:
        behind, pilot = _relay_of(facts, relay), relay.kind.protects
        if behind is None or pilot is None:
            continue
        motor = behind[0]
        if any(facts.feeds_input(ref) for ref in facts.contacts(relay)):
            yield CannotTell(relay.id, f"What the program makes of {relay.label}, no wire tells.")
            continue
        told, why = _acts(facts, relay, pilot, contactors_of(facts, motor))
        if told:
            terminal = next((b.a for b in relay.structure.branches if b.name == pilot.opens), None)
            yield Finding(relay.id, f"{relay.label} acts on the control circuit {told}.", why, relay.id, terminal)


def _acts(facts: Facts, relay: Installed, pilot: Protects, feeding: list[Installed]) -> tuple[str, str]:
    """What is wrong with how a relay acts on the contactors that feed its motor, and why that matters."""
    names = {ref.branch for ref in facts.contacts(relay)}
    still = [item for item in feeding if _fed_without(facts, item, relay.id, (pilot.opens, pilot.closes))]
    if pilot.opens not in names:
        needed = any(not _fed_without(facts, item, relay.id, (pilot.closes,)) for item in feeding)
        if pilot.closes in names and needed:
            return "by its normally open contact", "It can only run once the relay has tripped."
        return "not at all", "A tripped relay stops nothing: it never opens the motor circuit itself."
    if still:
        return (
            f"not in every mode: {facts.labels(still)} can be fed past it",
            "In that mode a tripped relay stops nothing.",
        )
    return "", ""


def _fed_without(facts: Facts, contactor: Installed, place: str, branches: tuple[str, ...]) -> bool:
    """Can the coil be fed with these contacts open and all others of the control side closed?"""
    open_ = tuple(ref for ref in facts.contacts_of(place) if ref.branch in branches)
    parts = facts.joined_by(facts.control, but=open_)
    return any(parts.feeds(coil.a, coil.b) is not None for coil in facts.coils_of(contactor))


def dial_stands_at_the_motors_current(facts: Facts) -> Iterator[Finding | CannotTell]:
    relays = [
        (item, number(item.params, item.kind.protects.dial))
        for item in facts.protecting(Against.OVERLOAD)
        if item.kind.protects and item.kind.protects.dial
    ]
    if not relays:
        raise NothingToCheck
    for relay, dial in relays:
        behind = _relay_of(facts, relay)
        if behind is None:
            continue
        motor, lead, _ = behind
        ratings = motor.kind.ratings(motor.params)
        rated = ratings.current_a
        if rated is None:
            yield CannotTell(relay.id, f"What {relay.label} should be set to: {motor.label} has no rated current.")
            continue
        wanted, told = _carries_a(facts, relay, behind, rated)
        if motor.kind.three_phase and lead in motor.kind.three_phase.also:
            wanted, told = ratings.also_a, f"{ratings.also_a[0]:g} A at {lead}"
        if all(abs(dial / amperes - 1) > DIAL_TOLERANCE for amperes in wanted):
            low = dial < min(wanted)
            yield Finding(
                relay.id,
                f"{relay.label} is set to {dial:g} A; the nameplate of {motor.label} says {told}.",
                "It trips a motor that is only fully loaded." if low else "It lets the motor be overloaded.",
                relay.id,
            )


def _carries_a(
    facts: Facts, relay: Installed, behind: tuple[Installed, str, int], rated: float
) -> tuple[tuple[float, ...], str]:
    """What passes a relay at the rated current, and how that is told: in a winding of a delta 0.58 of it.

    Behind a relay in the winding stands one lead alone; behind one in the line the other end of a winding too.
    """
    motor, _, node = behind
    open_windings = motor.kind.three_phase and motor.kind.three_phase.ends
    inside = (IN_THE_WINDING * rated,)
    if not open_windings:
        return (rated,), f"{rated:g} A"
    pairs = delta_pairs(facts, motor) if relay.structure.branches_of(Does.FEELS_CURRENT) else []
    if not pairs:
        return (rated, *inside), f"{rated:g} A"
    parts = joined_with(facts, pairs[0], (relay.id,))
    leads = sum(parts.joined(node, other) for other in leads_of(facts, motor))
    if leads > 1:
        return (rated,), f"{rated:g} A"
    return inside, f"{rated:g} A, of which {inside[0]:.3g} A flow in a winding"


def sensors_are_what_their_relay_is_set_for(facts: Facts) -> Iterator[Finding]:
    """A relay set for another kind of sensor trips at once, or never."""
    relays = [item for item in facts.that(Does.TAKES_SIGNALS) if item.kind.tells_by(item.params)]
    pairs = [
        (relay, motor)
        for relay in relays
        for motor in facts.motors
        if motor.kind.tells_by(motor.params) and _sensed_by(facts, motor, relay)
    ]
    if not pairs:
        raise NothingToCheck
    for relay, motor in pairs:
        has, takes = (item.kind.tells_by(item.params) for item in (motor, relay))
        if has != takes:
            yield Finding(
                f"{relay.id}/{motor.id}",
                f"{relay.label} is set for {TITLES[takes]}; in {motor.label} there is {TITLES[has]}.",
                "Their ohms are of another size: it trips at once, or never.",
                relay.id,
            )


def _sensed_by(facts: Facts, motor: Installed, relay: Installed) -> bool:
    """Do the sensors of a motor lie at the inputs of a relay?"""
    element = motor.kind.protects.tells if motor.kind.protects else ""
    own = {facts.node(motor, end) for b in motor.structure.branches if b.name == element for end in (b.a, b.b)}
    inputs = relay.structure.branches_of(Does.TAKES_SIGNALS)
    at = {int(facts.wired.label[facts.node(relay, end)]) for branch in inputs for end in (branch.a, branch.b)}
    return bool(own) and {int(facts.wired.label[node]) for node in own} <= at


RULES = (
    Rule("sensor_kind", "Relays are set for the sensors that they have", sensors_are_what_their_relay_is_set_for),
    Rule("motor_overload", "Every motor has an overload relay", motor_has_an_overload_relay, absence=True),
    Rule(
        "overload_contact",
        "Overload relays open the control circuit",
        overload_contact_opens_the_control_circuit,
        absence=True,
    ),
    Rule("dial", "Dials stand at the motor's current", dial_stands_at_the_motors_current),
)
