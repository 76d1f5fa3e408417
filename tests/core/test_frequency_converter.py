"""A frequency converter: what it gives at any speed, what makes it trip, and the mistakes that are made around it."""

import math
from pathlib import Path

import pytest

from scripts.ngspice import judged
from tests.core.circuits import Bench, circuit, device, end, wire
from tests.core.test_checks import found, rewired, with_more
from wiretrace.document.circuit import Circuit, Conductor, Device
from wiretrace.faults.possible import possible_faults
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.testers import read_phase_sequence
from wiretrace.instruments.voltmeter import read_between, read_voltage
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.fault_readings import readings_under, terminal_nodes
from wiretrace.simulation.state import Action

OUTPUT = (("t1:U", "m1:U1"), ("t1:V", "m1:V1"), ("t1:W", "m1:W1"))
BEHIND = (*(("t1:" + name, f"k1:{n}") for name, n in zip("UVW", "135", strict=True)),)
TO_MOTOR = tuple((f"k1:{n}", f"m1:{name}") for n, name in zip("246", ("U1", "V1", "W1"), strict=True))
SWITCHED = (("g1:L1", "s3:13"), ("s3:14", "k1:A1"), ("k1:A2", "g1:N"))
CONTACTOR = (device("k1", "contactor"), device("s3", "selector_two"))


def made(
    *ways: tuple[str, str],
    more: tuple[Device, ...] = (),
    output: tuple[tuple[str, str], ...] = OUTPUT,
    motor: dict[str, float | str] | None = None,
    **params: float | str | bool,
) -> Circuit:
    """A converter between a breaker and a motor, with a selector for each way."""
    parts = [
        *(device("g1", "supply_three_phase"), device("q1", "breaker", poles=3)),
        device("t1", "frequency_converter", **params),
        *(device("s1", "selector_two"), device("s2", "selector_two")),
        device("m1", "motor_three_phase", **(motor or {})),
        *more,
    ]
    one = params.get("lines") == "one"
    fed = [("q1:2", "t1:L1"), ("g1:N", "t1:L2")] if one else [(f"q1:{2 * n}", f"t1:L{n}") for n in (1, 2, 3)]
    fixed = [
        *((f"g1:L{n}", f"q1:{2 * n - 1}") for n in (1, 2, 3)),
        *(("g1:PE", "t1:PE"), ("g1:PE", "m1:PE")),
        *(("t1:24V", "s1:13"), ("s1:14", "t1:RF"), ("t1:24V", "s2:13"), ("s2:14", "t1:RR")),
    ]
    return circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate([*fed, *fixed, *output, *ways])])


def running(circuit: Circuit, seconds: float = 5.0) -> Bench:
    bench = Bench(circuit)
    bench.wait(0.5)
    bench.do("s1", "turn", wait_s=seconds)
    return bench


def figure(bench: Bench, device: str, title: str) -> float:
    return next(one.value for one in bench.frame.views[device].figures if one.title.startswith(title))


def volts(bench: Bench, red: str, black: str) -> float:
    return read_voltage(bench.assembly, bench.frame.point, end(red), end(black)).voltage_v


@pytest.mark.parametrize("hertz", [5.0, 10.0, 20.0, 35.0, 50.0])
def test_speed_goes_with_the_frequency_and_the_voltage_with_both(hertz: float, tmp_path: Path) -> None:
    bench = running(made(first_hz=hertz))
    assert bench.says("t1") == "runs forward"
    sync_rpm = 60 * hertz / 2
    # A fan asks less of it the slower it turns: its slip in rpm is never more than at the rated point, 70.
    assert sync_rpm - 70 < figure(bench, "m1", "Speed") < sync_rpm
    assert volts(bench, "t1:U", "t1:V") == pytest.approx(400 * (0.05 + 0.95 * hertz / 50), rel=0.02)
    assert read_voltage(bench.assembly, bench.frame.point, end("t1:U"), end("t1:V")).frequency_hz == hertz
    assert list(judged([(bench.assembly, bench.frame)], tmp_path)) == []


