"""What lessens the voltage of a starting motor, what lies across coils, and what makes direct voltage, by hand sums."""

import math

import pytest

from tests.core.circuits import Bench, circuit, device, wire
from wiretrace.document.circuit import Circuit, Device
from wiretrace.library import library_circuit


def made(parts: list[Device], *ways: tuple[str, str]) -> Circuit:
    return circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)])


def amperes(bench: Bench, conductor: str) -> float:
    return abs(bench.assembly.conductor_a(bench.frame.point.ac, conductor))


def start_of(name: str, motor_side: str) -> tuple[float, float]:
    """Amperes at the motor and in the line a moment after the motor is switched on."""
    bench = Bench(library_circuit(name))
    bench.do("start", "press", wait_s=0.08)
    wires = bench.assembly.circuit.conductors
    line = next(w.id for w in wires if {w.a.device, w.b.device} == {"supply", "isolator"} and w.a.terminal == "L1")
    motor = next(w.id for w in wires if f"{w.a.device}:{w.a.terminal}" == motor_side)
    return amperes(bench, motor), amperes(bench, line)


def test_an_autotransformer_takes_the_square_of_its_tap_from_the_line() -> None:
    """Direct: 7 x 15.5 = 108 A. At 65 %: 70 A at the motor, 0.65 x 70 = 46 A in the line, and 2.9 A to magnetise."""
    motor, line = start_of("autotransformer-starter", "overload:2")
    assert motor == pytest.approx(0.65 * 108.5, rel=0.12)
    assert 0.65 * motor < line < 0.65 * motor + 2.9


def test_a_closed_transition_never_leaves_the_motor_without_voltage() -> None:
    bench = Bench(library_circuit("star-delta-closed-transition"))
    bench.do("start", "press", wait_s=3.0)
    bench.do("start", "press", False, wait_s=3.0)
    least = min(
        min(f.signals["motor"][name].rms_v for name in ("U1-U2", "V1-V2", "W1-W2")) for f in bench.trajectory.frames
    )
    assert bench.says("delta") == "in"
    assert least > 100
    gap = Bench(library_circuit("star-delta-timer-first-closure"))
    gap.do("start", "press", wait_s=3.0)
    gap.do("start", "press", False, wait_s=6.0)
    assert min(f.signals["motor"]["U1-U2"].rms_v for f in gap.trajectory.frames) < 1


def test_a_soft_starter_keeps_to_its_limit_and_ramps_to_the_whole_voltage() -> None:
    bench = Bench(library_circuit("soft-starter-bypass"))
    bench.do("start", "press", wait_s=6.5)
    most = max(f.signals["soft"]["1-2"].rms_a for f in bench.trajectory.frames)
    first = next(f for f in bench.trajectory.frames if f.signals["soft"]["1-2"].rms_a > 1)
    # Begun with 40 % of the voltage the 108 A of a direct start are 43 A.
    assert first.signals["soft"]["1-2"].rms_a == pytest.approx(0.4 * 108.5, rel=0.1)
    assert most <= 3.5 * 15.5 * 1.06
    assert bench.says("bypass") == "in"
    # Then the bypass carries most of it.
    assert bench.frame.signals["bypass"]["1-2"].rms_a > 2 * bench.frame.signals["soft"]["1-2"].rms_a


def test_an_rc_element_passes_what_its_impedance_lets() -> None:
    """220 nF and 220 ohm at 50 Hz: |220 - j14469| = 14470 ohm, 15.9 mA at 230 V."""
    bench = Bench(
        made([device("g1", "supply_single_phase"), device("r1", "suppressor")], ("g1:L", "r1:1"), ("r1:2", "g1:N"))
    )
    assert bench.frame.signals["r1"]["element"].rms_a == pytest.approx(230 / 14470, rel=1e-3)


def test_a_diode_the_wrong_way_round_is_a_short_circuit() -> None:
    parts = [
        device("g1", "supply_dc"),
        device("f1", "fuses", rated_current_a=2.0),
        device("r1", "suppressor", type="diode"),
    ]
    right = Bench(made(parts, ("g1:L+", "f1:1"), ("f1:2", "r1:1"), ("r1:2", "g1:L-")))
    right.wait(1.0)
    assert right.says("f1") == "sound"
    wrong = Bench(made(parts, ("g1:L+", "f1:1"), ("f1:2", "r1:2"), ("r1:1", "g1:L-")))
    wrong.wait(1.0)
    assert wrong.says("f1") == "blown"


def test_a_small_relay_is_held_by_an_rc_element_and_a_contactor_of_more_power_is_not() -> None:
    for sealed_va, says in ((8.0, "in"), (30.0, "out")):
        parts = [
            device("g1", "supply_single_phase"),
            device("s1", "selector_two"),
            device("r1", "suppressor"),
            device("k1", "contactor", sealed_va=sealed_va, inrush_va=200.0),
        ]
        ways = [("g1:L", "s1:13"), ("g1:L", "r1:1"), ("s1:14", "r1:2"), ("s1:14", "k1:A1"), ("k1:A2", "g1:N")]
        bench = Bench(made(parts, *ways))
        bench.do("s1", "turn", wait_s=0.5)
        assert bench.says("k1") == "in"
        bench.do("s1", "turn", False, wait_s=0.5)
        assert bench.says("k1") == says


