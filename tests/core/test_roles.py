"""What buttons are there for, as it follows from what they do, and what circuits do otherwise than others."""

import pytest

from tests.core.circuits import circuit, wire, with_params
from tests.core.mistakes import at, without
from tests.core.test_checks import line, rewired, with_more
from tests.core.test_played import by_rule, reversing, shown, stations
from tests.core.test_worked import bridge
from wiretrace.checks.check import check, check_by_playing
from wiretrace.checks.facts import Facts
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.difference import does_otherwise
from wiretrace.checks.playing.effects import effects
from wiretrace.checks.playing.roles import proposals
from wiretrace.document.circuit import Circuit
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit, library_names
from wiretrace.patterns.choices import Choices, Pattern
from wiretrace.patterns.make import make

jog = library_circuit("jog-and-run")
INTERLOCKS = (("k-open", "21", "22"), ("k-close", "21", "22"), ("open", "11", "12"), ("close", "11", "12"))
UNSAID = {"role": "unsaid", "colour": "green"}


def roles(made: Circuit) -> dict[str, str]:
    return {one.device: one.role.value for one in proposals(Facts(made))}


def unsaid(made: Circuit) -> Circuit:
    """The same without a word on what its buttons are there for."""
    buttons = {item.id: UNSAID for item in made.devices if item.kind.startswith("push_button")}
    return with_params(made, buttons)


@pytest.mark.parametrize("name", library_names())
def test_the_roles_that_playing_tells_are_those_that_the_library_states(name: str) -> None:
    made = library_circuit(name)
    stated = {item.id: item.params["role"] for item in made.devices if "role" in item.params}
    told = roles(unsaid(made))
    assert {device: role for device, role in told.items() if stated.get(device) != role} == {}
    assert roles(made) == {}


def test_roles_are_proposed_with_the_colour_that_they_wear() -> None:
    found = {one.device: one for one in proposals(Facts(unsaid(jog)))}
    assert {name: (one.params["role"], one.params["colour"]) for name, one in found.items()} == {
        "stop": ("stop", "red"),
        "start": ("start", "green"),
        "jog": ("jog", "black"),
    }
    assert found["stop"].words == "S0 stops K1."
    # Nothing else is written into the document.
    assert {frozenset(one.params) for one in found.values()} == {frozenset(("role", "colour"))}
    assert found["jog"].words.startswith("S2 runs K1 only while it is held, as a jog does.")
    # One that is unsaid and wears a colour of its role keeps it.
    white = with_params(unsaid(jog), {"start": {"colour": "white"}})
    assert next(one for one in proposals(Facts(white)) if one.device == "start").params["colour"] == "white"


def test_a_star_that_is_passed_through_is_neither_started_nor_jogged_nor_stopped_by_hand() -> None:
    """It goes by itself: only the stop and the trip of the overload relay end it, while it is in."""
    made = library_circuit("star-delta-timer-first-closure")
    facts = Facts(made)
    star = next(item.id for item in facts.items if item.label == "K2")
    done = {(effect.device, effect.verb.value) for effect in effects(worked(facts)) if effect.output == star}
    assert {verb for _, verb in done} <= {"stops"}
    assert "start" not in {device for device, _ in done}
    begun = {effect.output for effect in effects(worked(facts)) if effect.device == "start"}
    assert facts.label(min(begun)) in ("K1", "K3")
    assert star not in begun


def test_of_half_a_drawing_and_of_nothing_no_role_is_proposed() -> None:
    half = without(unsaid(reversing), *(one.id for one in at(reversing, "k-close:A2")))
    assert roles(half) == {}
    assert roles(circuit([], [])) == {}


@pytest.mark.parametrize("pattern", list(Pattern))
def test_buttons_of_every_pattern_are_what_they_say(pattern: Pattern) -> None:
    made = make("Made", Choices(pattern=pattern))
    assert roles(made) == {}
    results = by_rule(made)
    assert results["role_true"].findings == ()
    assert {one.rule for one in check(made) if one.rule == "colour" and one.findings} == set()


CONTRADICTIONS: list[tuple[str, Circuit, str]] = [
    ("a start without a seal", rewired(line, c4_seal=""), "S1 is there to start, but K1 is in only while it is held"),
    ("a stop that starts", with_params(line, {"start": {"role": "stop"}}), "S1 is there to stop, but it starts K1"),
    ("a start that stops", with_params(line, {"stop": {"role": "start"}}), "S0 is there to start, but all it does is"),
    ("a jog that stays in", with_params(jog, {"start": {"role": "jog"}}), "S1 is there to jog, but K1 stays in when"),
    ("a jog that stops", with_params(line, {"stop": {"role": "jog"}}), "S0 is there to jog, but all it does is stop"),
    ("a reset that starts", with_params(line, {"start": {"role": "reset"}}), "S1 is there to reset, but K1 comes in"),
    (
        "a jog whose closed contact is bridged",
        bridge(jog, "jog:11", "jog:12"),
        "S2 is there to jog, but K1 stays in when it is let go: hold S2, let go of S2.",
    ),
]


