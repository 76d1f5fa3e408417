"""What a device would do to a reading, held against solving the circuit with the device changed over."""

import random

import pytest

from tests.core.circuits import Bench
from tests.core.played import played
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import End
from wiretrace.errors import SingularNetwork
from wiretrace.explain.influences import NOTICEABLE_V
from wiretrace.explain.reading import explain_reading
from wiretrace.instruments.voltmeter import Reading, read_voltage
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


def changed_over(assembly: Assembly, frame: Frame, reading: Reading, item: Installed) -> float:
    values = list(frame.values)
    for branch in item.structure.branches:
        if branch.role is Role.CONTACT:
            index = assembly.branch_index(item.id, branch.name)
            values[index] = item.kind.contact_value(item.params) if values[index] is None else None
    point = assembly.equations.solve(values)
    return read_voltage(assembly, point, reading.red, reading.black, coupling=reading.coupling).voltage_v


@pytest.mark.parametrize("name", library_names())
def test_every_influence_is_what_solving_the_circuit_gives(name: str) -> None:
    chance = random.Random(name)
    assembly = Assembly(library_circuit(name))
    taken = [step.frames[-1] for step in played(name)]
    # Steps with faults have branches of their own.
    frames = [frame for frame in taken if len(frame.values) == len(assembly.branches)]
    ends = [End(device=i.id, terminal=t.name) for i in assembly.devices.values() for t in i.structure.terminals]
    for frame in chance.sample(frames, min(3, len(frames))):
        red, black = chance.sample(ends, 2)
        told = explain_reading(assembly, frame, red, black)
        assert told.not_tried == 0
        moved = {influence.device: influence.voltage_v for influence in told.influences}
        for item in assembly.devices.values():
            try:
                volts = changed_over(assembly, frame, told.reading, item)
            except SingularNetwork:
                continue
            off = abs(volts - told.reading.voltage_v)
            if abs(off - NOTICEABLE_V) > 1e-3:
                assert (item.id in moved) == (off > NOTICEABLE_V), (item.label, volts, told.reading)
            assert moved.get(item.id, volts) == pytest.approx(volts, abs=2e-3)


def test_an_influence_reaches_through_a_transformer() -> None:
    bench = Bench(library_circuit("control-transformer-earthed"))
    ends = [End(device="transformer", terminal=terminal) for terminal in ("2.1", "2.2")]
    told = explain_reading(bench.assembly, bench.frame, *ends)
    assert told.reading.voltage_v > 100
    off = {influence.device for influence in told.influences if abs(influence.voltage_v) < 1}
    assert {"isolator", "primary-breaker"} <= off
