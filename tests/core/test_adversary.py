"""A part of what `scripts.adversary` does: single faults in the library and circuits that nobody drew, by ngspice."""

import random
from pathlib import Path

import pytest

from scripts.adversary import anything, attacked, with_fault
from wiretrace.catalogue.registry import KINDS
from wiretrace.faults.possible import possible_faults
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly


@pytest.mark.parametrize("name", library_names()[::2])
def test_ngspice_agrees_and_reasons_come_under_a_fault_taken_by_chance(name: str, tmp_path: Path) -> None:
    circuit = library_circuit(name)
    faults = list(possible_faults(circuit, Assembly(circuit).devices))
    fault = random.Random(f"1 {name}").choice(faults)
    assert list(with_fault(name, fault, True, tmp_path)) == []


def test_ngspice_agrees_on_circuits_that_nobody_drew(tmp_path: Path) -> None:
    found = {seed: wrong for seed in range(700, 740) if (wrong := list(attacked(anything(seed), seed, tmp_path)))}
    assert found == {}


def test_the_circuits_that_nobody_drew_hold_every_kind() -> None:
    """In a few hundred of them each kind stands somewhere, but for the one that needs two others by name."""
    seen = {device.kind for seed in range(400) for device in anything(seed).circuit.devices}
    assert set(KINDS) - seen <= {"mechanical_interlock"}
