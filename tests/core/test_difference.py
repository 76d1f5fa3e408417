"""Where a circuit with a fault parts from the sound one under the same hands."""

from wiretrace.faults.kinds.contacts import Welded
from wiretrace.faults.kinds.elements import Open
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.difference import Difference, differences
from wiretrace.simulation.state import Action

LINE = library_circuit("start-stop-overload-line")
PRESS = [Action(1_000_000, "start", "press"), Action(1_500_000, "start", "press", False)]


def told(*faults: Open | Welded) -> list[Difference]:
    return differences(Assembly(LINE), Assembly(LINE, faults), PRESS, 3_000_000)


def test_a_sound_circuit_does_not_part_from_itself() -> None:
    assert told() == []


def test_without_its_seal_the_contactor_parts_when_the_button_is_let_go() -> None:
    first = told(Open("contactor", "13-14"))[0]
    assert (first.device, first.sound) == ("run-lamp", "lit")
    # A contact of a button takes two milliseconds to open.
    assert first.at_us == 1_502_000
    assert {one.device for one in told(Open("contactor", "13-14"))} >= {"contactor", "motor", "stopped-lamp"}


def test_an_open_coil_shows_when_the_button_is_pressed_and_not_before() -> None:
    found = {one.device: one for one in told(Open("contactor", "coil"))}
    assert 1_000_000 <= found["contactor"].at_us < 1_050_000
    assert (found["motor"].sound, found["motor"].faulty) == ("turns forward", "still")
    # The lamp beside the coil is lit by the button all the same.
    assert found["run-lamp"].at_us == 1_502_000


def test_a_welded_contact_shows_at_once() -> None:
    assert told(Welded("start", "13-14"))[0].at_us == 0
