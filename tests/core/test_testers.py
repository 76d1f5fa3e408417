"""Two-pole, phase-sequence and insulation testers, the map of potentials, and reasons for ohms and amperes."""

import pytest
from click.testing import CliRunner

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.cli.main import main
from wiretrace.document.circuit import Stray
from wiretrace.errors import MeasurementRefused
from wiretrace.explain.current import explain_current
from wiretrace.explain.resistance import explain_resistance
from wiretrace.instruments.clamp_meter import capture_current
from wiretrace.instruments.low_impedance import LowReading, read_low_impedance
from wiretrace.instruments.potentials import potentials
from wiretrace.instruments.testers import read_insulation, read_phase_sequence, read_two_pole
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.race import find_races
from wiretrace.simulation.state import Action
from wiretrace.simulation.warnings import warnings

LINE = "start-stop-overload-line"


@pytest.fixture
def bench() -> Bench:
    return Bench(library_circuit(LINE))


def dead(*faults: str) -> Bench:
    made = Bench(library_circuit(LINE))
    made.fail(*faults)
    made.do("isolator", "switch", False)
    return made


@pytest.mark.parametrize(
    ("red", "black", "shows", "live"),
    [
        ("isolator:1", "isolator:3", "400 V AC", True),
        ("stop:11", "motor:PE", "230 V AC", True),
        ("contactor:A2", "motor:PE", "dark", False),
        ("stop:11", "stop:12", "dark", True),
    ],
)
def test_a_two_pole_tester_shows_steps_and_live_poles(
    bench: Bench, red: str, black: str, shows: str, live: bool
) -> None:
    seen = read_two_pole(bench.assembly, bench.frame.point, end(red), end(black))
    assert (seen.shows, seen.live_pole) == (shows, live)


def test_it_shows_polarity_and_loses_a_stray_voltage_under_load() -> None:
    direct = Bench(library_circuit("dc-control-pnp"))
    direct.wait(0.5)
    ends = (end("psu:+"), end("psu:-"))
    assert read_two_pole(direct.assembly, direct.frame.point, *ends).shows == "24 V DC+"
    assert read_two_pole(direct.assembly, direct.frame.point, *reversed(ends)).shows == "24 V DC-"
    strays = (
        Stray(id="s1", a=end("g1:L"), b=end("x1:a"), capacitance_nf=15.0),
        Stray(id="s2", a=end("x1:a"), b=end("g1:PE"), capacitance_nf=5.0),
    )
    stray = Bench(circuit([device("g1", "supply_single_phase"), device("x1", "terminal")], [], strays))
    spots = (end("x1:b"), end("g1:PE"))
    assert read_two_pole(stray.assembly, stray.frame.point, *spots).shows == "120 V AC"
    assert read_two_pole(stray.assembly, stray.frame.point, *spots, loaded=True).shows == "dark"


def test_the_phase_sequence_tester(bench: Bench) -> None:
    def shows(*names: str) -> str:
        return read_phase_sequence(bench.assembly, bench.frame.point, *(end(name) for name in names)).shows

    lines = ("isolator:1", "isolator:3", "isolator:5")
    assert shows(*lines) == "clockwise"
    assert shows(lines[1], lines[0], lines[2]) == "counter-clockwise"
    assert shows(lines[1], lines[2], lines[0]) == "clockwise"
    bench.fail("G1/L2=open")
    assert shows(*lines) == "phase missing"
    bench.do("supply", "switch", False)
    assert shows(*lines) == "dark"


def test_insulation_is_tested_dead_and_without_electronics(bench: Bench) -> None:
    ends = (end("motor:U1"), end("motor:PE"))
    with pytest.raises(MeasurementRefused, match="S0:11 is live: never test insulation on a live circuit"):
        read_insulation(bench.assembly, bench.frame, end("stop:11"), end("motor:PE"))
    sound = dead()
    assert read_insulation(sound.assembly, sound.frame, *ends).display == "> 20 Gohm"
    damp = dead("M1:U1=to M1:PE 400kohm")
    found = read_insulation(damp.assembly, damp.frame, *ends, 1000)
    assert (found.display, found.enough, found.test_v) == ("0.40 Mohm", False, 1000)
    with pytest.raises(ValueError, match="500 and 1000 V"):
        read_insulation(sound.assembly, sound.frame, *ends, 250)
    supplied = Bench(library_circuit("dc-control-pnp"))
    supplied.do("isolator", "switch", False)
    with pytest.raises(MeasurementRefused, match="T2 is connected: 500 V would destroy it"):
        read_insulation(supplied.assembly, supplied.frame, end("relay:A1"), end("motor:PE"))


