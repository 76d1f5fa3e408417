"""Circuits worked by hand to see what they do: a stop that stops nothing is found, with the moves that show it."""

import time

import pytest

from benchmarks.test_speed import many_starters
from tests.core.circuits import chattering, circuit, device, wire
from tests.core.test_checks import line, other_contact, rewired, with_more
from wiretrace.checks.check import PLAYED, check_by_playing
from wiretrace.checks.finding import Finding, Outcome, Result
from wiretrace.document.circuit import Circuit
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.state import Action

stations = library_circuit("start-stop-two-stations")
reversing = library_circuit("reversing-interlocked")


def with_emergency_stop(made: Circuit, stop: str) -> Circuit:
    """A stop button that is an emergency stop instead."""
    changed = {"kind": "emergency_stop", "params": {}}
    devices = tuple(item.model_copy(update=changed) if item.id == stop else item for item in made.devices)
    return made.model_copy(update={"devices": devices})


# A library circuit that is right, a mistake made in it, the rule, words of the finding, and what is in at the end.
MISTAKES: list[tuple[str, Circuit, str, str, str]] = [
    (
        "the seal goes round stop and start",
        rewired(line, c3_seal="a>stop:11"),
        "stop_stops",
        "S0 does not stop K1: hold S1, let go of S1, hold S0; K1 stays in.",
        "contactor",
    ),
    (
        "the same, and there is no other stop",
        rewired(line, c3_seal="a>stop:11"),
        "can_be_stopped",
        "No stop ends K1: hold S1, let go of S1; K1 stays in",
        "contactor",
    ),
    (
        "the seal goes round both stops, behind the emergency stop",
        rewired(stations, w24="a>emergency:12"),
        "stop_stops",
        "S0.2 does not stop K1",
        "contactor",
    ),
    (
        "the seal goes round the emergency stop",
        rewired(stations, w24="a>overload:96"),
        "stop_stops",
        "S9 does not stop K1: hold S1.1, let go of S1.1, strike S9; K1 stays in.",
        "contactor",
    ),
    (
        "a second stop in parallel with the first",
        with_more(rewired(stations, w21="a>emergency:12"), wire("more", "stop-1:12", "start-1:13")),
        "stop_stops",
        "S0.1 does not stop K1",
        "contactor",
    ),
    (
        "the stop lies in the branch of one direction alone",
        rewired(reversing, w28="a>overload:96"),
        "can_be_stopped",
        "No stop ends K1",
        "k-open",
    ),
    (
        "the emergency stop lies in the branch of one direction alone",
        with_emergency_stop(rewired(reversing, w28="a>overload:96"), "stop"),
        "stop_stops",
        "S0 does not stop K1: hold S1, let go of S1, strike S0; K1 stays in.",
        "k-open",
    ),
    (
        "a start that is closed at rest",
        other_contact(line, "start", ("13", "14"), ("11", "12"), contacts="NC"),
        "stop_stays",
        "K1 comes back when S0 is let go",
        "contactor",
    ),
    (
        "two phases exchanged into one at the overload relay",
        rewired(line, p2_contactor="overload:1"),
        "nothing_trips",
        "K1 welds: hold S1.",
        "contactor",
    ),
    (
        "the seal lies before the selector",
        library_circuit("hand-off-auto-seal-in-mistake"),
        "stop_stops",
        "S3 does not stop K1: S3: turn to auto, B1: pressure high, S3: turn to off; K1 stays in.",
        "contactor",
    ),
]


def by_rule(made: Circuit) -> dict[str, Result]:
    return {one.rule: one for one in check_by_playing(made)}


def shown(made: Circuit, finding: Finding) -> frozenset[str]:
    """The contactors that are in after the moves of a finding, played by themselves."""
    assembly = Assembly(made)
    actions = [Action(move.at_us, move.device, move.operation, move.value) for move in finding.moves]
    state = run(assembly, initial_state(assembly), actions, finding.seen_us).end
    return frozenset(name for name, view in frame_of(assembly, state).views.items() if view.active)


@pytest.mark.parametrize(
    ("made", "rule", "words", "is_in"), [case[1:] for case in MISTAKES], ids=[c[0] for c in MISTAKES]
)
def test_a_mistake_is_found_with_the_moves_that_show_it(made: Circuit, rule: str, words: str, is_in: str) -> None:
    found = [one for one in by_rule(made)[rule].findings if words in one.message]
    assert len(found) == 1, [one.message for one in by_rule(made)[rule].findings]
    assert is_in in shown(made, found[0])


KNOWN = {
    "frequency-converter-contactor-mistake": {"nothing_trips"},
    "hand-off-auto-seal-in-mistake": {"stop_stops", "described"},
    "jog-and-run": {"no_race"},
    "residual-current-neutral-mistake": {"nothing_trips"},
    "reversing-mechanical-interlock": {"nothing_trips"},
    "capacitor-motor-rc-mistake": {"coil_works"},
    "two-wire-sensor-leakage": {"coil_works"},
}