def test_at_its_rated_frequency_the_motor_has_what_its_plate_says() -> None:
    bench = running(made())
    assert figure(bench, "m1", "Speed") == pytest.approx(1430, abs=10)
    clamp = read_current(bench.assembly, bench.frame.point, ["w12"])
    assert clamp.current_a == pytest.approx(3.2, abs=0.2)
    # What it gives it takes: shaft, losses of the motor, its own; at power factor 1 in these three lines.
    shaft_w = figure(bench, "m1", "Torque") * figure(bench, "m1", "Speed") * math.pi / 30
    line_a = read_current(bench.assembly, bench.frame.point, ["w0"]).current_a
    assert 1.2 < math.sqrt(3) * 400 * line_a / shaft_w < 1.45


def test_backward_both_commands_and_the_way_round() -> None:
    bench = running(made())
    leads = [end(f"m1:{name}") for name in ("U1", "V1", "W1")]
    assert read_phase_sequence(bench.assembly, bench.frame.point, *leads).shows == "clockwise"
    bench.do("s2", "turn", wait_s=4)
    assert bench.says("t1") == "ready"
    bench.do("s1", "turn", value=False, wait_s=4)
    assert (bench.says("t1"), bench.says("m1")) == ("runs backward", "turns backward")
    assert read_phase_sequence(bench.assembly, bench.frame.point, *leads).shows == "counter-clockwise"
    # From one way to the other it goes down, through standstill, and up.
    bench.do("s1", "turn", wait_s=0)
    bench.do("s2", "turn", value=False, wait_s=1)
    assert (bench.says("t1"), bench.says("m1")) == ("ramps backward", "turns backward")
    bench.wait(6)
    assert (bench.says("t1"), bench.says("m1")) == ("runs forward", "turns forward")


def test_ramp_and_coasting_at_the_stop() -> None:
    ramp, free = running(made(down_s=3.0)), running(made(stops="coasting"))
    for bench in (ramp, free):
        bench.do("s1", "turn", value=False, wait_s=1.5)
    assert ramp.says("t1") == "ramps forward"
    assert figure(ramp, "t1", "Output frequency") == pytest.approx(25, abs=3.2)
    assert (free.says("t1"), free.says("m1")) == ("ready", "coasts forward")


def test_a_motor_thrown_on_to_a_converter_that_runs_trips_it_and_off_it_does_not() -> None:
    bench = Bench(made(*TO_MOTOR, *SWITCHED, more=CONTACTOR, output=BEHIND))
    bench.do("s3", "turn", wait_s=0.5)
    bench.do("s1", "turn", wait_s=5)
    assert bench.says("m1") == "turns forward"
    bench.do("s3", "turn", value=False, wait_s=2)
    assert (bench.says("t1"), bench.says("m1")) == ("runs forward", "coasts forward")
    bench.do("s3", "turn", wait_s=0.3)
    assert bench.says("t1") == "tripped: overcurrent"
    assert bench.frame.values[bench.assembly.branch_index("t1", "11-12")] is not None
    bench.do("t1", "reset", wait_s=1)
    assert bench.says("t1") == "waits for a new start"
    bench.do("s1", "turn", value=False, wait_s=2)
    bench.do("s1", "turn", wait_s=5)
    assert (bench.says("t1"), bench.says("m1")) == ("runs forward", "turns forward")


@pytest.mark.parametrize("runs", [True, False])
def test_mains_at_its_output_destroys_it_running_or_not(runs: bool) -> None:
    mains = [(f"q1:{2 * n}", f"k1:{2 * n - 1}") for n in (1, 2, 3)]
    bench = Bench(made(*mains, *TO_MOTOR, *SWITCHED, more=CONTACTOR))
    bench.wait(0.5)
    if runs:
        bench.do("s1", "turn", wait_s=5)
    bench.do("s3", "turn", wait_s=0.5)
    assert bench.says("t1") == "output destroyed"
    bench.do("t1", "reset", wait_s=1)
    assert bench.says("t1") == "output destroyed"
    bench.do("s3", "turn", value=False, wait_s=1)
    bench.do("t1", "replace", wait_s=1)
    assert bench.says("t1") in ("ready", "waits for a new start")


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        ("M1:U1=to M1:PE 3ohm", "tripped: earth fault"),
        ("M1:V1=to M1:W1 0.2ohm", "tripped: overcurrent"),
        ("Q1/1-2=open", "tripped: phase lost"),
    ],
)
def test_what_is_wrong_at_either_side_trips_it(fault: str, says: str) -> None:
    bench = running(made())
    bench.fail(fault)
    bench.wait(2)
    assert bench.says("t1") == says
    assert bench.says("m1").startswith("coasts")


