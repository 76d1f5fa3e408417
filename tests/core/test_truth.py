"""Readings and times that were once wrong, each against a figure worked out by hand."""

import math
import random

import pytest

from tests.core.circuits import SECOND, Bench, circuit, device, end, wire, with_params
from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Conductor
from wiretrace.errors import MeasurementRefused
from wiretrace.faults.kinds.elements import HighResistance
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.race import find_races
from wiretrace.simulation.state import Action

PLATES = (
    (0.18, 62.0, 0.65, 1350.0, 4.0, 0.7), (0.75, 78.0, 0.75, 1400.0, 5.0, 0.7), (2.2, 84.0, 0.80, 1435.0, 6.0, 0.7),
    (7.5, 88.0, 0.82, 1455.0, 7.0, 0.5), (22.0, 91.5, 0.85, 1470.0, 7.0, 0.5), (90.0, 95.0, 0.87, 1485.0, 7.2, 0.5),
)  # fmt: skip


def motor(kilowatts: float, efficiency: float, factor: float, rpm: float, locked: float, locked_factor: float, *,
          star: bool, volts_percent: float, load_percent: float) -> Circuit:  # fmt: skip
    """A motor of six leads straight on the supply."""
    amperes = 1000 * kilowatts / (math.sqrt(3) * 400 * factor * efficiency / 100)
    plate = {
        "rated_power_kw": kilowatts, "efficiency_percent": efficiency, "power_factor": factor, "rated_speed_rpm": rpm,
        "rated_current_a": amperes, "locked_rotor_ratio": locked, "locked_rotor_power_factor": locked_factor,
        "load": "constant", "load_percent": load_percent, "inertia_kgm2": max(0.002, 0.02 * kilowatts),
    }  # fmt: skip
    supply = device("g1", "supply_three_phase", **{f"l{n}_percent": volts_percent for n in (1, 2, 3)})
    ways = [("g1:L1", "m1:U1"), ("g1:L2", "m1:V1"), ("g1:L3", "m1:W1")]
    ways += (
        [("m1:U2", "m1:V2"), ("m1:V2", "m1:W2")]
        if star
        else [("m1:U1", "m1:W2"), ("m1:V1", "m1:U2"), ("m1:W1", "m1:V2")]
    )
    wires = [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]
    return circuit([supply, device("m1", "motor_six_leads", **plate)], wires)


@pytest.mark.parametrize("plate", PLATES, ids=lambda plate: f"{plate[0]} kW")
@pytest.mark.parametrize("star", [True, False], ids=["star", "delta"])
def test_no_state_of_a_motor_stops_the_simulation(plate: tuple[float, ...], star: bool) -> None:
    """Phases lost, returned and exchanged at any load and voltage; and a cut on the way changes nothing."""
    chance = random.Random(str(plate))
    for _ in range(8):
        load, volts = chance.choice([0, 50, 90, 94, 97, 100, 104, 108, 120]), chance.choice([70, 85, 100, 115])
        assembly = Assembly(motor(*plate, star=star, volts_percent=volts, load_percent=load))
        hands, now = [], 0
        for _ in range(chance.randint(2, 5)):
            now += chance.choice([50_000, SECOND, 5 * SECOND])
            hands.append(Action(now, "g1", chance.choice(["l1", "l2", "l3", "swap"]), chance.random() < 0.5))
        stop = now + 15 * SECOND
        cut = chance.randint(0, stop)
        whole = run(assembly, initial_state(assembly), hands, stop)
        half = run(assembly, initial_state(assembly), [h for h in hands if h.at_us <= cut], cut)
        rest = run(assembly, half.end, [h for h in hands if h.at_us > cut], stop)
        for name, value in whole.end.devices["m1"].items():
            if isinstance(value, float):
                assert rest.end.devices["m1"][name] == pytest.approx(value, rel=1e-4, abs=1e-4), name
        assert frame_of(assembly, whole.end).views["m1"].says == frame_of(assembly, rest.end).views["m1"].says


