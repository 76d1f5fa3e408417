"""Lines of the sheet for the cable: by the current that it carries, and by the voltage that it drops."""

import math
from collections.abc import Iterator
from typing import Final

from wiretrace.sizing.american import conductor_name
from wiretrace.sizing.line import Factor, Line, figure
from wiretrace.sizing.plate import LOCKED_FACTOR, ROOT3, Plate
from wiretrace.sizing.sheet import DELTA_SHARE, Sheet

COLUMN: Final = {"conduit": 1, "multicore_conduit": 2, "wall": 3, "air": 4}
RHO: Final = {"copper": 0.0225, "aluminium": 0.036}
"""Ohm square millimetres a metre at working temperature (IEC 60364-5-52, annex G)."""
RHO_COLD: Final = {"copper": 0.01724, "aluminium": 0.0283}
"""The same at 20 degC, for the largest fault current."""
ALUMINIUM: Final = 0.78
"""What an aluminium conductor carries of a copper one's current."""
AMBIENT: Final = ((30.0, 1.0), (35.0, 0.94), (40.0, 0.87), (45.0, 0.79), (50.0, 0.71), (55.0, 0.61), (60.0, 0.5))
"""PVC in air (IEC 60364-5-52, table B.52.14)."""
REACTANCE: Final = 0.08e-3
"""Ohm a metre of a cable (IEC 60364-5-52, annex G)."""
AMERICAN: Final = 1.25
START_DROP: Final = 15.0


AMBIENT_AMERICAN: Final = (
    (30.0, 1.0), (35.0, 0.94), (40.0, 0.88), (45.0, 0.82), (50.0, 0.75), (55.0, 0.67), (60.0, 0.58)
)  # fmt: skip
"""Conductors for 75 degC (NFPA 70, table 310.15(B)(1))."""


def ambient_factor(celsius: float, american: bool = False) -> float:
    """What a cable carries of its current at 30 degC: the next row of the table that is not below."""
    table = AMBIENT_AMERICAN if american else AMBIENT
    return next((factor for at, factor in table if celsius <= at), table[-1][1])


def carried_a(sheet: Sheet, row: tuple[float, ...]) -> float:
    """What a conductor carries as it is laid, amperes."""
    plate = sheet.plate
    return (
        row[COLUMN[plate.laying]]
        * ambient_factor(plate.ambient_c, sheet.american)
        * (ALUMINIUM if plate.material == "aluminium" else 1.0)
    )


def drop_v(plate: Plate, area_mm2: float, amperes: float, factor: float) -> float:
    """Drop between the lines along the cable, volts: b (rho cos / S + x sin) L I (IEC 60364-5-52, annex G)."""
    times = 2.0 if plate.single_phase else ROOT3
    sine = math.sqrt(1 - factor**2)
    return times * plate.length_m * amperes * (RHO[plate.material] / area_mm2 * factor + REACTANCE * sine)


def _by_current(sheet: Sheet) -> tuple[float, ...] | None:
    return next((row for row in sheet.series("cables") if carried_a(sheet, row) >= needed_a(sheet)), None)


def needed_a(sheet: Sheet) -> float:
    """What the cable must carry, amperes: what the motor takes, and no less than the dial of the relay that protects
    it (IEC 60364-4-43, 433.1: I_B <= I_n <= I_z); in North America 125 % of the table's current (NFPA 70, 430.22).
    """
    if sheet.american:
        return sheet.branch_a * AMERICAN
    return max(sheet.motor_a, sheet.dial_a / sheet.relay_share)


def _by_drop(sheet: Sheet) -> tuple[float, ...] | None:
    plate, allowed = sheet.plate, sheet.rule("drop")

    def holds(area: float) -> bool:
        running = drop_v(plate, area, sheet.motor_a, plate.power_factor)
        starting = drop_v(plate, area, sheet.start_a, LOCKED_FACTOR)
        return 100 * running / plate.supply_v <= allowed and 100 * starting / plate.supply_v <= START_DROP

    return next((row for row in sheet.series("cables") if holds(row[0])), None)


def cable_mm2(sheet: Sheet) -> float | None:
    """The conductor that the sheet goes on with: as given, or the larger of those by current and by drop."""
    if sheet.plate.area_mm2 is not None:
        return sheet.plate.area_mm2
    current, drop = _by_current(sheet), _by_drop(sheet)
    return max(current[0], drop[0]) if current and drop else None


def leads_mm2(sheet: Sheet) -> float | None:
    """The six leads from a star-delta starter, which carry the windings' current; else the cable itself."""
    if sheet.plate.area_mm2 is not None or not sheet.plate.star_delta:
        return cable_mm2(sheet)
    return next((row[0] for row in sheet.series("cables") if _leads_hold(sheet, row)), None)


def _leads_hold(sheet: Sheet, row: tuple[float, ...]) -> bool:
    running, starting = _leads_drops(sheet, row[0])
    enough = carried_a(sheet, row) >= needed_a(sheet) * DELTA_SHARE
    return enough and running <= sheet.rule("drop") and starting <= START_DROP


def _leads_drops(sheet: Sheet, area_mm2: float) -> tuple[float, float]:
    """Drop along both leads of a winding, running in delta and starting in star, per cent of what it is to have.

    In delta a winding stands between two lines and takes 1/sqrt 3 of the line's current. In star it has 1/sqrt 3 of the
    voltage, takes the line's, and its second lead carries that to the star point at the starter and back.
    """
    plate = sheet.plate
    running = drop_v(plate, area_mm2, sheet.motor_a * DELTA_SHARE, plate.power_factor) * 2 / ROOT3
    starting = drop_v(plate, area_mm2, sheet.start_a, LOCKED_FACTOR) * 2
    return 100 * running / plate.supply_v, 100 * starting / plate.supply_v


