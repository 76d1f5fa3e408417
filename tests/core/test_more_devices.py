"""DC, sensors, current transformers, controllers, interlocks, taps, single-phase drives."""

import math

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire, with_params
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit
from wiretrace.errors import InvalidCircuit
from wiretrace.instruments.voltmeter import Coupling, read_voltage
from wiretrace.library import library_circuit
from wiretrace.program.ladder import ProgramError, rungs
from wiretrace.simulation.assembly import Assembly


def volts(bench: Bench, red: str, black: str, coupling: Coupling = Coupling.AUTO) -> float:
    return read_voltage(bench.assembly, bench.frame.point, end(red), end(black), coupling=coupling).voltage_v


def figure(bench: Bench, place: str, title: str) -> float:
    return next(f.value for f in bench.frame.views[place].figures if f.title == title)


def test_alternating_and_direct_voltage_in_one_circuit() -> None:
    """A meter between the two sides of a DC supply with earthed minus sees either, by what it is switched to."""
    bench = Bench(library_circuit("dc-control-pnp"))
    bench.wait(1.0)
    assert volts(bench, "psu:+", "psu:-") == pytest.approx(24.0, rel=0.01)
    assert volts(bench, "psu:-", "psu:+") == pytest.approx(-24.0, rel=0.01)
    assert volts(bench, "psu:L", "psu:N", Coupling.DC) == pytest.approx(0.0, abs=1e-6)
    assert volts(bench, "psu:L", "psu:+", Coupling.AC) == pytest.approx(230.8, abs=0.3)
    assert volts(bench, "psu:L", "psu:+", Coupling.DC) == pytest.approx(-24.0, rel=0.01)


def test_power_of_the_direct_part_is_balanced() -> None:
    bench = Bench(library_circuit("dc-control-pnp"))
    bench.do("sensor", "actuate")
    dc = bench.frame.point.dc
    assert dc is not None
    given = sum(
        value.emf_dc_v * amperes.real
        for value, amperes in zip(bench.frame.values, dc.current_a, strict=True)
        if value is not None
    )
    taken = sum(
        amperes.real**2 / value.conductance_s()
        for value, amperes in zip(bench.frame.values, dc.current_a, strict=True)
        if value is not None and value.conductance_s() > 0
    )
    assert given == pytest.approx(taken, rel=1e-9)


def test_a_dc_coil_on_ac_does_not_pull_and_an_ac_coil_on_dc_draws_far_too_much() -> None:
    def coil(supply: str, kind: str, volts_: float) -> Bench:
        source = device("g1", supply, voltage_v=volts_)
        relay = device("k1", "control_relay", coil_kind=kind, coil_voltage_v=24.0, coil_power_w=1.0)
        plus, minus = ("L", "N") if supply == "supply_single_phase" else ("L+", "L-")
        bench = Bench(circuit([source, relay], [wire("a", f"g1:{plus}", "k1:A1"), wire("b", "k1:A2", f"g1:{minus}")]))
        bench.wait(1.0)
        return bench

    assert coil("supply_single_phase", "DC", 24.0).says("k1") == "out"
    assert coil("supply_dc", "DC", 24.0).says("k1") == "in"
    right = coil("supply_single_phase", "AC", 24.0).frame.signals["k1"]["coil"].rms_a
    wrong = coil("supply_dc", "AC", 24.0).frame.signals["k1"]["coil"].rms_a
    assert wrong > 3 * right


@pytest.mark.parametrize(("switches", "output"), [("PNP", "NO"), ("PNP", "NC"), ("NPN", "NO"), ("NPN", "NC")])
def test_three_wire_sensors(switches: str, output: str) -> None:
    source = device("g1", "supply_dc")
    sensor = device("b1", "sensor_three_wire", switches=switches, output=output)
    relay = device("k1", "control_relay", coil_kind="DC", coil_voltage_v=24.0)
    load = ("b1:Q", "g1:L-") if switches == "PNP" else ("g1:L+", "b1:Q")
    wires = [wire("a", "g1:L+", "b1:L+"), wire("b", "g1:L-", "b1:L-")]
    wires += [wire("c", load[0], "k1:A1"), wire("d", "k1:A2", load[1])]
    bench = Bench(circuit([source, sensor, relay], wires))
    bench.wait(0.5)
    assert bench.says("k1") == ("out" if output == "NO" else "in")
    bench.do("b1", "actuate")
    assert bench.says("k1") == ("in" if output == "NO" else "out")


