"""What takes the more current the less voltage there is comes to rest behind bad joints too: converters, brakes."""

from itertools import product

import pytest

from wiretrace.faults.kinds.elements import HighResistance
from wiretrace.library import library_circuit, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.state import Action

NAMES = ("frequency-converter-contactor-mistake", "braking-relay", "soft-starter-bypass", "dc-control-pnp")


@pytest.mark.by_turns(4)
@pytest.mark.parametrize(("name", "ohm"), list(product(NAMES, (20.0, 60.0, 150.0, 300.0))))
def test_two_lines_with_bad_joints_bring_nothing_into_endless_change(name: str, ohm: float) -> None:
    """Each step of its sequence, with as many ohms in two of the lines."""
    circuit, steps = library_circuit(name), library_sequence(name).steps
    ids = {item.label: item.id for item in circuit.devices}
    wires = [wire.id for wire in circuit.conductors if "supply" in (wire.a.device, wire.b.device)][1:3]
    assembly = Assembly(circuit).with_faults(tuple(HighResistance(wire, resistance_ohm=ohm) for wire in wires))
    state = initial_state(assembly)
    for step in steps[:8]:
        hands = [Action(state.time_us, ids[label], what, value) for label, what, value in step.do]
        state = run(assembly, state, hands, state.time_us + round(min(step.wait_s, 8.0) * 1e6)).end
    assert state.time_us > 0