def joined(kind: str, params: dict[str, str], terminal: str) -> Bench:
    """A device that one terminal of is wired to X1; M1 stands for earth."""
    devices = [device("x1", "terminal"), device("m1", "motor_three_phase"), device("e1", kind, **params)]
    return Bench(circuit(devices, [wire("w1", "x1:a", f"e1:{terminal}")]))


@pytest.mark.parametrize(
    ("kind", "params", "terminal"),
    [
        ("phase_monitor", {}, "L1"),
        ("timer_relay", {}, "A1"),
        ("timer_triggered", {}, "A1"),
        ("timer_star_delta", {}, "A1"),
        ("flasher", {}, "A1"),
        ("overload_relay", {"works_by": "electronic"}, "1"),
        ("lamp_led", {}, "X1"),
        ("lamp", {"light": "LED"}, "X1"),
        ("push_button_lit", {}, "X1"),
        ("thermistor_relay", {}, "T1"),
    ],
)
def test_an_insulation_test_is_refused_where_electronics_is_joined(
    kind: str, params: dict[str, str], terminal: str
) -> None:
    made = Bench(
        circuit(
            [device("x1", "terminal"), device("m1", "motor_three_phase"), device("e1", kind, **params)],
            [wire("w1", "x1:a", f"e1:{terminal}")],
        )
    )
    with pytest.raises(MeasurementRefused, match="E1 is connected: 500 V would destroy it"):
        read_insulation(made.assembly, made.frame, end("x1:a"), end("m1:PE"))


@pytest.mark.parametrize(
    ("kind", "params", "terminal"),
    [
        ("lamp", {}, "X1"),
        ("overload_relay", {}, "1"),
        ("timer_relay", {}, "15"),
        ("push_button_lit", {}, "13"),
        ("phase_monitor", {}, "11"),
    ],
)
def test_an_insulation_test_goes_on_where_there_is_none(kind: str, params: dict[str, str], terminal: str) -> None:
    made = Bench(
        circuit(
            [device("x1", "terminal"), device("m1", "motor_three_phase"), device("e1", kind, **params)],
            [wire("w1", "x1:a", f"e1:{terminal}")],
        )
    )
    assert read_insulation(made.assembly, made.frame, end("x1:a"), end("m1:PE")).enough


def test_the_map_has_every_terminal_hot_or_cold(bench: Bench) -> None:
    found = {(p.end.device, p.end.terminal): p for p in potentials(bench.assembly, bench.frame.point, end("motor:PE"))}
    assert len(found) == sum(len(item.structure.terminals) for item in bench.assembly.devices.values())
    assert found["stop", "12"].ac_v == pytest.approx(230.9, abs=0.2)
    assert found["start", "14"].ac_v == pytest.approx(0.0, abs=0.1)
    assert found["motor", "U1"].joined is False
    assert found["supply", "L1"].ac_v == pytest.approx(230.9, abs=0.2)


def test_every_combination_of_isolator_breaker_and_starter_has_its_hot_and_cold_terminals() -> None:
    """Counted by hand: L1 L2 L3 of the supply and of the isolator's line side are always hot."""
    hot = {}
    for switches in [(a, b, c) for a in (True, False) for b in (True, False) for c in (True, False)]:
        made = Bench(library_circuit("feeder-order"))
        for name, on in zip(("isolator", "feeder-breaker", "starter"), switches, strict=True):
            if not on:
                made.do(name, "switch", False)
        spots = potentials(made.assembly, made.frame.point, end("motor:PE"))
        power = ("isolator", "feeder-breaker", "starter", "contactor")
        hot[switches] = sum(
            p.ac_v > 200 for p in spots if p.end.device in power and p.end.terminal in ("1", "2", "3", "4", "5", "6")
        )
    assert hot == {
        (True, True, True): 6 + 6 + 6 + 3,
        (True, True, False): 6 + 6 + 3,
        (True, False, True): 6 + 3,
        (True, False, False): 6 + 3,
        (False, True, True): 3,
        (False, True, False): 3,
        (False, False, True): 3,
        (False, False, False): 3,
    }


