"""A motor with slip rings, against what any textbook says of it."""

import random

import pytest

from tests.core.circuits import SECOND, Bench, circuit, device, wire
from wiretrace.document.circuit import Circuit, Conductor, End
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.instruments.voltmeter import read_between
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.state import Action

RINGS = ("K", "L", "M")
SHORT = [("m1:K", "m1:L"), ("m1:L", "m1:M")]


def at_the_rings(ohm: float | None = None, ways: list[tuple[str, str]] | None = None, **plate: object) -> Circuit:
    """A wound rotor straight on the supply; `ohm` a phase in star at its rings, or the wires given."""
    parts = [device("g1", "supply_three_phase"), device("m1", "motor_wound_rotor", load="constant", **plate)]
    feed = [("g1:L1", "m1:U1"), ("g1:L2", "m1:V1"), ("g1:L3", "m1:W1")]
    if ohm is not None:
        parts.append(device("r1", "resistors", resistance_ohm=ohm))
        feed += [(f"m1:{ring}", f"r1:{n}") for ring, n in zip(RINGS, (1, 3, 5), strict=True)]
        feed += [("r1:2", "r1:4"), ("r1:4", "r1:6")]
    return circuit(parts, wires(feed + (ways or [])))


def wires(ways: list[tuple[str, str]]) -> list[Conductor]:
    """Of a millimetre each: a metre at the rings would be a twentieth of the rotor's own resistance."""
    return [wire(f"w{n}", a, b, length_m=0.001) for n, (a, b) in enumerate(ways)]


def figure(bench: Bench, title: str) -> float:
    return {figure.title: figure.value for figure in bench.frame.views["m1"].figures}[title]


def ring_v(bench: Bench) -> float:
    one, two = (bench.assembly.graph.inner["m1", ring] for ring in ("K", "L"))
    return read_between(bench.frame.point, one, two)


def slip(bench: Bench) -> float:
    return 1 - figure(bench, "Speed") / 1500


def test_open_rings_have_the_volts_of_the_plate_and_make_no_torque() -> None:
    bench = Bench(at_the_rings())
    bench.wait(1.0)
    assert ring_v(bench) == pytest.approx(220.0, rel=0.005)
    assert bench.says("m1") == "hums"
    assert figure(bench, "Torque") < 0.01


def test_shorted_rings_make_the_motor_of_the_plate() -> None:
    """11 kW at 1430 rpm: 73.5 Nm at 22.5 A."""
    bench = Bench(at_the_rings(ways=SHORT, load_percent=100.0))
    bench.wait(10.0)
    assert figure(bench, "Speed") == pytest.approx(1430.0, abs=1.5)
    assert figure(bench, "Torque") == pytest.approx(73.5, rel=0.005)
    assert abs(bench.assembly.conductor_a(bench.frame.point.ac, "w0")) == pytest.approx(22.5, rel=0.005)


def test_at_the_same_torque_slip_is_in_proportion_to_the_rotor_s_ohms_and_the_current_is_the_same() -> None:
    cold = Bench(at_the_rings())
    cold.do("g1", "l1", False, wait_s=0.0)
    cold.do("g1", "l2", False, wait_s=0.0)
    cold.do("g1", "l3", False, wait_s=1.0)
    red, black = (End(device="m1", terminal=ring) for ring in ("K", "L"))
    between = read_resistance(cold.assembly, cold.frame, red, black)
    own_ohm = between.resistance_ohm / 2
    of_each = []
    for ohm in (0.25, 0.5, 1.0, 2.0):
        bench = Bench(at_the_rings(ohm, load_percent=100.0))
        bench.wait(60.0)
        assert bench.says("m1") == "turns forward"
        of_each.append((slip(bench) / (own_ohm + ohm), figure(bench, "Rotor current")))
        # Volts between rings: root three times the amperes on the ohms outside.
        assert ring_v(bench) == pytest.approx(3**0.5 * ohm * of_each[-1][1], rel=1e-3)
    for per_ohm, amperes in of_each[1:]:
        assert per_ohm == pytest.approx(of_each[0][0], rel=0.02)
        assert amperes == pytest.approx(of_each[0][1], rel=0.01)


def test_more_resistance_starts_with_less_current_and_up_to_a_point_with_more_torque() -> None:
    starts = {}
    for ohm in (0.0, 0.3, 1.8):
        bench = Bench(at_the_rings(ways=SHORT) if ohm == 0 else at_the_rings(ohm))
        bench.wait(0.0)
        starts[ohm] = (figure(bench, "Torque"), figure(bench, "Rotor current"))
    assert starts[0.0][1] > starts[0.3][1] > starts[1.8][1]
    assert starts[0.3][0] > starts[0.0][0]


def test_the_starter_keeps_its_current_below_what_shorted_rings_would_take() -> None:
    bench = Bench(library_circuit("wound-rotor-starter"))
    bench.do("start", "press", wait_s=0.2)
    bench.do("start", "press", False, wait_s=0.0)
    most = 0.0
    for _ in range(60):
        bench.wait(0.1)
        most = max(most, abs(bench.assembly.conductor_a(bench.frame.point.ac, "w1")))
    assert bench.says("rings") == "in"
    assert 22.5 < most < 3 * 22.5


@pytest.mark.parametrize("seed", range(6))
def test_no_state_of_it_stops_the_run_and_a_cut_changes_nothing(seed: int) -> None:
    chance = random.Random(seed)
    ohm = chance.choice([None, 0.2, 0.8, 3.0])
    unequal = [("m1:K", "m1:L")] if chance.random() < 0.5 else []
    assembly = Assembly(at_the_rings(ohm, unequal, load_percent=chance.choice([0.0, 60.0, 100.0])))
    hands, now = [], 0
    for _ in range(chance.randint(2, 5)):
        now += chance.choice([50_000, SECOND, 5 * SECOND])
        hands.append(Action(now, "g1", chance.choice(["l1", "l2", "l3", "swap"]), chance.random() < 0.5))
    stop, cut = now + 15 * SECOND, chance.randint(0, now + 15 * SECOND)
    whole = run(assembly, initial_state(assembly), hands, stop)
    half = run(assembly, initial_state(assembly), [h for h in hands if h.at_us <= cut], cut)
    rest = run(assembly, half.end, [h for h in hands if h.at_us > cut], stop)
    for name, value in whole.end.devices["m1"].items():
        if isinstance(value, float):
            assert rest.end.devices["m1"][name] == pytest.approx(value, rel=1e-4, abs=1e-4), name
    assert frame_of(assembly, whole.end).views["m1"].says == frame_of(assembly, rest.end).views["m1"].says
