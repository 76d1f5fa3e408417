"""What is odd about a circuit although it can be solved."""

from collections.abc import Iterator
from typing import Final

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.errors import Problem
from wiretrace.simulation.assembly import Assembly

VOLTAGE_TOLERANCE: Final = 0.15


def warnings(assembly: Assembly) -> tuple[Problem, ...]:
    """Named warnings, each with its device: no source, a frequency or a line voltage that it is not made for."""
    return (*_no_source(assembly), *_wrong_frequency(assembly), *_wrong_voltage(assembly))


def _no_source(assembly: Assembly) -> Iterator[Problem]:
    if assembly.devices and not any(ref.role is Role.SOURCE for ref in assembly.branches):
        yield Problem("no_source", "The circuit has no source: nothing in it can ever be live.")


def _wrong_frequency(assembly: Assembly) -> Iterator[Problem]:
    for item in assembly.devices.values():
        for param in item.kind.params:
            if param.unit != "Hz" or item.kind.frequency_hz(item.params) is not None:
                continue
            if param.name == "coil_frequency_hz" and item.params.get("coil_kind") == "DC":
                continue
            rated = float(item.params[param.name])
            if rated != assembly.frequency_hz:
                message = f"{item.label} is made for {rated:g} Hz and stands on {assembly.frequency_hz:g} Hz."
                yield Problem("wrong_frequency", message, item.id)


def _wrong_voltage(assembly: Assembly) -> Iterator[Problem]:
    """A motor of 230 V in delta on 400 V must not be started in star and delta, nor in delta at all."""
    lines = [v for item in assembly.devices.values() if (v := item.kind.line_voltage_v(item.params)) is not None]
    for item in assembly.devices.values():
        made_for = item.kind.made_for_line_v(item.params)
        if made_for is not None and lines and all(abs(v / made_for - 1) > VOLTAGE_TOLERANCE for v in lines):
            message = f"{item.label} is made for {made_for:g} V between lines; the supply has {lines[0]:g} V."
            yield Problem("wrong_voltage", message, item.id)
