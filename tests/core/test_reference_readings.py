"""The reference readings, made with an independent solver, to the printed digit."""

import cmath
import csv
import math
from pathlib import Path

import pytest

from tests.core.circuits import Bench, circuit, device, end, reference_circuit, wire
from wiretrace.document.circuit import Circuit, Stray
from wiretrace.faults.kinds.elements import HighResistance, Open
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.engine import Frame

REFERENCE = Path(__file__).parents[1] / "reference"

SPOTS = {
    "V across F2": ("overload:95", "overload:96"),
    "V across S0": ("stop:11", "stop:12"),
    "V across S1": ("start:13", "start:14"),
    "V across coil": ("contactor:A1", "contactor:A2"),
    "V across K1 21-22": ("contactor:21", "contactor:22"),
    "V across H2": ("stopped-lamp:X1", "stopped-lamp:X2"),
}
COIL_OPEN = Open("contactor", "coil")
RUN_LAMP_OUT = Open("run-lamp", "lamp")
STOPPED_LAMP_OUT = Open("stopped-lamp", "lamp")

# The reference netlists tie every wire to earth, so that none floats. A reading across an open
# contact with nothing behind it shows what that lets through: 0.01 V asks for this much.
LEAK_OHM = 5e11


def leaking(circuit: Circuit) -> Circuit:
    wires = {c.number: c.a for c in circuit.conductors if c.number and c.number.isdigit()}
    strays = tuple(
        Stray(id=f"leak-{number}", a=at, b=end("supply:PE"), resistance_ohm=LEAK_OHM) for number, at in wires.items()
    )
    return circuit.model_copy(update={"strays": strays})


def put_into(state: str, circuit: Circuit) -> Frame:
    """Work the circuit into a state of the reference, the way a hand would."""
    faults = {
        "coil open, start held": [COIL_OPEN],
        "coil open and run lamp burnt out, start held": [COIL_OPEN, RUN_LAMP_OUT],
        "stopped lamp burnt out": [STOPPED_LAMP_OUT],
    }
    bench = Bench(circuit, faults.get(state, []))
    bench.do("motor-breaker", "switch", False)
    if state.startswith("overload tripped"):
        bench.do("overload", "trip")
    if state in ("running", "stop held"):
        bench.do("start", "press")
        bench.do("start", "press", False)
    if state == "stop held":
        bench.do("stop", "press")
    if state.endswith("start held") and not state.startswith("start held"):
        bench.do("start", "press")
    if state == "start held, armature still open":
        bench.do("start", "press", wait_s=0.025)
    return bench.frame


def rows(name: str) -> list[dict[str, str]]:
    with (REFERENCE / f"{name}.csv").open(encoding="utf-8") as file:
        return list(csv.DictReader(file))


CASES = [
    pytest.param(name, row, id=f"{name}: {row['state']}")
    for name in ("start-stop-overload-line", "start-stop-overload-neutral")
    for row in rows(name)
]


@pytest.mark.parametrize(("name", "row"), CASES)
def test_start_stop_readings(name: str, row: dict[str, str]) -> None:
    circuit = leaking(reference_circuit(name))
    frame = put_into(row["state"], circuit)
    bench = Bench(circuit)
    shown = {
        title: f"{read_voltage(bench.assembly, frame.point, end(red), end(black)).voltage_v:.2f}"
        for title, (red, black) in SPOTS.items()
    }
    assert shown == {title: row[title] for title in SPOTS}