def cable_lines(sheet: Sheet) -> Iterator[Line]:
    """Cable by current, by drop running and starting; in star-delta the leads from the starter too."""
    plate, area = sheet.plate, cable_mm2(sheet)
    sizes = tuple(row[0] for row in sheet.series("cables"))
    yield _current_line(sheet, sizes)
    drop = _by_drop(sheet)
    yield Line(
        "cable_drop",
        "Cable",
        "Cable by voltage drop",
        f"running ≤ {sheet.rule('drop'):g} %, starting ≤ {START_DROP:g} %",
        f"{plate.length_m:g} m",
        drop[0] if drop else None,
        *_named(sheet, drop[0] if drop else None),
        source="IEC 60364-5-52, annex G",
        warning="" if drop else "No conductor keeps the drop so small: a shorter way or a higher voltage is needed.",
        sizes=sizes,
        wanted=drop[0] if drop else None,
        estimated="length" in plate.estimated,
    )
    if area is None:
        return
    least = _by_current(sheet)
    small = plate.area_mm2 is not None and least is not None and plate.area_mm2 < least[0]
    yield Line(
        "cable",
        "Cable",
        "Conductor",
        "the larger of both, or as given",
        "",
        area,
        *_named(sheet, area),
        "As given." if plate.area_mm2 else "",
        warning=f"{area:g} mm² carries too little." if small else "",
        sizes=sizes,
        wanted=area,
    )
    yield _drop("drop_running", "running", sheet, area, sheet.motor_a, plate.power_factor)
    yield _drop("drop_starting", "starting", sheet, area, sheet.start_a, LOCKED_FACTOR)
    if plate.star_delta:
        yield _leads_line(sheet, sizes)


def _named(sheet: Sheet, area: float | None) -> tuple[str, str]:
    """Unit and words of a conductor: by its area, in North America by its gauge."""
    if sheet.american and area is not None:
        return "", conductor_name(area)
    return "mm²", figure(area)


def _leads_line(sheet: Sheet, sizes: tuple[float, ...]) -> Line:
    area = leads_mm2(sheet)
    says, warning = "", f"No conductor is large enough: they end at {sizes[-1]:g} mm²."
    if area is not None:
        running, starting = (figure(percent) for percent in _leads_drops(sheet, area))
        says, warning = f"Along both leads of a winding {running} % running, {starting} % starting in star.", ""
        row = next((row for row in sheet.series("cables") if row[0] == area), None)
        if row is not None and not _leads_hold(sheet, row):
            warning = f"As given: {area:g} mm² carries too little or drops too much."
    return Line(
        "cable_leads",
        "Cable",
        "Six leads from the starter to the motor",
        "I_z ≥ 1.25 I / √3" if sheet.american else "I_z ≥ I / √3, and I_dial",
        f"≥ {figure(needed_a(sheet) * DELTA_SHARE)} A",
        area,
        *_named(sheet, area),
        says,
        "IEC 60364-5-52, tables B.52.4 and B.52.14, annex G",
        warning,
        sizes=sizes,
        wanted=area,
    )


def _current_line(sheet: Sheet, sizes: tuple[float, ...]) -> Line:
    plate, found = sheet.plate, _by_current(sheet)
    laid = plate.laying.replace("_", " ")
    says, warning = "", f"No conductor is large enough: they end at {sizes[-1]:g} mm²."
    if found:
        says, warning = f"It carries {figure(carried_a(sheet, found))} A; the overload relay protects it.", ""
    return Line(
        "cable_current",
        "Cable",
        "Cable by current",
        "I_z ≥ 1.25 I" if sheet.american else "I_z ≥ I, and I_dial",
        f"≥ {figure(needed_a(sheet))} A at {plate.ambient_c:g} °C, {laid}",
        found[0] if found else None,
        *_named(sheet, found[0] if found else None),
        says,
        "NFPA 70, table 310.16, 75 °C" if sheet.american else "IEC 60364-5-52, tables B.52.4 and B.52.14",
        warning,
        sizes=sizes,
        wanted=found[0] if found else None,
    )


def _drop(key: str, when: str, sheet: Sheet, area: float, amperes: float, factor: float) -> Line:
    plate = sheet.plate
    allowed = sheet.rule("drop") if when == "running" else START_DROP
    volts = drop_v(plate, area, amperes, factor)
    percent, sine = 100 * volts / plate.supply_v, math.sqrt(1 - factor**2)
    ohm = RHO[plate.material] / area * factor + REACTANCE * sine
    factors = (
        Factor("2", 2.0) if plate.single_phase else Factor("root 3", ROOT3),
        Factor("the length", plate.length_m, can_be_left_out=False),
        Factor("the current", amperes, can_be_left_out=False),
        Factor("ohms a metre", ohm, can_be_left_out=False),
        Factor("the 100 of per cent", 100.0),
        Factor("the voltage", plate.supply_v, -1, can_be_left_out=False),
    )
    metre = f"({RHO[plate.material]:g} / {area:g} × {factor:.3g} + {REACTANCE:g} × {sine:.3g})"
    times = "2" if plate.single_phase else "1.732"
    return Line(
        key,
        "Cable",
        f"Drop along the cable, {when}",
        f"{'2' if plate.single_phase else '√3'} L I (ρ/S cos φ + x sin φ) / U",
        f"100 × {times} × {plate.length_m:g} × {figure(amperes)} × {metre} / {plate.supply_v:g}",
        percent,
        "%",
        figure(percent),
        f"{figure(volts)} V of {plate.supply_v:g} V.",
        "IEC 60364-5-52, annex G",
        "" if percent <= allowed else f"More than {allowed:g} %.",
        factors=factors,
    )
