"""Every parameter of every kind at both ends of its range, and with each of its choices: it runs, or says why not."""

from collections.abc import Iterator
from contextlib import suppress

import pytest

from tests.sweep import todays
from wiretrace.catalogue.machinery.structure import Param
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Device
from wiretrace.errors import WiretraceError
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.state import Action


def where_used() -> dict[str, tuple[Circuit, Device]]:
    """For each kind a circuit that has one: of the library, or with nothing else in it."""
    found = {name: (Circuit(title=name, devices=(Device(id="d", kind=name, label="D1"),)), "d") for name in KINDS}
    for name in library_names():
        circuit = library_circuit(name)
        found |= {device.kind: (circuit, device.id) for device in circuit.devices}
    return {kind: (circuit, circuit.device(one)) for kind, (circuit, one) in found.items()}


WHERE = where_used()


def extremes(param: Param) -> Iterator[bool | int | float | str]:
    if param.type == "choice":
        yield from param.choices
    elif param.minimum is not None and param.maximum is not None:
        yield from (param.minimum, param.maximum)


def hands(circuit: Circuit) -> list[Action]:
    """Every button pressed for a while, one after the other."""
    pressed = [
        (device.id, operation.name)
        for device in circuit.devices
        for operation in KINDS[device.kind].operations
        if operation.style == "momentary" and not operation.dead_only
    ]
    return [
        Action(200_000 + 400_000 * number + after, device, name, on)
        for number, (device, name) in enumerate(pressed)
        for after, on in ((0, True), (300_000, False))
    ]


@pytest.mark.parametrize("kind", todays(sorted(KINDS)))
def test_a_device_at_the_ends_of_its_ranges_runs(kind: str) -> None:
    circuit, device = WHERE[kind]
    actions = hands(circuit)
    until_us = max((action.at_us for action in actions), default=0) + 500_000
    for param in KINDS[kind].params:
        for value in extremes(param):
            changed = device.model_copy(update={"params": {**device.params, param.name: value}})
            devices = tuple(changed if one.id == device.id else one for one in circuit.devices)
            # What cannot be run says why; it does not fall over.
            with suppress(WiretraceError):
                assembly = Assembly(circuit.model_copy(update={"devices": devices}))
                run(assembly, initial_state(assembly), actions, until_us, 400)
