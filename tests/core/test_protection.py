"""Overload relays, breakers and fuses against the bands of the standards; short circuits."""

import pytest

from tests.core.circuits import Bench, circuit, device, wire, with_params
from wiretrace.document.circuit import Circuit
from wiretrace.library import library_circuit
from wiretrace.simulation.engine import run

IEC_BANDS = {"5": (0.5, 5.0), "10A": (2.0, 10.0), "10": (4.0, 10.0), "20": (6.0, 20.0), "30": (9.0, 30.0)}
FROM_HOT_MIN = {"10A": 2, "10": 4, "20": 8, "30": 12}


def loaded(times: float, phases: int = 3, protection: str = "overload_relay", **params: float | str | bool) -> Circuit:
    """A relay set to 10 A in three phases, each with a resistance that takes `times` 10 A of a stiff 400 V."""
    supply = device("g1", "supply_three_phase", source_resistance_ohm=1e-4, source_reactance_ohm=0.0)
    # Without a voltage of its own to speak of, so that the resistances alone make the current.
    relay = device("f1", protection, **{"heater_resistance_ohm": 1e-4, **params} if "relay" in protection else params)
    power_w = 400 / 3**0.5 * 10 * times
    loads = [
        device(f"r{n}", "horn", rated_voltage_v=400 / 3**0.5, rated_power_w=min(500.0, power_w)) for n in (1, 2, 3)
    ]
    wires = []
    for n in range(phases):
        wires += [
            wire(f"a{n}", f"g1:L{n + 1}", f"f1:{2 * n + 1}"),
            wire(f"b{n}", f"f1:{2 * n + 2}", f"r{n + 1}:X1"),
            wire(f"c{n}", f"r{n + 1}:X2", "g1:N"),
        ]
    return circuit([supply, relay, *loads], wires)


def dial_for(times: float) -> float:
    """The dial at which the resistances of 400 W and so many amperes are `times` the dial."""
    return 400 / (400 / 3**0.5) / times


def trip_s(times: float, limit_s: float = 8000.0, phases: int = 3, hot: bool = False, **params: object) -> float | None:
    """Seconds to trip at a multiple of the dial, from cold or after long at the dial; None for never."""
    base = with_params(loaded(4.0, phases, "overload_relay"), {f"r{n}": {"rated_power_w": 400.0} for n in (1, 2, 3)})
    amperes = 400 / (400 / 3**0.5)

    def at(dial_a: float) -> Circuit:
        return with_params(base, {"f1": {"dial_a": dial_a, **params}})  # type: ignore[dict-item]

    bench = Bench(at(amperes if hot else amperes / times))
    if hot:
        bench.wait(8000.0)
        bench.assembly = type(bench.assembly)(at(amperes / times))
        # The relay keeps its heat in units of its own dial.
        heat = {f"heat_{n}": 1.0 for n in (1, 2, 3)}
        devices = {**bench.state.devices, "f1": {**bench.state.devices["f1"], **heat}}
        bench.state = type(bench.state)(bench.state.time_us, devices)
    start = bench.state.time_us
    bench.wait(limit_s)
    tripped = [f for f in bench.trajectory.frames if f.state.devices["f1"]["tripped"]]
    return (tripped[0].state.time_us - start) / 1e6 if tripped else None


WORKS_BY = pytest.mark.parametrize("works_by", ["bimetal", "melting_alloy", "electronic", "dashpot"])


@WORKS_BY
@pytest.mark.parametrize("trip_class", IEC_BANDS)
def test_every_class_trips_inside_its_band_at_7_2_times(trip_class: str, works_by: str) -> None:
    low, high = IEC_BANDS[trip_class]
    seconds = trip_s(7.2, trip_class=trip_class, works_by=works_by)
    assert seconds is not None
    assert low < seconds <= high


@WORKS_BY
@pytest.mark.parametrize("trip_class", FROM_HOT_MIN)
def test_every_class_holds_at_1_05_and_trips_at_1_2_and_1_5_from_hot(trip_class: str, works_by: str) -> None:
    assert trip_s(1.05, trip_class=trip_class, works_by=works_by) is None
    warm = trip_s(1.2, hot=True, trip_class=trip_class, works_by=works_by)
    hot = trip_s(1.5, hot=True, trip_class=trip_class, works_by=works_by)
    assert warm is not None
    assert warm < 7200
    assert hot is not None
    assert hot < 60 * FROM_HOT_MIN[trip_class]


