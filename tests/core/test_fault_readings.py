"""Readings under many faults at once are those that solving each fault gives."""

import numpy as np
import pytest

from tests.core.circuits import Bench
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.circuit import End
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.contacts import Welded, WrongContact
from wiretrace.faults.kinds.elements import HighResistance, Open, Short
from wiretrace.faults.kinds.wires import Exchanged
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of
from wiretrace.simulation.fault_readings import readings_under, terminal_nodes

HANDS = {"start-stop-overload-line": "start", "star-delta-timer-first-closure": "start", "dc-control-pnp": "sensor"}


def branch_faults(assembly: Assembly) -> list[Fault]:
    """Open, high resistance and short of every element, open and high resistance of every conductor."""
    found = []
    for ref in assembly.branches:
        found.append(Open(ref.place, ref.branch))
        found.append(HighResistance(ref.place, ref.branch, 300.0))
        if ref.branch:
            found.append(Short(ref.place, ref.branch))
        if ref.role is Role.CONTACT:
            found.append(Welded(ref.place, ref.branch))
            found.append(WrongContact(ref.place, ref.branch))
    return found


def solved(bench: Bench, fault: Fault) -> np.ndarray:
    """The same readings by solving the circuit with the fault and reading pair by pair."""
    assembly = Assembly(bench.assembly.circuit, [fault])
    point = frame_of(assembly, bench.state).point
    ends = [(item.id, terminal.name) for item in assembly.devices.values() for terminal in item.structure.terminals]
    spots = [End(device=device, terminal=name) for device, name in ends]
    return np.array(
        [[abs(read_voltage(assembly, point, red, black).voltage_v) for black in spots[::7]] for red in spots]
    )


@pytest.mark.parametrize("name", HANDS)
@pytest.mark.parametrize("held", [False, True])
def test_sweep_agrees_with_solving_each_fault(name: str, held: bool) -> None:
    bench = Bench(library_circuit(name))
    bench.wait(0.5)
    if held:
        operation = "actuate" if HANDS[name] == "sensor" else "press"
        bench.do(HANDS[name], operation, wait_s=0.5)
    faults = branch_faults(bench.assembly)[:: 9 if held else 11]
    faults += [
        fault_from_text(bench.assembly.circuit, text)
        for text in ("M1:U1=to M1:PE", "F1:2=to G1:N 100ohm", "K1:A1=open", "K1:13=to M1:PE 5kohm")
    ]
    wires = [wire.id for wire in bench.assembly.circuit.conductors]
    faults += [Exchanged(wires[6], other=wires[9], other_end="b")]
    for fault, shown in zip(faults, readings_under(bench.assembly, bench.frame, faults), strict=True):
        expected = solved(bench, fault)
        off = np.abs(shown[:, ::7] - expected).max()
        assert off <= 1e-4, (fault, off)


def test_a_healthy_sweep_is_the_map_itself() -> None:
    bench = Bench(library_circuit("start-stop-overload-line"))
    nothing = HighResistance("c4", resistance_ohm=0.0)
    shown = next(iter(readings_under(bench.assembly, bench.frame, [nothing])))
    assert shown.shape == (len(terminal_nodes(bench.assembly)),) * 2
    assert (shown == shown.T).all()
    assert shown.max() == pytest.approx(400, abs=1.0)
