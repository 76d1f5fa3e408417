"""The diagram of a machine's states: what it can be, and what takes it from one to the other."""

import pytest

from tests.core.circuits import circuit, device
from tests.core.test_checks import line, rewired
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck
from wiretrace.checks.playing.diagram import Diagram, state_diagram
from wiretrace.cli.states import states_text
from wiretrace.document.circuit import Circuit
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.state import Action


def drawn(made: Circuit) -> Diagram:
    return state_diagram(Facts(made))


def told(found: Diagram) -> set[tuple[str, str, str]]:
    names = {one.number: ", ".join(one.lines) for one in found.states}
    return {(names[arrow.of], " or ".join(arrow.words), names[arrow.to]) for arrow in found.arrows}


def test_a_start_stop_has_three_states() -> None:
    runs = "K1 in, M1 turns forward"
    assert told(drawn(line)) == {
        ("at rest", "hold S1", runs),
        (runs, "hold S0", "at rest"),
        (runs, "trip F2", "F2 tripped"),
        ("F2 tripped", "reset F2", "at rest"),
    }


def test_a_star_delta_starter_comes_to_delta_by_its_timer_alone() -> None:
    found = drawn(library_circuit("star-delta-timer-first-closure"))
    star, delta = "K1 in, K2 in, M1 turns forward", "K1 in, K3 in, M1 turns forward"
    assert (star, "K4 runs out", delta) in told(found)
    by_itself = [arrow for arrow in found.arrows if arrow.by_itself]
    assert [arrow.words for arrow in by_itself] == [("K4 runs out",)]
    assert not any(to == star and of == delta for of, _, to in told(found))


def test_where_a_selector_stands_is_part_of_the_state() -> None:
    found = drawn(library_circuit("hand-off-auto"))
    assert ("S3: hand, B1: low", "hold S1", "K1 in, M1 turns forward, S3: hand, B1: low") in told(found)
    # Off ends it from either side, whatever the sensor says.
    off = {of for of, by, _ in told(found) if by == "S3: turn to off" and of.startswith("K1 in")}
    assert len(off) == 3


def test_what_nothing_stops_is_marked() -> None:
    marked = [one.lines for one in drawn(rewired(line, c3_seal="a>stop:11")).states if one.trap]
    assert marked == [("K1 in", "M1 turns forward")]
    assert not any(one.trap for one in drawn(line).states)


@pytest.mark.parametrize("name", library_names())
def test_the_moves_of_a_state_lead_there(name: str) -> None:
    """Played by themselves from under power; a motor may have come farther by then."""
    made = library_circuit(name)
    assembly = Assembly(made)
    try:
        found = drawn(made)
    except NothingToCheck:
        return
    labels = {item.id: item.label for item in assembly.devices.values()}
    contactors = {item.label for item in Facts(made).contactors}
    for one in found.states:
        hands = [Action(move.at_us, move.device, move.operation, move.value) for move in one.moves]
        state = run(assembly, initial_state(assembly), hands, one.seen_us).end
        active = {labels[key] for key, view in frame_of(assembly, state).views.items() if view.active}
        assert {f"{label} in" for label in active & contactors} == {
            text for text in one.lines if text.endswith(" in")
        }, one.lines


def test_without_a_coil_there_are_no_states() -> None:
    with pytest.raises(NothingToCheck):
        drawn(circuit([device("g1", "supply_three_phase")], []))
    assert states_text(circuit([device("g1", "supply_three_phase")], [])) == "No coil: no states."


def test_the_text_of_the_shell_has_every_arrow() -> None:
    text = states_text(line).splitlines()
    assert text[0] == "0: at rest"
    assert "    hold S1 -> 1" in text
    assert text[-1] == "Of 10 states of the circuit, 19 moves."