def test_a_dc_sensor_on_alternating_voltage_stays_dead() -> None:
    wires = [wire("a", "g1:L", "b1:L+"), wire("b", "g1:N", "b1:L-")]
    bench = Bench(circuit([device("g1", "supply_single_phase"), device("b1", "sensor_three_wire")], wires))
    bench.do("b1", "actuate")
    assert bench.says("b1") == "dead"


def test_a_two_wire_sensor_leaks_and_drops() -> None:
    """1.7 mA when off, some 6 V when on, whatever the load takes."""
    for power_w in (5.0, 40.0):
        lamp = device("h1", "lamp", rated_power_w=power_w)
        wires = [wire("a", "g1:L", "b1:1"), wire("b", "b1:2", "h1:X1"), wire("c", "h1:X2", "g1:N")]
        bench = Bench(circuit([device("g1", "supply_single_phase"), device("b1", "sensor_two_wire"), lamp], wires))
        assert bench.frame.signals["b1"]["switch"].rms_a == pytest.approx(1.7e-3, rel=0.1)
        bench.do("b1", "actuate")
        assert bench.frame.signals["b1"]["switch"].rms_v == pytest.approx(6.0, rel=0.06)
        assert bench.says("h1") == "lit"


def metered(secondary: str = "meter", turns: float = 1.0, load_w: float = 500.0, **ct: float) -> Bench:
    """A 10/5 A transformer in the line of a load, an ammeter of 10 A on it."""
    parts = [
        device("g1", "supply_single_phase", source_resistance_ohm=0.001),
        device("t5", "current_transformer", primary_a=10.0, secondary_a=5.0, turns=turns, **ct),
        device("r1", "horn", rated_voltage_v=115.0, rated_power_w=load_w),
        device("p1", "ammeter", scale_a=10.0, rated_a=5.0),
    ]
    wires = [wire("a", "g1:L", "t5:P1"), wire("b", "t5:P2", "r1:X1"), wire("c", "r1:X2", "g1:N")]
    wires += [wire("e", "t5:S2", "g1:PE"), wire("f", "t5:S2", "p1:S2")]
    ends = ("t5:S1", "p1:S1") if secondary == "meter" else ("t5:S2", "p1:S1")
    bench = Bench(circuit(parts, [*wires, wire("d", *ends)]))
    bench.wait(0.1)
    return bench


def test_a_current_transformer_has_its_ratio_turns_and_direction() -> None:
    bench = metered()
    primary = bench.frame.signals["t5"]["primary"].current_a
    secondary = bench.frame.signals["t5"]["secondary"].current_a
    assert abs(primary) / abs(secondary) == pytest.approx(2.0, rel=0.02)
    # Into P1, out of S1: within the winding the currents run opposite ways.
    assert (secondary / primary).real < 0
    assert abs((secondary / primary).imag / (secondary / primary).real) < 0.02
    assert figure(bench, "p1", "Shows") == pytest.approx(abs(primary), rel=0.02)
    assert figure(metered(turns=2.0), "p1", "Shows") == pytest.approx(2 * abs(primary), rel=0.02)


def test_an_open_secondary_is_held_by_saturation_and_called_dangerous() -> None:
    bench = metered("open", load_w=500.0, saturation_v=30.0)
    assert bench.says("t5") == "danger: secondary open"
    held = bench.frame.signals["t5"]["secondary"].rms_v
    assert 30 / 1.3 < held < 30 * 1.3
    assert figure(bench, "t5", "Peak of the secondary voltage, at least") > 200
    assert bench.frame.views["t5"].attention
    assert bench.says("p1") == "0.0 A"


def test_too_large_a_burden_saturates_it() -> None:
    sound, burdened = metered(), with_params(metered().assembly.circuit, {"p1": {"resistance_ohm": 10.0}})
    bench = Bench(burdened)
    bench.wait(0.1)
    assert figure(bench, "p1", "Shows") < 0.95 * figure(sound, "p1", "Shows")


