"""Lines of the sheet for the cable: by the current that it carries, and by the voltage that it drops."""

import math
from collections.abc import Iterator
from typing import Final

from wiretrace.sizing.american import conductor_name
from wiretrace.sizing.ampacity import (
    COLD_TERMINALS_TO_A,
    IN_PARALLEL_MM2,
    MOST_SETS,
    Laid,
    by_current,
    given,
    laid,
    leads_needed_a,
    needed_a,
    rows,
    shares,
    table_name,
    terminals_c,
)
from wiretrace.sizing.line import Factor, Line, figure
from wiretrace.sizing.plate import LOCKED_FACTOR, ROOT3, Plate
from wiretrace.sizing.sheet import DELTA_SHARE, Sheet

RHO: Final = {"copper": 0.0225, "aluminium": 0.036}
"""Ohm square millimetres a metre at working temperature (IEC 60364-5-52, annex G)."""
RHO_COLD: Final = {"copper": 0.01724, "aluminium": 0.0283}
"""The same at 20 degC, for the largest fault current."""
REACTANCE: Final = 0.08e-3
"""Ohm a metre of a cable (IEC 60364-5-52, annex G)."""
START_DROP: Final = 15.0


def drop_v(plate: Plate, area_mm2: float, amperes: float, factor: float) -> float:
    """Drop between the lines along the cable, volts: b (rho cos / S + x sin) L I (IEC 60364-5-52, annex G)."""
    times = 2.0 if plate.single_phase else ROOT3
    sine = math.sqrt(1 - factor**2)
    return times * plate.length_m * amperes * (RHO[plate.material] / area_mm2 * factor + REACTANCE * sine)


def _keeps_drop(sheet: Sheet, one: Laid) -> bool:
    plate, allowed = sheet.plate, sheet.rule("drop")
    running = drop_v(plate, one.area_mm2, sheet.motor_a / one.sets, plate.power_factor)
    starting = drop_v(plate, one.area_mm2, motor_start_a(sheet) / one.sets, LOCKED_FACTOR)
    return 100 * running / plate.supply_v <= allowed and 100 * starting / plate.supply_v <= START_DROP


def motor_start_a(sheet: Sheet) -> float:
    """What flows in the cable to the motor while it starts, amperes: the line's, but behind an autotransformer more."""
    return sheet.start_a * sheet.start.relay_times


def _all_of(sheet: Sheet, amperes: float, circuits: int) -> Iterator[Laid]:
    """Every conductor that could be laid, in few sets before many."""
    least = IN_PARALLEL_MM2[sheet.schools["sizes"]]
    for sets in range(1, MOST_SETS + 1):
        for row in rows(sheet):
            if sets == 1 or row[0] >= least:
                yield laid(sheet, row, sets, amperes, circuits)


def _by_drop(sheet: Sheet) -> Laid | None:
    return next((one for one in _all_of(sheet, needed_a(sheet), sheet.plate.circuits) if _keeps_drop(sheet, one)), None)


def cable_laid(sheet: Sheet) -> Laid | None:
    """The conductors that the sheet goes on with: as given, or the first that carry enough and drop little enough."""
    needed, circuits = needed_a(sheet), sheet.plate.circuits
    own = given(sheet, needed, circuits)
    if own is not None:
        return own
    fits = (one for one in _all_of(sheet, needed, circuits) if one.carries_a >= needed and _keeps_drop(sheet, one))
    return next(fits, None)


def leads_laid(sheet: Sheet) -> Laid | None:
    """The six leads from a star-delta starter, which carry the windings' current and lie together as two circuits."""
    if not sheet.plate.star_delta:
        return cable_laid(sheet)
    needed, circuits = leads_needed_a(sheet), 2 * sheet.plate.circuits
    own = given(sheet, needed, circuits)
    if own is not None:
        return own
    return next((one for one in _all_of(sheet, needed, circuits) if _leads_hold(sheet, one)), None)


def _leads_hold(sheet: Sheet, one: Laid) -> bool:
    running, starting = _leads_drops(sheet, one)
    return one.carries_a >= leads_needed_a(sheet) and running <= sheet.rule("drop") and starting <= START_DROP


