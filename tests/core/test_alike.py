"""A dictionary worked out the short way shows what each fault shows when it is run and solved by itself."""

import random
from collections.abc import Iterator

import numpy as np
import pytest

from tests.core.circuits import chattering, circuit, device, end, lamp, wire
from tests.sweep import todays
from wiretrace.diagnosis.alike import as_run, kind_of, series_of
from wiretrace.diagnosis.dictionary import Shown, Task, Worked, show
from wiretrace.diagnosis.hypotheses import Hypothesis, hypotheses
from wiretrace.diagnosis.procedure import Halt, halts_of, stages_of
from wiretrace.document.circuit import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.contacts import Welded
from wiretrace.faults.kinds.elements import HighResistance, Open
from wiretrace.faults.kinds.terminals import LooseTerminal
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.beside import Course, along, course
from wiretrace.simulation.engine import initial_state

LAMP = lamp()


def task_of(name: str) -> Task:
    whole = library_circuit(name)
    return Task(whole, halts_of(Assembly(whole), library_sequence(name).steps), hypotheses(Assembly(whole)))


def by_itself(task: Task, number: int) -> Worked:
    try:
        return show(task.circuit, task.rows[number][1], task.halts, task.where)
    except WiretraceError as error:
        return error.message


def some(task: Task, share: float) -> Iterator[tuple[int, Worked]]:
    """Rows of some of what is worked out together, drawn from a fixed number."""
    drawn = random.Random(20261126)
    for alike in task.alike:
        if drawn.random() < share:
            yield from list(zip(alike, task.work_out(alike), strict=True))[:3]


@pytest.mark.parametrize(
    ("name", "share"),
    todays(
        [
            ("impulse-relay-lights", 1.0),
            ("two-wire-sensor-leakage", 1.0),
            ("capacitor-motor-rc-mistake", 0.5),
            ("dc-control-pnp", 0.3),
            ("control-transformer-earthed", 0.3),
            ("reversing-mechanical-interlock", 0.15),
            ("safety-relay-dual-contactors", 0.15),
            ("star-delta-timer-first-closure", 0.15),
        ]
    ),
)
def test_the_short_way_shows_what_the_long_way_shows(name: str, share: float) -> None:
    task = task_of(name)
    compared = 0
    for number, short in some(task, share):
        long = by_itself(task, number)
        fault = task.rows[number][1]
        assert isinstance(short, Shown) == isinstance(long, Shown), fault
        if isinstance(short, Shown) and isinstance(long, Shown):
            assert short.looks == long.looks, fault
            # A tenth of a volt is the last digit of the meter.
            np.testing.assert_allclose(short.volts, long.volts, rtol=1e-4, atol=0.01, err_msg=str(fault))
            np.testing.assert_allclose(short.ohms, long.ohms, rtol=1e-4, atol=0.001, err_msg=str(fault))
            compared += 1
    assert compared > 20


def test_what_is_in_series_is_alike_and_what_is_beside_it_is_not() -> None:
    sound = Assembly(LAMP)
    series = series_of(sound)

    def kind(text: str) -> object:
        return kind_of(sound, series, fault_from_text(LAMP, text))

    # Breaker, button and lamp are in one series, wires and terminals with them.
    rung = [kind(text) for text in ("w1=open", "S1/13-14=open", "H1/lamp=open", "H1:X1=open")]
    assert len(set(rung)) == 1
    assert kind("w1=30ohm") == kind("H1/lamp=30ohm") != kind("w1=300ohm")
    assert kind("w1=open") != kind("w1=300ohm")
    assert kind("S1/13-14=welded") not in rung


def test_two_lamps_beside_each_other_are_two_series() -> None:
    devices = [device("g1", "supply_single_phase"), device("h1", "lamp"), device("h2", "lamp")]
    pair = circuit(
        devices,
        [
            *(wire("w1", "g1:L", "h1:X1"), wire("w2", "h1:X2", "g1:N")),
            *(wire("w3", "h1:X1", "h2:X1"), wire("w4", "h2:X2", "h1:X2")),
        ],
    )
    sound = Assembly(pair)
    series = series_of(sound)
    one, other = (kind_of(sound, series, Open(lamp_id, "lamp")) for lamp_id in ("h1", "h2"))
    assert one != other
    assert other == kind_of(sound, series, Open("w3")) == kind_of(sound, series, Open("w4"))
    assert kind_of(sound, series, Open("w1")) not in (one, other)


def test_a_terminal_that_one_element_hangs_on_is_run_as_that_element_open() -> None:
    sound = Assembly(LAMP)
    series = series_of(sound)
    assert as_run(sound, series, LooseTerminal("h1", "X1")) == Open("h1", "lamp")
    # With some ohms it is a bad joint, and stays what it is.
    bad = LooseTerminal("h1", "X1", 40.0)
    assert as_run(sound, series, bad) is bad
    # On a terminal of a star-delta motor's relay hang the heater and nothing else; on a common of two contacts, both.
    starter = Assembly(library_circuit("star-delta-timer-first-closure"))
    both = LooseTerminal("timer", "17")
    assert as_run(starter, series_of(starter), both) is both