def test_a_clamp_keeps_the_start_current_and_the_maximum(bench: Bench) -> None:
    bench.do("start", "press", wait_s=5.0)
    kept = capture_current(bench.assembly, bench.trajectory, ["p1-motor"])
    assert kept.inrush_a == pytest.approx(5.5 * 3.4, rel=0.04)
    assert kept.maximum_a == kept.inrush_a
    assert kept.maximum_at_us == 35_000


def test_ohms_are_explained_by_the_ways_of_the_meters_own_current() -> None:
    made = dead()
    made.do("control-breaker", "switch", False)
    told = explain_resistance(made.assembly, made.frame, end("contactor:A1"), end("contactor:A2"))
    shares = {way.device: way.share for way in told.loads}
    assert set(shares) == {"contactor", "run-lamp"}
    assert sum(shares.values()) == pytest.approx(1.0, abs=1e-6)
    assert shares["contactor"] > 0.9
    assert told.sentence.startswith(
        "The meter's current goes through the coil K1 (98 %) and the lamp H1 (2 %), in ways side"
    )
    opened = explain_resistance(made.assembly, made.frame, end("start:13"), end("start:14"))
    if opened.reading.resistance_ohm is None:
        assert "start" in opened.opens
    closed = explain_resistance(made.assembly, made.frame, end("stop:11"), end("stop:12"))
    assert closed.sentence == f"The meter's current goes through S0 and wire: {closed.reading.display} ohm."
    nothing = explain_resistance(made.assembly, made.frame, end("motor:U1"), end("contactor:A1"))
    assert nothing.sentence.startswith("No way for direct current leads from one probe to the other: OL.")


def test_amperes_are_explained_by_what_the_wire_feeds(bench: Bench) -> None:
    bench.do("start", "press", wait_s=3.0)
    told = explain_current(bench.assembly, bench.frame, ["c4-lamp"])
    assert {load.device for load in told.feeds} == {"run-lamp"}
    assert "it feeds the lamp H1" in told.sentence
    line = explain_current(bench.assembly, bench.frame, ["p1-motor"])
    assert {load.device for load in line.feeds} == {"motor"}
    three = explain_current(bench.assembly, bench.frame, ["p1-motor", "p2-motor", "p3-motor"])
    assert three.reading.current_a == pytest.approx(0, abs=1e-6)
    angles = sorted(angle for _, _, angle in three.conductors)
    assert angles[1] - angles[0] == pytest.approx(120, abs=0.5)
    assert three.sentence.startswith("The jaw adds phasors")
    bench.do("start", "press", False)
    bench.do("stop", "press")
    assert "carries nothing" in explain_current(bench.assembly, bench.frame, ["p1-motor"]).sentence


def test_a_low_impedance_meter_can_operate_a_small_relay() -> None:
    """230 V, 3.3 kohm and a relay of 2.4 VA in a row: 87 % at the coil, and it comes in. A contactor does not."""

    def across_open_switch(kind: str) -> LowReading:
        parts = [device("g1", "supply_single_phase"), device("s1", "selector_two"), device("k1", kind)]
        wires = [wire("a", "g1:L", "s1:13"), wire("b", "s1:14", "k1:A1"), wire("c", "k1:A2", "g1:N")]
        made = Bench(circuit(parts, wires))
        return read_low_impedance(made.assembly, made.state, end("s1:13"), end("s1:14"))

    small, large = across_open_switch("control_relay"), across_open_switch("contactor")
    assert small.operates == ("k1",)
    assert small.reading.voltage_v < 30
    assert large.operates == ()
    assert large.reading.voltage_v > 150


def race_circuit() -> Bench:
    """Two relays on one switch, each through the other's normally closed contact."""
    parts = [device("g1", "supply_single_phase"), device("s1", "selector_two")]
    parts += [device(name, "contactor") for name in ("k1", "k2")]
    wires = [wire("a", "g1:L", "s1:13"), wire("b", "s1:14", "k1:21"), wire("c", "k1:21", "k2:21")]
    wires += [wire("d", "k2:22", "k1:A1"), wire("e", "k1:22", "k2:A1"), wire("f", "k1:A2", "g1:N")]
    return Bench(circuit(parts, [*wires, wire("h", "k2:A2", "k1:A2")]))


