"""The reference readings, made with an independent solver, to the printed digit."""

import csv
from pathlib import Path

import pytest

from tests.core.circuits import Bench, end, reference_circuit
from wiretrace.circuit.document import Circuit, Stray
from wiretrace.faults.fault import Fault, FaultKind
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
COIL_OPEN = Fault(FaultKind.OPEN, "contactor", "coil")
RUN_LAMP_OUT = Fault(FaultKind.OPEN, "run-lamp", "lamp")
STOPPED_LAMP_OUT = Fault(FaultKind.OPEN, "stopped-lamp", "lamp")

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
        title: f"{read_voltage(bench.plant, frame.solution, end(red), end(black)).voltage_v:.2f}"
        for title, (red, black) in SPOTS.items()
    }
    assert shown == {title: row[title] for title in SPOTS}


@pytest.mark.parametrize("row", rows("high-resistance-joint"), ids=lambda row: f"{row['joint ohm']} {row['armature']}")
def test_high_resistance_joint(row: dict[str, str]) -> None:
    """The joint lies in the conductor from wire 4 to the coil."""
    circuit = reference_circuit("start-stop-overload-line")
    joint = Fault(FaultKind.HIGH_RESISTANCE, "c4", resistance_ohm=float(row["joint ohm"]))
    # The lamps draw no current in the reference: their drop would move the second decimal.
    bench = Bench(circuit, [joint, RUN_LAMP_OUT, STOPPED_LAMP_OUT])
    bench.do("motor-breaker", "switch", False)
    if row["armature"] == "closed":
        bench.do("contactor", "push")  # in by hand, so that the sealed coil is measured at any joint
    bench.do("start", "press", wait_s=0.025)
    frame = bench.frame
    volts = [
        read_voltage(bench.plant, frame.solution, end(red), end(black)).voltage_v
        for red, black in (("start:14", "contactor:A1"), ("contactor:A1", "contactor:A2"))
    ]
    assert [f"{volt:.2f}" for volt in volts] == [row["V across joint"], row["V across coil"]]
    assert f"{100 * volts[1] / 230:.1f}" == row["coil % of rated"]


def test_a_coil_that_needs_85_percent_fails_from_about_200_ohm_but_holds_with_ten_times_that() -> None:
    circuit = reference_circuit("start-stop-overload-line")

    def picks_up(ohm: float) -> bool:
        bench = Bench(circuit, [Fault(FaultKind.HIGH_RESISTANCE, "c4", resistance_ohm=ohm)])
        bench.do("start", "press")
        return bench.says("contactor") == "in"

    assert picks_up(150)
    assert not picks_up(250)

    bench = Bench(circuit)
    bench.do("start", "press")
    bench.do("start", "press", False)
    joint = Fault(FaultKind.HIGH_RESISTANCE, "c4", resistance_ohm=2000)
    bench.state = type(bench.state)(bench.state.time_us, bench.state.devices, (joint,))
    bench.wait(1.0)
    assert bench.says("contactor") == "in"
