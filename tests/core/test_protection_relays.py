"""Relays that watch, safety relays, what they are fed through: each told wrong and right apart, in its own time."""

import math

import pytest

from tests.core.circuits import Bench, circuit, device, wire
from wiretrace.catalogue.command.cam_switch import TableError, closing_table
from wiretrace.document.circuit import Circuit
from wiretrace.errors import InvalidCircuit
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly

NEW = {
    "autotransformer-starter", "capacitor-motor-rc-mistake", "earth-leakage-relay", "impulse-relay-lights",
    "insulation-monitor", "level-relay-pump", "motor-protection-relay", "phase-failure-voltage-and-current",
    "plugging-zero-speed", "safety-relay-dual-contactors", "soft-starter-bypass", "star-delta-closed-transition",
    "thermistor-relay", "undervoltage-release", "wound-rotor-starter",
}  # fmt: skip


def bench(parts: list[object], *ways: tuple[str, str]) -> Bench:
    return Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))  # type: ignore[arg-type]


def resistance(name: str, ohm: float) -> object:
    """A load of so many ohms."""
    volts = min(690.0, max(6.0, math.sqrt(ohm)))
    return device(name, "lamp", rated_voltage_v=volts, rated_power_w=volts**2 / ohm)


def test_the_library_shows_them() -> None:
    assert set(library_names()) >= NEW


@pytest.mark.parametrize(
    ("ohm", "says"),
    [(300.0, "ready"), (1500.0, "ready"), (3700.0, "tripped: too hot"), (10.0, "tripped: string shorted")],
)
def test_a_thermistor_relay_tells_hot_from_shorted(ohm: float, says: str) -> None:
    """IEC 60947-8: hot above 3.6 kohm, shorted below 20 ohm."""
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("k5", "thermistor_relay"),
            resistance("r1", 300.0),
            device("s1", "selector_two"),
            resistance("r2", ohm),
        ],
        ("g1:L", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("k5:T1", "s1:11"),
        ("s1:12", "r1:X1"),
        ("r1:X2", "k5:T2"),
        ("s1:13", "k5:T1"),
        ("s1:14", "r2:X1"),
        ("r2:X2", "k5:T2"),
    )
    made.wait(0.5)
    assert made.says("k5") == "ready"
    # While the switch is on its way the string is open, but only for some milliseconds.
    made.do("s1", "turn", wait_s=0.5)
    assert made.says("k5") == says


def test_an_interrupted_string_is_told_from_a_hot_one() -> None:
    made = bench(
        [device("g1", "supply_single_phase"), device("k5", "thermistor_relay")], ("g1:L", "k5:A1"), ("g1:N", "k5:A2")
    )
    made.wait(0.5)
    assert (made.says("k5"), made.frame.views["k5"].active) == ("string open", False)


@pytest.mark.parametrize(("milliamperes", "trips"), [(140.0, False), (310.0, True)])
def test_an_earth_leakage_relay_trips_at_its_current_and_not_at_half_of_it(milliamperes: float, trips: bool) -> None:
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("k5", "earth_leakage_relay", residual_a=0.3, delay_s=0.2),
            device("s1", "selector_two"),
            resistance("leak", 230 / (milliamperes / 1000)),
            resistance("load", 100.0),
        ],
        ("g1:L", "k5:1"),
        ("g1:N", "k5:7"),
        ("k5:1", "k5:A1"),
        ("k5:7", "k5:A2"),
        ("k5:2", "load:X1"),
        ("load:X2", "k5:8"),
        ("k5:2", "s1:13"),
        ("s1:14", "leak:X1"),
        ("leak:X2", "g1:PE"),
    )
    made.wait(0.5)
    assert made.says("k5") == "ready"
    made.do("s1", "turn", wait_s=0.15)
    assert made.says("k5") == ("earth leakage" if trips else "ready")
    made.wait(0.2)
    assert made.says("k5") == ("tripped: earth leakage" if trips else "ready")


def test_what_goes_and_comes_through_the_window_cancels() -> None:
    made = Bench(library_circuit("earth-leakage-relay"))
    made.do("start", "press", wait_s=2.0)
    (residual,) = made.frame.views["leakage"].figures
    assert residual.value == pytest.approx(0.0, abs=1e-6)


