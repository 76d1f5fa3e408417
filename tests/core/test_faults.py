"""Every kind of fault of the list, in a circuit, as data and in words."""

import pytest

from tests.core.circuits import Bench, end
from wiretrace.errors import UnknownTarget
from wiretrace.faults.kinds.elements import Open
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.transport.report import state_data, state_from_data

LINE = "start-stop-overload-line"
REVERSING = "reversing-interlocked"


def broken(*faults: str, name: str = LINE) -> Bench:
    """The circuit with faults from the beginning, start held."""
    bench = Bench(library_circuit(name), [fault_from_text(library_circuit(name), fault) for fault in faults])
    bench.do("start", "press")
    return bench


def volts(bench: Bench, red: str, black: str) -> float:
    return read_voltage(bench.assembly, bench.frame.point, end(red), end(black)).voltage_v


@pytest.mark.parametrize(
    ("fault", "contactor", "lamp"),
    [
        ("K1/coil=open", "out", "lit"),  # burnt coil: full voltage and no pull-in
        ("K1=stuck", "out", "lit"),  # stuck armature: the same from outside
        ("H1/lamp=open", "in", "dark"),
        ("F2/95-96=open", "out", "dark"),
        ("S1/13-14=open", "out", "dark"),
        ("S1=stuck", "out", "dark"),
        ("K1:A2=open", "out", "lit"),  # a terminal: only what hangs on it inside is lost
        ("c4=open", "out", "dark"),
        ("c4=300ohm", "out", "lit"),
        ("K1:A1=400ohm", "out", "lit"),
        ("K1.coil_voltage_v=400", "out", "lit"),  # coil of the wrong voltage
        ("F2.trip=done", "out", "dark"),
        ("n-feed=open", "out", "dark"),
        ("G1/L1=open", "out", "dark"),
        ("S0/11-12=wrong contact", "out", "dark"),  # stop made with a normally open contact
        ("K1/coil=short 0.5ohm", "out", "dark"),  # turns of the coil shorted: the control breaker opens
    ],
)
def test_with_start_held(fault: str, contactor: str, lamp: str) -> None:
    bench = broken(fault)
    bench.wait(5.0)
    assert (bench.says("contactor"), bench.says("run-lamp")) == (contactor, lamp)


def test_a_stuck_armature_draws_the_inrush_current() -> None:
    """661 + j583 ohm instead of 1820 + j6357: that is what burns it."""
    sound, stuck = broken(), broken("K1=stuck")
    amperes = [abs(bench.frame.signals["contactor"]["coil"].current_a) for bench in (sound, stuck)]
    assert amperes[1] > 5 * amperes[0]


def test_an_armature_stuck_in_does_not_let_go() -> None:
    bench = broken()
    bench.fail("K1=stuck")
    bench.do("stop", "press")
    assert bench.says("contactor") == "in"
    assert bench.says("run-lamp") == "dark"


def test_a_welded_seal_in_contact_starts_by_itself_when_stop_is_let_go() -> None:
    bench = broken("K1/13-14=welded")
    bench.do("start", "press", False)
    bench.do("stop", "press")
    assert bench.says("contactor") == "out"
    bench.do("stop", "press", False)
    assert bench.says("contactor") == "in"


def test_a_missing_seal_in_makes_it_jog() -> None:
    bench = broken("c4-seal=open")
    assert bench.says("contactor") == "in"
    bench.do("start", "press", False)
    assert bench.says("contactor") == "out"


def test_a_missing_interlock_lets_both_armatures_in() -> None:
    bench = Bench(library_circuit(REVERSING))
    bench.fail("K2/21-22=welded", "K1/21-22=welded", "S1/11-12=welded", "S2/11-12=welded")
    bench.do("open", "press", wait_s=0.2)
    bench.do("close", "press", wait_s=0.2)
    assert bench.says("motor-breaker") == "tripped"


def test_two_wires_exchanged_and_one_on_the_wrong_terminal() -> None:
    """The seal-in wire on the normally closed contact: the relay seals while it is out."""
    wrong = broken("c4-seal.a=to K1:22")
    assert wrong.says("contactor") == "in"
    crossed = Bench(library_circuit(LINE))
    crossed.fail("p1-motor.b=with p2-motor.b")
    crossed.do("start", "press", wait_s=2.0)
    assert crossed.says("motor") == "turns backward"
    # A clamp around the wire still reads what the wire carries.
    assert read_current(crossed.assembly, crossed.frame.point, ["p1-motor"]).current_a > 1
    crossed.fail("p1-motor.b=with p2-motor.b", "p1-motor.b=with p2-motor.b")
    crossed.wait(20.0)
    assert crossed.says("motor") == "turns forward"


def test_a_wire_to_earth_opens_the_breaker() -> None:
    bench = broken("S1:14=to M1:PE")
    assert bench.says("control-breaker") == "tripped"
    weak = broken("S1:14=to M1:PE 2kohm")
    assert (weak.says("control-breaker"), weak.says("contactor")) == ("on", "in")
    frame = weak.frame
    assert volts(weak, "start:14", "motor:PE") == pytest.approx(230.5, abs=1.0)
    assert frame.views["run-lamp"].says == "lit"


