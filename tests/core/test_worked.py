"""What circuits do when they are worked: trips, the supply, opposing contactors, commands, contacts, lamps, coils."""

import random

import pytest

from tests.core.circuits import wire, with_params
from tests.core.mistakes import Mistake, at, mistakes, without
from tests.core.test_checks import line, rewired, with_more
from tests.core.test_played import by_rule, reversing, stations
from wiretrace.checks.check import PLAYED, check, check_by_playing
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Outcome
from wiretrace.checks.playing.explore import Explorer
from wiretrace.document.circuit import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.state import Action, State

delta = library_circuit("star-delta-timer-first-closure")
hand_auto = library_circuit("hand-off-auto")
monitored = library_circuit("phase-monitor")
ammeter = library_circuit("current-transformer-ammeter")


def bridge(made: Circuit, one: str, other: str) -> Circuit:
    return with_more(made, wire("bridge", one, other))


MISTAKES: list[tuple[str, Circuit, str, str]] = [
    (
        "the overload contact is bridged",
        bridge(line, "overload:95", "overload:96"),
        "trip_ends",
        "Hold S1, let go of S1, trip F2; K1 stays in.",
    ),
    (
        "the overload relay lies in the hand way alone",
        rewired(hand_auto, w21="a>control-breaker:2"),
        "trip_ends",
        "stays in",
    ),
    (
        "the start is bridged",
        bridge(line, "start:13", "start:14"),
        "supply_starts_nothing",
        "K1 comes in as soon as the supply comes.",
    ),
    (
        "the start is bridged, and the overload reset",
        bridge(line, "start:13", "start:14"),
        "reset_starts_nothing",
        "Trip F2, reset F2; K1 is in again.",
    ),
    (
        "an interlock is bridged",
        bridge(reversing, "k-close:21", "k-close:22"),
        "stuck_keeps_out",
        "With K2 stuck in, K1 still comes in: hold S2, let go of S2, hold S0, let go of S0, hold S1.",
    ),
    (
        "the start is wired round by its own stop",
        bridge(line, "stop:12", "start:14"),
        "command_matters",
        "S1 changes nothing, in whatever state it is worked.",
    ),
    (
        "the emergency stop is bridged",
        bridge(stations, "emergency:11", "emergency:12"),
        "command_matters",
        "S9 changes nothing",
    ),
    (
        "the emergency stop is bridged",
        bridge(stations, "emergency:11", "emergency:12"),
        "contact_matters",
        "Contact 11-12 of S9 parts nothing",
    ),
    ("a lamp on the wrong side of the contactor", rewired(line, c5="a>contactor:21"), "lamp_tells", "is always lit"),
    (
        "the coil of the delta contactor has lost its wire",
        without(delta, *(one.id for one in at(delta, "k-delta:A1"))),
        "star_left",
        "never comes to delta",
    ),
    (
        "a start that leads past the stop",
        rewired(line, c3="a>overload:96", c3_seal="a>stop:12"),
        "stop_holds",
        "K1 starts while S0 is held",
    ),
    (
        "a jog whose button is as quick as the contactor",
        library_circuit("jog-and-run"),
        "no_race",
        "It hangs on whether S2 or K1 is faster what K1 does: hold S2, let go of S2.",
    ),
    (
        "a coil for 400 V on 230 V",
        with_params(line, {"contactor": {"coil_voltage_v": 400.0}}),
        "coil_works",
        "K1 stands at 58 % of its voltage",
    ),
]


@pytest.mark.parametrize(("made", "rule", "words"), [case[1:] for case in MISTAKES], ids=[c[0] for c in MISTAKES])
def test_a_mistake_is_found_when_the_circuit_is_worked(made: Circuit, rule: str, words: str) -> None:
    found = by_rule(made)
    assert any(words in one.message for one in found[rule].findings), {
        name: [one.message for one in result.findings] for name, result in found.items() if result.findings
    }


def test_every_rule_that_works_the_circuit_has_a_mistake_that_it_finds() -> None:
    """The rest stands in `test_played.py`, `test_roles.py`, `test_intent.py` and below."""
    told = {rule for _, _, rule, _ in MISTAKES}
    others = {"stop_stops", "nothing_trips", "can_be_stopped", "stop_stays", "role_true", "described"}
    assert {rule.name for rule in PLAYED} - told - others == {
        "never_together",
        "lost_line",
        "no_chatter",
        "transformer_closed",
    }


