"""Without a sequence the states in which one looks are found by working everything, and waiting for what is timed."""

from itertools import pairwise

import pytest

from tests.core.circuits import chattering
from wiretrace.diagnosis.procedure import MOST_STATES, Halt, halts_of, reached
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state
from wiretrace.training.exercise.order import looks_under


def found(name: str) -> tuple[Halt, ...]:
    return halts_of(Assembly(library_circuit(name)))


def statuses(name: str, device: str) -> list[str]:
    """What a device does in each state, in order."""
    assembly = Assembly(library_circuit(name))
    state, told = initial_state(assembly), []
    labels = {item.label: item.id for item in assembly.devices.values()}
    for halt in found(name):
        frame, state = reached(assembly, state, halt)
        told.append(frame.views[labels[device]].status)
    return told


@pytest.mark.parametrize("name", ["star-delta-relay", "star-delta-timer-first-closure", "star-delta-plc"])
def test_a_star_delta_starter_is_looked_at_in_star_and_in_delta(name: str) -> None:
    """Held for 0.6 s as before, its timer never ran out."""
    delta = {"star-delta-relay": "K3", "star-delta-timer-first-closure": "K3", "star-delta-plc": "K3"}[name]
    assert "pulled_in" in statuses(name, delta)
    assert any(halt.text.endswith("and wait") for halt in found(name))


def test_a_stop_is_tried_on_what_runs() -> None:
    """S0 stands before S1 in the document: at its first turn there was nothing to stop."""
    told = statuses("start-stop-overload-line", "K1")
    assert told[-1] == "dropped_out"
    assert "pulled_in" in told
    circuit = library_circuit("start-stop-overload-line")
    halts = halts_of(Assembly(circuit))
    welded = fault_from_text(circuit, "S0/11-12=welded")
    assert looks_under(Assembly(circuit), (welded,), halts) != looks_under(Assembly(circuit), (), halts)


@pytest.mark.parametrize(
    ("name", "text"), [("two-wire-float", "B1: level high"), ("hand-off-auto-timer", "S3: turn to hand")]
)
def test_what_the_process_moves_and_what_a_hand_turns_is_worked_too(name: str, text: str) -> None:
    assert text in [halt.text for halt in found(name)]
    assert "pulled_in" in statuses(name, "K1")


@pytest.mark.parametrize("name", library_names()[::3])
def test_there_are_few_states_and_each_comes_once(name: str) -> None:
    assembly = Assembly(library_circuit(name))
    halts = halts_of(assembly)
    assert 2 <= len(halts) <= MOST_STATES
    assert halts[0].hands == ()
    for before, halt in pairwise(halts):
        # Each is reached by a hand, or by waiting on after one.
        assert halt.hands or halt.text == f"{before.text}, and wait"


def test_where_it_hunts_nobody_waits() -> None:
    assert all(not halt.text.endswith("and wait") for halt in halts_of(Assembly(chattering())))
