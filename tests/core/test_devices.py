"""What is particular to each kind of device, in the smallest circuit that shows it."""

import math
from itertools import pairwise

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Conductor, Device
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.assembly import Assembly


def fed(*devices: Device, wires: tuple[Conductor, ...]) -> Bench:
    """Devices on a single-phase supply of 230 V, called g1."""
    return Bench(circuit([device("g1", "supply_single_phase"), *devices], wires))


def on_a_switch(kind: str, a: str, b: str, **params: bool | float | str) -> Bench:
    """One device between a selector s1 and the neutral."""
    return fed(
        device("s1", "selector_two"),
        device("x1", kind, **params),
        wires=(wire("w1", "g1:L", "s1:13"), wire("w2", "s1:14", f"x1:{a}"), wire("w3", f"x1:{b}", "g1:N")),
    )


def closed(bench: Bench, place: str) -> set[str]:
    """The closed contacts of a device."""
    return {
        ref.branch
        for ref, value in zip(bench.assembly.branches, bench.frame.values, strict=True)
        if ref.place == place and value is not None and ref.branch != "coil"
    }


def changes_s(bench: Bench, place: str) -> list[float]:
    """Seconds since the last hand at which a device said something else, to the millisecond."""
    frames = bench.trajectory.frames
    start = frames[0].state.time_us
    times = []
    for before, after in pairwise(frames):
        if before.views[place].says != after.views[place].says:
            times.append(round((after.state.time_us - start) / 1e6, 3))
    return times


def test_an_on_delay_closes_after_its_time_and_opens_at_once() -> None:
    bench = on_a_switch("timer_relay", "A1", "A2", mode="on_delay", delay_s=3.0)
    bench.do("s1", "turn", wait_s=2.9)
    assert closed(bench, "x1") == {"15-16"}
    bench.wait(0.2)
    assert closed(bench, "x1") == {"15-18"}
    bench.do("s1", "turn", False, wait_s=0.1)
    assert closed(bench, "x1") == {"15-16"}


def test_an_on_delay_that_is_cut_short_starts_again() -> None:
    bench = on_a_switch("timer_relay", "A1", "A2", mode="on_delay", delay_s=3.0)
    bench.do("s1", "turn", wait_s=2.0)
    bench.do("s1", "turn", False, wait_s=0.2)
    bench.do("s1", "turn", wait_s=2.0)
    assert closed(bench, "x1") == {"15-16"}
    bench.wait(1.5)
    assert closed(bench, "x1") == {"15-18"}


def test_an_off_delay_closes_at_once_and_opens_after_its_time() -> None:
    bench = on_a_switch("timer_relay", "A1", "A2", mode="off_delay", delay_s=3.0)
    bench.do("s1", "turn", wait_s=0.1)
    assert closed(bench, "x1") == {"15-18"}
    bench.do("s1", "turn", False, wait_s=2.9)
    assert closed(bench, "x1") == {"15-18"}
    bench.wait(0.2)
    assert closed(bench, "x1") == {"15-16"}


def test_an_interval_timer_closes_for_its_time() -> None:
    bench = on_a_switch("timer_relay", "A1", "A2", mode="interval", delay_s=3.0)
    bench.do("s1", "turn", wait_s=2.9)
    assert closed(bench, "x1") == {"15-18"}
    bench.wait(0.2)
    assert closed(bench, "x1") == {"15-16"}


def test_a_star_delta_timer_keeps_its_dead_time() -> None:
    bench = on_a_switch("timer_star_delta", "A1", "A2", star_s=4.0, dead_time_ms=60.0)
    bench.do("s1", "turn", wait_s=5.0)
    star, dead, delta = changes_s(bench, "x1")
    assert dead - star == pytest.approx(4.0)
    assert delta - dead == pytest.approx(0.060)
    assert closed(bench, "x1") == {"17-28"}
    never_both = [
        {ref.branch for ref, v in zip(bench.assembly.branches, frame.values, strict=True) if ref.place == "x1" and v}
        for frame in bench.trajectory.frames
    ]
    assert not any({"17-18", "17-28"} <= contacts for contacts in never_both)


def test_a_timer_without_enough_voltage_does_not_run() -> None:
    bench = on_a_switch("timer_relay", "A1", "A2", supply_voltage_v=400.0, delay_s=1.0)
    bench.do("s1", "turn", wait_s=3.0)
    assert closed(bench, "x1") == {"15-16"}


def test_a_control_relay_changes_over_with_both_open_in_between() -> None:
    bench = on_a_switch("control_relay", "A1", "A2")
    assert closed(bench, "x1") == {"11-12", "21-22"}
    bench.do("s1", "turn")
    assert closed(bench, "x1") == {"11-14", "21-24"}
    between = [
        {ref.branch for ref, v in zip(bench.assembly.branches, f.values, strict=True) if ref.place == "x1" and v}
        for f in bench.trajectory.frames
    ]
    assert {"coil"} in between


