"""From the sheet into a circuit: which ratings, dials, nameplates and wires there say otherwise."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.purpose import Does
from wiretrace.catalogue.structure import Role
from wiretrace.circuit.checked import Installed, install
from wiretrace.circuit.document import Circuit
from wiretrace.sizing.cable import cable_mm2
from wiretrace.sizing.line import figure
from wiretrace.sizing.sheet import Sheet

Setting = float | str | bool
SAME: Final = 0.005
LARGER: Final = frozenset(("contactor_rating", "cross_section_mm2"))
"""What may be larger than needed and does no harm by it."""
ESTIMATES: Final[Mapping[str, str]] = {
    "current_a": "current",
    "power_factor": "power_factor",
    "efficiency_percent": "efficiency",
    "speed_rpm": "speed",
    "frequency_hz": "frequency",
    "locked_ratio": "locked_ratio",
    "inertia_kgm2": "inertia",
}
"""Results that are a field of the plate: what was only estimated there says nothing against the circuit."""


@dataclass(frozen=True)
class Proposal:
    """Something of the circuit that the sheet says otherwise: a parameter of a device, or a figure of a conductor.

    Exactly one of `device` and `conductor` is given. `now` and `then` are the values, `words` says it. What is `larger`
    than needed, a contactor or a conductor, does no harm.
    """

    device: str | None
    conductor: str | None
    name: str
    now: Setting
    then: Setting
    words: str
    larger: bool


def proposals(sheet: Sheet, circuit: Circuit) -> tuple[Proposal, ...]:
    """Everything in the motor's own circuit that is not as the sheet has it, in the order of the document."""
    results = _results(sheet)
    devices = [install(device, circuit.convention) for device in circuit.devices]
    found = [one for item in devices for one in _of_device(item, results)]
    return (*found, *_of_cable(sheet, circuit, devices))


@dataclass(frozen=True)
class Coils:
    """What coils and lamps take of the control voltage, volt-amperes: all that is sealed, and the largest inrush."""

    sealed_va: float
    inrush_va: float


def coils_of(circuit: Circuit) -> Coils:
    """For a control transformer: alternating loads that are no motor, as the catalogue says what they are made for."""
    sealed, inrush = 0.0, 0.0
    for item in (install(device, circuit.convention) for device in circuit.devices):
        # Neither a motor nor a transformer is fed by the control transformer.
        if item.structure.parts_that(Does.TURNS) or item.kind.coupled:
            continue
        for branch in item.structure.branches:
            made_for = item.kind.operating(item.params, branch.name) if branch.role is Role.LOAD else None
            if made_for is not None and not made_for.direct:
                sealed += made_for.takes_va
        found = (item.params[param.name] for param in item.kind.params if param.sized == "inrush_va")
        inrush = max((inrush, *(float(value) for value in found)))
    return Coils(round(sealed, 1), round(inrush, 1))


def _results(sheet: Sheet) -> Mapping[str, Setting]:
    """What parameters take, by the name under which the catalogue asks for it."""
    plate = sheet.plate
    found: dict[str, Setting | None] = {
        "dial": round(sheet.dial_a, 2),
        "trip_class": sheet.schools["trip_class"],
        "breaker_rating": sheet.breaker_a,
        "fuse_rating": sheet.fuse_a,
        "curve": sheet.curve,
        "contactor_rating": sheet.contactor_a(sheet.relay_share),
        "power_kw": plate.power_kw,
        "voltage_v": plate.voltage_v,
        "current_a": plate.current_a,
        "power_factor": plate.power_factor,
        "efficiency_percent": 100 * plate.efficiency,
        "speed_rpm": plate.speed_rpm,
        "frequency_hz": plate.frequency_hz,
        "locked_ratio": plate.locked_ratio,
        "inertia_kgm2": plate.inertia_kgm2,
        "supply_v": plate.supply_v,
    }
    return {
        name: round(value, 4) if isinstance(value, float) else value
        for name, value in found.items()
        if value is not None and ESTIMATES.get(name) not in plate.estimated
    }


def _of_device(item: Installed, results: Mapping[str, Setting]) -> Iterator[Proposal]:
    if not _carries_motor(item):
        return
    for param in item.kind.params:
        then = results.get(param.sized)
        if not param.sized or then is None:
            continue
        now = item.params[param.name]
        if param.maximum is not None and isinstance(then, float) and then > param.maximum:
            continue
        if _same(now, then):
            continue
        unit = f" {param.unit}" if param.unit else ""
        title = param.title[:1].lower() + param.title[1:]
        words = f"{item.label}, {title}: {_told(now)}{unit} → {_told(then)}{unit}"
        larger = param.sized in LARGER and float(now) > float(then)
        yield Proposal(item.id, None, param.name, now, then, words, larger)


def _carries_motor(item: Installed) -> bool:
    """Has it three poles in the motor's way, or is it the motor, its relay or its supply?"""
    parts = item.structure.parts_that(Does.SWITCHES_LOAD)
    poles = max((len(part.branches) for part in parts), default=0)
    return poles >= 3 or not parts


def _same(now: Setting, then: Setting) -> bool:
    if isinstance(now, bool | str) or isinstance(then, str):
        return now == then
    return abs(float(now) - float(then)) <= SAME * abs(float(then))


def _told(value: Setting) -> str:
    return value if isinstance(value, str) else figure(float(value))


def _of_cable(sheet: Sheet, circuit: Circuit, devices: list[Installed]) -> Iterator[Proposal]:
    """The conductors that end at the motor: their cross-section and length."""
    motors = {item.id for item in devices if item.structure.parts_that(Does.TURNS)}
    named = {item.id: item for item in devices}
    area = cable_mm2(sheet)
    length = None if "length" in sheet.plate.estimated else sheet.plate.length_m
    for wire in circuit.conductors:
        if not {wire.a.device, wire.b.device} & motors:
            continue
        called = " to ".join(named[end.device].designated(end.terminal) for end in (wire.a, wire.b))
        wanted = (("cross_section_mm2", wire.cross_section_mm2, area, "mm²"), ("length_m", wire.length_m, length, "m"))
        for name, now, then, unit in wanted:
            if then is not None and not _same(now, then):
                words = f"Wire {called}: {figure(now)} {unit} → {figure(then)} {unit}"
                yield Proposal(None, wire.id, name, now, then, words, name in LARGER and now > then)