def _leads_drops(sheet: Sheet, one: Laid) -> tuple[float, float]:
    """Drop along both leads of a winding, running in delta and starting in star, per cent of what it is to have.

    In delta a winding stands between two lines and takes 1/sqrt 3 of the line's current. In star it has 1/sqrt 3 of the
    voltage, takes the line's, and its second lead carries that to the star point at the starter and back.
    """
    plate = sheet.plate
    running = drop_v(plate, one.area_mm2, sheet.motor_a * DELTA_SHARE / one.sets, plate.power_factor) * 2 / ROOT3
    starting = drop_v(plate, one.area_mm2, sheet.start_a / one.sets, LOCKED_FACTOR) * 2
    return 100 * running / plate.supply_v, 100 * starting / plate.supply_v


def cable_lines(sheet: Sheet) -> Iterator[Line]:
    """Cable by current, by drop running and starting; in star-delta the leads from the starter too."""
    plate, own = sheet.plate, cable_laid(sheet)
    sizes = tuple(row[0] for row in rows(sheet))
    yield _current_line(sheet, sizes)
    drop = _by_drop(sheet)
    yield Line(
        "cable_drop",
        "Cable",
        "Cable by voltage drop",
        f"running ≤ {sheet.rule('drop'):g} %, starting ≤ {START_DROP:g} %",
        f"{plate.length_m:g} m",
        drop.area_mm2 if drop else None,
        *named(sheet, drop),
        source="IEC 60364-5-52, annex G",
        warning="" if drop else "No conductor keeps the drop so small: a shorter way or a higher voltage is needed.",
        sizes=sizes,
        wanted=drop.area_mm2 if drop else None,
        estimated="length" in plate.estimated,
    )
    if own is None:
        return
    small = own.carries_a < needed_a(sheet)
    yield Line(
        "cable",
        "Cable",
        "Conductor",
        "the larger of both, or as given",
        "",
        own.area_mm2,
        *named(sheet, own),
        _laid_note(sheet, own),
        warning=f"{plain(sheet, own)} carries too little." if small else "",
        sizes=sizes,
        wanted=own.area_mm2,
    )
    yield _drop("drop_running", "running", sheet, own, sheet.motor_a, plate.power_factor)
    yield _drop("drop_starting", "starting", sheet, own, motor_start_a(sheet), LOCKED_FACTOR)
    if plate.star_delta:
        yield _leads_line(sheet, sizes)


def _laid_note(sheet: Sheet, own: Laid) -> str:
    told = ["As given."] if sheet.plate.area_mm2 else []
    if own.sets > 1:
        apart = "in raceways of their own" if sheet.american else "beside each other, each counted as a circuit"
        told.append(f"{own.sets} in parallel, of one length and make, {apart}.")
    if sheet.converter_a is not None:
        told.append("From the converter a screened cable; how long it may be is the maker's figure.")
    return " ".join(told)


def named(sheet: Sheet, one: Laid | None) -> tuple[str, str]:
    """Unit and words of conductors: by their area, in North America by their gauge, with how many lie in parallel."""
    if one is None:
        return "mm²", "none"
    times = f"{one.sets} × " if one.sets > 1 else ""
    if sheet.american:
        return "", times + conductor_name(one.area_mm2)
    return "mm²", times + figure(one.area_mm2)


def plain(sheet: Sheet, one: Laid) -> str:
    """Conductors in words alone."""
    unit, shown = named(sheet, one)
    return f"{shown} {unit}".strip()


def _leads_line(sheet: Sheet, sizes: tuple[float, ...]) -> Line:
    own = leads_laid(sheet)
    says, warning = "", f"No conductor is large enough: they end at {sizes[-1]:g} mm²."
    if own is not None:
        running, starting = (figure(percent) for percent in _leads_drops(sheet, own))
        says = f"Along both leads of a winding {running} % running, {starting} % starting in star."
        warning = ""
        if not _leads_hold(sheet, own):
            warning = f"As given: {plain(sheet, own)} carries too little or drops too much."
    return Line(
        "cable_leads",
        "Cable",
        "Six leads from the starter to the motor",
        "I_z ≥ 1.25 I / √3" if sheet.american else "I_z ≥ I / √3, and I_dial",
        f"≥ {figure(leads_needed_a(sheet))} A, {_way(sheet, 2 * sheet.plate.circuits)}",
        own.area_mm2 if own else None,
        *named(sheet, own),
        says,
        "NFPA 70 (2023), 430.22(C) and table 310.15(C)(1)" if sheet.american else "IEC 60364-5-52, table B.52.17",
        warning,
        sizes=sizes,
        wanted=own.area_mm2 if own else None,
    )


