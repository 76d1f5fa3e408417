"""Readings as people write them: understood, or asked back, never taken for what they are not."""

import math

import pytest

from tests.core.circuits import lamp
from wiretrace.diagnosis.dictionary import Observation, dictionary
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.repertoire import Kind
from wiretrace.diagnosis.words import outcome_words
from wiretrace.instruments.written import NotAReading, Span, Unit, written
from wiretrace.simulation.assembly import Assembly

V, OHM = Unit.VOLTS, Unit.OHMS
READ: list[tuple[str, Unit, float, float]] = [
    ("230", V, 230, 230),
    ("230 V", V, 230, 230),
    ("-230", V, 230, 230),
    ("230 V~", V, 230, 230),
    ("230V AC", V, 230, 230),
    ("24 V=", V, 24, 24),
    (".5", V, 0.5, 0.5),
    ("0,2 kV", V, 200, 200),
    ("3 mV", V, 0.003, 0.003),
    ("<1 V", V, 0, 1),
    ("less than 1", V, 0, 1),
    ("225-235", V, 225, 235),
    ("235 to 225 V", V, 225, 235),
    ("-5 - 5", V, 0, 5),
    ("about 115", V, 103.5, 126.5),
    ("~115 V", V, 103.5, 126.5),
    ("nothing", V, 0, 0),
    ("0", OHM, 0, 0),
    ("520 ohm", OHM, 520, 520),
    ("1k2", OHM, 1200, 1200),
    ("1.2 kΩ", OHM, 1200, 1200),
    ("4M7", OHM, 4.7e6, 4.7e6),
    ("4R7", OHM, 4.7, 4.7),
    ("12R", OHM, 12, 12),
    (">20M", OHM, 20e6, math.inf),
    ("more than 20 Mohm", OHM, 20e6, math.inf),
    ("OL", OHM, math.inf, math.inf),
    ("open", OHM, math.inf, math.inf),
    ("beeps", OHM, 0, 0),
]


@pytest.mark.parametrize(("text", "unit", "low", "high"), READ, ids=[f"{text} {unit}" for text, unit, _, _ in READ])
def test_a_reading_is_understood(text: str, unit: Unit, low: float, high: float) -> None:
    found = written(text, unit)
    assert (found.low, found.high) == (pytest.approx(low), pytest.approx(high))


ASKED: list[tuple[str, Unit, str]] = [
    ("OL", V, "What does the voltmeter show, in volts?"),
    ("open", V, "What does the voltmeter show, in volts?"),
    ("230 ohm", V, "is not what a voltmeter shows"),
    ("1k2 ohm", V, "is not what a voltmeter shows"),
    ("4R7", V, "is not what a voltmeter shows"),
    ("5 A", V, "is not what a voltmeter shows"),
    ("230 V", OHM, "is not what an ohmmeter shows"),
    ("<1 V", OHM, "is not what an ohmmeter shows"),
    ("nothing", OHM, "does the ohmmeter show 0, or OL?"),
    ("flickers", V, "between which figures?"),
    ("floating", V, "between which figures?"),
    ("1,200", OHM, "write 1200, or 1.200"),
    ("", V, "is no reading"),
    ("high", V, "is no reading"),
    ("1e3", OHM, "is no reading"),
    ("2 30", V, "is no reading"),
    ("<", V, "is no reading"),
    ("9" * 500 + "x", V, "is not what a voltmeter shows"),
    ("9" * 500, V, "is more than any meter shows"),
]


@pytest.mark.parametrize(("text", "unit", "words"), ASKED, ids=[f"{text[:20]} {unit}" for text, unit, _ in ASKED])
def test_what_is_none_of_this_meter_is_asked_back(text: str, unit: Unit, words: str) -> None:
    with pytest.raises(NotAReading) as error:
        written(text, unit)
    assert words in str(error.value)
    assert len(str(error.value)) < 160


def test_a_span_fits_every_fault_that_shows_something_in_it() -> None:
    made = lamp()
    engine = Engine(dictionary(made))
    every = [
        (Observation(kind, halt, spot), kind)
        for kind, halts in ((Kind.VOLTS, range(engine.halts)), (Kind.OHMS, (-1,)))
        for halt in halts
        for spot in range(engine.spots)
    ]
    for what, kind in every:
        assert engine.fits(what, Span(0.0, math.inf)).all()
        for low, high in ((0.0, 1.0), (100.0, 240.0)):
            wide, ends = engine.fits(what, Span(low, high)), engine.fits(what, low) | engine.fits(what, high)
            assert (wide >= ends).all()
        if kind is Kind.OHMS:
            more = engine.fits(what, Span(20e6, math.inf))
            assert (more >= engine.fits(what, math.inf)).all()
    assembly, what = Assembly(made), Observation(Kind.OHMS, -1, 0)
    assert outcome_words(assembly, what, Span(20e6, math.inf)).startswith("more than ")
    assert outcome_words(assembly, Observation(Kind.VOLTS, 0, 0), Span(225.0, 235.0)) == "225 V to 235 V"