def test_a_motor_near_its_end_is_taken_at_the_speed_that_agrees_with_itself() -> None:
    assembly = Assembly(motor(*PLATES[3], star=False, volts_percent=100, load_percent=100))
    done = run(assembly, initial_state(assembly), [Action(5 * SECOND, "g1", "l2", False)], 30 * SECOND).end.devices[
        "m1"
    ]
    assert done["steps_at_us"] is None
    assert done["held"] == pytest.approx(done["speed"], abs=1e-3)


def test_a_relay_behind_a_sensor_that_keeps_too_much_does_not_latch_on_a_first_guess() -> None:
    """24 V less 15 V leave 38 % for a relay that answers from 70 %; a first guess of 60 ohm would leave it 80 %."""
    parts = [
        device("g1", "supply_single_phase"),
        device("b1", "sensor_two_wire", on_drop_v=15.0, rated_voltage_v=24.0),
        device("k1", "control_relay", coil_voltage_v=24.0, pick_up_percent=70.0, drop_out_percent=20.0),
    ]
    parts[0] = device("g1", "supply_single_phase", voltage_v=24.0)
    ways = [("g1:L", "b1:1"), ("b1:2", "k1:A1"), ("k1:A2", "g1:N")]
    bench = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))
    for there in (True, False, True):
        bench.do("b1", "actuate", there)
        assert bench.says("k1") == "out"


@pytest.mark.parametrize("name", KINDS)
def test_what_a_device_sees_makes_it_plan_and_switches_nothing_at_once(name: str) -> None:
    """Values of branches follow from time and hands, and from what follows the current without inertia."""
    kind, chance = KINDS[name], random.Random(name)
    params = kind.on_network(kind.defaults(), 50.0)
    branches = [branch.name for branch in kind.structure(params).branches]
    state, now_us = kind.initial(params), 1_000_000
    for _ in range(60):
        scale = chance.choice([0.0, 1.0, 24.0, 230.0, 400.0])
        volts = {name: chance.choice([0.0, 0.5, 1.0, 1.2]) * scale for name in branches}
        signals = {
            name: type(SIGNAL)(complex(v), complex(v / chance.choice([1.0, 30.0, 1000.0])), v, v / 50.0)
            for name, v in volts.items()
        }
        seen = kind.sense(params, state, signals, now_us)
        assert kind.values(params, seen) == kind.values(params, state)
        dues = [due for due_name, due in seen.items() if due_name.endswith("_at_us") and isinstance(due, int)]
        assert all(due > now_us for due in dues)
        step_us = min([due - now_us for due in dues], default=50_000)
        now_us += step_us
        state = kind.advance(params, kind.evolve(params, seen, signals, step_us), now_us)


SIGNAL = Bench(circuit([device("g1", "supply_single_phase"), device("h1", "lamp")], [])).frame.signals["h1"]["lamp"]


def test_closing_backward_surges_by_both_voltages() -> None:
    """Plugged at once, the residual voltage stands against the new one in some winding: up to twice the start."""
    starts = {}
    for name, swap in (("forward", False), ("backward", True)):
        stiff = motor(*PLATES[3], star=False, volts_percent=100, load_percent=50)
        bench = Bench(with_params(stiff, {"g1": {"source_resistance_ohm": 1e-3}}))
        bench.do("g1", "switch", False, wait_s=0.0)
        bench.do("g1", "swap", swap, wait_s=10.0)
        bench.do("g1", "switch", True, wait_s=3.0)
        starts[name] = bench.frame.state.devices["m1"]["surge_a"]
    assert starts["backward"] == pytest.approx(starts["forward"], rel=0.01)
    bench.do("g1", "switch", False, wait_s=0.02)
    bench.do("g1", "swap", False, wait_s=0.0)
    bench.do("g1", "switch", True, wait_s=0.01)
    plugged = float(bench.frame.state.devices["m1"]["surge_a"])
    steady = max(bench.frame.signals["m1"][name].rms_a for name in ("U1-U2", "V1-V2", "W1-W2"))
    assert 1.3 * float(starts["forward"]) < plugged < 2.1 * float(starts["forward"])
    assert plugged >= steady


