"""What happens, in which order, and when."""

import math
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise

import pytest

from tests.core.circuits import SECOND, Bench, circuit, device, end, wire, with_params
from wiretrace.catalogue.machinery.element import Value
from wiretrace.document.circuit import Stray
from wiretrace.errors import SingularNetwork, TooManyEvents, UnknownTarget
from wiretrace.faults.kinds.elements import Open
from wiretrace.instruments.voltmeter import display, read_voltage
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.state import Action
from wiretrace.transport.report import run_data, state_data

LINE = "start-stop-overload-line"


def log(bench: Bench) -> list[tuple[int, str, bool]]:
    """Every change of a contact of the last run: microseconds since its start, which, closed or open."""
    frames = bench.trajectory.frames
    changes = []
    for before, after in pairwise(frames):
        for ref, old, new in zip(bench.assembly.branches, before.values, after.values, strict=True):
            if (old is None) != (new is None):
                time_us = after.state.time_us - frames[0].state.time_us
                changes.append((time_us, f"{ref.place} {ref.branch}", new is not None))
    return changes


def test_the_order_of_contacts_when_start_is_pressed() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press")
    assert log(bench) == [
        (17_000, "start 13-14", True),
        (31_400, "contactor 21-22", False),
        (35_000, "contactor 1-2", True),
        (35_000, "contactor 3-4", True),
        (35_000, "contactor 5-6", True),
        (35_000, "contactor 13-14", True),
    ]


def test_the_order_of_contacts_when_stop_is_pressed() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press")
    bench.do("start", "press", False)
    bench.do("stop", "press")
    changes = log(bench)
    assert changes[0] == (2_000, "stop 11-12", False)
    opened = next(time for time, name, closed in changes if name == "contactor 13-14")
    closed_again = next(time for time, name, closed in changes if name == "contactor 21-22")
    assert (opened, closed_again) == (11_600, 14_000)


def test_a_press_shorter_than_the_armature_needs_does_not_seal() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press", wait_s=0.012)
    bench.do("start", "press", False)
    assert bench.says("contactor") == "out"
    bench.do("start", "press", wait_s=0.045)
    bench.do("start", "press", False)
    assert bench.says("contactor") == "in"


def test_after_a_supply_failure_it_stays_off() -> None:
    for name in (LINE, "start-stop-overload-neutral"):
        bench = Bench(library_circuit(name))
        bench.do("start", "press")
        bench.do("start", "press", False)
        assert bench.says("motor") == "turns forward"
        bench.do("supply", "switch", False)
        assert (bench.says("contactor"), bench.says("motor")) == ("out", "coasts forward")
        bench.do("supply", "switch", True)
        assert (bench.says("contactor"), bench.says("stopped-lamp")) == ("out", "lit")


def test_a_short_dip_is_ridden_through() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press")
    bench.do("start", "press", False)
    bench.do("supply", "switch", False, wait_s=0.006)
    bench.do("supply", "switch", True)
    assert bench.says("contactor") == "in"


@pytest.mark.parametrize(("volts", "picks_up", "holds"), [(400, True, True), (300, False, True), (150, False, False)])
def test_pick_up_and_drop_out_differ(volts: float, picks_up: bool, holds: bool) -> None:
    low = with_params(library_circuit(LINE), {"supply": {"line_voltage_v": volts}})
    bench = Bench(low)
    bench.do("start", "press")
    assert (bench.says("contactor") == "in") is picks_up
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press")
    bench.do("start", "press", False)
    bench.assembly = Assembly(low)
    bench.wait(1.0)
    assert (bench.says("contactor") == "in") is holds


def test_both_contacts_of_a_button_move_together_and_nc_first() -> None:
    head = circuit([device("s1", "push_button", contacts="NO_NC")], [])
    bench = Bench(head)
    bench.do("s1", "press")
    assert log(bench) == [(2_000, "s1 11-12", False), (17_000, "s1 13-14", True)]
    bench.do("s1", "press", False)
    assert log(bench) == [(2_000, "s1 13-14", False), (17_000, "s1 11-12", True)]


