"""Models of devices against standards and against sums by hand: fuses, breakers, coils, transformers, frequency."""

import math

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.catalogue.protection.fuses import (
    GATES,
    GENERAL,
    MOTOR,
    SLOW,
    clears_in_s,
    lets_through_a2s,
    melting_curve,
    melts_in_s,
)
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Device, Stray
from wiretrace.instruments.ohmmeter import read_resistance

UP_TO_100 = [rating for rating in GATES if rating <= 100]


def never(seconds: float | None) -> float:
    return math.inf if seconds is None else seconds


@pytest.mark.parametrize("rating", UP_TO_100)
def test_every_general_fuse_passes_between_the_gates(rating: float) -> None:
    """IEC 60269-1, tables 2 and 3: conventional currents for an hour, and the gates at 10 s, 5 s and 0.1 s."""
    curve = melting_curve(GENERAL, rating)
    not_10, in_5, not_01, in_01, least, most = GATES[rating]
    holds, melts = (1.25, 1.6) if rating >= 16 else (1.5, 1.9 if rating > 4 else 2.1)
    assert melts_in_s(curve, holds * rating) is None
    assert never(melts_in_s(curve, melts * rating)) < 3600
    assert never(melts_in_s(curve, not_10)) > 10
    assert never(melts_in_s(curve, in_5)) < 5
    assert never(melts_in_s(curve, not_01)) > 0.1
    assert never(melts_in_s(curve, in_01)) < 0.1
    amperes = curve[-1][0]
    assert least < amperes**2 * 0.01 < most


def test_a_16_a_fuse_opens_at_65_a_within_5_s() -> None:
    assert never(clears_in_s(melting_curve(GENERAL, 16), 65.0)) < 5


def test_a_link_for_motors_holds_the_start_and_melts_by_the_short_circuit() -> None:
    """IEC 60269-2, class aM: 4 times for 60 s, 6.3 times melts in 60 s; 8 times for 0.5 s, 12.5 times melts in that."""
    curve = melting_curve(MOTOR, 10.0)
    assert melts_in_s(curve, 40.0) is None
    assert never(melts_in_s(curve, 63.0)) < 60
    assert never(melts_in_s(curve, 80.0)) > 0.5
    assert never(melts_in_s(curve, 125.0)) < 0.5
    assert never(melts_in_s(curve, 190.0)) < 0.1
    assert never(melts_in_s(melting_curve(SLOW, 10.0), 50.0)) > 10


def test_a_large_short_circuit_lets_energy_through_that_no_longer_grows() -> None:
    """16 A: 593 A2s melt it, as much again in the arc; 6 kA are off after 2 (3 x 593 / 2 (6000 w)^2)^(1/3) = 1.3 ms."""
    curve = melting_curve(GENERAL, 16)
    assert never(clears_in_s(curve, 6000.0)) == pytest.approx(1.26e-3, rel=0.01)
    assert lets_through_a2s(curve, 6000.0) == pytest.approx(2 * 593.4, rel=0.01)
    assert lets_through_a2s(curve, 3000.0) == pytest.approx(lets_through_a2s(curve, 6000.0), rel=0.01)


def resistance(name: str, watts: float) -> Device:
    """A load that takes so many watts at 230 V."""
    rated_w = min(500.0, watts)
    return device(name, "horn", rated_voltage_v=230.0 * math.sqrt(rated_w / watts), rated_power_w=rated_w)


def fused(*loads_w: float) -> Bench:
    """A fuse of 2 A before lamps of 230 V that switches turn on."""
    parts = [
        device("g1", "supply_single_phase", source_resistance_ohm=1e-3),
        device("f1", "fuses", rated_current_a=2.0),
    ]
    wires = [wire("w0", "g1:L", "f1:1")]
    for n, watts in enumerate(loads_w):
        parts += [device(f"s{n}", "selector_two"), resistance(f"h{n}", watts)]
        wires += [
            wire(f"a{n}", "f1:2", f"s{n}:13"),
            wire(f"b{n}", f"s{n}:14", f"h{n}:X1"),
            wire(f"c{n}", f"h{n}:X2", "g1:N"),
        ]
    return Bench(circuit(parts, wires))


