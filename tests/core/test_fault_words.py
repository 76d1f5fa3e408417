"""What a person is told of a fault."""

import pytest

from wiretrace.faults.possible import possible_faults
from wiretrace.faults.text import fault_from_text, fault_words
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly

LINE = library_circuit("start-stop-overload-line")


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("K1/coil=open", "The coil K1 is open"),
        ("K1/13-14=welded", "K1 13-14 is welded"),
        ("S1/13-14=wrong contact", "S1: the wrong kind of contact"),
        ("K1/coil=short 2ohm", "The coil K1 is short-circuited through 2 ohm"),
        ("K1:A1=open", "K1:A1 is loose"),
        ("K1:A1=300ohm@5s", "300 ohm at K1:A1, from 5 s on"),
        ("K1=stuck~7", "K1 does not move, comes and goes"),
        ("M1:U1=to M1:PE", "A bridge from M1:U1 to M1:PE"),
        ("K1:A1=to F1:2 100ohm", "A bridge of 100 ohm from K1:A1 to F1:2"),
        ("F2.dial_a=2", "F2: Dial set to 2 A"),
        ("F2.trip=done", "F2: trip by hand, done once"),
    ],
)
def test_a_fault_is_told_with_the_designations_of_the_sheet(text: str, words: str) -> None:
    assert fault_words(Assembly(LINE), fault_from_text(LINE, text)).lower() == words.lower()


def test_a_wire_is_told_by_its_number_and_its_ends() -> None:
    wire = next(c for c in LINE.conductors if (c.a.terminal, c.b.terminal) == ("96", "11"))
    assert fault_words(Assembly(LINE), fault_from_text(LINE, f"{wire.id}=open")) == (
        "The wire 2 from F2:96 to S0:11 is open"
    )


@pytest.mark.parametrize("name", library_names())
def test_every_possible_fault_has_words_of_its_own(name: str) -> None:
    circuit = library_circuit(name)
    assembly = Assembly(circuit)
    words = [fault_words(assembly, fault) for fault in possible_faults(circuit, assembly.devices)]
    assert all(words)
    assert len(set(words)) == len(words)
