"""A part of what `scripts.adversary` does: single faults in the library and circuits that nobody drew, by ngspice."""

import random
from pathlib import Path

import pytest

from scripts.adversary import anything, attacked, attacked_composed, put_together, with_fault
from scripts.adversary_composed import LOADS, shuffled
from wiretrace.catalogue.registry import KINDS
from wiretrace.faults.possible import possible_faults
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run


@pytest.mark.parametrize("name", library_names()[::2])
def test_ngspice_agrees_and_reasons_come_under_a_fault_taken_by_chance(name: str, tmp_path: Path) -> None:
    circuit = library_circuit(name)
    faults = list(possible_faults(circuit, Assembly(circuit).devices))
    fault = random.Random(f"1 {name}").choice(faults)
    assert list(with_fault(name, fault, True, tmp_path)) == []


def test_ngspice_agrees_on_circuits_that_nobody_drew(tmp_path: Path) -> None:
    found = {seed: wrong for seed in range(700, 740) if (wrong := list(attacked(anything(seed), seed, tmp_path)))}
    assert found == {}


def test_ngspice_agrees_on_circuits_that_are_composed_and_their_order_decides_nothing(tmp_path: Path) -> None:
    found = {seed: wrong for seed in range(100, 130) if (wrong := list(attacked_composed(seed, tmp_path)))}
    assert found == {}


def test_composed_circuits_do_something_and_shuffling_changes_their_documents() -> None:
    """Most have a load that works at some moment; every kind of load stands somewhere."""
    works, kinds = 0, set()
    for seed in range(40):
        case = put_together(seed)
        kinds |= {device.kind for device in case.circuit.devices}
        assembly = Assembly(case.circuit, case.faults)
        frames = run(assembly, initial_state(assembly), case.hands, case.end_us).frames
        works += any(frame.views[name].active for frame in frames for name in assembly.devices if name != "d0")
        other = shuffled(case.circuit, seed)
        assert {wire.id for wire in other.conductors} == {wire.id for wire in case.circuit.conductors}
        if len(case.circuit.devices) > 4:
            assert other.devices != case.circuit.devices
    assert works > 30
    assert set(LOADS) <= kinds


def test_the_circuits_that_nobody_drew_hold_every_kind() -> None:
    """In a few hundred of them each kind stands somewhere, but for the one that needs two others by name."""
    seen = {device.kind for seed in range(400) for device in anything(seed).circuit.devices}
    assert set(KINDS) - seen <= {"mechanical_interlock"}