def test_a_shifted_star_point_is_seen() -> None:
    """One winding open: the star point stands half way between the two other lines, 115 V from neutral."""
    made = bench(
        [
            device("g1", "supply_three_phase"),
            device("k5", "star_point_relay"),
            device("m1", "motor_six_leads"),
            device("s1", "isolator"),
        ],
        ("g1:L1", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("g1:N", "k5:N"),
        ("g1:L1", "s1:1"),
        ("g1:L2", "s1:3"),
        ("g1:L3", "s1:5"),
        ("s1:2", "m1:U1"),
        ("s1:4", "m1:V1"),
        ("s1:6", "m1:W1"),
        ("m1:U2", "m1:V2"),
        ("m1:V2", "m1:W2"),
        ("m1:W2", "k5:S"),
    )
    made.wait(3.0)
    assert made.says("k5") == "ready"
    made.fail("M1/U1-U2=open")
    made.wait(1.0)
    assert made.says("k5") == "tripped: star point shifted"


def test_a_lost_supply_is_no_trip_and_comes_back_ready() -> None:
    made = Bench(library_circuit("earth-leakage-relay"))
    made.wait(0.5)
    made.do("supply", "switch", False, wait_s=0.5)
    assert made.says("leakage") == "off"
    made.do("supply", "switch", True, wait_s=0.5)
    assert made.says("leakage") == "ready"


def test_both_relays_side_by_side_only_the_one_by_current_sees_a_back_fed_phase() -> None:
    made = Bench(library_circuit("phase-failure-voltage-and-current"))
    made.do("start", "press", wait_s=3.0)
    made.fail("Q2/3-4=open")
    made.wait(1.0)
    assert made.says("voltage") == "healthy"
    assert made.says("current") == "phase lost"


def hands(first_s: float, second_s: float) -> str:
    """What a two-hand relay says when its buttons are pressed at these times and held."""
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("k5", "two_hand_relay"),
            device("s1", "push_button"),
            device("s2", "push_button"),
        ],
        ("g1:L", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("k5:S11", "s1:13"),
        ("s1:14", "k5:S12"),
        ("k5:S21", "s2:13"),
        ("s2:14", "k5:S22"),
    )
    made.wait(0.2)
    made.do("s1", "press", wait_s=second_s - first_s)
    made.do("s2", "press", wait_s=0.5)
    return made.says("k5")


def test_two_hands_must_come_within_half_a_second() -> None:
    assert hands(0.0, 0.4) == "on"
    assert hands(0.0, 0.6) == "too late"


def test_an_emergency_stop_opens_both_channels_and_one_alone_locks() -> None:
    """ISO 13850 and ISO 13849-1: one movement opens both; one channel alone is a fault until both have opened."""
    made = Bench(library_circuit("safety-relay-dual-contactors"))
    made.do("gate", "actuate", wait_s=0.3)
    assert made.says("safety") == "waiting"
    for _ in range(2):
        made.do("estop", "strike", wait_s=0.3)
        assert made.says("safety") == "open"
        made.do("estop", "strike", False, wait_s=0.3)
        assert made.says("safety") == "waiting"
    made.do("reset", "press", wait_s=0.3)
    made.do("reset", "press", False, wait_s=0.3)
    assert made.says("safety") == "on"
    made.fail("S0/21-22=open")
    made.wait(0.3)
    assert made.says("safety") == "channels differ"
    made.fail()
    made.wait(0.3)
    assert made.says("safety") == "channels differ"
    made.do("gate", "actuate", False, wait_s=0.3)
    made.do("gate", "actuate", wait_s=0.3)
    assert made.says("safety") == "waiting"


def test_a_short_between_the_channels_of_a_safety_relay_drops_it() -> None:
    made = Bench(library_circuit("safety-relay-dual-contactors"))
    made.do("gate", "actuate", wait_s=0.3)
    made.do("reset", "press", wait_s=0.3)
    made.do("reset", "press", False, wait_s=0.3)
    assert made.says("safety") == "on"
    made.fail("S0:11=to S0:21")
    made.wait(0.5)
    assert made.says("safety") != "on"


def test_an_undervoltage_release_falls_between_70_and_35_percent() -> None:
    for percent, says in ((72.0, "on"), (34.0, "tripped")):
        made = bench(
            [
                device("g1", "supply_three_phase", l1_percent=percent),
                device("q1", "breaker", poles=3, release="undervoltage", alarm_contact=True),
            ],
            ("g1:L1", "q1:D1"),
            ("g1:N", "q1:D2"),
        )
        made.wait(0.5)
        assert made.says("q1") == says
        alarm = made.assembly.branch_index("q1", "97-98")
        assert (made.frame.values[alarm] is not None) is (says == "tripped")