def test_a_bad_joint_at_a_capacitor_is_in_series_with_it() -> None:
    omega = 2 * math.pi * 50
    joint = Value(capacitance_f=5e-6, joint_ohm=1e6)
    assert joint.admittance_s(omega) == pytest.approx(1 / complex(1e6, -1 / (omega * 5e-6)))
    assert joint.conductance_s() == 0
    base = library_circuit("up-down-common-first")
    bench = Bench(base)
    (running,) = (item for item in base.devices if item.kind == "motor_reversible")
    switch = next(item for item in base.devices if item.kind == "up_down_switch")
    bench.do(switch.id, "up", wait_s=1.0)
    assert bench.says(running.id) == "turns up"
    bench.fail(HighResistance(running.id, "capacitor", 1e6))
    bench.wait(1.0)
    assert bench.says(running.id) == "hums"
    amperes = abs(bench.frame.signals[running.id]["capacitor"].current_a)
    assert amperes < 1e-3


def test_each_function_of_a_phase_monitor_times_by_itself() -> None:
    """Unbalance of 0.5 s does not wait for an undervoltage of 30 s that is there as well."""
    slow = {"under_delay_s": 30.0, "unbalance_delay_s": 0.5, "under_percent": 95.0}
    bench = Bench(with_params(library_circuit("phase-monitor"), {"monitor": slow}))
    bench.wait(1.0)
    assert bench.frame.views["monitor"].active
    bench.assembly = Assembly(
        with_params(library_circuit("phase-monitor"), {"monitor": slow, "supply": {"l1_percent": 80.0}})
    )
    bench.wait(0.48)
    assert bench.frame.views["monitor"].active
    bench.wait(0.04)
    assert (bench.frame.views["monitor"].active, bench.says("monitor")) == (False, "undervoltage")


def test_a_dc_supply_takes_in_what_it_gives() -> None:
    """48 W out at 88 % and 3 W of its own at power factor 0.6: 96 VA, 0.42 A at 230 V."""
    parts = [
        device("g1", "supply_single_phase"),
        device("t2", "power_supply_dc"),
        device("r1", "lamp", rated_voltage_v=24.0, rated_power_w=48.0),
    ]
    ways = [("g1:L", "t2:L"), ("g1:N", "t2:N"), ("t2:+", "r1:X1"), ("r1:X2", "t2:-")]
    bench = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))
    inrush = bench.frame.signals["t2"]["input"].rms_a
    assert inrush == pytest.approx(20.0, rel=0.02)
    bench.wait(1.0)
    given = bench.frame.signals["r1"]["lamp"].rms_v ** 2 / 12.0
    taken = (3.0 + given / 0.88) / 0.6
    volts = bench.frame.signals["t2"]["input"].rms_v
    assert bench.frame.signals["t2"]["input"].rms_a == pytest.approx(taken / volts, rel=2e-3)
    assert 0.40 < bench.frame.signals["t2"]["input"].rms_a < 0.43
    # A dip that its capacitor bridges is not seen at the output.
    bench.do("g1", "switch", False, wait_s=0.015)
    assert bench.says("t2") == "on"
    bench.wait(0.02)
    assert bench.says("t2") == "off"


def test_the_current_in_a_wire_of_almost_no_resistance_is_that_of_its_load() -> None:
    parts = [device("g1", "supply_single_phase"), device("h1", "lamp", rated_power_w=0.05), device("x1", "terminal")]
    short = [("g1:L", "x1:a"), ("x1:b", "h1:X1"), ("h1:X2", "g1:N")]
    wires = [
        Conductor(id=f"w{n}", a=end(a), b=end(b), length_m=0.001, cross_section_mm2=1000.0)
        for n, (a, b) in enumerate(short)
    ]
    bench = Bench(circuit(parts, wires))
    load = bench.frame.signals["h1"]["lamp"].current_a
    for n in range(3):
        assert abs(bench.assembly.conductor_a(bench.frame.point.ac, f"w{n}")) == pytest.approx(abs(load), rel=1e-6)


