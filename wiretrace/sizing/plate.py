"""Nameplate and supply: read, filled up by typical values where something is missing, held against each other.

Typical values: four-pole cage motors of efficiency class IE3 (IEC 60034-30-1, table 3) with the power factors that go
with them; locked-rotor current by code letter at its upper end (NEMA MG 1, 10.37.2).
"""

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np

from wiretrace.catalogue.motors.equivalent import nameplate
from wiretrace.catalogue.motors.machine import ContradictoryNameplate, Machine, fit
from wiretrace.sizing import quantities as q
from wiretrace.sizing.fields import FIELDS
from wiretrace.sizing.quantities import NotUnderstood

ROOT3: Final = math.sqrt(3)
LIMITS: Final[Mapping[str, float]] = {"soft_start": 3.5, "wound_rotor": 2.0, "converter": 1.5}
"""What limits the start current, in full-load currents, where nobody said."""
TAP: Final = 0.65
LOW_SHARE: Final = 0.7
"""Current at the low speed over that at the high one, where nobody said: typical of a constant torque."""
TYPICAL: Final = np.array(
    [  # kW, efficiency, power factor
        (0.12, 0.648, 0.62),
        (0.37, 0.773, 0.70),
        (0.75, 0.825, 0.75),
        (1.5, 0.853, 0.79),
        (2.2, 0.867, 0.80),
        (4.0, 0.886, 0.81),
        (5.5, 0.896, 0.82),
        (7.5, 0.904, 0.83),
        (11.0, 0.914, 0.84),
        (15.0, 0.921, 0.85),
        (22.0, 0.930, 0.85),
        (30.0, 0.936, 0.86),
        (45.0, 0.942, 0.87),
        (75.0, 0.950, 0.87),
        (110.0, 0.954, 0.88),
        (200.0, 0.960, 0.89),
    ]
)
TYPICAL_SINGLE: Final = np.array(
    [  # kW, efficiency, power factor: motors of one phase with a running capacitor
        (0.12, 0.52, 0.87),
        (0.37, 0.62, 0.90),
        (0.75, 0.68, 0.92),
        (1.5, 0.73, 0.93),
        (2.2, 0.76, 0.93),
        (4.0, 0.79, 0.94),
    ]
)
STAR_UP_TO_KW: Final = 3.0
STAR_AT_V: Final = (380.0, 415.0)
"""Small motors are wound for star at these voltages (230/400 V), larger ones for delta (400/690 V)."""
_LETTERS: Final = "ABCDEFGHJKLMNPRSTUV"
_KVA_HP: Final = (3.14, 3.54, 3.99, 4.49, 4.99, 5.59, 6.29, 7.09, 7.99, 8.99, 9.99, 11.19, 12.49, 13.99, 15.99, 17.99)
CODE_KVA_HP: Final[Mapping[str, float]] = dict(zip(_LETTERS, (*_KVA_HP, 19.99, 22.39, 25.0), strict=True))
LOCKED_RATIO: Final = 7.0
LOCKED_FACTOR: Final = 0.4
AGREES: Final = 0.08
"""By how much the current may differ from what power, voltage, power factor and efficiency give."""
TRANSFORMER_UK: Final = 0.04
"""Short-circuit voltage of a small distribution transformer (IEC 60076-5, table 1)."""
LOAD_INERTIA: Final = 0.5
"""Share of the largest inertia that a motor must start, 0.04 P^0.9 p^2.5 (IEC 60034-12, clause 8), that is typical."""
SOURCE_FACTOR: Final = 0.5
"""Resistance over impedance of what lies before the motor's circuit, where nothing better is known."""


@dataclass(frozen=True)
class Trouble:
    """Something that is wrong at a field: an error where nothing can be worked out with it, else a contradiction.

    `missing` where nothing is wrong yet, and the field is only needed.
    """

    field: str
    message: str
    error: bool
    missing: bool = False