def test_a_heavy_load_trips_it_on_the_way_down_and_not_with_a_longer_ramp() -> None:
    heavy: dict[str, float | str] = {"inertia_kgm2": 0.3}
    short, long = (running(made(motor=heavy, down_s=seconds), 20) for seconds in (0.5, 30.0))
    for bench in (short, long):
        bench.do("s1", "turn", value=False, wait_s=5)
    assert short.says("t1") == "tripped: overvoltage"
    assert long.says("t1") == "ramps forward"


def test_an_overload_trips_it_after_a_minute_at_half_more() -> None:
    bench = running(made(motor={"load": "constant", "load_percent": 122.0}), 10)
    times = figure(bench, "t1", "Output current") / 3.4
    assert 1.15 < times < 1.6
    needed_s = 78 * math.log(times**2 / (times**2 - 1.1**2))
    bench.wait(0.85 * needed_s - 10)
    assert bench.says("t1") == "runs forward"
    bench.wait(0.3 * needed_s)
    assert bench.says("t1") == "tripped: overload"


def test_the_supply_goes_and_comes_back() -> None:
    for restarts, says in ((False, "waits for a new start"), (True, "ramps forward")):
        bench = running(made(restarts=restarts))
        bench.do("q1", "switch", value=False, wait_s=0.5)
        assert (bench.says("t1"), bench.says("m1")) == ("off", "coasts forward")
        bench.wait(5)
        bench.do("q1", "switch", wait_s=1.0)
        assert bench.says("t1") == says


def test_without_its_enabling_input_the_output_is_off_at_once() -> None:
    enabled = (device("s4", "selector_two"),)
    bench = Bench(made(("t1:24V", "s4:13"), ("s4:14", "t1:EN"), more=enabled, enabling_input=True))
    bench.wait(0.5)
    bench.do("s1", "turn", wait_s=1)
    assert bench.says("t1") == "waits for a new start"
    bench.do("s4", "turn", wait_s=1)
    bench.do("s1", "turn", value=False, wait_s=0.1)
    bench.do("s1", "turn", wait_s=5)
    assert bench.says("m1") == "turns forward"
    bench.do("s4", "turn", value=False, wait_s=0.02)
    assert (bench.says("t1"), bench.says("m1")) == ("waits for a new start", "coasts forward")
    # An emergency stop that is let go of starts nothing.
    bench.do("s4", "turn", wait_s=5)
    assert (bench.says("t1"), bench.says("m1")) == ("waits for a new start", "still")


def test_on_one_phase_it_gives_no_more_than_that_and_its_output_stands_at_half_of_it_to_earth() -> None:
    star = running(made(lines="one", line_voltage_v=230.0))
    assert volts(star, "t1:U", "t1:V") == pytest.approx(230, abs=5)
    # A motor for 400 V in star has 230 V between its leads where it should have 400: it slips behind.
    assert figure(star, "m1", "Speed") < 1350
    plate: dict[str, float | str] = {"rated_voltage_v": 230.0, "rated_current_a": 5.9}
    delta = running(made(lines="one", line_voltage_v=230.0, rated_current_a=7.0, motor_current_a=5.9, motor=plate))
    assert figure(delta, "m1", "Speed") == pytest.approx(1430, abs=10)


