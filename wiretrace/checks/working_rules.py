"""Rules about what a circuit does when it is worked: opposing contactors, commands, contacts, lamps, coils."""

from collections.abc import Iterator

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.checks.motor_circuit import star_and_delta
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.explore import Explorer
from wiretrace.checks.playing.states import Edge, How
from wiretrace.checks.playing.stuck import meetings
from wiretrace.checks.playing.telling import LEFT_OUT, moved, not_played, on_the_way, told, whole
from wiretrace.document.checked import Installed
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.race import find_races
from wiretrace.simulation.state import Action

MOST_RACES = 12
"""So many pairs of armatures that travel at once are tried, each with two runs."""
Found = Iterator[Finding | CannotTell]


def opposing_contactors_are_never_in_together(facts: Facts) -> Found:
    made = worked(facts)
    yield from not_played(made)
    if not made.witness.pairs:
        raise NothingToCheck
    for (one, two), seen in made.witness.together.items():
        yield on_the_way(
            made,
            f"{one}/{two}",
            f"{facts.label(one)} and {facts.label(two)} are in together: {{moves}}.",
            "Both together short the lines. Each coil goes through a normally closed contact of the other.",
            seen,
            one,
        )


def a_stuck_contactor_keeps_the_other_out(facts: Facts) -> Found:
    """Pressed by hand or welded, it opens the way of the other: by a mirror contact, or mechanically."""
    made = worked(facts)
    yield from not_played(made)
    if not made.witness.pairs:
        raise NothingToCheck
    met, whole = meetings(made)
    if not whole:
        yield CannotTell(facts.items[0].id, LEFT_OUT)
    for one in met:
        stuck, came = facts.label(one.stuck), facts.label(one.came)
        yield Finding(
            f"{one.stuck}/{one.came}",
            f"With {stuck} stuck in, {came} still comes in: {told(one.moves)}.",
            f"A welded {stuck} then shorts the lines. Lead the coil {came} through its normally closed contact.",
            one.came,
        )


def a_star_is_left(facts: Facts) -> Found:
    """Where a motor has its ends joined by one contactor, delta is reached, and nothing rests in star."""
    made = worked(facts)
    yield from not_played(made)
    stars = [(motor, star, pairs) for motor in facts.motors for star, pairs in star_and_delta(facts, motor)]
    if not stars:
        raise NothingToCheck
    for motor, star, pairs in stars:
        in_star = [one for one in made.found.states if star in one.runs and len(one.runs) > 1 and not one.held]
        rests = next((one for one in in_star if not one.waits and not one.broken), None)
        if rests is not None:
            words = "{moves}; " + f"{motor.label} stays in star by {{label}}."
            why = "In star it has a third of its torque: under load it does not come up, and burns."
            yield moved(made, f"{motor.id}/{star}", words, why, (rests, ()), star)
        elif in_star and whole(made) and not any(pair <= one.runs for one in made.found.states for pair in pairs):
            message = (
                f"{motor.label} never comes to delta: "
                + " or ".join(sorted(facts.labels([made.assembly.devices[n] for n in pair]) for pair in pairs))
                + " never go in together."
            )
            yield Finding(f"{motor.id}/delta", message, "What is started in star is to run in delta.", motor.id)


def every_command_does_something(facts: Facts) -> Found:
    made = worked(facts)
    yield from not_played(made)
    used = [item for item in made.commands if facts.contacts(item)]
    if not used:
        raise NothingToCheck
    found = made.found
    for item in used if whole(made) else ():
        steps = [edge for edge in found.edges if edge.device == item.id and edge.how is How.HAND]
        if steps and not any(_changes(made, edge, item) for edge in steps):
            yield Finding(
                item.id,
                f"{item.label} changes nothing, in whatever state it is worked.",
                "It is wired round, or into a way that is open at another place.",
                item.id,
            )


def _changes(made: Explorer, edge: Edge, item: Installed) -> bool:
    """Does anything but the command itself change, at once or after its time?"""
    own = made.place(item.id)
    before, after = made.found.states[edge.of], made.found.states[made.found.rested(edge.to)[0]]
    others = [[status for at, status in enumerate(one.key) if at != own] for one in (before, after)]
    return others[0] != others[1] or dict(before.turning).keys() != dict(after.turning).keys()


def every_contact_parts_something(facts: Facts) -> Found:
    """Closed contacts of contactors are left out: an interlock is there for what should never happen."""
    made = worked(facts)
    yield from not_played(made)
    witness, contactors = made.witness, {item.id for item in facts.contactors}
    judged = [ref for ref in witness.contacts if not (ref.place in contactors and facts.rest(ref))]
    if not judged:
        raise NothingToCheck
    for ref in judged if whole(made) else ():
        name = (ref.place, ref.branch)
        if name in witness.opened and name not in witness.parted and not facts.feeds_input(ref):
            label = facts.label(ref.place)
            yield Finding(
                "/".join(name),
                f"Contact {ref.branch} of {label} parts nothing: whenever it is open, something else is too, or leads "
                "round it.",
                "It can be left out, or it is not where it should be.",
                ref.place,
                facts.assembly.nodes[ref.a][1],
            )


