"""Every circuit that ships does in every step of its sequence what was written down by hand for it."""

import pytest

from tests.core.played import played
from wiretrace.document.nets import nets
from wiretrace.errors import MalformedDocument, UnknownTarget
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.library.families import FAMILIES
from wiretrace.sequences.sequence import Sequence, Step, changes, read_sequence, take_steps

LINE = "start-stop-overload-line"


@pytest.mark.parametrize("name", library_names())
def test_the_operating_sequence_goes_as_it_is_written(name: str) -> None:
    for taken in played(name):
        assert taken.unmet() == {}, taken.step.text


@pytest.mark.parametrize("name", library_names())
def test_a_sequence_says_something_of_every_contactor_and_motor(name: str) -> None:
    told = {label for step in library_sequence(name).steps for label in step.expect}
    for device in library_circuit(name).devices:
        if device.kind in ("contactor", "motor_three_phase", "motor_six_leads", "motor_reversible"):
            assert device.label in told


def test_every_circuit_stands_in_one_family_with_what_it_shows_and_what_to_try() -> None:
    shown = [circuit for family in FAMILIES for circuit in family.circuits]
    assert sorted(circuit.name for circuit in shown) == list(library_names())
    assert all(circuit.shows.endswith(".") and circuit.tries.endswith(".") for circuit in shown)


def test_the_library_has_every_family_in_about_thirty_documents() -> None:
    families = (
        "start-stop two-wire hand-off-auto jog reversing star-delta star-delta-plc phase-monitor "
        "current-transformer feeder-order up-down dc-control control-transformer"
    )
    names = library_names()
    assert len(names) >= 30
    for family in families.split():
        assert any(name.startswith(family) for name in names), family


def test_a_state_table_tells_what_changes_when() -> None:
    """Press: contact at 17 ms, armature 18 ms later, normally closed before normally open."""
    hold = Step(text="Hold start", do=(("S1", "press", True),), wait_s=0.2)
    taken = next(take_steps(library_circuit(LINE), Sequence(steps=(hold,))))
    told = {(change.label, change.what): change.after_us for change in changes(taken)}
    assert told["S1 13-14", "closes"] == 17_000
    assert told["K1 21-22", "opens"] < told["K1 13-14", "closes"] == 35_000
    assert told["H1", "lit"] == 17_000
    assert told["M1", "turns forward"] == 35_000
    assert taken.views()["H2"].says == "dark"


@pytest.mark.parametrize(
    ("step", "told"),
    [
        (Step(text="Press what is not there", do=(("S7", "press", True),)), "There is no device S7"),
        (Step(text="A wrong hand", do=(("S1", "kick", True),)), "S1 has no kick to work"),
        (Step(text="A wrong fault", faults=("K1/99=open",)), "K1 has no element 99"),
        (Step(text="Expect a ghost", expect={"K9": "in"}), "There is no device K9"),
        (Step(text="No fault at all", faults=("nonsense",)), "is not of the form"),
    ],
)
def test_a_sequence_that_names_nothing_is_told_with_its_step(step: Step, told: str) -> None:
    good = Step(text="Under power")
    with pytest.raises(UnknownTarget, match=rf"^Step 2 \({step.text}\): .*{told}"):
        list(take_steps(library_circuit(LINE), Sequence(steps=(good, step))))


def test_what_is_no_sequence_is_told() -> None:
    for text in ("[]", "{", '{"steps": [{"text": "x", "wait_s": -1}]}'):
        with pytest.raises(MalformedDocument, match="not an operating sequence"):
            read_sequence(text)


@pytest.mark.parametrize("name", library_names())
def test_a_wire_number_stands_for_one_potential(name: str) -> None:
    circuit = library_circuit(name)
    stands: dict[str, set[int]] = {}
    for index, net in enumerate(nets(circuit)):
        for wire in circuit.conductors:
            if wire.number and wire.a in net.ends:
                stands.setdefault(wire.number, set()).add(index)
    assert {number: places for number, places in stands.items() if len(places) > 1} == {}
