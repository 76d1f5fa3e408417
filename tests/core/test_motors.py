"""Three-phase motors: the nameplate, the run-up, and what goes wrong with them."""

import math
from collections.abc import Sequence

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire, with_params
from tests.sweep import todays
from wiretrace.catalogue.motors.machine import ContradictoryNameplate, Nameplate, fit
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit
from wiretrace.errors import InvalidCircuit
from wiretrace.faults.kinds.devices import Stuck
from wiretrace.faults.spots import device_named
from wiretrace.instruments.clamp_meter import capture_current, read_current
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.simulation.assembly import Assembly

DELTA = (("U2", "V1"), ("V2", "W1"), ("W2", "U1"))
STAR = (("U2", "V2"), ("V2", "W2"))

PLATES = [
    Nameplate(400 / 3**0.5, 3.4, 1500, 0.81, 50, 1430, 5.5, 0.7),
    Nameplate(400, 15.5 / 3**0.5, 7500, 0.81, 50, 1450, 7.0, 0.5),
    Nameplate(400, 140 / 3**0.5, 75000, 0.86, 50, 1480, 7.0, 0.3),
    Nameplate(230 / 3**0.5, 13.0, 3730, 0.84, 60, 1750, 6.0, 0.55),
    Nameplate(400 / 3**0.5, 0.85, 250, 0.7, 50, 900, 3.5, 0.75),
]


@pytest.mark.parametrize("plate", PLATES, ids=lambda plate: f"{plate.power_w:g} W")
def test_the_machine_has_the_nameplate_at_its_points(plate: Nameplate) -> None:
    """Rated current, power factor and torque at rated speed, and locked-rotor current: each within 3 %."""
    machine = fit(plate)
    rated = plate.winding_v / machine.impedance_ohm(plate.slip)
    assert abs(rated) == pytest.approx(plate.winding_a, rel=0.03)
    assert rated.real / abs(rated) == pytest.approx(plate.power_factor, rel=0.03)
    torque = machine.torque_nm_per_v2(plate.slip) * plate.winding_v**2
    assert torque == pytest.approx(plate.power_w / (plate.speed_rpm * 2 * math.pi / 60), rel=0.03)
    locked = plate.winding_v / abs(machine.impedance_ohm(1.0))
    assert locked == pytest.approx(plate.locked_ratio * plate.winding_a, rel=0.03)
    assert 1 < machine.torque_nm_per_v2(1.0) * plate.winding_v**2 / torque < 3.5
    assert machine.torque_nm_per_v2(0.0) == 0


def test_power_is_balanced_at_every_slip() -> None:
    """What goes in is copper and iron loss, rotor loss and mechanical power."""
    machine = fit(PLATES[1])
    for slip in (-0.05, 0.001, 0.03, 0.3, 1.0, 1.9):
        amperes = 400 / machine.impedance_ohm(slip)
        gap_v = 400 - amperes * machine.stator_ohm
        copper_w = 3 * abs(amperes) ** 2 * machine.stator_ohm.real
        iron_w = 3 * abs(gap_v) ** 2 * (1 / machine.magnetising_ohm).real
        gap_w = machine.torque_nm_per_v2(slip) * 400**2 * machine.plate.sync_rpm * math.pi / 30
        assert 3 * 400 * amperes.real == pytest.approx(copper_w + iron_w + gap_w, rel=1e-9)


@pytest.mark.parametrize(
    ("plate", "told"),
    [
        (Nameplate(231, 3.4, 1500, 0.81, 50, 1501, 5.5, 0.7), "no speed of a cage motor"),
        (Nameplate(231, 2.4, 1500, 0.81, 50, 1430, 5.5, 0.7), "need more than 1.57 kW"),
        (Nameplate(231, 3.4, 1500, 1.0, 50, 1430, 5.5, 0.7), "leaves nothing to magnetise"),
    ],
)
def test_a_nameplate_that_cannot_be_is_named(plate: Nameplate, told: str) -> None:
    with pytest.raises(ContradictoryNameplate, match=told):
        fit(plate)


def test_a_current_far_from_what_power_voltage_and_efficiency_give_is_refused() -> None:
    wrong = circuit([device("m1", "motor_three_phase", rated_current_a=4.5)], [])
    with pytest.raises(InvalidCircuit, match=r"M1: the nameplate contradicts itself: .* give 3\.38 A, not 4\.5 A"):
        Assembly(wrong)