def test_opposing_contactors_in_together_are_told_with_the_moves() -> None:
    """Without any interlock: one start after the other is held, or both at once, and both come in."""
    pairs = [(f"k-{way}", "21", "22") for way in ("open", "close")] + [(way, "11", "12") for way in ("open", "close")]
    ways = [wire(f"bridge-{n}", f"{name}:{a}", f"{name}:{b}") for n, (name, a, b) in enumerate(pairs)]
    free = with_more(reversing, *ways)
    found = by_rule(free)
    assert any("are in together" in one.message for one in found["never_together"].findings)
    assert {name for name, one in found.items() if one.findings} >= {"never_together", "nothing_trips"}


def test_a_monitor_behind_the_contactor_lets_it_start_without_a_line() -> None:
    behind = rewired(monitored, w18="a>contactor:2", w19="a>contactor:4", w20="a>contactor:6")
    behind = bridge(behind, "monitor:11", "monitor:14")
    messages = [one.message for one in by_rule(behind)["lost_line"].findings]
    assert any("K1 comes in without a line" in one for one in messages), messages
    assert by_rule(monitored)["lost_line"].outcome is Outcome.CLEAR


def test_an_open_current_transformer_is_told_in_the_state_in_which_it_is_open() -> None:
    opened = without(ammeter, *(one.id for one in at(ammeter, "meter:S1")))
    messages = [one.message for one in by_rule(opened)["transformer_closed"].findings]
    assert any("is open: hold S1" in one for one in messages), messages


NOT_FOUND = {
    # It brakes whichever way round the two leads stand.
    "direct-current-braking: K1 and K2 alike",
    # It trips at once: behind that nothing is played.
    "residual-current-neutral-mistake: S0 11-12 bridged",
    # A breaker with a release and no contactor: its handle is no command that is worked.
    "undervoltage-release: S0 11-12 bridged",
    "undervoltage-release: F2 95-96 bridged",
    "undervoltage-release: F1 bridged",
}


def everything(made: Circuit) -> set[str]:
    return {one.rule for one in (*check(made), *check_by_playing(made)) if one.findings}


@pytest.mark.by_turns(10)
@pytest.mark.parametrize("mistake", mistakes(), ids=lambda one: one.name)
def test_a_mistake_that_is_made_by_rule_is_named(mistake: Mistake) -> None:
    assert bool(everything(mistake.made) & mistake.rules) is (mistake.name not in NOT_FOUND)


def contactor_sets(made: Circuit) -> set[frozenset[str]]:
    """What can be in, found apart from the explorer: every hand from every state, two deep in what is held, slowly.

    States are told apart by where armatures, buttons and clocks stand; of time only that it passes.
    """
    facts = Facts(made)
    assembly, begin = Assembly(made), initial_state(Assembly(made))
    hands = [
        (item.id, operation.name, value)
        for item in facts.items
        if item.kind.group == "command"
        for operation in item.kind.operations
        for value in ((True,) if operation.style == "pulse" else (True, False))
    ]
    waits = (400_000, 2_300_000, 10_000_000)
    seen: set[tuple[tuple[str, str], ...]] = set()
    found: set[frozenset[str]] = set()
    waiting = [run(assembly, begin, [], 400_000).end]
    while waiting:
        state = waiting.pop()
        views = frame_of(assembly, state).views
        motors = {item.id for item in facts.motors}
        place = tuple((name, view.status) for name, view in views.items() if name not in motors)
        held = [name for name, view in views.items() if "pressed" in view.status]
        if place in seen or len(held) > 1:
            continue
        seen.add(place)
        found.add(frozenset(item.id for item in facts.contactors if views[item.id].active))
        for wait in waits:
            waiting.append(run(assembly, state, [], state.time_us + wait).end)
        for hand in hands:
            action = Action(state.time_us, *hand)
            waiting.append(run(assembly, state, [action], state.time_us + waits[0]).end)
    return found


AGREES = (
    *("start-stop-overload-line", "start-stop-overload-neutral", "start-stop-two-stations", "jog-and-run"),
    *("jog-and-run-relay", "reversing-interlocked", "reversing-mechanical-interlock", "reversing-stage-2"),
    *("star-delta-timer-first-closure", "star-delta-timer-second-closure", "star-delta-relay", "two-wire-float"),
    *("star-delta-winding-overload", "two-speed-fan", "two-speed-tapped-winding", "wound-rotor-starter"),
    *("hand-off-auto", "control-transformer-earthed", "hoist-brake-rectifier", "phase-monitor", "feeder-order"),
)