def test_the_mechanical_interlock_holds_a_hand_too_and_names_who_is_missing() -> None:
    bench = Bench(library_circuit("reversing-mechanical-interlock"))
    bench.do("open", "press")
    bench.do("k-close", "push")
    assert bench.says("k-close") == "out"
    bench.do("open", "press", False)
    bench.do("stop", "press")
    assert bench.says("k-open") == "out"
    assert bench.says("k-close") == "in"  # the hand is still there
    alone = circuit([device("k9", "mechanical_interlock")], [])
    with pytest.raises(InvalidCircuit, match="there is no K1 with an armature"):
        Assembly(alone)
    with pytest.raises(InvalidCircuit, match="two contactors, not one"):
        Assembly(circuit([device("k1", "contactor"), device("k9", "mechanical_interlock", second="K1")], []))


def test_taps_of_a_control_transformer() -> None:
    """On the tap above the secondary is 5 % lower, on the one below 5 % higher."""

    def secondary_v(tap: str) -> float:
        parts = [device("g1", "supply_three_phase"), device("t1", "control_transformer", taps="95_105")]
        wires = [wire("a", "g1:L1", "t1:1.1"), wire("b", "g1:L2", f"t1:{tap}")]
        bench = Bench(circuit(parts, wires))
        bench.wait(0.2)
        return volts(bench, "t1:2.1", "t1:2.2")

    middle = secondary_v("1.3")
    assert secondary_v("1.2") / middle == pytest.approx(1 / 0.95, rel=0.005)
    assert secondary_v("1.4") / middle == pytest.approx(1 / 1.05, rel=0.005)
    plain = [device("g1", "supply_three_phase"), device("t1", "control_transformer")]
    whole = Bench(circuit(plain, [wire("a", "g1:L1", "t1:1.1"), wire("b", "g1:L2", "t1:1.2")]))
    whole.wait(0.2)
    assert middle == pytest.approx(volts(whole, "t1:2.1", "t1:2.2"), rel=0.005)


def test_up_and_down_are_a_quarter_turn_apart() -> None:
    bench = Bench(library_circuit("up-down-common-first"))
    bench.do("switch", "up")
    up = figure(bench, "motor", "Angle between the currents")
    bench.do("switch", "off")
    bench.do("switch", "down")
    down = figure(bench, "motor", "Angle between the currents")
    assert 60 < up < 120
    assert down == pytest.approx(-up, rel=1e-6)


def controller(program: str, **params: float | str) -> Bench:
    """A controller on 24 V with a switch at each of its first two inputs."""
    parts = [device("g1", "supply_dc"), device("k1", "plc", program=program, **params)]
    parts += [device(f"s{n}", "selector_two") for n in (1, 2)]
    wires = [wire("a", "g1:L+", "k1:L"), wire("b", "g1:L-", "k1:N"), wire("c", "k1:N", "k1:COM")]
    wires += [wire("d", "g1:L+", "s1:13"), wire("e", "s1:13", "s2:13")]
    wires += [wire(f"i{n}", f"s{n}:14", f"k1:I{n}") for n in (1, 2)]
    bench = Bench(circuit(parts, wires))
    bench.wait(0.5)
    return bench


def outputs(bench: Bench) -> set[str]:
    return {
        ref.branch
        for ref, value in zip(bench.assembly.branches, bench.frame.values, strict=True)
        if ref.place == "k1" and ref.branch.startswith("Q") and value is not None
    }


def test_a_program_with_brackets_and_priorities() -> None:
    bench = controller("Q1 = I1 or I2 and not Q3\nQ2 = (I1 or I2) and not I1\nQ3 = not (I1 and I2)")
    assert outputs(bench) == {"Q3"}
    bench.do("s1", "turn")
    assert outputs(bench) == {"Q1", "Q3"}
    bench.do("s2", "turn")
    assert outputs(bench) == {"Q1"}
    bench.do("s1", "turn", False)
    assert outputs(bench) == {"Q2", "Q3"}


def test_outputs_follow_at_the_end_of_a_scan() -> None:
    """Scans come every 50 ms; the input changes at once, the output at the next scan."""
    bench = controller("Q1 = I1", scan_ms=50.0)
    bench.wait(0.51)
    start = bench.state.time_us
    bench.do("s1", "turn", wait_s=0.2)
    closed = next(f for f in bench.trajectory.frames if f.values[bench.assembly.branch_index("k1", "Q1")] is not None)
    assert closed.state.time_us % 50_000 == 0
    assert 0 < closed.state.time_us - start <= 60_000