def fed(links: Sequence[tuple[str, str]] = DELTA, order: str = "UVW", **params: float | str) -> Circuit:
    """The six-lead motor on a stiff supply, behind an isolator."""
    supply = device("g1", "supply_three_phase", source_resistance_ohm=1e-6, source_reactance_ohm=0.0)
    motor = device("m1", "motor_six_leads", **params)
    wires = [wire(f"s{n}", f"g1:L{n}", f"q1:{2 * n - 1}", length_m=0.01) for n in (1, 2, 3)]
    wires += [wire(f"a{n}", f"q1:{2 * n}", f"m1:{name}1", cross_section_mm2=10.0) for n, name in enumerate(order, 1)]
    wires += [wire(f"k{n}", f"m1:{a}", f"m1:{b}") for n, (a, b) in enumerate(links)]
    return circuit([supply, device("q1", "isolator"), motor], wires)


def speed_rpm(bench: Bench) -> float:
    return next(f.value for f in bench.frame.views["m1"].figures if f.title == "Speed")


def line_a(bench: Bench, name: str = "a1") -> float:
    return read_current(bench.assembly, bench.frame.point, [name]).current_a


def test_at_rated_load_it_turns_at_rated_speed_and_takes_rated_current() -> None:
    bench = Bench(fed(load="constant", load_percent=100.0))
    bench.wait(10.0)
    assert speed_rpm(bench) == pytest.approx(1450, rel=0.003)
    assert line_a(bench) == pytest.approx(15.5, rel=0.03)


def test_the_run_up_follows_the_torque() -> None:
    """Twice the inertia, twice the time; the current falls all the way from the locked-rotor current."""

    def time_s(inertia: float) -> float:
        bench = Bench(fed(inertia_kgm2=inertia))
        bench.wait(10.0)
        currents = [read_current(bench.assembly, f.point, ["a1"]).current_a for f in bench.trajectory.frames]
        assert currents[0] == pytest.approx(7 * 15.5, rel=0.03)
        assert currents == sorted(currents, reverse=True)
        return bench.trajectory.frames[-1].state.time_us / 1e6

    assert time_s(0.3) / time_s(0.15) == pytest.approx(2, rel=0.02)


def test_run_up_time_against_stepping_through_the_equation_of_motion() -> None:
    """An independent integration in steps of 50 us, with the same torque curve, reaches 90 % at the same time."""
    machine = fit(PLATES[1])
    speed, seconds, rated = 0.0, 0.0, machine.plate.torque_nm
    while speed < 0.9:
        load = 0.02 * rated + (0.9 - 0.02) * rated * (speed / (1 - machine.plate.slip)) ** 2
        torque = machine.torque_nm_per_v2(1 - speed) * 400**2 - load
        speed += torque / 0.15 / (1500 * math.pi / 30) * 50e-6
        seconds += 50e-6
    bench = Bench(fed())
    bench.wait(seconds)
    assert speed_rpm(bench) / 1500 == pytest.approx(0.9, abs=0.01)


def test_a_run_cut_in_pieces_comes_out_the_same() -> None:
    whole, pieces = Bench(fed()), Bench(fed())
    whole.wait(0.8)
    for _ in range(16):
        pieces.wait(0.05)
    assert speed_rpm(pieces) == pytest.approx(speed_rpm(whole), rel=2e-3)


def test_it_coasts_and_then_stands_still() -> None:
    bench = Bench(fed(load="constant", load_percent=50.0))
    bench.wait(5.0)
    bench.do("q1", "switch", False, wait_s=0.1)
    assert bench.says("m1") == "coasts forward"
    assert line_a(bench) == 0
    bench.wait(5.0)
    assert bench.says("m1") == "still"
    stopped = bench.trajectory.frames[-1].state.time_us / 1e6 - 5.0
    # Constant torque: J w / T.
    torque = 0.5 * 7500 / (1450 * math.pi / 30)
    assert stopped == pytest.approx(0.15 * 1475 * math.pi / 30 / torque, rel=0.02)