def test_a_motor_winding_open_shorted_or_to_earth() -> None:
    for fault, word in (("M1/U1=open", "turns forward, unbalanced"), ("M1:U1=to M1:PE", None)):
        bench = broken()
        bench.wait(2.0)
        bench.fail(fault)
        bench.wait(1.0)
        if word is None:
            assert bench.says("motor-breaker") == "tripped"
        else:
            assert bench.says("motor") == word
    shorted = broken("M1/V1=short 2ohm")
    shorted.wait(3.0)
    phases = [shorted.assembly.conductor_a(shorted.frame.point.ac, f"p{n}-motor") for n in (1, 2, 3)]
    if shorted.says("motor-breaker") == "on":
        assert abs(phases[1]) > 1.3 * abs(phases[0])


def test_a_fault_begins_at_its_time() -> None:
    bench = Bench(library_circuit(LINE))
    bench.fail("c4=open@3s")
    bench.do("start", "press", wait_s=1.0)
    bench.do("start", "press", False, wait_s=5.0)
    dropped = [f.state.time_us for f in bench.trajectory.frames if f.views["contactor"].says == "out"]
    assert 3_000_000 < dropped[0] < 3_050_000


def test_an_intermittent_fault_comes_and_goes_as_its_seed_has_it() -> None:
    def lit(seed: int) -> list[tuple[int, str]]:
        circuit = library_circuit(LINE)
        bench = Bench(circuit, [fault_from_text(circuit, f"H2/lamp=open@1s~{seed}")])
        bench.wait(20.0)
        return [(f.state.time_us, f.views["stopped-lamp"].says) for f in bench.trajectory.frames]

    assert lit(7) == lit(7)
    assert lit(7) != lit(8)
    words = [word for _, word in lit(7)]
    assert 5 < words.count("dark") < 60
    assert all(time % 250_000 == 0 for time, _ in lit(7))


def test_an_intermittent_fault_goes_on_where_a_written_state_left_it() -> None:
    circuit = library_circuit(LINE)
    faults = [fault_from_text(circuit, "H2/lamp=open~3")]
    whole, pieces = Bench(circuit, faults), Bench(circuit, faults)
    whole.wait(10.0)
    seen = []
    for _ in range(5):
        pieces.wait(2.0)
        pieces.state = state_from_data(
            state_data(pieces.state).model_validate_json(state_data(pieces.state).model_dump_json())
        )
        seen += [(f.state.time_us, f.views["stopped-lamp"].says) for f in pieces.trajectory.frames]
    changed = [pair for n, pair in enumerate(seen) if n == 0 or seen[n - 1][1] != pair[1]]
    assert changed == [(f.state.time_us, f.views["stopped-lamp"].says) for f in whole.trajectory.frames]


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("K7/coil=open", "There is no device K7"),
        ("K1/99-98=open", "K1 has no element 99-98"),
        ("K1/coil=welded", "K1 coil is no contact"),
        ("c99=open", "There is no device or conductor c99"),
        ("c4.a=to K1:99", "There is no terminal K1:99"),
        ("c4.a=with c99.a", "no other conductor"),
        ("K1:99=open", "no terminal K1:99"),
        ("K1.coil_voltage_v=9999", "Coil voltage is 9999 V"),
        ("K1.auxiliary_block=4 NO", "another circuit"),
        ("K1.kick=done", "K1 has no kick to work"),
    ],
)
def test_a_fault_that_names_nothing_is_told(text: str, told: str) -> None:
    circuit = library_circuit(LINE)
    with pytest.raises(UnknownTarget, match=told):
        Assembly(circuit, [fault_from_text(circuit, text)])


@pytest.mark.parametrize(
    "text", ["", "K1", "K1=melted", "K1/coil=", "c4.x=to K1:14", "c4.a=with c5", "K1/coil=open@soon"]
)
def test_words_that_are_no_fault_are_told(text: str) -> None:
    with pytest.raises((ValueError, UnknownTarget)):
        fault_from_text(library_circuit(LINE), text)


def test_a_fault_can_come_and_be_mended_between_two_runs() -> None:
    """A state says nothing of faults, so what was broken in one run is sound in the next."""
    bench = Bench(library_circuit(LINE), [Open("c4")])
    bench.do("start", "press")
    assert bench.says("contactor") == "out"
    bench.fail()
    bench.wait(0.5)
    assert bench.says("contactor") == "in"


def test_an_operation_is_done_on_or_off_and_nothing_else_is_taken_for_it() -> None:
    circuit = library_circuit(LINE)
    with pytest.raises(ValueError, match="F2 trip is done, on or off, not 'maybe'"):
        fault_from_text(circuit, "F2.trip=maybe")
    bench = Bench(circuit)
    bench.fail("G1.l2=off")
    bench.wait(0.1)
    assert bench.says("supply") == "without L2"


def test_the_moment_of_a_fault_of_which_nothing_is_seen_makes_no_frame() -> None:
    """A contactor that sticks while it is out: until somebody starts, nobody can tell when that was."""
    circuit = library_circuit("start-stop-overload-line")
    stuck = fault_from_text(circuit, "K1=stuck@1.234567s")
    assembly = Assembly(circuit, (stuck,))
    done = run(assembly, initial_state(assembly), (), 3_000_000)
    assert 1_234_567 not in [frame.state.time_us for frame in done.frames]
    # One that is seen does.
    dark = Assembly(circuit, (fault_from_text(circuit, "H2/lamp=open@1.234567s"),))
    seen = run(dark, initial_state(dark), (), 3_000_000)
    assert 1_234_567 in [frame.state.time_us for frame in seen.frames]