def test_the_overload_trips_within_its_class_and_only_when_it_should() -> None:
    """IEC 60947-4-1: at 7.2 times the dial from cold; never at 1.05; at 1.5 from hot within minutes."""

    def trip_s(trip_class: str, times_dial: float, hot: bool) -> float:
        base = with_params(library_circuit(LINE), {"overload": {"trip_class": trip_class, "dial_a": 3.4}})
        bench = Bench(base)
        bench.do("start", "press")
        current = abs(bench.frame.signals["overload"]["1-2"].current_a)
        heats = {f"heat_{n}": 1.0 if hot else 0.0 for n in (1, 2, 3)}
        devices = {**bench.state.devices, "overload": {**bench.state.devices["overload"], **heats}}
        bench.state = type(bench.state)(bench.state.time_us, devices)
        bench.assembly = Assembly(
            with_params(base, {"overload": {"trip_class": trip_class, "dial_a": current / times_dial}})
        )
        start = bench.state.time_us
        bench.wait(7200.0)
        tripped = [f for f in bench.trajectory.frames if f.views["overload"].says == "tripped"]
        return (tripped[0].state.time_us - start) / 1e6 if tripped else math.inf

    bands = {"10A": (2, 10), "10": (4, 10), "20": (6, 20), "30": (9, 30)}
    minutes = {"10A": 2, "10": 4, "20": 8, "30": 12}
    for trip_class, (low, high) in bands.items():
        assert low < trip_s(trip_class, 7.2, hot=False) <= high
        assert trip_s(trip_class, 1.5, hot=True) <= 60 * minutes[trip_class]
        assert trip_s(trip_class, 1.2, hot=True) < 7200
        assert trip_s(trip_class, 1.05, hot=True) == math.inf


def test_the_overload_opens_the_control_circuit_and_is_trip_free() -> None:
    weak = with_params(library_circuit(LINE), {"overload": {"dial_a": 0.6}})
    bench = Bench(weak)
    bench.do("start", "press")
    bench.do("start", "press", False, wait_s=60.0)
    assert (bench.says("overload"), bench.says("contactor")) == ("tripped", "out")
    assert bench.says("tripped-lamp") == "lit"
    bench.do("overload", "reset")
    assert bench.says("overload") == "tripped"  # still hot
    bench.wait(600.0)
    bench.do("overload", "reset")
    assert bench.says("overload") == "set"
    assert bench.says("contactor") == "out"


def test_an_automatic_reset_comes_back_by_itself() -> None:
    bench = Bench(with_params(library_circuit(LINE), {"overload": {"dial_a": 0.6, "automatic_reset": True}}))
    bench.do("start", "press")
    bench.do("start", "press", False, wait_s=60.0)
    assert bench.says("overload") == "tripped"
    bench.wait(1800.0)
    assert (bench.says("overload"), bench.says("contactor")) == ("set", "out")


def test_a_short_circuit_trips_the_breaker_which_must_go_to_off_first() -> None:
    base = library_circuit(LINE)
    short = wire("short", "control-breaker:2", "contactor:A2")
    bench = Bench(base.model_copy(update={"conductors": (*base.conductors, short)}))
    bench.wait(0.1)
    assert bench.says("control-breaker") == "tripped"
    tripped_at = next(f.state.time_us for f in bench.trajectory.frames if f.views["control-breaker"].says == "tripped")
    assert tripped_at <= 10_000
    bench.do("control-breaker", "switch", True)
    assert bench.says("control-breaker") == "tripped"
    bench.do("control-breaker", "switch", False)
    assert bench.says("control-breaker") == "off"
    bench.do("control-breaker", "switch", True, wait_s=0.005)
    assert bench.says("control-breaker") == "on"


def test_exchanging_two_lines_turns_the_motor_backward_and_losing_one_makes_it_hum() -> None:
    base = library_circuit(LINE)
    swap = {"p1-motor": end("motor:V1"), "p2-motor": end("motor:U1")}
    crossed = tuple(c.model_copy(update={"b": swap[c.id]}) if c.id in swap else c for c in base.conductors)
    for changed, word in (
        (base, "turns forward"),
        (base.model_copy(update={"conductors": crossed}), "turns backward"),
        (with_params(base, {"supply": {"l2_present": False}}), "hums"),
    ):
        bench = Bench(changed)
        bench.do("start", "press")
        assert bench.says("motor") == word


def test_a_state_tells_nothing_of_faults() -> None:
    bench = Bench(library_circuit(LINE), [Open("c4-seal")])
    bench.do("start", "press")
    assert bench.says("contactor") == "in"
    bench.do("start", "press", False)
    assert bench.says("contactor") == "out"
    assert set(state_data(bench.state).model_dump()) == {"time_us", "devices"}