def test_an_interval_timer_that_opens_its_own_supply_goes_to_and_fro_and_is_named() -> None:
    parts = [device("g1", "supply_single_phase"), device("k1", "timer_relay", mode="interval")]
    ways = [("g1:L", "k1:15"), ("k1:16", "k1:A1"), ("k1:A2", "g1:N")]
    bench = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))
    bench.wait(5.0)
    (chatter,) = bench.trajectory.chatters
    assert (chatter.devices, chatter.period_us) == (("k1",), 20_000)


def test_two_interlocked_contactors_fed_at_one_instant_jam_each_other_in_any_order_of_the_document() -> None:
    base = library_circuit("reversing-mechanical-interlock")
    for devices in (base.devices, base.devices[::-1]):
        assembly = Assembly(base.model_copy(update={"devices": devices}))
        ids = {item.label: item.id for item in devices}
        hands = [Action(SECOND, ids["S1"], "press"), Action(SECOND, ids["S2"], "press")]
        says = run(assembly, initial_state(assembly), hands, 2 * SECOND).frames[-1].views
        assert [says[ids[label]].says for label in ("K1", "K2")] == ["moving", "moving"]


def test_a_jog_button_released_against_an_armature_is_a_race() -> None:
    circuit_ = library_circuit("jog-and-run")
    assembly = Assembly(circuit_)
    jog = next(
        item for item in circuit_.devices if item.kind == "push_button" and item.params.get("contacts") == "NO_NC"
    )
    hands = [Action(SECOND, jog.id, "press"), Action(2 * SECOND, jog.id, "press", False)]
    races = find_races(assembly, initial_state(assembly), hands, 4 * SECOND)
    assert any(jog.id in race.devices for race in races)


def test_an_ohmmeter_refuses_where_a_part_of_what_it_measures_is_fed() -> None:
    """Both probes near earth, but a way beside the one between them leads through a coil that is fed."""
    bench = Bench(library_circuit("start-stop-overload-line"))
    bench.do("start", "press")
    with pytest.raises(MeasurementRefused, match="is fed: never measure"):
        read_resistance(bench.assembly, bench.frame, end("supply:N"), end("supply:PE"))
    bench.do("supply", "switch", False)
    assert read_resistance(bench.assembly, bench.frame, end("supply:N"), end("supply:PE")).beeps


def test_a_two_wire_sensor_limits_its_current_into_a_short_circuit() -> None:
    """Straight across 230 V it lets no more through than 5 % above its 500 mA."""
    parts = [device("g1", "supply_single_phase"), device("b1", "sensor_two_wire")]
    bench = Bench(circuit(parts, [wire("a", "g1:L", "b1:1"), wire("b", "b1:2", "g1:N")]))
    bench.do("b1", "actuate")
    assert bench.frame.signals["b1"]["switch"].rms_a == pytest.approx(0.5, rel=0.051)


@pytest.mark.parametrize("volts", [6.0, 10.0, 11.2, 11.44, 11.6, 12.0, 12.6, 13.4, 16.0, 48.0])
@pytest.mark.parametrize("lamp_w", [0.1, 2.0, 60.0])
def test_a_two_wire_sensor_across_about_its_own_drop_comes_to_rest(volts: float, lamp_w: float) -> None:
    """Where there is less than its 12 V it takes nearly all of it and lets hardly anything through."""
    lamp = device("h1", "lamp", rated_voltage_v=24.0, rated_power_w=lamp_w)
    for wires in ([("g1:L", "b1:1"), ("b1:2", "h1:X1"), ("h1:X2", "g1:N")], [("g1:L", "b1:1"), ("b1:2", "g1:N")]):
        parts = [
            device("g1", "supply_single_phase", voltage_v=volts),
            device("b1", "sensor_two_wire", on_drop_v=12.0),
            lamp,
        ]
        bench = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(wires)]))
        bench.do("b1", "actuate")
        seen, ohm = bench.frame.signals["b1"]["switch"], bench.frame.state.devices["b1"]["on_ohm"]
        drops = 11.4 < seen.rms_v < 12.61
        limits = seen.rms_a == pytest.approx(0.5, rel=0.051)
        assert drops or limits or (seen.rms_v < 12.0 and ohm == pytest.approx(10_000.0))