@dataclass(frozen=True)
class Plate:
    """What the sheet is worked out from, in SI units and kilowatts; `estimated` are the names of typical values."""

    power_kw: float
    voltage_v: float
    in_delta: bool
    current_a: float
    power_factor: float
    efficiency: float
    speed_rpm: float
    frequency_hz: float
    locked_ratio: float
    service_factor: float
    ambient_c: float
    duty: str
    supply_v: float
    single_phase: bool
    fault_ka: float
    length_m: float
    area_mm2: float | None
    sets: int
    material: str
    laying: str
    circuits: int
    insulation: str
    conductor_c: str
    terminals_c: str
    start: str
    tap: float
    start_limit: float
    low_share: float
    low_kw: float | None
    rotor_v: float | None
    rotor_a: float | None
    start_s: float | None
    inertia_kgm2: float
    starts_h: float
    dial_a: float | None
    coil_sealed_va: float | None
    coil_inrush_va: float | None
    measured_v: tuple[float, float, float] | None
    current_given: bool
    estimated: frozenset[str]

    @property
    def star_delta(self) -> bool:
        return self.start == "star_delta"

    @property
    def root(self) -> float:
        """What line quantities are multiplied by: root 3, for a single phase 1."""
        return 1.0 if self.single_phase else ROOT3

    @property
    def calculated_a(self) -> float:
        """The current that power, voltage, power factor and efficiency give."""
        return 1000 * self.power_kw / (self.root * self.voltage_v * self.power_factor * self.efficiency)

    @property
    def sync_rpm(self) -> float:
        pairs = max(1, int(60 * self.frequency_hz / self.speed_rpm))
        return 60 * self.frequency_hz / pairs

    @cached_property
    def machine(self) -> Machine | None:
        """The machine of the simulation behind this plate; None where its figures cannot all be true."""
        figures = (self.voltage_v, self.current_a, self.power_kw, self.power_factor, self.frequency_hz)
        try:
            return fit(nameplate(self.in_delta, *figures, self.speed_rpm, self.locked_ratio, LOCKED_FACTOR))
        except ContradictoryNameplate:
            return None


def read_plate(texts: Mapping[str, str]) -> tuple[Plate | None, tuple[Trouble, ...]]:
    """The plate behind what somebody wrote, and everything that is wrong. None where the power is missing or wrong."""
    figures, words, troubles = dict[str, float](), dict[str, str](), list[Trouble]()
    for field, text in texts.items():
        if field not in FIELDS:
            troubles.append(Trouble(field, f"There is no field {field[:40]!r}.", True))
        elif text.strip():
            trouble = _read(field, text, figures, words)
            if trouble:
                troubles.append(trouble)
    wrong = {trouble.field for trouble in troubles}
    for needed, what in (("power", "The rated power"), ("voltage", "The rated voltage")):
        if needed not in figures and needed not in wrong:
            # Nothing is wrong with a form that is only begun.
            troubles.append(Trouble(needed, f"{what} is needed.", False, missing=True))
    if "power" not in figures or "voltage" not in figures:
        return None, tuple(troubles)
    plate = _filled(figures, words)
    return plate, (*troubles, *_contradictions(plate, figures))


def _read(field: str, text: str, figures: dict[str, float], words: dict[str, str]) -> Trouble | None:
    title, what = FIELDS[field]
    if isinstance(what, tuple):
        found = next((word for word in what if word.lower() == text.strip().lower()), None)
        if found is None:
            return Trouble(field, f"{title}: one of {', '.join(what)} is expected.", True)
        words[field] = found
        return None
    try:
        figures[field] = q.read(text, what)
    except NotUnderstood as error:
        return Trouble(field, f"{title}: {error}", True)
    return None


def _filled(figures: Mapping[str, float], words: Mapping[str, str]) -> Plate:
    """A plate with typical values for what is missing."""
    estimated = set[str]()

    def figure(name: str, otherwise: float) -> float:
        if name not in figures:
            estimated.add(name)
        return figures.get(name, otherwise)

    power, volts = figures["power"], figures["voltage"]
    single = words.get("phases", "3") == "1"
    typical = TYPICAL_SINGLE if single else TYPICAL
    size = math.log(min(max(power, typical[0, 0]), typical[-1, 0]))
    efficiency = figure("efficiency", float(np.interp(size, np.log(typical[:, 0]), typical[:, 1])))
    factor = figure("power_factor", float(np.interp(size, np.log(typical[:, 0]), typical[:, 2])))
    frequency = figure("frequency", 50.0)
    if "connection" not in words and not single:
        estimated.add("connection")
    wound_for_star = power <= STAR_UP_TO_KW and STAR_AT_V[0] <= volts <= STAR_AT_V[1]
    calculated = 1000 * power / ((1.0 if single else ROOT3) * volts * factor * efficiency)
    current = figure("current", calculated)
    speed = figure("speed", 30 * frequency * (1 - 0.06 / (1 + power) ** 0.35))
    measured = tuple(figures[name] for name in ("v12", "v23", "v31") if name in figures)
    fault = figures.get("fault_current")
    if fault is None and "transformer_kva" in figures:
        fault = figures["transformer_kva"] / (ROOT3 * figure("supply_voltage", volts) * TRANSFORMER_UK)
    return Plate(
        power,
        volts,
        words.get("connection", "star" if wound_for_star else "delta") == "delta",
        current,
        factor,
        efficiency,
        speed,
        frequency,
        _locked(figures, words, power, volts, current, estimated),
        figures.get("service_factor", 1.0),
        figures.get("ambient", 40.0),
        words.get("duty", "S1"),
        figures.get("supply_voltage", volts),
        single,
        fault if fault is not None else figure("fault_current", 6.0),
        figure("length", 30.0),
        *_laid(figures, words),
        *_started(figures, words, current, figure),
        figures.get("start_time"),
        figure("inertia", LOAD_INERTIA * 0.04 * power**0.9 * max(1, int(60 * frequency / speed)) ** 2.5),
        figures.get("starts", 6.0),
        figures.get("dial"),
        figures.get("coil_sealed"),
        figures.get("coil_inrush"),
        measured if len(measured) == 3 else None,
        "current" in figures,
        frozenset(estimated),
    )


