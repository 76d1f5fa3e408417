"""What the motors of a circuit say of themselves, as the form asks for it: the way back from a circuit to its sheet."""

from collections.abc import Container
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.document.checked import Installed, install
from wiretrace.document.circuit import Circuit
from wiretrace.sizing.line import figure
from wiretrace.sizing.places import Place, places

FIELD_OF: Final = {
    "power_kw": ("power", "kW"),
    "voltage_v": ("voltage", "V"),
    "current_a": ("current", "A"),
    "power_factor": ("power_factor", ""),
    "efficiency_percent": ("efficiency", "%"),
    "speed_rpm": ("speed", "rpm"),
    "frequency_hz": ("frequency", "Hz"),
    "locked_ratio": ("locked_ratio", ""),
    "inertia_kgm2": ("inertia", "kg m2"),
    "low_power_kw": ("low_power", "kW"),
    "low_current_a": ("low_current", "A"),
    "rotor_v": ("rotor_voltage", "V"),
    "start_limit": ("start_limit", ""),
    "tap_percent": ("tap", "%"),
}
"""Fields of the form by the name under which the catalogue asks the sheet for a figure, with their units."""

NOT_GIVEN_M: Final = 1.0
"""Length of a conductor that nobody gave one."""


@dataclass(frozen=True)
class MotorPlate:
    """A motor of a circuit: its label, and the fields of the form that it and its way to the supply fill."""

    label: str
    fields: dict[str, str]


def motor_plates(circuit: Circuit) -> tuple[MotorPlate, ...]:
    """Each motor that has a nameplate, in the order of the document."""
    devices = [install(device, circuit.convention) for device in circuit.devices]
    around = {**_supply(devices), **_starter(circuit, devices)}
    found = []
    for item in devices:
        own = _filled(item) if item.structure.parts_that(Does.TURNS) else {}
        if "power" in own:
            found.append(MotorPlate(item.label, {**own, **around, **_cable(circuit, item), **_phases(item)}))
    return tuple(found)


def _filled(item: Installed, only: Container[str] = FIELD_OF) -> dict[str, str]:
    found = {}
    for param in item.kind.params:
        if param.sized in only:
            field, unit = FIELD_OF[param.sized]
            found[field] = f"{figure(float(item.params[param.name]))} {unit}".strip()
    return found


def _phases(item: Installed) -> dict[str, str]:
    ends = {end for part in item.structure.parts_that(Does.TURNS) for end in part.branches}
    return {} if len(ends) >= 3 else {"phases": "1"}


def _supply(devices: list[Installed]) -> dict[str, str]:
    for item in devices:
        for param in item.kind.params:
            if param.sized == "supply_v":
                return {"supply_voltage": f"{figure(float(item.params[param.name]))} V"}
    return {}


def _starter(circuit: Circuit, devices: list[Installed]) -> dict[str, str]:
    """The way of starting: that which a device makes; else a contactor that closes a star starts the motor in it."""
    for item in devices:
        if item.kind.starts_motor:
            return {**_filled(item, ("start_limit", "tap_percent")), "start": item.kind.starts_motor}
    return {"start": "star_delta"} if Place.STAR in places(circuit, devices).values() else {}


def _cable(circuit: Circuit, motor: Installed) -> dict[str, str]:
    """The longest conductor at the motor, where somebody gave lengths; not its area, which the sheet is to find."""
    ends = [wire.length_m for wire in circuit.conductors if motor.id in (wire.a.device, wire.b.device)]
    longest = max(ends, default=NOT_GIVEN_M)
    return {"length": f"{figure(longest)} m"} if longest > NOT_GIVEN_M else {}