@pytest.mark.parametrize(("made", "words"), [case[1:] for case in CONTRADICTIONS], ids=[c[0] for c in CONTRADICTIONS])
def test_a_button_that_does_otherwise_than_it_says_is_found(made: Circuit, words: str) -> None:
    found = by_rule(made)["role_true"].findings
    assert any(words in one.message for one in found), [one.message for one in found]
    assert all(one.moves and one.seen_us for one in found)


def test_the_moves_of_a_jog_that_stays_in_show_it() -> None:
    made = bridge(jog, "jog:11", "jog:12")
    (found,) = by_rule(made)["role_true"].findings
    assert "contactor" in shown(made, found)


def test_what_a_change_does_is_told() -> None:
    parallel = with_more(rewired(stations, w21="a>emergency:12"))
    bypassed = bridge(stations, "stop-1:11", "stop-1:12")
    assert does_otherwise(Facts(stations), Facts(bypassed)).lines == ("S0.1 no longer stops K1",)
    assert does_otherwise(Facts(bypassed), Facts(stations)).lines == ("S0.1 now stops K1",)
    assert does_otherwise(Facts(stations), Facts(stations)).lines == ()
    assert does_otherwise(Facts(stations), Facts(parallel)).lines != ()
    unsealed = does_otherwise(Facts(line), Facts(rewired(line, c4_seal="")))
    assert set(unsealed.lines) >= {"S1 no longer starts K1", "S1 now jogs K1"}
    wires = [wire(f"free-{n}", f"{name}:{a}", f"{name}:{b}") for n, (name, a, b) in enumerate(INTERLOCKS)]
    free = does_otherwise(Facts(reversing), Facts(with_more(reversing, *wires)))
    # Both together trip the breaker, and behind that nothing was played.
    assert "was not played whole" in free.reason
    assert "K1 now comes in while K2 is in" in free.lines
    assert does_otherwise(Facts(circuit([], [])), Facts(line)).lines[0] == "S1 now starts K1"


def test_the_same_rules_judge_a_circuit_with_a_fault() -> None:
    """A stop that has welded stops nothing; an overload contact that has, ends nothing when it trips."""
    assert not any(one.findings for one in check_by_playing(line))

    def found(*faults: str) -> dict[str, str]:
        results = check_by_playing(line, [fault_from_text(line, text) for text in faults])
        return {one.rule: one.findings[0].message for one in results if one.findings}

    assert found("S0/11-12=welded")["stop_stops"] == "S0 does not stop K1: hold S1, let go of S1, hold S0; K1 stays in."
    assert found("F2/95-96=welded")["trip_ends"] == "Hold S1, let go of S1, trip F2; K1 stays in."
    assert "S1 is there to start" in found("K1/13-14=open")["role_true"]
    assert "described" in found("K1/coil=open")


def test_a_program_is_judged_in_its_loop() -> None:
    made = library_circuit("star-delta-plc")
    plc = next(item for item in made.devices if item.kind == "plc")
    text = str(plc.params["program"])

    def found(old: str, new: str) -> dict[str, list[str]]:
        assert old in text
        results = by_rule(with_params(made, {plc.id: {"program": text.replace(old, new)}}))
        return {rule: [one.message for one in result.findings] for rule, result in results.items() if result.findings}

    # It seals round its stop.
    assert "No stop ends K1" in found("(I1 or M1) and I2 and I3", "I1 and I2 or M1 and I3")["can_be_stopped"][0]
    # It takes the healthy stop for one that is pressed: what starts, starts while it is held.
    told = found("and I2", "and not I2")
    assert "K1 starts while S0 is held: hold S0, hold S1." in told["stop_holds"]
    assert "when S1 is pressed while K1 is out, then K1 and K2 go in" in told["described"][0]
    # Star is never left.
    assert "M1 never comes to delta" in found("and not T1 and not Q3", "and not Q3")["star_left"][0]


def test_what_is_still_being_drawn_is_told_as_that() -> None:
    """Every wire of the start-stop circuit in the order of the document: on the way nothing else is found."""
    for count in range(len(line.conductors)):
        half = line.model_copy(update={"conductors": line.conductors[:count]})
        for result in (*check(half), *check_by_playing(half)):
            accused = [one.message for one in result.findings if not one.drawing]
            assert accused == [], (count, result.rule)
    whole = [one for result in (*check(line), *check_by_playing(line)) for one in result.findings]
    assert whole == []


def test_a_danger_in_half_a_drawing_is_found_as_such() -> None:
    half = without(rewired(line, p1_contactor="supply:L3"), *(one.id for one in at(line, "run-lamp:X1")))
    assert any(not one.drawing for one in by_rule(half)["nothing_trips"].findings)