def test_a_short_surge_and_a_small_overload_after_it_add_up_and_no_more() -> None:
    """2 A: 4.45 A melt it in 117 s. A surge of 10.9 A (0.17 s) for a third of that leaves two thirds of the time."""
    curve = melting_curve(GENERAL, 2.0)
    small, large = 4.45, 4.45 + 6.45
    surge_s = never(melts_in_s(curve, large)) / 3
    bench = fused(230 * 4.45, 230 * 6.45)
    bench.do("s1", "turn", wait_s=0.002)
    bench.do("s0", "turn", wait_s=surge_s)
    bench.do("s1", "turn", False, wait_s=never(melts_in_s(curve, small)) * 0.60)
    assert bench.says("f1") == "sound"
    bench.wait(never(melts_in_s(curve, small)) * 0.12)
    assert bench.says("f1") == "blown"


@pytest.mark.parametrize(("curve", "holds", "opens"), [("B", 3, 5), ("C", 5, 10), ("D", 10, 20)])
def test_a_breaker_keeps_to_the_table(curve: str, holds: float, opens: float) -> None:
    """IEC 60898-1, table 7: 1.13 times for an hour, 1.45 within one, 2.55 from 1 to 60 s; the band of the curve."""

    def opens_after(times: float) -> float:
        parts = [
            device("g1", "supply_single_phase", source_resistance_ohm=1e-6),
            device("f1", "breaker", rated_current_a=2.0, curve=curve, pole_resistance_ohm=1e-5),
            resistance("h1", 2 * times * 230),
        ]
        ways = [("g1:L", "f1:1"), ("f1:2", "h1:X1"), ("h1:X2", "g1:N")]
        bench = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))
        bench.wait(3600.0)
        return next(
            (f.state.time_us / 1e6 for f in bench.trajectory.frames if f.views["f1"].says == "tripped"), math.inf
        )

    assert opens_after(1.13) == math.inf
    assert opens_after(1.45) < 3600
    assert 1 < opens_after(2.55) < 60
    assert opens_after(holds) > 0.1
    assert opens_after(opens) < 0.1


def coil_on(supply: str, volts: float, **params: float | str) -> Bench:
    names = ("L+", "L-") if supply == "supply_dc" else ("L", "N")
    parts = [device("g1", supply, voltage_v=volts), device("k1", "contactor", **params)]
    return Bench(circuit(parts, [wire("a", f"g1:{names[0]}", "k1:A1"), wire("b", "k1:A2", f"g1:{names[1]}")]))


def test_a_coil_on_direct_current_of_its_own_rating_burns() -> None:
    """230 V over 529 ohm of wire: 0.43 A, 156 times the heat; 900 s ln(156 / 151.8) = 26 s."""
    bench = coil_on("supply_dc", 230.0)
    bench.wait(1.0)
    assert bench.says("k1") == "in"
    assert bench.frame.signals["k1"]["coil"].dc_a == pytest.approx(230 / 529, rel=0.01)
    bench.wait(30.0)
    assert bench.says("k1") == "coil burnt"
    bench.do("k1", "replace")
    assert bench.says("k1") == "in"


def test_a_coil_on_too_much_burns_and_on_too_little_never_pulls_in() -> None:
    high = coil_on("supply_single_phase", 400.0)
    high.wait(600.0)
    assert high.says("k1") == "coil burnt"
    low = coil_on("supply_single_phase", 110.0)
    low.wait(300.0)
    assert low.says("k1") == "out"
    # Held open at 0.125 A it takes 12.9 times its heat: 900 s ln(12.9 / 8.4) = 386 s.
    low.wait(100.0)
    assert low.says("k1") == "coil burnt"
    right = coil_on("supply_single_phase", 230.0 * 1.1)
    right.wait(3600.0)
    assert right.says("k1") == "in"


def test_an_ohmmeter_finds_the_wire_of_a_coil_wherever_its_armature_is() -> None:
    bench = coil_on("supply_single_phase", 230.0)
    bench.do("g1", "switch", False)
    out = read_resistance(bench.assembly, bench.frame, end("k1:A1"), end("k1:A2")).resistance_ohm
    bench.do("k1", "push")
    pushed = read_resistance(bench.assembly, bench.frame, end("k1:A1"), end("k1:A2")).resistance_ohm
    assert out == pytest.approx(529.0, rel=1e-6)
    assert pushed == pytest.approx(529.0, rel=1e-6)