def _laid(
    figures: Mapping[str, float], words: Mapping[str, str]
) -> tuple[float | None, int, str, str, int, str, str, str]:
    """The fields of a plate from `area_mm2` to `terminals_c`."""
    return (
        figures.get("area"),
        round(figures.get("sets", 1.0)),
        words.get("material", "copper"),
        words.get("laying", "conduit"),
        round(figures.get("circuits", 1.0)),
        words.get("insulation", "PVC"),
        words.get("conductor_c", "75"),
        words.get("terminals_c", ""),
    )


def _started(
    figures: Mapping[str, float], words: Mapping[str, str], current: float, figure: Callable[[str, float], float]
) -> tuple[str, float, float, float, float | None, float | None, float | None]:
    """The fields of a plate from `start` to `rotor_a`; `figure` notes what had to be estimated."""
    start = words.get("start", "direct")
    return (
        start,
        figure("tap", TAP) if start == "by_tap" else TAP,
        figure("start_limit", LIMITS[start]) if start in LIMITS else 1.0,
        figure("low_current", LOW_SHARE * current) / current if start == "two_speed" else 1.0,
        figures.get("low_power"),
        figures.get("rotor_voltage"),
        figures.get("rotor_current"),
    )


def _locked(
    figures: Mapping[str, float],
    words: Mapping[str, str],
    power: float,
    volts: float,
    current: float,
    estimated: set[str],
) -> float:
    """Locked-rotor current in rated currents: as given, by the code letter, or typical."""
    if "locked_ratio" in figures:
        return figures["locked_ratio"]
    if "code_letter" in words:
        kva = CODE_KVA_HP[words["code_letter"]] * power / q.HP_KW
        root = 1.0 if words.get("phases", "3") == "1" else ROOT3
        return 1000 * kva / (root * volts * current)
    estimated.add("locked_ratio")
    return LOCKED_RATIO


def _contradictions(plate: Plate, figures: Mapping[str, float]) -> Iterator[Trouble]:
    """Figures that cannot be true together, each with by how much."""
    off = plate.current_a / plate.calculated_a - 1
    if plate.current_given and abs(off) > AGREES:
        word = "more" if off > 0 else "less"
        message = (
            f"{plate.current_a:.4g} A is {abs(off):.0%} {word} than the {plate.calculated_a:.3g} A that power, voltage,"
            " power factor and efficiency give: one of them does not fit."
        )
        yield Trouble("current", message, False)
    slip = 1 - plate.speed_rpm / plate.sync_rpm
    if "speed" in figures and not 0.001 < slip < 0.15:
        message = f"{plate.speed_rpm:g} rpm is {slip:.1%} below {plate.sync_rpm:g} rpm: no slip of a cage motor."
        yield Trouble("speed", message, False)
    if abs(plate.supply_v / plate.voltage_v - 1) > 0.1:
        message = f"The supply's {plate.supply_v:g} V is {plate.supply_v / plate.voltage_v - 1:+.0%} of the plate's."
        yield Trouble("supply_voltage", message, False)
    if not 2 <= plate.locked_ratio <= 12:
        message = f"A locked-rotor current of {plate.locked_ratio:.1f} times the rated one is not that of a cage motor."
        yield Trouble("locked_ratio", message, False)
    yield from _start_contradictions(plate, figures)
    given = [name for name in ("v12", "v23", "v31") if name in figures]
    if given and len(given) < 3:
        missing = next(name for name in ("v12", "v23", "v31") if name not in figures)
        yield Trouble(missing, "All three voltages are needed for the unbalance.", False)


def _start_contradictions(plate: Plate, figures: Mapping[str, float]) -> Iterator[Trouble]:
    """What cannot be of the way in which it is started, and of conductors that lie together."""
    if plate.single_phase and plate.start not in ("direct", "converter"):
        yield Trouble("start", "A motor of a single phase is started direct, or by a converter made for it.", False)
    if plate.low_share > 1:
        yield Trouble("low_current", "The low speed takes more than the high one: are the two exchanged?", False)
    for name, what in (("sets", "Conductors in parallel"), ("circuits", "Circuits that lie together")):
        if name in figures and figures[name] != round(figures[name]):
            yield Trouble(name, f"{what}: a whole number is expected; {round(figures[name])} is taken.", False)