def test_every_reading_under_every_fault_is_that_of_the_circuit_solved_with_it() -> None:
    bench = running(made(first_hz=20.0))
    at = terminal_nodes(bench.assembly)
    every = possible_faults(bench.assembly.circuit, bench.assembly.devices)
    faults = [one for one in every if not one.settings() and not one.holds][::9]
    assert len(faults) > 10
    pairs = [(0, 5), (4, 11), (9, 12)]
    for fault, seen in zip(faults, readings_under(bench.assembly, bench.frame, faults), strict=True):
        faulty = Assembly(bench.assembly.circuit, [fault])
        point = faulty.equations.solve(faulty.values.in_state(bench.frame.state))
        for one, other in pairs:
            shown = read_between(point, at[one], at[other])
            assert seen[one, other] == pytest.approx(shown, rel=1e-6, abs=1e-6), fault


def test_a_run_that_is_cut_comes_to_the_same() -> None:
    assembly = Assembly(made())
    start = initial_state(assembly)
    actions = [Action(500_000, "s1", "turn", True), Action(3_000_000, "s1", "turn", False)]
    whole = run(assembly, start, actions, 5_000_000)
    part = run(assembly, start, actions[:1], 1_712_345)
    rest = run(assembly, part.end, actions[1:], 5_000_000)
    assert [f.state.time_us for f in whole.frames][-8:] == [f.state.time_us for f in rest.frames][-8:]
    assert whole.frames[-1].views["m1"].status == rest.frames[-1].views["m1"].status
    for name, value in whole.end.devices["m1"].items():
        there = rest.end.devices["m1"][name]
        assert there == (pytest.approx(value, rel=1e-6, abs=1e-9) if isinstance(value, float) else value), name


fan = library_circuit("frequency-converter-fan")


def extra(*ways: tuple[str, str]) -> list[Conductor]:
    return [wire(f"x{n}", a, b) for n, (a, b) in enumerate(ways)]


def test_checks_know_what_must_not_come_to_its_output() -> None:
    assert "behind_converter" not in found(fan)
    straight = with_more(fan, *extra(("fuses:2", "converter:U")))
    assert found(straight)["behind_converter"][0].message == "Mains comes to the output of T1."
    by = [(f"fuses:{2 * n}", f"k:{2 * n - 1}") for n in (1, 2, 3)]
    to = [(f"k:{2 * n}", f"motor:{name}1") for n, name in ((1, "U"), (2, "V"), (3, "W"))]
    bypass = with_more(fan, Device(id="k", kind="contactor", label="K9"), *extra(*by, *to))
    assert found(bypass)["behind_converter"][0].message == "With K9 in, mains comes to the output of T1."


def test_a_contactor_behind_it_is_in_order_once_its_contact_lies_in_the_start() -> None:
    wrong = library_circuit("frequency-converter-contactor-mistake")
    assert "K1 stands behind T1" in found(wrong)["behind_converter"][0].message
    # A start that goes by the contactor's own contact: it is in before the drive starts.
    used = next(w.id for w in wrong.conductors if (w.a.terminal, w.b.terminal) == ("24V", "RF"))
    right = with_more(rewired(wrong, **{used: "contactor:53"}), *extra(("contactor:54", "converter:RF")))
    assert "behind_converter" not in found(right)


@pytest.mark.parametrize(
    ("type_", "lines", "wrong"), [("A", 3, True), ("B", 3, False), ("AC", 1, True), ("A", 1, False)]
)
def test_a_residual_current_device_must_see_what_a_converter_leaks(type_: str, lines: int, wrong: bool) -> None:
    window = device("f9", "residual_current_device", poles=4, residual_type=type_)
    base = made(more=(window,), **({"lines": "one", "line_voltage_v": 230.0} if lines == 1 else {}))
    moved = {f"g1:L{n}": f"f9:{2 * n - 1}" for n in (1, 2, 3)}
    wires = []
    for one in base.conductors:
        tip = f"{one.a.device}:{one.a.terminal}"
        if tip in moved:
            wires.append(wire(f"{one.id}b", tip, moved[tip]))
            one = one.model_copy(update={"a": end(f"f9:{int(moved[tip][3:]) + 1}")})
        elif tip == "g1:N":
            wires.append(wire(f"{one.id}b", tip, "f9:7"))
            one = one.model_copy(update={"a": end("f9:8")})
        wires.append(one)
    findings = found(base.model_copy(update={"conductors": tuple(wires)})).get("residual_type", [])
    assert bool(findings) is wrong