def test_a_race_is_named_with_both_who_run() -> None:
    made = race_circuit()
    hands = [Action(made.state.time_us, "s1", "turn")]
    found = find_races(made.assembly, made.state, hands, made.state.time_us + 500_000)
    assert [race.devices for race in found] == [("k1", "k2")]
    assert set(found[0].ends) >= {"k1", "k2"}


def test_where_nothing_depends_on_who_is_faster_no_race_is_found() -> None:
    made = Bench(library_circuit("star-delta-timer-first-closure"))
    hands = [Action(made.state.time_us, "start", "press")]
    assert find_races(made.assembly, made.state, hands, made.state.time_us + 8_000_000) == ()


def call(*words: str) -> list[str]:
    done = CliRunner().invoke(main, list(words))
    assert done.exit_code == 0, done.output
    return done.output.splitlines()


def test_the_command_line_reads_every_instrument() -> None:
    press = ("--do", "S1.press@0.1s", "--until", "3s")
    shown = call(
        "measure", LINE, *press,
        *("--volts", "K1:A1,K1:A2", "--ac-volts", "M1:U1,M1:V1", "--dc-volts", "M1:U1,M1:V1"),
        *("--two-pole", "Q1:1,Q1:3", "--sequence", "M1:U1,M1:V1,M1:W1", "--capture", "p1-motor"),
    )  # fmt: skip
    assert shown == [
        "K1:A1,K1:A2: 230.7 V",
        "M1:U1,M1:V1: 398.0 V",
        "M1:U1,M1:V1: 0.000 V DC",
        "p1-motor: start 18.23 A, largest 18.23 A at 0.135 s",
        "Q1:1,Q1:3: 400 V AC, live pole at red",
        "M1:U1,M1:V1,M1:W1: clockwise",
    ]
    off = ("--do", "Q1.switch=off@0.1s")
    assert call("measure", LINE, *off, "--insulation", "M1:U1,M1:PE,1000") == ["M1:U1,M1:PE,1000: > 20 Gohm at 1000 V"]


def test_the_command_line_draws_the_map_the_table_and_the_reasons() -> None:
    rows = call("map", LINE, "M1:PE", "--do", "S1.press@0.1s")
    assert any(row.split()[:2] == ["S1:14", "230.7"] for row in rows)
    assert any(row.startswith("p1-motor") for row in rows)
    told = call("table", "up-down-common-first")
    assert "2. Up" in told
    assert any("S1 1-2 closes" in row for row in told)
    assert call("explain", LINE, "p1-motor", "--amperes", "--do", "S1.press@0.1s", "--until", "3s") == [
        "p1-motor carries 3.19 A; it feeds the motor M1."
    ]
    assert call("explain", LINE, "K1:A1,K1:A2", "--ohms", "--do", "Q1.switch=off@0.1s")[0].startswith("The meter's")
    assert call("races", LINE, "--do", "S1.press@0.1s") == ["No race found."]


def test_a_table_with_a_step_that_goes_otherwise_says_so(tmp_path) -> None:  # type: ignore[no-untyped-def]
    wrong = tmp_path / "wrong.json"
    wrong.write_text('{"steps": [{"text": "Hope", "expect": {"K1": "in"}}]}', encoding="utf-8")
    done = CliRunner().invoke(main, ["table", LINE, "--sequence", str(wrong)])
    assert done.exit_code == 2
    assert "NOT AS EXPECTED: K1 out, expected in" in done.output


def test_warnings_name_what_is_odd() -> None:
    done = CliRunner().invoke(main, ["run", "control-transformer-480-120"])
    assert "warning" not in done.output
    plain = circuit([device("g1", "supply_three_phase", frequency_hz=60.0), device("m1", "motor_three_phase")], [])
    assert [(w.code, w.device) for w in warnings(Assembly(plain))] == [("wrong_frequency", "m1")]
    low = circuit(
        [
            device("g1", "supply_three_phase"),
            device("m1", "motor_six_leads", rated_voltage_v=230.0, rated_current_a=27.0),
        ],
        [],
    )
    assert [(w.code, w.device) for w in warnings(Assembly(low))] == [("wrong_voltage", "m1")]
    lonely = circuit([device("h1", "lamp")], [])
    assert [w.code for w in warnings(Assembly(lonely))] == ["no_source"]