def sound_course(whole: Circuit, name: str = "") -> tuple[Assembly, Course]:
    sound = Assembly(whole)
    halts = halts_of(Assembly(whole), library_sequence(name).steps if name else ())
    found = course(sound, initial_state(sound), stages_of(sound, halts))
    assert found is not None
    return sound, found


def gone(sound: Assembly, found: Course, fault: Fault) -> int:
    """How many instants of the course a circuit with a fault goes along with."""
    return sum(1 for _ in along(found, sound.with_faults([fault])))


def test_a_circuit_goes_along_until_a_device_does_something_else() -> None:
    name = "start-stop-overload-line"
    whole = library_circuit(name)
    sound, found = sound_course(whole, name)
    every = len(found.instants)
    assert every > 40
    # A joint that the contactor pulls in over: to the end. One that it does not: until the button is pressed.
    coil = next(wire.id for wire in whole.conductors if "A1" in (wire.a.terminal, wire.b.terminal))
    assert gone(sound, found, HighResistance(coil, resistance_ohm=30.0)) == every
    pressed = next(
        n for n, instant in enumerate(found.instants) if instant.frame.state.devices["contactor"]["energised"]
    )
    assert gone(sound, found, Open(coil)) == pressed
    assert gone(sound, found, HighResistance(coil, resistance_ohm=3000.0)) == pressed
    # A stop button that stays closed shows when it is pressed; a welded pole of three, by nothing that moves.
    stopped = gone(sound, found, Welded("stop", "11-12"))
    assert task_of(name).halts[found.instants[stopped].stage].text == "Hold stop"
    assert gone(sound, found, Welded("contactor", "1-2")) == every
    assert gone(sound, found, Welded("contactor", "13-14")) == 0
    # What is not a change of one branch is not taken along at all.
    assert gone(sound, found, fault_from_text(whole, "K1=stuck")) == 0


def test_heat_may_be_otherwise_along_the_way() -> None:
    """A bad joint before the control breaker: that grows a little less warm, and nothing else is different."""
    name = "start-stop-overload-line"
    whole = library_circuit(name)
    sound, found = sound_course(whole, name)
    joint = HighResistance("control-breaker", "1-2", 30.0)
    moments = list(along(found, sound.with_faults([joint])))
    assert len(moments) == len(found.instants)
    end_of_it, sound_end = moments[-1].state.devices, found.instants[-1].frame.state.devices
    assert end_of_it["control-breaker"]["heat"] < 0.98 * sound_end["control-breaker"]["heat"]
    assert end_of_it["contactor"]["heat"] < 0.98 * sound_end["contactor"]["heat"]
    assert end_of_it["overload"]["heat_1"] == pytest.approx(sound_end["overload"]["heat_1"], rel=1e-6)


def test_what_happens_by_itself_in_between_ends_the_way() -> None:
    """A welded button lets the breaker see four times its rating: it trips while the sound course stands still."""
    panel = circuit(
        [
            *(device("g1", "supply_single_phase"), device("f1", "breaker", poles=1, rated_current_a=0.5, curve="D")),
            *(device("s1", "push_button", contacts="NO"), device("h1", "lamp", rated_power_w=460.0)),
        ],
        [
            *(wire("w0", "g1:L", "f1:1"), wire("w1", "f1:2", "s1:13")),
            *(wire("w2", "s1:14", "h1:X1"), wire("w3", "h1:X2", "g1:N")),
        ],
    )
    waits = (Halt("Under power", (), 180_000_000),)
    sound = Assembly(panel)
    found = course(sound, initial_state(sound), stages_of(sound, waits))
    assert found is not None
    assert [instant.frame.state.time_us for instant in found.instants] == [0]
    weld = Welded("s1", "13-14")
    assert gone(sound, found, weld) == 0
    task = Task(panel, waits, (Hypothesis(weld, 1.0, (weld,)),))
    (shown,) = task.work_out(task.alike[0])
    assert isinstance(shown, Shown)
    assert shown.looks[0][0] == "tripped"
    assert shown.volts.max() == pytest.approx(230.0, abs=1.0)


def test_a_circuit_that_chatters_has_no_course() -> None:
    sound = Assembly(chattering())
    halts = halts_of(Assembly(chattering()))
    assert course(sound, initial_state(sound), stages_of(sound, halts)) is None


def test_no_way_through_a_capacitor_when_it_is_dead() -> None:
    """Seen by an ohmmeter the two sides of an open contact with a capacitor across it are apart."""
    rc = circuit(
        [device("g1", "supply_single_phase"), device("c1", "suppressor"), device("h1", "lamp")],
        [wire("w1", "g1:L", "c1:1"), wire("w2", "c1:2", "h1:X1"), wire("w3", "h1:X2", "g1:N")],
    )
    task = Task(rc, halts_of(Assembly(rc)), hypotheses(Assembly(rc)))
    found = dict(enumerate(row for alike in task.alike for row in zip(alike, task.work_out(alike), strict=True)))
    for number, short in found.values():
        long = by_itself(task, number)
        assert isinstance(short, Shown)
        assert isinstance(long, Shown)
        assert np.isinf(short.ohms).tolist() == np.isinf(long.ohms).tolist(), task.rows[number]
    assert end("c1:1") in {spot.red for spot in task.where}