def test_an_led_glows_on_what_leaks_and_a_filament_does_not() -> None:
    parts = [device("g1", "supply_single_phase"), device("r1", "suppressor", capacitance_nf=5.0)]
    for kind, says in (("lamp_led", "glows faintly"), ("lamp", "dark")):
        bench = Bench(made([*parts, device("h1", kind)], ("g1:L", "r1:1"), ("r1:2", "h1:X1"), ("h1:X2", "g1:N")))
        assert bench.says("h1") == says


def test_an_led_without_a_bridge_lights_with_plus_at_x1_alone() -> None:
    parts = [device("g1", "supply_dc"), device("h1", "lamp_led", rated_voltage_v=24.0, bridged=False)]
    right, wrong = (("g1:L+", "h1:X1"), ("h1:X2", "g1:L-")), (("g1:L+", "h1:X2"), ("h1:X1", "g1:L-"))
    assert Bench(made(parts, *right)).says("h1") == "lit"
    assert Bench(made(parts, *wrong)).says("h1") == "dark"


@pytest.mark.parametrize("before_ohm", [0.01, 1.0, 100.0, 1000.0])
@pytest.mark.parametrize("behind_ohm", [0.1, 10.0, 1000.0])
def test_a_rectifier_takes_in_what_it_gives_behind_any_source_and_into_any_load(
    before_ohm: float, behind_ohm: float
) -> None:
    """Into a short circuit behind a weak source the ohms at its input were looked for without end."""
    parts = [
        device("g1", "supply_single_phase"),
        device("t1", "rectifier"),
        device("r1", "resistors", resistance_ohm=before_ohm),
        device("r2", "resistors", resistance_ohm=behind_ohm),
    ]
    ways = [("g1:L", "r1:1"), ("r1:2", "t1:~1"), ("t1:~2", "g1:N"), ("t1:+", "r2:1"), ("r2:2", "t1:-")]
    bench = Bench(made(parts, *ways))
    bench.wait(0.1)
    signals, gives_v = bench.frame.signals["t1"], float(bench.state.devices["t1"]["gives_v"] or 0.0)
    volts = abs(signals["input"].voltage_v)
    assert gives_v == pytest.approx(max(0.0, 0.9 * volts - 1.4), rel=2e-3, abs=2e-3)
    taken_w = volts * abs(signals["input"].current_a) - volts**2 / 1e6
    assert taken_w == pytest.approx(gives_v * abs(signals["output"].dc_a), rel=5e-3, abs=1e-3)


def test_a_rectifier_that_loses_its_voltage_is_idle_at_once() -> None:
    """It was found half way between, and one look more put it elsewhere: a run that was cut ended otherwise."""
    parts = [device("g1", "supply_single_phase"), device("q1", "isolator"), device("t1", "rectifier")]
    ways = [("g1:L", "q1:1"), ("q1:2", "t1:~1"), ("t1:~2", "g1:N"), ("t1:+", "h1:X1"), ("h1:X2", "t1:-")]
    bench = Bench(made([*parts, device("h1", "lamp", rated_voltage_v=200.0)], *ways))
    bench.wait(0.1)
    assert bench.says("t1") == "on"
    for _ in range(3):
        bench.do("q1", "switch", False, wait_s=0.01)
        assert bench.state.devices["t1"]["input_ohm"] == 1e6
        assert bench.state.devices["t1"]["gives_v"] == 0.0


def test_a_bridge_rectifier_gives_nine_tenths_and_takes_in_what_it_gives() -> None:
    """0.9 x 230 - 1.4 = 205.6 V; across 200 ohm 1.03 A and 211 W, so 0.92 A at 230 V."""
    parts = [
        device("g1", "supply_single_phase", source_resistance_ohm=1e-3),
        device("t1", "rectifier"),
        device("r1", "lamp", rated_voltage_v=200.0, rated_power_w=200.0),
    ]
    bench = Bench(made(parts, ("g1:L", "t1:~1"), ("g1:N", "t1:~2"), ("t1:+", "r1:X1"), ("r1:X2", "t1:-")))
    assert bench.frame.signals["r1"]["lamp"].dc_v == pytest.approx(205.6 * 200 / 200.1, rel=2e-3)
    assert bench.frame.signals["t1"]["input"].rms_a == pytest.approx(205.6**2 / 200.1 / 230, rel=0.01)


def test_a_capacitor_motor_turns_either_way_and_only_hums_without_its_capacitor() -> None:
    parts = [device("g1", "supply_single_phase"), device("m1", "motor_capacitor"), device("s1", "isolator")]
    feed = [("g1:L", "s1:1"), ("s1:2", "m1:U1"), ("g1:N", "m1:U2")]
    says = {}
    for way, ends in (
        ("one", (("m1:U1", "m1:Z1"), ("m1:U2", "m1:Z2"))),
        ("other", (("m1:U1", "m1:Z2"), ("m1:U2", "m1:Z1"))),
    ):
        bench = Bench(made(parts, *feed, *ends))
        bench.wait(1.0)
        says[way] = bench.says("m1")
    assert {says["one"], says["other"]} == {"turns forward", "turns backward"}
    bench = Bench(made(parts, *feed))
    bench.wait(1.0)
    assert bench.says("m1") == "hums"
    assert bench.frame.signals["m1"]["main"].rms_a == pytest.approx(3.5 * 2.6, rel=0.02)