@pytest.mark.by_turns(3)
@pytest.mark.parametrize("name", AGREES)
def test_an_explorer_of_another_hand_finds_the_same_contactors_in(name: str) -> None:
    made = library_circuit(name)
    explorer = Explorer(Facts(made))
    found = explorer.explore()
    by_hand = [one for one in found.states if all(e.how in ("hand", "time") for e in found.way_to(one.number))]
    ours = {state.runs for state in by_hand}
    assert ours == contactor_sets(made)


def edited(made: Circuit, chance: random.Random) -> Circuit:
    """One end of one or two control wires somewhere else among the ends that there are."""
    ends = [end for one in made.conductors for end in (one.a, one.b)]
    wires = list(made.conductors)
    for _ in range(chance.choice((1, 1, 2))):
        at_ = chance.randrange(len(wires))
        end = chance.choice(ends)
        if end != wires[at_].a:
            wires[at_] = wires[at_].model_copy(update={"b": end})
    return made.model_copy(update={"conductors": tuple(wires)})


def unstoppable(made: Circuit) -> bool:
    """Played plainly: every start held and let go, then every stop held: is something still in that a stop ended?"""
    facts = Facts(made)
    assembly = facts.assembly
    starts = [item.id for item in facts.buttons if not facts.is_stop(item)]
    stops = [item.id for item in facts.stops if item in facts.buttons]
    for start in starts:
        state = pressed(assembly, initial_state(assembly), start)
        before = active(assembly, facts, state)
        if before and stops and all(active(assembly, facts, held(assembly, state, stop)) >= before for stop in stops):
            return True
    return False


def pressed(assembly: Assembly, state: State, button: str) -> State:
    now = state.time_us + 400_000
    hands = [Action(now, button, "press", True), Action(now + 400_000, button, "press", False)]
    return run(assembly, state, hands, now + 800_000).end


def held(assembly: Assembly, state: State, button: str) -> State:
    return run(assembly, state, [Action(state.time_us, button, "press", True)], state.time_us + 400_000).end


def active(assembly: Assembly, facts: Facts, state: State) -> frozenset[str]:
    views = frame_of(assembly, state).views
    return frozenset(
        item.id for item in facts.contactors if views[item.id].active and "welded" not in views[item.id].status
    )


EDITED = ("start-stop-overload-line", "reversing-interlocked", "star-delta-relay", "start-stop-two-stations")


@pytest.mark.by_turns(4)
@pytest.mark.parametrize("name", EDITED)
def test_a_stop_that_stops_nothing_after_an_edit_is_always_told(name: str) -> None:
    """Of random edits those after which a plain play shows it: Check says so, or says that it cannot tell."""
    base, chance = library_circuit(name), random.Random(name)
    shown = 0
    for _ in range(60):
        made = edited(base, chance)
        try:
            if not unstoppable(made):
                continue
            results = {one.rule: one for one in check_by_playing(made)}
        except WiretraceError:
            continue
        shown += 1
        names = ("stop_stops", "can_be_stopped", "nothing_trips")
        assert {results[rule].outcome for rule in names} & {Outcome.FOUND, Outcome.CANNOT_TELL}
    assert shown > 0


@pytest.mark.parametrize("name", ["star-delta-timer-first-closure", "reversing-interlocked", "hand-off-auto"])
def test_what_is_found_in_several_states_is_told_once(name: str) -> None:
    """A note that sets a finding aside is kept under its key: no two of a rule have the same."""
    made = bridge(library_circuit(name), "overload:95", "overload:96")
    for result in (*check(made), *check_by_playing(made)):
        keys = [one.key for one in result.findings]
        assert len(keys) == len(set(keys)), result.rule
    assert by_rule(made)["trip_ends"].findings


def test_a_contactor_that_is_in_only_while_it_is_held_is_tried_stuck_as_well() -> None:
    """A hoist is held to run: its contactor hangs when the hand lets go, and the other one stays out."""
    hoist = library_circuit("hoist-brake-rectifier")
    assert by_rule(hoist)["stuck_keeps_out"].outcome is Outcome.CLEAR
    free = bridge(hoist, "k-down:21", "k-down:22")
    (found,) = by_rule(free)["stuck_keeps_out"].findings
    assert found.message == "With K2 stuck in, K1 still comes in: hold S2, let go of S2, hold S1."


def test_behind_a_trip_nothing_at_all_is_clear() -> None:
    """What comes with it, the sentence on how much was played, is not said either."""
    results = by_rule(library_circuit("residual-current-neutral-mistake"))
    assert [name for name, one in results.items() if one.outcome is Outcome.CLEAR] == []
    assert {one.over for one in results.values()} == {""}