def test_both_delta_closures_and_reversed_windings() -> None:
    other = (("U2", "W1"), ("V2", "U1"), ("W2", "V1"))
    for links, order, word in (
        (DELTA, "UVW", "turns forward"),
        (other, "UVW", "turns forward"),
        (STAR, "UVW", "turns forward"),
        (DELTA, "VWU", "turns forward"),
        (DELTA, "VUW", "turns backward"),
        (other, "VUW", "turns backward"),
    ):
        bench = Bench(fed(links, order))
        bench.wait(5.0)
        assert bench.says("m1") == word


def test_one_winding_reversed_is_heard_and_felt() -> None:
    reversed_v = Bench(fed((("U2", "V1"), ("V1", "W2"))))
    swapped = with_params(reversed_v.assembly.circuit, {})
    wires = [w if w.id != "a2" else w.model_copy(update={"b": end("m1:V2")}) for w in swapped.conductors]
    bench = Bench(swapped.model_copy(update={"conductors": tuple(wires)}))
    bench.wait(5.0)
    assert bench.frame.views["m1"].attention
    currents = [line_a(bench, f"a{n}") for n in (1, 2, 3)]
    assert max(currents) > 1.5 * min(currents)


def test_plugging_draws_more_than_the_start_and_brakes() -> None:
    """Reversing a turning motor: two lines exchanged at full speed."""
    bench = Bench(fed())
    bench.wait(5.0)
    start_a = 7 * 15.5
    bench.fail("s1.b=with s2.b")
    bench.wait(0.05)
    assert bench.says("m1") == "brakes from forward"
    assert capture_current(bench.assembly, bench.trajectory, ["a3"]).maximum_a > start_a
    bench.wait(10.0)
    assert bench.says("m1") == "turns backward"


def test_a_phase_lost_while_running() -> None:
    """In delta at eight tenths of the rated torque: it goes on, feeds the lost phase back, and heats."""
    bench = Bench(fed(load="constant", load_percent=80.0))
    bench.wait(5.0)
    before = line_a(bench)
    bench.fail("s2=open")
    bench.wait(2.0)
    assert bench.says("m1") == "turns forward, unbalanced"
    assert line_a(bench) / before == pytest.approx(3**0.5, rel=0.2)
    assert line_a(bench, "a2") == pytest.approx(0, abs=1e-6)
    frame = bench.frame
    back = frame.point.ac.potential_v[bench.assembly.node(end("m1:V1"))]
    assert 0.6 * 231 < abs(back) < 231
    bench.wait(60.0)
    hot = bench.state.devices["m1"]
    assert max(hot[f"rise_{n}_k"] for n in (1, 2, 3)) > 1.5 * min(hot[f"rise_{n}_k"] for n in (1, 2, 3))


def test_a_phase_lost_at_standstill_hums() -> None:
    bench = Bench(with_params(fed(), {"g1": {"l2_present": False}}))
    bench.wait(1.0)
    assert (bench.says("m1"), speed_rpm(bench)) == ("hums", 0)
    assert line_a(bench) > 4 * 15.5


def test_unequal_voltages_raise_the_current_many_times_over() -> None:
    """Negative sequence meets nearly the locked-rotor impedance: 2 % of voltage, some 12 % and more of current."""
    bench = Bench(with_params(fed(load="constant"), {"g1": {"l1_percent": 94.0}}))
    bench.wait(5.0)
    currents = [line_a(bench, f"a{n}") for n in (1, 2, 3)]
    mean = sum(currents) / 3
    assert 0.1 < max(abs(current - mean) for current in currents) / mean < 0.3


def test_jammed_it_stalls_and_the_winding_thermostat_opens_and_closes_again() -> None:
    bench = Bench(fed(load="constant", load_percent=900.0, thermostat=True))
    bench.wait(60.0)
    assert bench.says("m1").startswith("hums")
    assert bench.state.devices["m1"]["hot"]
    opened = next(f.state.time_us for f in bench.trajectory.frames if f.state.devices["m1"]["hot"]) / 1e6
    # 100 K of rise at seven times the rated current, time constant 1200 s, from cold.
    assert opened == pytest.approx(-1200 * math.log(1 - 100 / (80 * 49)), rel=0.06)
    bench.do("q1", "switch", False, wait_s=3600.0)
    assert not bench.state.devices["m1"]["hot"]