def test_a_solenoid_opens_and_a_horn_sounds() -> None:
    valve = on_a_switch("solenoid", "A1", "A2")
    horn = on_a_switch("horn", "X1", "X2")
    assert (valve.says("x1"), horn.says("x1")) == ("shut", "silent")
    valve.do("s1", "turn")
    horn.do("s1", "turn")
    assert (valve.says("x1"), horn.says("x1")) == ("open", "sounds")
    assert abs(valve.frame.signals["x1"]["coil"].current_a) == pytest.approx(12 / 230, rel=0.01)


@pytest.mark.parametrize(
    ("kind", "operation", "words"),
    [
        ("emergency_stop", "strike", ("released", "struck")),
        ("limit_switch", "actuate", ("free", "actuated")),
        ("float_switch", "raise", ("low", "high")),
        ("pressure_switch", "press", ("low", "high")),
        ("temperature_switch", "heat", ("cool", "hot")),
        ("selector_two", "turn", ("0", "1")),
    ],
)
def test_maintained_switches_stay_where_they_are_put(kind: str, operation: str, words: tuple[str, str]) -> None:
    bench = Bench(circuit([device("s1", kind)], []))
    assert (bench.says("s1"), closed(bench, "s1")) == (words[0], {"11-12"})
    bench.do("s1", operation, True, wait_s=60.0)
    assert (bench.says("s1"), closed(bench, "s1")) == (words[1], {"13-14"})
    bench.do("s1", operation, False)
    assert closed(bench, "s1") == {"11-12"}


def test_hand_off_auto_closes_one_contact_at_most() -> None:
    bench = Bench(circuit([device("s1", "hand_off_auto")], []))
    seen = {}
    for position in ("off", "hand", "auto", "off"):
        bench.do("s1", position)
        seen[bench.says("s1")] = closed(bench, "s1")
    assert seen == {"off": set(), "hand": {"13-14"}, "auto": {"23-24"}}


def test_a_fuse_melts_by_current_and_must_be_replaced() -> None:
    load = device("h1", "lamp", rated_power_w=500.0)
    wires = (wire("w1", "g1:L", "f1:1"), wire("w2", "f1:2", "h1:X1"), wire("w3", "h1:X2", "g1:N"))
    holds = fed(device("f1", "fuses", rated_current_a=2.0), load, wires=wires)
    holds.wait(3600.0)
    assert holds.says("f1") == "sound"
    blows = fed(device("f1", "fuses", rated_current_a=0.4), load, wires=wires)
    # 2.174 A lies between 1.167 A in 7 s and 2.349 A in 0.1 s, on logarithmic scales: 0.160 s by hand.
    melts_s = 0.160
    blows.wait(melts_s * 0.98)
    assert blows.says("f1") == "sound"
    blows.wait(melts_s * 0.04)
    assert (blows.says("f1"), blows.says("h1")) == ("blown", "dark")
    blows.do("f1", "replace", wait_s=0.1)
    assert (blows.says("f1"), blows.says("h1")) == ("sound", "lit")


def test_the_links_of_a_fuse_are_taken_out_and_put_in() -> None:
    """What is out opens the circuit, and is neither sounder nor more blown by it."""
    wires = (wire("w1", "g1:L", "f1:1"), wire("w2", "f1:2", "h1:X1"), wire("w3", "h1:X2", "g1:N"))
    bench = fed(device("f1", "fuses", rated_current_a=2.0), device("h1", "lamp"), wires=wires)
    bench.wait(0.1)
    assert (bench.says("f1"), bench.says("h1")) == ("sound", "lit")
    bench.do("f1", "out")
    bench.wait(0.1)
    assert (bench.says("f1"), bench.says("h1")) == ("taken out", "dark")
    bench.do("f1", "out", False)
    bench.wait(0.1)
    assert (bench.says("f1"), bench.says("h1")) == ("sound", "lit")


def starter(dial_a: float, volts: float = 400.0) -> Bench:
    supply, motor = device("g1", "supply_three_phase", line_voltage_v=volts), device("m1", "motor_three_phase")
    wires = [wire(f"a{n}", f"g1:L{n}", f"q1:{2 * n - 1}") for n in (1, 2, 3)]
    wires += [wire(f"b{n}", f"q1:{2 * n}", f"m1:{name}1") for n, name in ((1, "U"), (2, "V"), (3, "W"))]
    return Bench(circuit([supply, device("q1", "motor_starter", dial_a=dial_a), motor], wires))