def test_a_shunt_release_trips_when_its_voltage_comes() -> None:
    made = bench(
        [device("g1", "supply_single_phase"), device("q1", "breaker", release="shunt"), device("s1", "push_button")],
        ("g1:L", "s1:13"),
        ("s1:14", "q1:C1"),
        ("q1:C2", "g1:N"),
    )
    made.wait(0.5)
    assert made.says("q1") == "on"
    made.do("s1", "press")
    assert made.says("q1") == "tripped"


def test_a_closing_table_is_read_or_refused_with_its_reason() -> None:
    assert closing_table("0: -; 2: 1-2 5-6") == {"0": frozenset(), "2": {"1-2", "5-6"}}
    for text, reason in (
        ("", "empty"),
        ("1-2", "no position"),
        ("1: 9-10 13-14", "do not exist"),
        ("1: -; 1: -", "twice"),
    ):
        with pytest.raises(TableError, match=reason):
            closing_table(text)
    wrong = Circuit(title="", devices=(device("s1", "cam_switch", table="x"),))
    with pytest.raises(InvalidCircuit, match="closing table"):
        Assembly(wrong)


def test_a_cam_switch_opens_between_positions_what_is_not_closed_in_both() -> None:
    made = bench([device("s1", "cam_switch", table="0: -; 1: 1-2 5-6; 2: 3-4 5-6")])
    made.do("s1", "1", wait_s=0.2)

    def closed() -> set[str]:
        return {name for index, name in made.assembly.graph.branches_of["s1"] if made.frame.values[index] is not None}

    assert closed() == {"1-2", "5-6"}
    made.do("s1", "2", wait_s=0.02)
    assert closed() == {"5-6"}
    made.wait(0.2)
    assert closed() == {"3-4", "5-6"}


@pytest.mark.parametrize(
    ("mode", "expected"),
    [
        # After so many seconds the timed contact stands so; the trigger is held from 0 to 2 s, the time is 1 s.
        ("on_delay", {0.5: 0, 1.5: 1, 2.5: 0}),
        ("off_delay", {0.5: 1, 2.5: 1, 3.5: 0}),
        ("one_shot", {0.5: 1, 1.5: 0, 2.5: 0}),
    ],
)
def test_a_timer_with_a_trigger_counts_from_that(mode: str, expected: dict[float, int]) -> None:
    made = bench(
        [
            device("g1", "supply_single_phase"),
            device("k5", "timer_triggered", mode=mode, delay_s=1.0),
            device("s1", "push_button"),
        ],
        ("g1:L", "k5:A1"),
        ("g1:N", "k5:A2"),
        ("g1:L", "s1:13"),
        ("s1:14", "k5:B1"),
    )
    made.wait(1.0)
    made.do("s1", "press", wait_s=0.5)
    now, seen = 0.5, {0.5: made.state.devices["k5"]["phase"]}
    assert made.state.devices["k5"]["over"]
    for at in (1.5, 2.5, 3.5):
        if at > 2.0 > now:
            made.wait(2.0 - now)
            made.do("s1", "press", False, wait_s=0.0)
            now = 2.0
        made.wait(at - now)
        now, seen[at] = at, made.state.devices["k5"]["phase"]
    assert {at: seen[at] for at in expected} == expected
    assert not made.state.devices["k5"]["over"]


@pytest.mark.parametrize(
    "kind", ["thermistor_relay", "insulation_monitor", "safety_relay", "two_hand_relay", "level_relay"]
)
def test_a_relay_without_supply_puts_out_nothing_to_measure_with(kind: str) -> None:
    made = bench([device("g1", "supply_single_phase"), device("k5", kind)], ("g1:L", "k5:A1"), ("g1:N", "k5:A2"))

    def drives() -> bool:
        values = [made.frame.values[index] for index, _ in made.assembly.graph.branches_of["k5"]]
        return any(value is not None and (value.emf_v != 0 or value.emf_dc_v != 0) for value in values)

    made.wait(0.5)
    assert drives()
    made.do("g1", "switch", False, wait_s=0.5)
    assert not drives()