@WORKS_BY
@pytest.mark.parametrize("number", [10, 20, 30])
def test_north_american_classes_trip_within_their_seconds_at_six_times(number: int, works_by: str) -> None:
    seconds = trip_s(6.0, trip_class=f"NEMA {number}", works_by=works_by)
    assert seconds is not None
    assert 0.5 * number < seconds <= number


def test_a_relay_that_feels_a_lost_phase_trips_at_less() -> None:
    """At 1.12 times the dial on two poles: with the bias it trips, without it never."""
    assert trip_s(1.12, phases=2, feels_phase_loss=True) is not None
    assert trip_s(1.12, phases=2, feels_phase_loss=False) is None
    assert trip_s(1.12) is None


def test_an_electronic_relay_trips_on_a_lost_phase_within_seconds() -> None:
    seconds = trip_s(0.7, phases=2, works_by="electronic")
    assert seconds == pytest.approx(3.0, abs=0.01)
    assert trip_s(0.7, works_by="electronic") is None


def test_a_dashpot_rides_through_a_start_and_remembers_no_heat() -> None:
    """At six times the dial it needs 6.5 s in class 10; cut shorter, the piston falls back at once."""
    base = with_params(
        loaded(4.0, 3, "overload_relay"),
        {"f1": {"works_by": "dashpot", "dial_a": dial_for(6.0), "trip_class": "10"}},
    )
    bench = Bench(with_params(base, {f"r{n}": {"rated_power_w": 400.0} for n in (1, 2, 3)}))
    bench.wait(6.0)
    assert bench.says("f1") == "set"
    bench.do("g1", "switch", False, wait_s=3.0)
    bench.do("g1", "switch", True, wait_s=6.0)
    assert bench.says("f1") == "set"
    bench.wait(1.0)
    assert bench.says("f1") == "tripped"
    bench.do("g1", "switch", False, wait_s=0.1)
    bench.do("f1", "reset")
    assert bench.says("f1") == "set"


def test_an_uncompensated_relay_trips_earlier_in_the_heat() -> None:
    cool = trip_s(2.0, ambient_compensated=False, ambient_c=20.0)
    hot = trip_s(2.0, ambient_compensated=False, ambient_c=50.0)
    compensated = trip_s(2.0, ambient_c=50.0)
    assert cool is not None
    assert hot is not None
    assert hot < 0.7 * cool
    assert compensated == cool


def breaker_trip_s(times: float, curve: str = "C", limit_s: float = 4000.0) -> float | None:
    """Seconds until a breaker opens at a multiple of its rated current; None within the limit."""
    load_ohm = 400 / 3**0.5 / (10.0 * times)
    base = loaded(1.0, 1, "breaker")
    load = {"rated_voltage_v": 24.0, "rated_power_w": 24.0**2 / load_ohm}
    bench = Bench(with_params(base, {"f1": {"rated_current_a": 10.0, "curve": curve}, "r1": load}))  # type: ignore[dict-item]
    bench.wait(limit_s)
    opened = [f for f in bench.trajectory.frames if f.views["f1"].says == "tripped"]
    return opened[0].state.time_us / 1e6 if opened else None


def test_breakers_keep_inside_their_inverse_time_gates() -> None:
    """IEC 60898-1, table 7: not at 1.13, within the hour at 1.45, 1 to 60 s at 2.55 times."""
    assert breaker_trip_s(1.13) is None
    warm = breaker_trip_s(1.45)
    assert warm is not None
    assert warm < 3600
    quick = breaker_trip_s(2.55)
    assert quick is not None
    assert 1 < quick < 60


@pytest.mark.parametrize(("curve", "low", "high"), [("B", 3.0, 5.0), ("C", 5.0, 10.0)])
def test_breakers_open_at_once_above_their_band_and_not_below_it(curve: str, low: float, high: float) -> None:
    slow = breaker_trip_s(low, curve)
    at_once = breaker_trip_s(high, curve)
    assert slow is not None
    assert slow > 0.1
    assert at_once is not None
    assert at_once < 0.1