def test_a_motor_starter_carries_its_dial_and_trips_above_it() -> None:
    good = starter(3.4)
    good.wait(7200.0)
    assert (good.says("q1"), good.says("m1")) == ("on", "turns forward")
    low = starter(1.7)
    low.wait(120.0)
    assert (low.says("q1"), low.says("m1")) == ("tripped", "still")
    assert closed(low, "q1") == {"21-22"}


def test_a_motor_starter_is_trip_free_and_must_go_to_off_first() -> None:
    bench = starter(1.7)
    bench.wait(120.0)
    bench.do("q1", "switch", True)
    assert bench.says("q1") == "tripped"
    bench.do("q1", "switch", False)
    bench.do("q1", "switch", True)
    assert bench.says("q1") == "off"  # still hot
    bench.wait(900.0)
    bench.do("q1", "switch", True, wait_s=0.1)
    assert bench.says("q1") == "on"


def test_two_motor_starters_alike_but_for_a_short_circuit() -> None:
    bench = starter(3.4)
    base = bench.assembly.circuit
    short = wire("short", "q1:2", "q1:4")
    bench.assembly = Assembly(base.model_copy(update={"conductors": (*base.conductors, short)}))
    bench.wait(0.1)
    assert bench.says("q1") == "tripped"
    tripped = next(f for f in bench.trajectory.frames if f.views["q1"].says == "tripped")
    assert tripped.state.time_us <= 20_000


def test_six_leads_in_star_and_delta() -> None:
    """With the rotor locked, winding voltage in star is 58 %, and line current one third, of what they are in delta."""

    def line_current(links: tuple[tuple[str, str], ...]) -> tuple[float, float]:
        wires = [wire(f"a{n}", f"g1:L{n}", f"m1:{name}1") for n, name in ((1, "U"), (2, "V"), (3, "W"))]
        wires += [wire(f"k{n}", f"m1:{a}", f"m1:{b}") for n, (a, b) in enumerate(links)]
        stiff = {"source_resistance_ohm": 1e-6, "source_reactance_ohm": 0.0}
        bench = Bench(circuit([device("g1", "supply_three_phase", **stiff), device("m1", "motor_six_leads")], wires))
        assert bench.says("m1") == "turns forward"
        signals = bench.frame.signals
        return abs(signals["m1"]["U1-U2"].voltage_v), abs(signals["g1"]["L1"].current_a)

    star_v, star_a = line_current((("U2", "V2"), ("V2", "W2")))
    delta_v, delta_a = line_current((("U2", "V1"), ("V2", "W1"), ("W2", "U1")))
    assert star_v / delta_v == pytest.approx(1 / math.sqrt(3), rel=0.01)
    assert star_a / delta_a == pytest.approx(1 / 3, rel=0.01)
    assert delta_a == pytest.approx(7.0 * 15.5, rel=0.03)


def test_a_ring_exchange_of_all_three_lines_does_not_reverse() -> None:
    def turns(order: str) -> str:
        wires = [wire(f"a{n}", f"g1:L{n}", f"m1:{name}1") for n, name in enumerate(order, 1)]
        bench = Bench(circuit([device("g1", "supply_three_phase"), device("m1", "motor_three_phase")], wires))
        return bench.says("m1")

    assert {turns(order) for order in ("UVW", "VWU", "WUV")} == {"turns forward"}
    assert {turns(order) for order in ("VUW", "UWV", "WVU")} == {"turns backward"}


def test_a_single_phase_supply_can_stand_unearthed() -> None:
    lamp = device("h1", "lamp")
    wires = [wire("w1", "g1:L", "h1:X1"), wire("w2", "h1:X2", "g1:N")]
    bench = Bench(circuit([device("g1", "supply_single_phase", neutral_earthed=False), lamp], wires))
    assert bench.says("h1") == "lit"
    assert not read_voltage(bench.assembly, bench.frame.point, end("g1:L"), end("g1:PE")).joined


def test_every_kind_has_a_docstring_that_says_what_it_is() -> None:
    for kind in KINDS.values():
        assert (type(kind).__doc__ or "").strip(), kind.name


@pytest.mark.parametrize(
    ("kind", "turned"),
    [("hand_off_auto", "auto"), ("cam_switch", "2"), ("up_down_switch", "down"), ("level_electrodes", "full")],
)
def test_a_selector_tells_in_which_of_its_positions_it_stands(kind: str, turned: str) -> None:
    """By the position, not by the word that people read; a cam between two stands in neither."""
    selector = KINDS[kind]
    params = selector.defaults()
    state = selector.operate(params, selector.initial(params), turned, True, 0)
    due = state.get("turns_at_us")
    if isinstance(due, int):
        assert not any(selector.view(params, state, {}).on.values())
        state = selector.advance(params, state, due)
    on = selector.view(params, state, {}).on
    assert {position for position, stands in on.items() if stands} == {turned}
    assert set(on) == {operation.name for operation in selector.operations}