@pytest.mark.parametrize(
    "action", [Action(0, "nobody", "press"), Action(0, "start", "paint"), Action(9 * SECOND, "start", "press")]
)
def test_an_action_on_nothing_is_named(action: Action) -> None:
    assembly = Assembly(library_circuit(LINE))
    with pytest.raises(UnknownTarget):
        run(assembly, initial_state(assembly), [action], SECOND)


def test_a_state_of_another_circuit_is_refused() -> None:
    assembly = Assembly(library_circuit(LINE))
    state = initial_state(assembly)
    for bad in (
        {**state.devices, "contactor": {"position": 0}},
        {**state.devices, "supply": {**state.devices["supply"], "switch": 1}},
        {**state.devices, "start": {"position": 1, "driven": True, "moves_at_us": -5}},
    ):
        with pytest.raises(UnknownTarget):
            run(assembly, type(state)(0, bad), [], SECOND)


def test_a_run_that_changes_without_end_is_cut_by_name(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("wiretrace.simulation.engine.MAX_FRAMES", 3)
    bench = Bench(library_circuit(LINE))
    with pytest.raises(TooManyEvents, match="More than 3 changes"):
        bench.do("start", "press")


def test_a_circuit_without_a_source_reads_nothing() -> None:
    bench = Bench(circuit([device("h1", "lamp")], []))
    reading = read_voltage(bench.assembly, bench.frame.point, end("h1:X1"), end("h1:X2"))
    assert (reading.voltage_v, reading.joined, bench.says("h1")) == (0.0, True, "dark")


SHOWN = {0: "0.000", 5.9994: "5.999", 5.9996: "6.00", 59.994: "59.99", 230.94: "230.9", 599.96: "600", 1000: "1000"}


@pytest.mark.parametrize(("volts", "shown"), SHOWN.items())
def test_the_display_rounds_as_a_hand_meter_does(volts: float, shown: str) -> None:
    assert display(volts) == shown


def test_a_singular_network_is_told_in_terminals() -> None:
    """Two sources without impedance on one pair of terminals: which of them is not for us to say."""
    assembly = Assembly(
        circuit(
            [device("g1", "supply_three_phase"), device("h1", "lamp")],
            [wire("w1", "g1:L1", "h1:X1"), wire("w2", "g1:N", "h1:X2")],
        )
    )
    values = assembly.values.in_state(initial_state(assembly))
    for branch in ("L1", "N"):
        values[assembly.branch_index("g1", branch)] = Value(emf_v=230)
    values[assembly.branch_index("h1", "lamp")] = Value(emf_v=24)
    for conductor in ("w1", "w2"):
        values[assembly.branch_index(conductor)] = Value()
    with pytest.raises(SingularNetwork) as caught:
        assembly.equations.solve(values)
    (problem,) = caught.value.problems
    assert problem.code == "source_loop"
    assert "G1:L1 to H1:X1" in problem.message
    assert "H1:X1 to H1:X2" in problem.message


def test_threads_may_share_a_plant() -> None:
    """A server answers several people from one compiled circuit; none may see another's state."""
    assembly = Assembly(library_circuit(LINE))
    start = initial_state(assembly)
    hands = [Action(1000 * n, "start", "press", n % 2 == 0) for n in range(0, 400, 40)]

    def once(index: int) -> str:
        trajectory = run(assembly, start, hands[: index % len(hands)], SECOND)
        return run_data(assembly, trajectory, []).model_dump_json()

    alone = [once(index) for index in range(20)]
    with ThreadPoolExecutor(8) as pool:
        together = list(pool.map(once, [*range(20)] * 4))
    assert together == alone * 4


def test_stray_capacitance_shows_a_ghost_voltage_that_a_small_meter_takes_away() -> None:
    """A conductor beside a live one: the capacitive divider loaded by the meter."""
    alone = wire("w2", "x1:b", "x2:a")
    strays = (
        Stray(id="c1", a=end("x1:a"), b=end("g1:L1"), capacitance_nf=1.0),
        Stray(id="c2", a=end("x1:a"), b=end("g1:PE"), capacitance_nf=1.0),
    )
    parts = [
        device("g1", "supply_three_phase", line_voltage_v=230 * math.sqrt(3)),
        device("x1", "terminal"),
        device("x2", "terminal"),
    ]
    bench = Bench(circuit(parts, [alone], strays))
    volts = [
        read_voltage(bench.assembly, bench.frame.point, end("x2:b"), end("g1:N"), ohm).voltage_v
        for ohm in (10e6, 3.3e3)
    ]
    assert [f"{volt:.3f}" for volt in volts] == ["113.571", "0.238"]