def every_lamp_is_lit_and_dark(facts: Facts) -> Found:
    made = worked(facts)
    yield from not_played(made)
    lamps = [device for device, _ in made.witness.lamps if any(device == item.id for item in facts.that(Does.SHOWS))]
    if not lamps:
        raise NothingToCheck
    for device in lamps if whole(made) else ():
        label = facts.label(device)
        for seen, words, why in (
            (made.witness.lit, "is never lit", "It tells nobody what it is there for."),
            (made.witness.dark, "is always lit", "A lamp that never goes dark tells nothing."),
        ):
            if device not in seen:
                yield Finding(f"{device}/{words}", f"{label} {words}, whatever is done.", why, device)


def coils_work_at_their_voltage(facts: Facts) -> Found:
    """With the supply whole: a coil in series with another, or one that a leakage holds, is found."""
    made = worked(facts)
    yield from not_played(made)
    if not made.witness.coils:
        raise NothingToCheck
    for device, seen in made.witness.wrong_v.items():
        label, way = facts.label(device), made.found.way_to(seen.number)
        yield moved(
            made,
            device,
            f"{label} stands at {100 * seen.share:.0f} % of its voltage" + (": {moves}." if way else "."),
            "Between nothing and 85 % it neither holds safely nor lets go; above 110 % it burns.",
            (made.found.states[seen.number], ()),
            device,
        )


def nothing_chatters(facts: Facts) -> Found:
    made = worked(facts)
    yield from not_played(made)
    for devices, seen in made.witness.chatters.items():
        names = " and ".join(facts.label(name) for name in devices)
        verb = "goes" if len(devices) == 1 else "go"
        yield on_the_way(
            made,
            "/".join(devices),
            f"{names} {verb} in and out without end"
            + (": {moves}." if made.found.way_to(seen.of) or seen.moves else "."),
            "It switches itself off and on again, and welds its contacts.",
            seen,
            devices[0],
        )


def nothing_hangs_on_which_is_faster(facts: Facts) -> Found:
    """Where two armatures travel at once, the one made slower and then the other: what is in at the end is the same."""
    made = worked(facts)
    yield from not_played(made)
    if not made.witness.racing:
        raise NothingToCheck
    if made.found.left_out:
        return  # Too large to be worked whole: each try would take as long as all that was played.
    if len(made.witness.racing) > MOST_RACES:
        yield CannotTell(facts.items[0].id, LEFT_OUT)
    told: set[tuple[str, str]] = set()
    slower: dict[str, Assembly] = {}
    for seen in dict.fromkeys(list(made.witness.racing.values())[:MOST_RACES]):
        here = made.found.states[seen.of]
        actions = [Action(here.state.time_us + m.at_us, m.device, m.operation, m.value) for m in seen.moves]
        for race in find_races(made.assembly, here.state, actions, here.state.time_us + seen.after_us, slower):
            ends = [name for name in race.ends if name in {item.id for item in facts.contactors}]
            if ends and race.devices not in told:
                told.add(race.devices)
                names = " or ".join(facts.label(name) for name in race.devices)
                yield on_the_way(
                    made,
                    "/".join(race.devices),
                    f"It hangs on whether {names} is faster what {facts.label(ends[0])} does: {{moves}}.",
                    "With worn springs it goes the other way. What must come first is to open or close a contact.",
                    seen,
                    race.devices[0],
                )


def transformers_are_never_open(facts: Facts) -> Found:
    made = worked(facts)
    yield from not_played(made)
    if not facts.that(Does.STEPS_CURRENT_DOWN):
        raise NothingToCheck
    for device, seen in made.witness.open_transformers.items():
        yield moved(
            made,
            device,
            "The secondary of {label} is open: {moves}.",
            "Its voltage then kills. It is closed through a meter, or by its link.",
            (made.found.states[seen.number], ()),
            device,
        )


RULES = (
    Rule("never_together", "Opposing contactors are never in together", opposing_contactors_are_never_in_together),
    Rule("stuck_keeps_out", "A contactor that is stuck in keeps the other out", a_stuck_contactor_keeps_the_other_out),
    Rule("star_left", "Star is left, and delta is reached", a_star_is_left, absence=True),
    Rule("command_matters", "Every command does something", every_command_does_something, absence=True),
    Rule("contact_matters", "Every contact parts something", every_contact_parts_something, absence=True),
    Rule("lamp_tells", "Every lamp is lit at one time and dark at another", every_lamp_is_lit_and_dark, absence=True),
    Rule("coil_works", "Coils work at their voltage in every state", coils_work_at_their_voltage),
    Rule("no_race", "Nothing hangs on which armature is faster", nothing_hangs_on_which_is_faster),
    Rule("no_chatter", "Nothing goes in and out without end", nothing_chatters),
    Rule("transformer_closed", "No current transformer is ever open", transformers_are_never_open),
)