@pytest.mark.parametrize("name", library_names())
def test_no_good_circuit_is_accused(name: str) -> None:
    results = by_rule(library_circuit(name))
    assert {rule for rule, one in results.items() if one.findings} == KNOWN.get(name, set())
    # What lies behind a trip was not played, and is not clear.
    unclear = {rule for rule, one in results.items() if one.outcome is Outcome.CANNOT_TELL}
    assert bool(unclear) is ("nothing_trips" in KNOWN.get(name, set()))


def test_a_short_circuit_by_a_hand_is_told_as_that_and_not_as_a_stop_that_fails() -> None:
    """A pole wired to another phase: the contactor welds as it closes, which no stop is to blame for."""
    results = by_rule(rewired(line, p1_contactor="supply:L3"))
    assert {one.message for one in results["nothing_trips"].findings} >= {"K1 welds: hold S1."}
    assert results["stop_stops"].findings == ()
    residual = by_rule(library_circuit("residual-current-neutral-mistake"))["nothing_trips"].findings
    assert [one.message for one in residual] == ["F4 trips: hold S1."]


def test_what_is_clear_says_over_how_much() -> None:
    """Out and in, each with nothing, one button or both held: eight; F2 tripped, and the supply away."""
    results = by_rule(line)
    assert {one.outcome for one in results.values()} == {Outcome.CLEAR, Outcome.NOT_ASKED}
    asked = {rule for rule, one in results.items() if one.outcome is Outcome.CLEAR}
    elsewhere = {"never_together", "stuck_keeps_out", "star_left", "lost_line", "transformer_closed"}
    assert asked == {rule.name for rule in PLAYED} - elsewhere
    assert {one.over for one in results.values() if one.over} == {"Held in 10 states, 19 moves."}


def test_a_button_that_nobody_named_is_judged_by_what_it_does() -> None:
    """A newcomer draws a green button with a contact that opens: it is worked as a stop, and not accused."""
    unsaid = {"colour": "green", "role": "unsaid"}
    devices = tuple(
        item.model_copy(update={"params": {**item.params, **unsaid}}) if item.id == "stop" else item
        for item in line.devices
    )
    made = line.model_copy(update={"devices": devices})
    assert {one.outcome for one in by_rule(made).values()} == {Outcome.CLEAR, Outcome.NOT_ASKED}
    wrong = rewired(made, c3_seal="a>stop:11")
    assert "S0 does not stop K1" in by_rule(wrong)["stop_stops"].findings[0].message


def test_without_contactors_and_without_stops_there_is_nothing_to_play() -> None:
    assert {one.outcome for one in by_rule(circuit([], [])).values()} == {Outcome.NOT_ASKED}
    floats = by_rule(library_circuit("two-wire-float"))
    assert floats["stop_stops"].outcome is floats["can_be_stopped"].outcome is Outcome.NOT_ASKED
    assert floats["supply_starts_nothing"].outcome is Outcome.CLEAR
    # A float switch that is up starts the pump again when the supply returns: that is what it is there for.
    assert floats["trip_ends"].outcome is Outcome.CLEAR


def test_a_circuit_that_chatters_or_shorts_itself_is_told_and_not_hung() -> None:
    found = [one.message for result in by_rule(chattering()).values() for one in result.findings]
    assert "K1 goes in and out without end." in found
    stiff = {"source_resistance_ohm": 1e-6, "source_reactance_ohm": 0.0}
    made = circuit(
        [device("g1", "supply_three_phase", **stiff), device("s1", "push_button"), device("k1", "contactor")],
        [
            wire("a", "g1:L1", "s1:13"),
            wire("b", "s1:14", "g1:L2"),
            wire("c", "g1:L1", "k1:A1"),
            wire("d", "k1:A2", "g1:N"),
        ],
    )
    assert [one.message for one in by_rule(made)["nothing_trips"].findings] == []
    assert by_rule(made)["stop_stops"].outcome is Outcome.NOT_ASKED


def test_a_large_circuit_is_played_in_part_and_says_so() -> None:
    """84 starters: what was not looked at is never clear."""
    begun = time.process_time()
    results = by_rule(many_starters(84))
    assert time.process_time() - begun < 6
    assert all(one.outcome is not Outcome.CLEAR for one in results.values())
    assert any("not looked at" in one.reason for one in results.values())


def test_a_circuit_that_chatters_in_some_states_is_bounded_and_not_clear_behind_them() -> None:
    """A contactor in its own way: it goes in and out as long as the start is held."""
    ways = [("g1:L1", "s1:13"), ("s1:14", "k1:21"), ("k1:22", "k1:A1"), ("k1:A2", "g1:N")]
    parts = [device("g1", "supply_three_phase"), device("s1", "push_button"), device("k1", "contactor")]
    restless = circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)])
    begun = time.process_time()
    results = by_rule(restless)
    assert time.process_time() - begun < 8
    assert results["no_chatter"].findings[0].message == "K1 goes in and out without end: hold S1."
    assert results["command_matters"].outcome is Outcome.CANNOT_TELL
    assert "without end" in results["command_matters"].reason