def test_a_zero_speed_switch_opens_just_before_standstill() -> None:
    bench = Bench(library_circuit("plugging-zero-speed"))
    bench.do("start", "press", wait_s=3.0)
    bench.do("start", "press", False)
    bench.do("stop", "press", wait_s=0.1)
    bench.do("stop", "press", False, wait_s=3.0)
    drop = next(f for f in bench.trajectory.frames if f.views["brake"].says == "out")
    assert 0 < float(drop.state.devices["motor"]["speed"]) < 0.06
    assert not any(f.views["motor"].says == "turns backward" for f in bench.trajectory.frames)


def test_one_to_four_changeovers() -> None:
    for count in (1, 2, 3, 4):
        bench = Bench(made([device("k1", "control_relay", changeovers=count)]))
        assert len(bench.assembly.graph.branches_of["k1"]) == 1 + 2 * count
        assert math.isclose(sum(value is not None for value in bench.frame.values), 1 + count)


@pytest.mark.parametrize(("suppressor", "milliseconds"), [("none", 12.0), ("varistor", 16.8), ("diode", 60.0)])
def test_a_suppressor_lets_a_coil_go_later(suppressor: str, milliseconds: float) -> None:
    coil = device("k1", "contactor", coil_kind="DC", coil_voltage_v=24.0, suppressed_by=suppressor)
    bench = Bench(made([device("g1", "supply_dc"), coil], ("g1:L+", "k1:A1"), ("k1:A2", "g1:L-")))
    bench.wait(0.5)
    bench.do("g1", "switch", False, wait_s=0.5)
    out = next(f.state.time_us for f in bench.trajectory.frames if f.views["k1"].says == "out")
    assert (out - 500_000) / 1000 == pytest.approx(milliseconds, abs=0.01)


def test_a_diode_across_a_coil_for_alternating_current_is_a_short_circuit() -> None:
    parts = [
        device("g1", "supply_single_phase"),
        device("f1", "breaker"),
        device("k1", "contactor", suppressed_by="diode"),
    ]
    bench = Bench(made(parts, ("g1:L", "f1:1"), ("f1:2", "k1:A1"), ("k1:A2", "g1:N")))
    bench.wait(0.5)
    assert bench.says("f1") == "tripped"


def test_a_brake_holds_until_its_coil_is_fed_and_stops_the_motor_within_its_time() -> None:
    """10 Nm rated, twice that and friction: 0.02 kgm2 from 150 rad/s in 0.15 s, after 60 ms of the springs."""
    brake = {"brake": True, "load": "none"}
    parts = [device("g1", "supply_three_phase"), device("m1", "motor_three_phase", **brake), device("s1", "isolator")]
    ways = [(f"g1:L{n}", f"s1:{2 * n - 1}") for n in (1, 2, 3)]
    ways += [(f"s1:{2 * n}", f"m1:{lead}1") for n, lead in ((1, "U"), (2, "V"), (3, "W"))]
    held = Bench(made(parts, *ways))
    held.wait(1.0)
    # Its locked-rotor torque is more than the brake's: it turns against it, and burns both in time.
    assert held.says("m1") == "turns forward, brake on"
    held.wait(600.0)
    assert held.says("m1") == "turns forward, too hot, brake on"
    freed = [device("t1", "rectifier")]
    feed = [("s1:2", "t1:~1"), ("g1:N", "t1:~2"), ("t1:+", "m1:BR1"), ("t1:-", "m1:BR2")]
    bench = Bench(made([*parts, *freed], *ways, *feed))
    bench.wait(2.0)
    assert bench.says("m1") == "turns forward"
    bench.do("s1", "switch", False, wait_s=0.18)
    assert bench.says("m1") == "coasts forward, brake on"
    bench.wait(0.06)
    assert bench.says("m1") == "still, brake on"


def test_a_two_speed_motor_brakes_into_the_line_when_it_is_changed_down() -> None:
    """1425 of 1500 rpm and 700 of 750; at 1440 rpm on the low winding it turns at nearly twice that field's speed."""
    bench = Bench(library_circuit("two-speed-fan"))

    def rpm() -> float:
        return {figure.title: figure.value for figure in bench.frame.views["motor"].figures}["Speed"]

    bench.do("slow", "press", wait_s=3.0)
    bench.do("slow", "press", False)
    assert 700 < rpm() < 750
    bench.do("fast", "press", wait_s=3.0)
    bench.do("fast", "press", False)
    assert 1425 < rpm() < 1500
    bench.do("slow", "press", wait_s=0.08)
    assert 760 < rpm() < 1440
    assert bench.says("motor") == "brakes from forward, low speed"
    bench.wait(3.0)
    assert bench.says("motor") == "turns forward, low speed"