def test_two_breakers_in_series_only_the_smaller_opens_on_an_overload() -> None:
    supply = device("g1", "supply_single_phase", source_resistance_ohm=0.01)
    big = device("f1", "breaker", rated_current_a=16.0, curve="C")
    small = device("f2", "breaker", rated_current_a=1.0, curve="C")
    load = device("r1", "horn", rated_power_w=500.0)
    wires = [wire("w1", "g1:L", "f1:1"), wire("w2", "f1:2", "f2:1"), wire("w3", "f2:2", "r1:X1")]
    bench = Bench(circuit([supply, big, small, load], [*wires, wire("w4", "r1:X2", "g1:N")]))
    bench.wait(3600.0)
    assert (bench.says("f1"), bench.says("f2")) == ("on", "tripped")


def test_a_short_circuit_between_phases_through_two_contactors() -> None:
    """Both armatures in by hand: the breaker opens first, the seal-in is lost, and poles may weld."""
    base = library_circuit("reversing-interlocked")
    bench = Bench(base)
    bench.do("open", "press", wait_s=1.0)
    bench.do("k-close", "push", wait_s=0.2)
    currents = [
        abs(bench.assembly.conductor_a(frame.point.ac, name))
        for frame in bench.trajectory.frames
        for name in ("w1", "w3", "w5")
    ]
    assert max(currents) > 1000
    tripped = [f.state.time_us for f in bench.trajectory.frames if f.views["motor-breaker"].says == "tripped"]
    closed = [f.state.time_us for f in bench.trajectory.frames if f.views["k-close"].says.startswith("in")]
    assert 5_000 <= tripped[0] - closed[0] <= 20_000
    # The control circuit hangs above the motor breaker: the button still holds K1 in.
    assert bench.says("control-breaker") == "on"
    assert bench.says("k-close") == "in, welded"
    bench.do("k-close", "push", False)
    bench.do("open", "press", False)
    assert bench.says("k-close") == "in, welded"
    closed_now = {
        ref.branch
        for ref, value in zip(bench.assembly.branches, bench.frame.values, strict=True)
        if ref.place == "k-close" and value is not None
    }
    # Mirror contact: while a pole is welded no normally closed contact closes, so the interlock holds K1 out.
    assert "21-22" not in closed_now
    assert "1-2" in closed_now
    bench.do("k-close", "renew")
    assert bench.says("k-close") == "out"


def test_contactors_that_may_not_weld_do_not() -> None:
    strong = {"k-open": {"welds_at_times": 1000.0}, "k-close": {"welds_at_times": 1000.0}}
    bench = Bench(with_params(library_circuit("reversing-interlocked"), strong))  # type: ignore[arg-type]
    bench.do("open", "press", wait_s=1.0)
    bench.do("k-close", "push", wait_s=0.2)
    bench.do("k-close", "push", False)
    assert bench.says("k-close") == "out"
    assert bench.says("motor-breaker") == "tripped"


def test_heat_of_a_locked_start_trips_the_relay_of_the_motor() -> None:
    """A jammed 1.5 kW motor behind its relay of class 10, set to the nameplate: between 4 and 20 s."""
    bench = Bench(library_circuit("start-stop-overload-line"), [])
    bench.fail("M1.load=constant", "M1.load_percent=900")
    bench.do("start", "press", wait_s=0.2)
    bench.do("start", "press", False, wait_s=30.0)
    assert (bench.says("overload"), bench.says("contactor"), bench.says("tripped-lamp")) == ("tripped", "out", "lit")
    tripped = next(f.state.time_us for f in bench.trajectory.frames if f.views["overload"].says == "tripped")
    assert 4 < tripped / 1e6 < 20


def test_a_shell_disc_opens_the_motor_circuit_and_closes_it_again_by_itself() -> None:
    supply = device("g1", "supply_single_phase")
    disc = device("f1", "shell_disc", dial_a=1.0)
    load = device("r1", "horn", rated_power_w=500.0)
    bench = Bench(
        circuit(
            [supply, disc, load], [wire("a", "g1:L", "f1:1"), wire("b", "f1:2", "r1:X1"), wire("c", "r1:X2", "g1:N")]
        )
    )
    bench.wait(3600.0)
    words = [f.views["f1"].says for f in bench.trajectory.frames]
    assert words.count("open, hot") > 2
    assert words.count("closed") > 2


def test_a_run_over_a_whole_day_stays_one_run() -> None:
    bench = Bench(library_circuit("two-wire-float"))
    bench.do("level", "raise", wait_s=1.0)
    day = run(bench.assembly, bench.state, [], bench.state.time_us + 24 * 3600 * 1_000_000)
    assert len(day.frames) < 100
