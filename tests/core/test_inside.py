"""A fault inside a load: it sees the voltage that is left for it, not what stands at its terminals."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire, with_params
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.faults.kinds.contacts import WrongContact
from wiretrace.faults.kinds.elements import HighResistance, Open
from wiretrace.faults.kinds.terminals import LooseTerminal
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly

LINE = library_circuit("start-stop-overload-line")


@pytest.mark.parametrize("ohm", [100.0, 300.0, 1000.0])
def test_a_bad_joint_in_a_coil_is_a_bad_joint_at_its_terminal(ohm: float) -> None:
    """By hand: the open coil is 661 + j583 ohm; 300 ohm before it leave 881/1124 of 230.9 V: 181 V, too little."""
    inside = Bench(LINE, (HighResistance("contactor", "coil", ohm),))
    outside = Bench(LINE, (LooseTerminal("contactor", "A1", ohm),))
    for bench in (inside, outside):
        bench.do("start", "press")
    seen = [bench.frame.signals["contactor"]["coil"].rms_v for bench in (inside, outside)]
    assert seen[0] == pytest.approx(seen[1], rel=2e-3)
    assert inside.says("contactor") == outside.says("contactor") == ("in" if ohm == 100.0 else "out")
    if ohm == 300.0:
        assert seen[0] == pytest.approx(181, abs=1)


def test_a_bad_joint_in_a_two_wire_sensor_comes_on_top_of_its_own_drop() -> None:
    """By hand: the sensor drops its 6 V whatever flows; the joint of 300 ohm adds 300 times the current."""
    bench = Bench(library_circuit("two-wire-sensor-leakage"), (HighResistance("sensor", "switch", 300.0),))
    bench.do("sensor", "actuate", wait_s=1.0)
    frame = bench.frame
    amperes = frame.signals["sensor"]["switch"].rms_a
    whole = read_voltage(bench.assembly, frame.point, end("sensor:1"), end("sensor:2")).voltage_v
    assert 0.002 < amperes < 0.05
    assert whole == pytest.approx(6.0 + 300.0 * amperes, rel=0.02)


def test_an_open_undervoltage_release_lets_its_breaker_go() -> None:
    bench = Bench(library_circuit("undervoltage-release"), (Open("motor-breaker", "undervoltage"),))
    bench.wait(1)
    assert bench.says("motor-breaker") != "on"


def test_an_open_input_gives_no_output() -> None:
    bench = Bench(library_circuit("dc-control-pnp"), (Open("psu", "input"),))
    bench.wait(2)
    assert bench.says("psu") != "on"


@pytest.mark.parametrize("name", library_names())
def test_nothing_works_by_a_load_that_is_open_inside(name: str) -> None:
    """Every device with one load: lamp, coil, supply, sensor. Not a motor, which has three."""
    circuit = library_circuit(name)
    for item in Assembly(circuit).devices.values():
        loads = [branch.name for branch in item.structure.branches if branch.role is Role.LOAD]
        if len(loads) != 1 or item.kind.actuator.value in ("handle", "current"):
            continue
        bench = Bench(circuit, (Open(item.id, loads[0]),))
        bench.wait(1)
        assert not bench.frame.views[item.id].active, f"{item.label} {loads[0]}"


def test_a_supply_limits_itself_against_another_source_too() -> None:
    """By hand: 24 V against 20 V through 0.08 ohm would be 50 A. It gives 3.75 A, 0.225 V over 0.06 ohm."""
    made = circuit(
        [
            device("g1", "supply_single_phase"),
            device("t1", "power_supply_dc"),
            device("g2", "supply_dc", voltage_v=20.0, negative_earthed=False),
        ],
        [
            wire("w1", "g1:L", "t1:L", length_m=0.001),
            wire("w2", "g1:N", "t1:N", length_m=0.001),
            wire("w3", "t1:+", "g2:L+", length_m=0.001),
            wire("w4", "t1:-", "g2:L-", length_m=0.001),
        ],
    )
    bench = Bench(made)
    bench.wait(0.0525)
    frame = bench.frame
    assert bench.says("t1") == "on"
    assert frame.signals["t1"]["output"].rms_a == pytest.approx(3.75, rel=2e-3)
    volts = read_voltage(bench.assembly, frame.point, end("t1:+"), end("t1:-")).voltage_v
    assert volts == pytest.approx(20.225, abs=0.005)


def test_an_output_that_is_bridged_inside_limits_nothing_and_learns_nothing() -> None:
    bench = Bench(library_circuit("dc-control-pnp"), (WrongContact("sensor", "plus"),))
    for _ in range(4):
        bench.do("control-breaker", "switch", True)
    assert bench.state.devices["sensor"]["limit_ohm"] == 0.0


def test_iron_that_saturated_is_whole_again_at_once_without_voltage() -> None:
    """A 110 V coil on 230 V saturates; when it is off, its iron does not depend on how often one has looked since."""
    base = library_circuit("start-stop-overload-line")
    bench = Bench(with_params(base, {"contactor": {"coil_voltage_v": 110.0}}))
    bench.do("start", "press", wait_s=0.1)
    assert bench.state.devices["contactor"]["iron"] < 0.9
    bench.do("start", "press", False, wait_s=0.1)
    bench.do("stop", "press", wait_s=0.5)
    assert bench.state.devices["contactor"]["iron"] == 1.0
