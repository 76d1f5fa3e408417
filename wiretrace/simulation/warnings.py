"""What is odd about a circuit although it can be solved."""

from collections.abc import Iterator

from wiretrace.catalogue.device import Role
from wiretrace.errors import Problem
from wiretrace.simulation.plant import Plant


def warnings(plant: Plant) -> tuple[Problem, ...]:
    """Named warnings, each with its device: no source, a frequency that a device is not made for."""
    return (*_no_source(plant), *_wrong_frequency(plant))


def _no_source(plant: Plant) -> Iterator[Problem]:
    if plant.devices and not any(ref.role is Role.SOURCE for ref in plant.branches):
        yield Problem("no_source", "The circuit has no source: nothing in it can ever be live.")


def _wrong_frequency(plant: Plant) -> Iterator[Problem]:
    for item in plant.devices.values():
        for param in item.kind.params:
            if param.unit != "Hz" or item.kind.frequency_hz(item.params) is not None:
                continue
            if param.name == "coil_frequency_hz" and item.params.get("coil_kind") == "DC":
                continue
            rated = float(item.params[param.name])
            if rated != plant.frequency_hz:
                message = f"{item.label} is made for {rated:g} Hz and stands on {plant.frequency_hz:g} Hz."
                yield Problem("wrong_frequency", message, item.id)
