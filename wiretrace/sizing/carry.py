"""From the sheet into a circuit: which ratings, dials, nameplates and wires there say otherwise."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed, install, value_fault
from wiretrace.document.circuit import Circuit
from wiretrace.sizing.cable import cable_laid, leads_laid
from wiretrace.sizing.line import figure
from wiretrace.sizing.places import Place, places
from wiretrace.sizing.sheet import STAR_LINE, Sheet

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
    "start_limit": "start_limit",
    "tap_percent": "tap",
    "low_current_a": "low_current",
}
"""Results that are a field of the plate: what was only estimated there says nothing against the circuit.

It goes over only where the device would contradict itself without it: half of one plate and half of another are none.
"""


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


@dataclass(frozen=True)
class Carried:
    """What a circuit has otherwise than the sheet, in the order of the document; and what cannot go over, with why."""

    proposals: tuple[Proposal, ...]
    left_out: tuple[str, ...]


def carried(sheet: Sheet, circuit: Circuit) -> Carried:
    """Everything in the motor's own circuit that is not as the sheet has it."""
    devices = [install(device, circuit.convention) for device in circuit.devices]
    given, estimated = _results(sheet)
    where = places(circuit, devices)
    found: list[Proposal] = []
    left_out: list[str] = []
    for item in devices:
        if _carries_motor(item):
            own = _by_place(sheet, where.get(item.id, Place.LINE))
            proposed, why = _of_device(item, {**given, **own}, estimated)
            found += proposed
            left_out += why
    return Carried((*found, *_of_cable(sheet, circuit, devices, Place.STAR in where.values())), tuple(left_out))


def taken_over(circuit: Circuit, wanted: Iterable[Proposal]) -> Circuit:
    """The circuit with these proposals taken over."""
    of: dict[tuple[str | None, str | None], dict[str, Setting]] = {}
    for one in wanted:
        of.setdefault((one.device, one.conductor), {})[one.name] = one.then
    devices = [
        one.model_copy(update={"params": {**one.params, **of.get((one.id, None), {})}}) for one in circuit.devices
    ]
    wires = [one.model_copy(update=of.get((None, one.id), {})) for one in circuit.conductors]
    return circuit.model_copy(update={"devices": tuple(devices), "conductors": tuple(wires)})


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


Results = Mapping[str, Setting]


def _results(sheet: Sheet) -> tuple[Results, Results]:
    """What parameters take, by the name under which the catalogue asks for it: the given, and the estimated."""
    plate = sheet.plate
    found: dict[str, Setting | None] = {
        "trip_class": sheet.schools["trip_class"],
        "breaker_rating": sheet.breaker_a,
        "fuse_rating": sheet.fuse_a,
        "curve": sheet.curve,
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
        "start_limit": plate.start_limit if plate.start == "soft_start" else None,
        "tap_percent": 100 * plate.tap if plate.start == "by_tap" else None,
        "low_power_kw": plate.low_kw,
        "low_current_a": plate.low_share * plate.current_a if plate.start == "two_speed" else None,
        "rotor_v": plate.rotor_v,
    }
    told = {
        name: round(value, 4) if isinstance(value, float) else value
        for name, value in found.items()
        if value is not None
    }
    estimated = {name for name in told if ESTIMATES.get(name) in plate.estimated}
    given = {name: value for name, value in told.items() if name not in estimated}
    return given, {name: told[name] for name in estimated}


def _by_place(sheet: Sheet, place: Place) -> Results:
    """Dial and contactor go by the current that flows where they stand: line, winding, or star point."""
    shares = {Place.LINE: 1.0, Place.WINDING: sheet.relay_share, Place.STAR: STAR_LINE}
    share = shares[place] if sheet.plate.star_delta else 1.0
    rating = sheet.contactor_a(share)
    if sheet.plate.start == "two_speed":
        return {}  # Which relay and contactor is of which speed, no place of the circuit tells.
    dial = {"dial": round(sheet.dial_a * share / sheet.relay_share, 2)}
    if rating is None or sheet.plate.start not in ("direct", "star_delta"):
        return dial  # Which contactor is which of another starter, no place of the circuit tells.
    return {**dial, "contactor_rating": rating}


def _of_device(item: Installed, given: Results, estimated: Results) -> tuple[list[Proposal], list[str]]:
    """What the sheet says of a device, and why something of that cannot go over.

    A nameplate goes over so that it agrees with itself: with the estimates where it must, or not at all.
    """
    taken, unfit = _taken(item, given)
    why = _contradiction(item, taken)
    if why is not None:
        more, _ = _taken(item, {**given, **estimated})
        why = _contradiction(item, more)
        taken = more if why is None else {}
    if why is not None:
        unfit.append(f"{item.label} stays as it is: {why}")
    return [_proposal(item, name, taken[name], estimated) for name in taken], unfit


def _taken(item: Installed, results: Results) -> tuple[dict[str, Setting], list[str]]:
    """The device's parameters that the results say otherwise, and those that cannot have their value."""
    taken: dict[str, Setting] = {}
    unfit: list[str] = []
    for param in item.kind.params:
        then = results.get(param.sized)
        if not param.sized or then is None or _same(item.params[param.name], then):
            continue
        fault = value_fault(param, then)
        if fault is None:
            taken[param.name] = then
        else:
            unfit.append(f"{item.label}: {param.title} {fault}.")
    return taken, unfit


def _contradiction(item: Installed, taken: Results) -> str | None:
    return next(iter(item.kind.contradictions({**item.params, **taken})), None) if taken else None


def _proposal(item: Installed, name: str, then: Setting, estimated: Results) -> Proposal:
    param = next(param for param in item.kind.params if param.name == name)
    now = item.params[name]
    unit = f" {param.unit}" if param.unit else ""
    title = param.title[:1].lower() + param.title[1:]
    words = f"{item.label}, {title}: {_told(now)}{unit} → {_told(then)}{unit}"
    words += ", an estimate" if param.sized in estimated else ""
    larger = param.sized in LARGER and float(now) > float(then)
    return Proposal(item.id, None, name, now, then, words, larger)


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


def _of_cable(sheet: Sheet, circuit: Circuit, devices: list[Installed], starts_in_star: bool) -> Iterator[Proposal]:
    """The conductors that end at the motor: their cross-section, and their length but for those from the supply itself.

    Such a one, as the earth conductor of a drawing without a terminal for it, leads through the panel too.
    """
    motors = {item.id for item in devices if item.structure.parts_that(Does.TURNS)}
    feeds = {item.id for item in devices if item.structure.parts_that(Does.FEEDS)}
    named = {item.id: item for item in devices}
    own = leads_laid(sheet) if starts_in_star else cable_laid(sheet)
    area = None if own is None else own.total_mm2
    length = None if "length" in sheet.plate.estimated else sheet.plate.length_m
    for wire in circuit.conductors:
        if not {wire.a.device, wire.b.device} & motors:
            continue
        called = " to ".join(named[end.device].designated(end.terminal) for end in (wire.a, wire.b))
        within = None if {wire.a.device, wire.b.device} & feeds else length
        wanted = (("cross_section_mm2", wire.cross_section_mm2, area, "mm²"), ("length_m", wire.length_m, within, "m"))
        for name, now, then, unit in wanted:
            if then is not None and not _same(now, then):
                words = f"Wire {called}: {figure(now)} {unit} → {figure(then)} {unit}"
                yield Proposal(None, wire.id, name, now, then, words, name in LARGER and now > then)