@pytest.mark.parametrize("row", rows("high-resistance-joint"), ids=lambda row: f"{row['joint ohm']} {row['armature']}")
def test_high_resistance_joint(row: dict[str, str]) -> None:
    """The joint lies in the conductor from wire 4 to the coil."""
    circuit = reference_circuit("start-stop-overload-line")
    joint = HighResistance("c4", resistance_ohm=float(row["joint ohm"]))
    # The lamps draw no current in the reference: their drop would move the second decimal.
    bench = Bench(circuit, [joint, RUN_LAMP_OUT, STOPPED_LAMP_OUT])
    bench.do("motor-breaker", "switch", False)
    if row["armature"] == "closed":
        bench.do("contactor", "push")  # in by hand, so that the sealed coil is measured at any joint
    bench.do("start", "press", wait_s=0.025)
    frame = bench.frame
    volts = [
        read_voltage(bench.assembly, frame.point, end(red), end(black)).voltage_v
        for red, black in (("start:14", "contactor:A1"), ("contactor:A1", "contactor:A2"))
    ]
    assert [f"{volt:.2f}" for volt in volts] == [row["V across joint"], row["V across coil"]]
    assert f"{100 * volts[1] / 230:.1f}" == row["coil % of rated"]


def test_a_coil_that_needs_85_percent_fails_from_about_200_ohm_but_holds_with_ten_times_that() -> None:
    circuit = reference_circuit("start-stop-overload-line")

    def picks_up(ohm: float) -> bool:
        bench = Bench(circuit, [HighResistance("c4", resistance_ohm=ohm)])
        bench.do("start", "press")
        return bench.says("contactor") == "in"

    assert picks_up(150)
    assert not picks_up(250)

    bench = Bench(circuit)
    bench.do("start", "press")
    bench.do("start", "press", False)
    bench.fail(HighResistance("c4", resistance_ohm=2000))
    bench.wait(1.0)
    assert bench.says("contactor") == "in"


# Wires of one milliohm each; the ends of the windings are joined at the motor's own terminals.
LINKS = {
    "star": "U2-V2 V2-W2",
    "delta, U2 to L2": "U2-V1 V2-W1 W2-U1",
    "delta, U2 to L3": "U2-W1 V2-U1 W2-V1",
    "star with V1 and V2 exchanged": "U2-V1 V1-W2",
    "delta contactor wired U2 to L1 (each winding across one line)": "U2-U1 V2-V1 W2-W1",
    "star, L2 lost": "U2-V2 V2-W2",
    "delta (U2 to L2), L2 lost": "U2-V1 V2-W1 W2-U1",
}


@pytest.mark.parametrize("row", rows("motor-terminal-links"), ids=lambda row: row["connection"])
def test_motor_terminal_links(row: dict[str, str]) -> None:
    """400 V, three windings of 20 + j15 ohm at standstill."""
    connection = row["connection"]
    milliohm = {"length_m": 1 / 17.8, "cross_section_mm2": 1.0}
    fed = ("U1", "V2", "W1") if "exchanged" in connection else ("U1", "V1", "W1")
    wires = [wire(f"l{n}", f"g1:L{n}", f"m1:{name}", **milliohm) for n, name in enumerate(fed, 1)]
    for n, link in enumerate(LINKS[connection].split()):
        a, b = link.split("-")
        wires.append(wire(f"k{n}", f"m1:{a}", f"m1:{b}", **milliohm))
    supply = device(
        "g1",
        "supply_three_phase",
        source_resistance_ohm=1e-6,
        source_reactance_ohm=0.0,
        l2_present="L2 lost" not in connection,
    )
    # 16 A through a winding with the rotor locked.
    plate = {"rated_power_kw": 2.1, "rated_current_a": 16 * math.sqrt(3) / 6, "efficiency_percent": 80.0}
    locked = {"locked_rotor_ratio": 6.0, "locked_rotor_power_factor": 0.8, "rated_speed_rpm": 1420.0}
    motor = device("m1", "motor_six_leads", **plate, **locked)
    signals = Bench(circuit([supply, motor], wires)).frame.signals
    windings = [signals["m1"][f"{n}1-{n}2"].voltage_v for n in "UVW"]
    shown = [f"{abs(volts):.2f}" for volts in windings]
    assert shown == [row[f"V {n}1-{n}2"] for n in "UVW"]
    for volts, name in zip(windings, "UVW", strict=True):
        if row[f"deg {name}"]:
            assert math.degrees(cmath.phase(volts)) == pytest.approx(float(row[f"deg {name}"]), abs=0.05)
    amperes = [f"{abs(signals['g1'][f'L{n}'].current_a):.3f}" for n in (1, 2, 3)]
    assert amperes == [row[f"A L{n}"] for n in (1, 2, 3)]


