"""The fault book: how a fault is set on a board, with what the isolator leaves live left alone."""

import pytest

from wiretrace.diagnosis.book import STAYS_LIVE, fault_book
from wiretrace.diagnosis.dictionary import dictionary
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.hypotheses import Hypothesis
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit, library_sequence
from wiretrace.simulation.assembly import Assembly

NAME = "start-stop-overload-line"
CIRCUIT = library_circuit(NAME)


def set_as(text: str) -> str:
    return fault_from_text(CIRCUIT, text).how_to_set(Assembly(CIRCUIT))


@pytest.mark.parametrize(
    ("text", "says"),
    [
        # 400² / (4 x 300) = 133.3
        ("K1/coil=300ohm", "a resistor of some 300 ohm and 134 W or more, made for 400 V, into the coil K1"),
        # A contactor has both kinds, a button of one block only its own.
        ("K1/13-14=wrong contact", "to a contact of the other kind: K1 21-22"),
        ("S1/13-14=wrong contact", "Build in a contact of the other kind in place of"),
    ],
)
def test_what_is_told_to_set_a_fault_can_be_done(text: str, says: str) -> None:
    assert says in set_as(text)


def test_nobody_is_sent_to_what_the_isolator_leaves_live() -> None:
    sound = Assembly(CIRCUIT)
    texts = {
        "G1:L1=open": True,
        "Q1:1=open": True,
        "Q1:2=open": False,
        "K1/coil=open": False,
        "S1/13-14=wrong contact": False,
    }
    faults = {text: fault_from_text(CIRCUIT, text) for text in texts}
    every = (Hypothesis(None, 1.0, ()), *(Hypothesis(one, 1.0, (one,)) for one in faults.values()))
    halts = halts_of(sound, library_sequence(NAME).steps)
    entries = list(fault_book(Engine(dictionary(CIRCUIT, halts, every)), sound))
    told = dict(zip(faults, (entry.setting for entry in entries), strict=True))
    assert {text: setting == STAYS_LIVE for text, setting in told.items()} == texts
