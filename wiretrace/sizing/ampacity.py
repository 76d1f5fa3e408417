"""What conductors carry as they are laid: the tables of either practice, heat, grouping, terminals, parallel sets."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.sizing.plate import Plate
from wiretrace.sizing.sheet import DELTA_SHARE, Sheet

Row = tuple[float, ...]
Steps = Sequence[tuple[float, float]]

COLUMN: Final = {"conduit": 1, "multicore_conduit": 2, "wall": 3, "air": 4, "ground": 5}
"""Columns of the IEC series: installation methods B1, B2, C, E and D1 (IEC 60364-5-52:2009, table B.52.1)."""
AT_C: Final = {60: 1, 75: 2, 90: 3}
"""Columns of the North American series, by temperature of the conductor in degC."""
ALUMINIUM: Final = 0.78
"""What an aluminium conductor carries of a copper one's current (IEC series; in North America it has its own)."""
IN_PARALLEL_MM2: Final = {"iec": 50.0, "na": 53.5}
"""The least area that is laid in parallel: usual in IEC practice; 1/0 AWG by NFPA 70 (2023), 310.10(G)(1)."""
MOST_SETS: Final = 6

AMBIENT: Final[dict[str, Steps]] = {
    "PVC": ((30, 1.0), (35, 0.94), (40, 0.87), (45, 0.79), (50, 0.71), (55, 0.61), (60, 0.5)),
    "XLPE": (
        *((30, 1.0), (35, 0.96), (40, 0.91), (45, 0.87), (50, 0.82), (55, 0.76), (60, 0.71)),
        *((65, 0.65), (70, 0.58)),
    ),
}
"""In air (IEC 60364-5-52:2009, table B.52.14); below 30 degC nothing is gained here."""
AMBIENT_GROUND: Final[dict[str, Steps]] = {
    "PVC": ((20, 1.0), (25, 0.95), (30, 0.89), (35, 0.84), (40, 0.77), (45, 0.71), (50, 0.63), (55, 0.55), (60, 0.45)),
    "XLPE": (
        *((20, 1.0), (25, 0.96), (30, 0.93), (35, 0.89), (40, 0.85), (45, 0.8), (50, 0.76)),
        *((55, 0.71), (60, 0.65), (65, 0.6), (70, 0.53)),
    ),
}
"""In the ground (IEC 60364-5-52:2009, table B.52.15)."""
AMBIENT_AMERICAN: Final[dict[int, Steps]] = {
    60: ((30, 1.0), (35, 0.91), (40, 0.82), (45, 0.71), (50, 0.58), (55, 0.41)),
    75: ((30, 1.0), (35, 0.94), (40, 0.88), (45, 0.82), (50, 0.75), (55, 0.67), (60, 0.58), (65, 0.47), (70, 0.33)),
    90: ((30, 1.0), (35, 0.96), (40, 0.91), (45, 0.87), (50, 0.82), (55, 0.76), (60, 0.71), (65, 0.65), (70, 0.58)),
}
"""By temperature of the conductor (NFPA 70 (2023), table 310.15(B)(1)(1))."""
GROUPED: Final[Steps] = (
    *((1, 1.0), (2, 0.8), (3, 0.7), (4, 0.65), (5, 0.6), (6, 0.57), (7, 0.54), (8, 0.52), (9, 0.5)),
    *((12, 0.45), (16, 0.41), (20, 0.38)),
)
"""By circuits that lie together (IEC 60364-5-52:2009, table B.52.17, line 1)."""
GROUPED_AMERICAN: Final[Steps] = ((3, 1.0), (6, 0.8), (9, 0.7), (20, 0.5), (30, 0.45), (40, 0.4), (999, 0.35))
"""By conductors that carry current together (NFPA 70 (2023), table 310.15(C)(1))."""
COLD_TERMINALS_TO_A: Final = 100.0
"""Up to here terminals that are not marked are taken for 60 degC, above for 75 degC (NFPA 70 (2023), 110.14(C)(1))."""


@dataclass(frozen=True)
class Laid:
    """Conductors of one area, so many sets of them in parallel, and what they carry together as laid, amperes."""

    area_mm2: float
    sets: int
    carries_a: float

    @property
    def total_mm2(self) -> float:
        """The area of all sets together."""
        return self.area_mm2 * self.sets


@dataclass(frozen=True)
class Share:
    """A factor by which a table's current is made less, and what it is for."""

    name: str
    value: float


def step(table: Steps, value: float) -> float:
    """The row of a table that is not below; nothing beyond its end, where a conductor may not lie."""
    return next((factor for at, factor in table if value <= at), 0.0)


def insulation_c(plate: Plate) -> int:
    """North American: the temperature that the conductor is made for, degC."""
    return int(plate.conductor_c)