def test_its_timers() -> None:
    bench = controller("T1 = on-delay 1 s when I1\nQ1 = T1\nT2 = off-delay 500 ms when I2\nQ2 = T2", scan_ms=10.0)
    bench.do("s1", "turn", wait_s=0.9)
    assert outputs(bench) == set()
    bench.wait(0.2)
    assert outputs(bench) == {"Q1"}
    bench.do("s1", "turn", False, wait_s=0.1)
    assert outputs(bench) == set()
    bench.do("s2", "turn", wait_s=0.1)
    assert outputs(bench) == {"Q2"}
    bench.do("s2", "turn", False, wait_s=0.4)
    assert outputs(bench) == {"Q2"}
    bench.wait(0.2)
    assert outputs(bench) == set()


def test_a_program_that_turns_its_own_input_over_flashes_with_the_scan() -> None:
    bench = controller("M1 = not M1\nQ1 = M1", scan_ms=100.0)
    seen = [f.values[bench.assembly.branch_index("k1", "Q1")] is not None for f in bench.trajectory.frames]
    assert True in seen
    assert False in seen


@pytest.mark.parametrize(
    ("program", "told"),
    [
        ("Q1 = I9", r"line 1 of the program: there is no contact I9"),
        ("Q1 = I1\nQ9 = I1", r"line 2 of the program: there is no coil Q9"),
        ("I1 = Q1", "no coil I1"),
        ("Q1 = (I1 or I2", "a bracket is not closed"),
        ("Q1 = I1 and", "a contact is missing at the end"),
        ("Q1 = I1 I2", "'I2' is not expected here"),
        ("Q1", "not of the form"),
        ("T1 = I1", "T1 is a timer and needs a delay"),
        ("Q1 = on-delay 3 s when I1", "Q1 is no timer"),
        ("T1 = on-delay 1.2.3 s when I1", "'1.2.3' is not a time"),
        ("\n".join(["Q1 = I1"] * 101), "has 101 rungs"),
        ("Q1 = " + "not " * 60 + "I1", "nested too deeply"),
    ],
)
def test_a_program_that_cannot_be_read_is_told_with_its_line(program: str, told: str) -> None:
    with pytest.raises(ProgramError, match=told):
        rungs(program)
    wrong: Circuit = circuit([device("k1", "plc", program=program)], [])
    with pytest.raises(InvalidCircuit, match=f"K1: .*{told}"):
        Assembly(wrong)


def test_a_normally_closed_field_contact_makes_its_input_on() -> None:
    """The mistake of every beginner: a normally closed instruction for a healthy stop button."""
    right = Bench(library_circuit("star-delta-plc"))
    right.do("start", "press")
    assert right.says("k-line") == "in"
    beginner = with_params(library_circuit("star-delta-plc"), {"plc": {"program": "Q1 = (I1 or Q1) and not I2"}})
    wrong = Bench(beginner)
    wrong.do("start", "press")
    assert wrong.says("k-line") == "out"


def test_every_default_of_the_catalogue_is_consistent() -> None:
    for kind in KINDS.values():
        assert list(kind.contradictions(kind.defaults())) == [], kind.name


def test_an_overloaded_dc_supply_rests_and_tries_again_every_second() -> None:
    parts = [device("g1", "supply_single_phase"), device("t2", "power_supply_dc")]
    parts += [device("r1", "lamp", rated_voltage_v=24.0, rated_power_w=200.0)]
    wires = [
        wire("a", "g1:L", "t2:L"),
        wire("b", "g1:N", "t2:N"),
        wire("c", "t2:+", "r1:X1"),
        wire("d", "r1:X2", "t2:-"),
    ]
    bench = Bench(circuit(parts, wires))
    bench.wait(10.0)
    tries = [f for f in bench.trajectory.frames if f.views["t2"].says == "on" and f.signals["t2"]["output"].rms_a > 1]
    assert 8 <= len(tries) <= 12
    # 200 W would take 8.3 A: it gives 150 % of its 2.5 A and no more.
    assert math.isclose(tries[0].signals["t2"]["output"].rms_a, 3.75, rel_tol=1e-3)
