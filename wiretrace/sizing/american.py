"""North American practice from its code book: full-load currents, sizes of contactors, names of conductors.

Conductors, breakers, fuses and contactors go by the full-load current of the tables and not by the nameplate; the
overload relay alone goes by the nameplate (NFPA 70, 430.6(A), edition 2023).
"""

from collections.abc import Mapping
from typing import Final

Rows = Mapping[float, Mapping[float, float]]

NEAR: Final = 0.03
"""Share by which a power may miss a row of the tables and be that row: 5.5 kW is 7.5 hp."""
NOMINAL: Final[Mapping[float, tuple[float, float]]] = {
    115.0: (110.0, 120.0),
    200.0: (199.0, 201.0),
    208.0: (207.0, 209.0),
    230.0: (220.0, 240.0),
    460.0: (440.0, 480.0),
    575.0: (550.0, 600.0),
}
"""The voltage of each column of the tables, and the voltages of systems that it is for."""


def _rows(volts: tuple[float, ...], text: str) -> Rows:
    """Amperes by voltage of a table of horsepower and columns; a dash where it has none."""
    found: dict[float, dict[float, float]] = {}
    for line in text.strip().splitlines():
        power, *columns = line.split()
        found[float(power)] = {v: float(a) for v, a in zip(volts, columns, strict=True) if a != "-"}
    return found


THREE_PHASE: Final = _rows(
    (115.0, 200.0, 208.0, 230.0, 460.0, 575.0),
    """
    0.5   4.4   2.5   2.4   2.2   1.1   0.9
    0.75  6.4   3.7   3.5   3.2   1.6   1.3
    1     8.4   4.8   4.6   4.2   2.1   1.7
    1.5   12.0  6.9   6.6   6.0   3.0   2.4
    2     13.6  7.8   7.5   6.8   3.4   2.7
    3     -     11.0  10.6  9.6   4.8   3.9
    5     -     17.5  16.7  15.2  7.6   6.1
    7.5   -     25.3  24.2  22    11    9
    10    -     32.2  30.8  28    14    11
    15    -     48.3  46.2  42    21    17
    20    -     62.1  59.4  54    27    22
    25    -     78.2  74.8  68    34    27
    30    -     92    88    80    40    32
    40    -     120   114   104   52    41
    50    -     150   143   130   65    52
    60    -     177   169   154   77    62
    75    -     221   211   192   96    77
    100   -     285   273   248   124   99
    125   -     359   343   312   156   125
    150   -     414   396   360   180   144
    200   -     552   528   480   240   192
    250   -     -     -     -     302   242
    300   -     -     -     -     361   289
    350   -     -     -     -     414   336
    400   -     -     -     -     477   382
    450   -     -     -     -     515   412
    500   -     -     -     -     590   472
    """,
)
"""Cage motors and wound rotors, amperes in the line (NFPA 70 (2023), table 430.250)."""
SINGLE_PHASE: Final = _rows(
    (115.0, 200.0, 208.0, 230.0),
    """
    0.1667  4.4   2.5   2.4   2.2
    0.25    5.8   3.3   3.2   2.9
    0.3333  7.2   4.1   4.0   3.6
    0.5     9.8   5.6   5.4   4.9
    0.75    13.8  7.9   7.6   6.9
    1       16    9.2   8.8   8.0
    1.5     20    11.5  11.0  10
    2       24    13.8  13.2  12
    3       34    19.6  18.7  17
    5       56    32.2  30.8  28
    7.5     80    46    44    40
    10      100   57.5  55    50
    """,
)
"""Motors of a single phase (NFPA 70 (2023), table 430.248)."""

SIZES: Final = ("00", "0", "1", "2", "3", "4", "5", "6", "7", "8")
SIZE_A: Final = (9.0, 18.0, 27.0, 45.0, 90.0, 135.0, 270.0, 540.0, 810.0, 1215.0)
"""Continuous current of each size, amperes (NEMA ICS 2-2000, table 2-4-1)."""
LIMITS_HP: Final[Mapping[float, tuple[float, ...]]] = {
    200.0: (1.5, 3, 7.5, 10, 25, 40, 75, 150, 0, 0),
    208.0: (1.5, 3, 7.5, 10, 25, 40, 75, 150, 0, 0),
    230.0: (1.5, 3, 7.5, 15, 30, 50, 100, 200, 300, 450),
    460.0: (2, 5, 10, 25, 50, 100, 200, 400, 600, 900),
    575.0: (2, 5, 10, 25, 50, 100, 200, 400, 600, 900),
}
"""Horsepower of a motor of three phases that each size starts and stops (NEMA ICS 2-2000, table 2-4-1); 0 for none."""
SINGLE_HP: Final[Mapping[float, tuple[float, ...]]] = {
    115.0: (0.3333, 1, 2, 3, 7.5, 0, 0, 0, 0, 0),
    230.0: (1, 2, 3, 7.5, 15, 0, 0, 0, 0, 0),
}
"""The same for a single phase."""

NAMES: Final[Mapping[float, str]] = {
    2.08: "14 AWG", 3.31: "12 AWG", 5.26: "10 AWG", 8.37: "8 AWG", 13.3: "6 AWG", 21.2: "4 AWG", 26.7: "3 AWG",
    33.6: "2 AWG", 42.4: "1 AWG", 53.5: "1/0 AWG", 67.4: "2/0 AWG", 85.0: "3/0 AWG", 107.0: "4/0 AWG",
    127.0: "250 kcmil", 152.0: "300 kcmil", 177.0: "350 kcmil", 203.0: "400 kcmil", 253.0: "500 kcmil",
    304.0: "600 kcmil", 380.0: "750 kcmil", 507.0: "1000 kcmil",
}  # fmt: skip
"""Conductors by their area in square millimetres (NFPA 70 (2023), chapter 9, table 8)."""


def column_of(volts: float) -> float | None:
    """The column of the tables for a motor of this rated voltage; None where they have none."""
    return next((column for column, (low, high) in NOMINAL.items() if low <= volts <= high), None)


def row_of(rows: Rows, horsepower: float) -> float | None:
    """The row that a power is, or the next larger; None beyond the table."""
    return next((row for row in sorted(rows) if horsepower <= row * (1 + NEAR)), None)


def full_load_a(horsepower: float, volts: float, single_phase: bool) -> float | None:
    """Full-load current of the tables, amperes; None where they have none for this power and voltage."""
    rows = SINGLE_PHASE if single_phase else THREE_PHASE
    row, column = row_of(rows, horsepower), column_of(volts)
    return None if row is None or column is None else rows[row].get(column)


def contactor_size(horsepower: float, volts: float, single_phase: bool, amperes: float) -> str | None:
    """The smallest size that may start a motor across the line and carries its current; None where there is none."""
    column = column_of(volts)
    limits = (SINGLE_HP if single_phase else LIMITS_HP).get(column or 0.0)
    if limits is None:
        return None
    fits = zip(SIZES, SIZE_A, limits, strict=True)
    return next((size for size, most, hp in fits if horsepower <= hp * (1 + NEAR) and amperes <= most), None)


def conductor_name(area_mm2: float) -> str:
    """What a conductor is called; its area where it has no name."""
    return NAMES.get(area_mm2, f"{area_mm2:g} mm²")