def terminals_c(sheet: Sheet, amperes: float) -> int:
    """North American: the temperature of the terminals, degC; as marked, else by the current of the circuit."""
    marked = sheet.plate.terminals_c
    if marked:
        return int(marked)
    return 60 if amperes <= COLD_TERMINALS_TO_A else 75


def shares(sheet: Sheet, circuits: int) -> tuple[Share, ...]:
    """What the table's current is multiplied by, for so many circuits that lie together."""
    plate = sheet.plate
    if sheet.american:
        conductors = circuits * (2 if plate.single_phase else 3)
        warm = step(AMBIENT_AMERICAN[insulation_c(plate)], plate.ambient_c)
        grouped = step(GROUPED_AMERICAN, conductors)
    else:
        table = AMBIENT_GROUND if plate.laying == "ground" else AMBIENT
        warm, grouped = step(table[plate.insulation], plate.ambient_c), step(GROUPED, circuits)
    found: tuple[Share, ...] = (
        Share(f"at {plate.ambient_c:g} °C", warm),
        Share(f"{circuits} circuits together", grouped),
    )
    if plate.material == "aluminium" and not sheet.american:
        found += (Share("aluminium", ALUMINIUM),)
    return tuple(one for one in found if one.value != 1.0)


def table_name(sheet: Sheet) -> str:
    """The series that the conductors of a sheet are looked up in."""
    plate = sheet.plate
    if sheet.american:
        return "cables-na-aluminium" if plate.material == "aluminium" else "cables-na"
    return "cables-iec" + ("-xlpe" if plate.insulation == "XLPE" else "") + ("-two" if plate.single_phase else "")


def rows(sheet: Sheet) -> tuple[Row, ...]:
    """The conductors to choose from."""
    return sheet.table(table_name(sheet))


def tabled_a(sheet: Sheet, row: Row) -> float:
    """Current of a conductor in its table, amperes; 0 where the series has no such way of laying."""
    at = AT_C[insulation_c(sheet.plate)] if sheet.american else COLUMN[sheet.plate.laying]
    return row[at] if at < len(row) else 0.0


def carried_a(sheet: Sheet, row: Row, amperes: float, circuits: int) -> float:
    """What one set of a conductor carries as it is laid, amperes; in North America no more than its terminals do.

    `amperes` is what the whole circuit is for, by which terminals that are not marked are told.
    """
    carries = tabled_a(sheet, row)
    for share in shares(sheet, circuits):
        carries *= share.value
    if not sheet.american:
        return carries
    return min(carries, row[AT_C[terminals_c(sheet, amperes)]])


def needed_a(sheet: Sheet) -> float:
    """What the cable must carry, amperes: what the motor takes, and no less than the dial of the relay that protects
    it (IEC 60364-4-43, 433.1: I_B <= I_n <= I_z); in North America 125 % of the table's current (NFPA 70, 430.22).
    """
    if sheet.american:
        return sheet.branch_a * 1.25
    return max(sheet.motor_a, sheet.dial_a / sheet.relay_share)


def leads_needed_a(sheet: Sheet) -> float:
    """What each of the six leads from a star-delta starter must carry, amperes (NFPA 70, 430.22(C): 72 %)."""
    return needed_a(sheet) * DELTA_SHARE


def by_current(sheet: Sheet, amperes: float, circuits: int) -> Laid | None:
    """The smallest conductor that carries a current, in as few sets as will do; None where none does."""
    sizes = rows(sheet)
    least = IN_PARALLEL_MM2[sheet.schools["sizes"]]
    for sets in range(1, MOST_SETS + 1):
        for row in sizes:
            if sets > 1 and row[0] < least:
                continue
            found = laid(sheet, row, sets, amperes, circuits)
            if found.carries_a >= amperes:
                return found
    return None


def laid(sheet: Sheet, row: Row, sets: int, amperes: float, circuits: int) -> Laid:
    """So many sets of a conductor: by IEC each counts as a circuit, in North America each has a raceway of its own."""
    together = circuits if sheet.american else circuits * sets
    return Laid(row[0], sets, sets * carried_a(sheet, row, amperes, together))


def given(sheet: Sheet, amperes: float, circuits: int) -> Laid | None:
    """The conductor that somebody gave; what it carries is that of the next smaller one of the series."""
    plate = sheet.plate
    if plate.area_mm2 is None:
        return None
    near = [row for row in rows(sheet) if row[0] <= plate.area_mm2 * 1.005]
    if not near:
        return Laid(plate.area_mm2, plate.sets, 0.0)
    found = laid(sheet, near[-1], plate.sets, amperes, circuits)
    return Laid(plate.area_mm2, plate.sets, found.carries_a)