def _way(sheet: Sheet, circuits: int) -> str:
    """How a conductor lies, with the factors that this costs."""
    plate = sheet.plate
    less = " × ".join(f"{share.value:g} ({share.name})" for share in shares(sheet, circuits))
    laying = plate.laying.replace("_", " ")
    kind = f"{plate.material}, {plate.conductor_c} °C" if sheet.american else f"{plate.insulation}, {laying}"
    return f"{kind}{f', × {less}' if less else ''}"


def _current_line(sheet: Sheet, sizes: tuple[float, ...]) -> Line:
    needed, circuits = needed_a(sheet), sheet.plate.circuits
    found = by_current(sheet, needed, circuits)
    says, warning = "", f"No conductor is large enough: they end at {sizes[-1]:g} mm²."
    if found:
        protector = "converter" if sheet.converter_a is not None else "overload relay"
        says, warning = f"It carries {figure(found.carries_a)} A; the {protector} protects it.", ""
        if sheet.american:
            says += f" {_terminals(sheet, needed)}"
    return Line(
        "cable_current",
        "Cable",
        "Cable by current",
        "I_z ≥ 1.25 I" if sheet.american else "I_z ≥ I, and I_dial",
        f"≥ {figure(needed)} A, {_way(sheet, circuits)}",
        found.area_mm2 if found else None,
        *named(sheet, found),
        says,
        sheet.source_of(table_name(sheet)),
        warning,
        sizes=sizes,
        wanted=found.area_mm2 if found else None,
    )


def _terminals(sheet: Sheet, needed: float) -> str:
    """At which temperature the terminals let a conductor be used, and why (NFPA 70 (2023), 110.14(C))."""
    celsius = terminals_c(sheet, needed)
    if sheet.plate.terminals_c:
        return f"No more than at {celsius} °C, as its terminals are marked."
    side = "up to" if celsius == 60 else "above"
    return f"No more than at {celsius} °C: terminals that are not marked, {side} {COLD_TERMINALS_TO_A:g} A."


def _drop(key: str, when: str, sheet: Sheet, own: Laid, amperes: float, factor: float) -> Line:
    plate = sheet.plate
    allowed = sheet.rule("drop") if when == "running" else START_DROP
    volts = drop_v(plate, own.area_mm2, amperes / own.sets, factor)
    percent, sine = 100 * volts / plate.supply_v, math.sqrt(1 - factor**2)
    ohm = RHO[plate.material] / own.area_mm2 * factor + REACTANCE * sine
    factors = (
        Factor("2", 2.0) if plate.single_phase else Factor("root 3", ROOT3),
        Factor("the length", plate.length_m, can_be_left_out=False),
        Factor("the current", amperes / own.sets, can_be_left_out=False),
        Factor("ohms a metre", ohm, can_be_left_out=False),
        Factor("the 100 of per cent", 100.0),
        Factor("the voltage", plate.supply_v, -1, can_be_left_out=False),
    )
    metre = f"({RHO[plate.material]:g} / {own.area_mm2:g} × {factor:.3g} + {REACTANCE:g} × {sine:.3g})"
    times = "2" if plate.single_phase else "1.732"
    return Line(
        key,
        "Cable",
        f"Drop along the cable, {when}",
        f"{'2' if plate.single_phase else '√3'} L I (ρ/S cos φ + x sin φ) / U",
        f"100 × {times} × {plate.length_m:g} × {figure(amperes / own.sets)} × {metre} / {plate.supply_v:g}",
        percent,
        "%",
        figure(percent),
        f"{figure(volts)} V of {plate.supply_v:g} V.",
        "IEC 60364-5-52, annex G",
        "" if percent <= allowed else f"More than {allowed:g} %.",
        factors=factors,
    )