def test_a_motor_that_something_blocks_hums_with_its_locked_rotor_current_and_one_that_turns_stops_at_once() -> None:
    """5.5 times 3.4 A, less what the line drops; class 10 on a dial of 3.4 A trips within 10 s at 5.5 times."""
    bench = Bench(library_circuit("start-stop-overload-line"))
    bench.fail("M1=stuck")
    bench.do("start", "press", wait_s=0.5)
    assert bench.says("motor") == "hums"
    assert bench.frame.signals["motor"]["U1"].rms_a == pytest.approx(5.5 * 3.4, rel=0.03)
    bench.wait(12.0)
    assert (bench.says("overload"), bench.says("motor")) == ("tripped", "still")
    turning = Bench(library_circuit("start-stop-overload-line"))
    turning.do("start", "press", wait_s=2.0)
    turning.fail("M1=stuck")
    turning.wait(0.3)
    assert turning.says("motor") == "hums"


@pytest.mark.parametrize("name", todays(library_names()))
def test_what_is_stuck_does_not_move_in_any_circuit(name: str) -> None:
    circuit = library_circuit(name)
    for item in Assembly(circuit).devices.values():
        if not item.kind.sticks or item.kind.electronic:
            continue
        bench = Bench(circuit, [Stuck(item.id)])
        words = set()
        for step in library_sequence(name).steps:
            if step.faults:
                break
            for who, what, on in step.do:
                bench.do(device_named(circuit, who).id, what, on, wait_s=0.0)
            bench.wait(min(step.wait_s, 5.0))
            words.add(bench.says(item.id).split(",")[0])
        turns = {word for word in words if "turns" in word or "coasts" in word}
        assert (turns == set()) if item.kind.jams else (len(words) == 1), (item.label, words)


def test_winding_current_voltage_and_line_current_of_star_and_delta() -> None:
    """People mix these up: 58 % the winding voltage, 58 % the winding current, a third the line current."""
    star, delta = Bench(fed(STAR)), Bench(fed(DELTA))
    seen = [bench.frame.signals["m1"]["U1-U2"] for bench in (star, delta)]
    assert abs(seen[0].voltage_v) / abs(seen[1].voltage_v) == pytest.approx(1 / 3**0.5, rel=0.01)
    assert abs(seen[0].current_a) / abs(seen[1].current_a) == pytest.approx(1 / 3**0.5, rel=0.01)
    assert line_a(star) / line_a(delta) == pytest.approx(1 / 3, rel=0.01)


def test_too_short_a_star_time_is_a_full_start_again() -> None:
    def surge_a(star_s: float) -> float:
        base = with_params(library_circuit("star-delta-timer-first-closure"), {"timer": {"star_s": star_s}})
        bench = Bench(base)
        bench.do("start", "press", wait_s=10.0)
        return capture_current(bench.assembly, bench.trajectory, ["w17"]).maximum_a

    assert surge_a(0.15) > 1.5 * surge_a(4.0)
    assert surge_a(4.0) < 40


def test_the_two_delta_closures_differ_in_their_surge() -> None:
    """The winding voltage jumps 30 degrees forward or backward against what the turning rotor still raises."""

    def surge_a(closure: str, dead_ms: float) -> float:
        base = library_circuit(f"star-delta-timer-{closure}-closure")
        bench = Bench(with_params(base, {"timer": {"dead_time_ms": dead_ms}}))
        bench.do("start", "press", wait_s=8.0)
        assert bench.says("motor") == "turns forward"
        figures = bench.frame.views["motor"].figures
        return next(f.value for f in figures if f.title.startswith("Surge"))

    for dead_ms in (20.0, 30.0, 80.0):
        first, second = surge_a("first", dead_ms), surge_a("second", dead_ms)
        assert abs(first - second) > 0.05 * max(first, second)
    direct = Bench(fed())
    direct.wait(1.0)
    start = next(f.value for f in direct.frame.views["m1"].figures if f.title.startswith("Surge"))
    assert start == pytest.approx(7 * 15.5 / 3**0.5, rel=0.03)


def test_every_motor_default_is_consistent() -> None:
    for name in ("motor_three_phase", "motor_six_leads"):
        assert list(KINDS[name].contradictions(KINDS[name].defaults())) == []