@pytest.mark.parametrize(("kind", "lets_go_at"), [("AC", 45.0), ("DC", 15.0)])
def test_a_coil_for_direct_current_holds_longer(kind: str, lets_go_at: float) -> None:
    supply = "supply_dc" if kind == "DC" else "supply_single_phase"
    rated = 48.0
    for percent, says in ((lets_go_at + 2, "in"), (lets_go_at - 2, "out")):
        bench = coil_on(supply, rated, coil_voltage_v=rated, coil_kind=kind)
        bench.wait(0.5)
        weaker = coil_on(supply, rated * percent / 100, coil_voltage_v=rated, coil_kind=kind)
        bench.assembly = weaker.assembly
        bench.wait(0.5)
        assert bench.says("k1") == says


def test_a_coil_in_resonance_with_a_long_cable_saturates() -> None:
    """Alone, the 6612 ohm of a sealed coil behind 0.48 uF would stand at three times the voltage."""
    parts = [device("g1", "supply_single_phase"), device("k1", "contactor"), device("s1", "selector_two")]
    wires = [wire("a", "g1:L", "s1:13"), wire("b", "s1:14", "k1:A1"), wire("c", "k1:A2", "g1:N")]
    cable = Stray(id="c1", a=end("s1:13"), b=end("s1:14"), capacitance_nf=480.0)
    bench = Bench(circuit(parts, wires, [cable]))
    bench.do("s1", "turn", wait_s=1.0)
    assert bench.says("k1") == "in"
    bench.do("s1", "turn", False, wait_s=0.5)
    volts = bench.frame.signals["k1"]["coil"].rms_v
    assert volts < 2.0 * 230


def test_a_motor_on_another_frequency_turns_with_that() -> None:
    """1430 rpm at 50 Hz is 70 below 1500; on 60 Hz and half the load it turns a little below 1800."""
    parts = [
        device("g1", "supply_three_phase", frequency_hz=60.0, line_voltage_v=480.0),
        device("m1", "motor_three_phase", load="constant", load_percent=100.0),
    ]
    bench = Bench(circuit(parts, [wire(f"w{n}", f"g1:L{n}", f"m1:{u}1") for n, u in ((1, "U"), (2, "V"), (3, "W"))]))
    bench.wait(5.0)
    speed = {figure.title: figure.value for figure in bench.frame.views["m1"].figures}["Speed"]
    # The same torque at the same flux takes the same slip in turns a minute.
    assert speed == pytest.approx(1800 - 70, abs=6)


def transformed(amperes: float) -> Circuit:
    """A current transformer of 50 to 5 A with nothing on its secondary."""
    parts = [device("g1", "supply_single_phase"), device("t1", "current_transformer"), resistance("h1", 230 * amperes)]
    ways = [("g1:L", "t1:P1"), ("t1:P2", "h1:X1"), ("h1:X2", "g1:N")]
    return circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)])


@pytest.mark.parametrize(
    ("amperes", "says"), [(0.1, "secondary open"), (1.0, "secondary open"), (20.0, "danger: secondary open")]
)
def test_an_open_secondary_is_said_at_any_current(amperes: float, says: str) -> None:
    assert Bench(transformed(amperes)).says("t1") == says


def test_a_heater_is_chosen_for_its_dial() -> None:
    """2 W at the dial, whatever that is."""
    for kind in ("overload_relay", "motor_starter"):
        values = KINDS[kind].values(
            {**KINDS[kind].defaults(), "dial_a": 0.5}, KINDS[kind].initial(KINDS[kind].defaults())
        )
        assert values["1-2"].resistance_ohm == pytest.approx(8.0)


def test_a_manual_motor_starter_feels_a_lost_phase() -> None:
    """1.1 times the dial in two poles: never with three phases sound, within two hours with one lost (table 4)."""
    for feels, says in ((True, "tripped"), (False, "on")):
        parts = [device("g1", "supply_three_phase"), device("q1", "motor_starter", dial_a=1.0, feels_phase_loss=feels)]
        wires = []
        for n in (1, 2):
            parts.append(resistance(f"h{n}", 230 * 1.1))
            wires += [
                wire(f"a{n}", f"g1:L{n}", f"q1:{2 * n - 1}"),
                wire(f"b{n}", f"q1:{2 * n}", f"h{n}:X1"),
                wire(f"c{n}", f"h{n}:X2", "g1:N"),
            ]
        bench = Bench(circuit(parts, wires))
        bench.wait(7200.0)
        assert bench.says("q1") == says