@pytest.mark.parametrize("row", rows("stray-voltage"), ids=lambda row: " ".join(row.values()))
def test_stray_voltage(row: dict[str, str]) -> None:
    """A conductor that is connected to nothing, beside a live one."""
    supply = device("g1", "supply_single_phase", source_resistance_ohm=1e-6)
    strays = (
        Stray(id="c1", a=end("x1:a"), b=end("g1:L"), capacitance_nf=float(row["nF to live conductor"])),
        Stray(id="c2", a=end("x1:a"), b=end("g1:PE"), capacitance_nf=float(row["nF to earth"])),
    )
    bench = Bench(circuit([supply, device("x1", "terminal")], [], strays))
    ohm = 10e6 if row["meter"] == "10 Mohm" else 3.3e3
    shown = read_voltage(bench.assembly, bench.frame.point, end("x1:b"), end("g1:N"), ohm).voltage_v
    assert f"{shown:.3f}" == row["V conductor to neutral"]


@pytest.mark.parametrize(
    "row", rows("control-earth-faults-stop-held"), ids=lambda row: " ".join(list(row.values())[:2])
)
def test_earth_faults_of_a_control_circuit_with_stop_held(row: dict[str, str]) -> None:
    """Earthed, the first fault is a short circuit or nothing; unearthed, the second may bypass the stop."""
    coil_ohm, factor = math.hypot(416, 1454), 416 / math.hypot(416, 1454)
    coil = {
        "coil_voltage_v": 110.0,
        "inrush_va": 110**2 / coil_ohm,
        "inrush_power_factor": factor,
        "sealed_va": 110**2 / coil_ohm,
        "sealed_power_factor": factor,
    }
    earthed = row["secondary earthed"] == "yes"
    devices = [
        device("t1", "supply_single_phase", voltage_v=110.0, source_resistance_ohm=1.0, neutral_earthed=earthed),
        device("f1", "fuses", rated_current_a=630.0),
        device("s0", "push_button", contacts="NC"),
        device("k1", "contactor", **coil),
    ]
    bare = {"length_m": 0.001, "cross_section_mm2": 1000.0}
    wires = [
        wire("w0", "t1:L", "f1:1", **bare),
        wire("w1", "f1:2", "s0:11", **bare),
        wire("w2", "s0:12", "k1:13", **bare),
        wire("w3", "k1:14", "k1:A1", **bare),
        wire("w4", "k1:A2", "t1:N", **bare),
    ]
    spots = {"wire 1": "f1:2", "wire 2": "s0:12", "wire 3": "k1:A1"}
    strays = [
        Stray(id=f"fault-{spot[-1]}", a=end(at), b=end("t1:PE"), resistance_ohm=1.0)
        for spot, at in spots.items()
        if spot in row["earth faults (1 ohm)"]
    ]
    if not earthed:
        sides = {"live": "f1:2", "common": "t1:N"}
        strays += [Stray(id=side, a=end(at), b=end("t1:PE"), resistance_ohm=1e8) for side, at in sides.items()]
    bench = Bench(circuit(devices, wires, strays))
    bench.do("s0", "press")
    frame = bench.frame

    def volts(red: str, black: str) -> str:
        return f"{read_voltage(bench.assembly, frame.point, end(red), end(black)).voltage_v:.2f}"

    shown = [volts("k1:A1", "k1:A2"), volts("f1:2", "t1:PE"), volts("t1:N", "t1:PE")]
    assert shown == [row[name] for name in ("V across coil", "V wire 1 to earth", "V common to earth")]
    assert f"{abs(frame.signals['t1']['L'].current_a):.2f}" == row["A from the secondary before the fuse opens"]
