"""Standard sizes: files that a user can replace by his own."""

import csv
import io
from collections.abc import Mapping, Sequence
from functools import cache
from importlib import resources
from typing import Final

from wiretrace.errors import MalformedDocument

Rows = tuple[tuple[float, ...], ...]

_LAID: Final = ("area_mm2", "conduit_a", "multicore_conduit_a", "wall_a", "air_a", "ground_a")
_BY_HEAT: Final = ("area_mm2", "at_60_a", "at_75_a", "at_90_a")
_FORMER_LAID: Final = _LAID[:-1]
RANGES: Final = frozenset(("overloads", "motor-starters"))
HEADS: Final[Mapping[str, tuple[str, ...]]] = {
    "breakers-iec": ("rating_a",),
    "breakers-na": ("rating_a",),
    "fuse-links-iec": ("rating_a",),
    "fuse-links-na": ("rating_a",),
    "contactors-iec": ("rating_a",),
    "contactors-na": ("rating_a",),
    "overloads": ("from_a", "to_a"),
    "motor-starters": ("from_a", "to_a"),
    "cables-iec": _LAID,
    "cables-iec-two": _LAID,
    "cables-iec-xlpe": _LAID,
    "cables-iec-xlpe-two": _LAID,
    "cables-na": _BY_HEAT,
    "cables-na-aluminium": _BY_HEAT,
    "current-transformers": ("rating_a",),
    "control-transformers": ("rating_va",),
}
"""The series and their columns."""
SOURCES: Final[Mapping[str, str]] = {
    "breakers-iec": "IEC 60898-1:2015, 5.3.2; above 125 A IEC 60947-2:2016, preferred ratings",
    "breakers-na": "NFPA 70 (2023), table 240.6(A)",
    "fuse-links-iec": "IEC 60269-1:2006, 5.3.1",
    "fuse-links-na": "NFPA 70 (2023), table 240.6(A)",
    "contactors-iec": "AC-3 ratings that are usual (IEC 60947-4-1:2018)",
    "contactors-na": "NEMA ICS 2-2000, table 2-4-1",
    "overloads": "Ranges that are usual",
    "motor-starters": "Ranges that are usual (IEC 60947-4-1:2018, IEC 60947-2:2016)",
    "cables-iec": "IEC 60364-5-52:2009, tables B.52.4 and B.52.10: copper, PVC, three loaded, 30 °C (ground 20)",
    "cables-iec-two": "IEC 60364-5-52:2009, tables B.52.2 and B.52.10: copper, PVC, two loaded",
    "cables-iec-xlpe": "IEC 60364-5-52:2009, tables B.52.5 and B.52.12: copper, XLPE, three loaded",
    "cables-iec-xlpe-two": "IEC 60364-5-52:2009, tables B.52.3 and B.52.12: copper, XLPE, two loaded",
    "cables-na": "NFPA 70 (2023), table 310.16: copper, 30 °C, areas by chapter 9, table 8",
    "cables-na-aluminium": "NFPA 70 (2023), table 310.16: aluminium, 30 °C",
    "current-transformers": "IEC 61869-2:2012, 5.202: standard ratios",
    "control-transformers": "Ratings that are usual (IEC 61558-2-2:2007)",
}
"""Where each series stands, with edition and clause."""
OWN: Final = "A series of your own"
MOST_ROWS: Final = 200
MOST_SIZE: Final = 1e5


@cache
def shipped(name: str) -> Rows:
    """The rows of a series as it ships."""
    text = resources.files("wiretrace.sizing").joinpath("data", f"{name}.csv").read_text(encoding="utf-8")
    return read_series(name, text)


def chosen(name: str, own: Mapping[str, Rows]) -> Rows:
    """The rows of a series: the user's own, or those that ship."""
    return own.get(name) or shipped(name)


def read_series(name: str, text: str) -> Rows:
    """The rows of a file. Raises MalformedDocument with the line that is wrong and what is expected there."""
    if name not in HEADS:
        raise MalformedDocument(f"There is no series {name[:40]!r}: {', '.join(HEADS)}.")
    head = HEADS[name]
    lines = [line for line in csv.reader(io.StringIO(text.lstrip("\ufeff"))) if any(cell.strip() for cell in line)]
    columns = tuple(cell.strip() for cell in lines[0]) if lines else ()
    if columns == _FORMER_LAID and head in (_LAID, _BY_HEAT):
        # As files were written before the ground and the temperatures had columns.
        head = _FORMER_LAID
    if columns != head:
        raise MalformedDocument(f"The first line of {name} must be {','.join(HEADS[name])}.")
    if not 1 < len(lines) <= MOST_ROWS:
        raise MalformedDocument(f"{name}: between 1 and {MOST_ROWS - 1} sizes are expected.")
    rows: list[tuple[float, ...]] = []
    for number, line in enumerate(lines[1:], 2):
        row = _row(name, head, number, line)
        _follows(name, number, rows[-1] if rows else None, row)
        rows.append(row)
    if head is _FORMER_LAID and HEADS[name] is _BY_HEAT:
        return tuple((row[0], row[1], row[1], row[1]) for row in rows)
    return tuple(rows)


def _row(name: str, head: Sequence[str], number: int, line: Sequence[str]) -> tuple[float, ...]:
    if len(line) != len(head):
        raise MalformedDocument(f"{name}, line {number}: {len(head)} figures are expected, {len(line)} are there.")
    try:
        row = tuple(float(cell.strip()) for cell in line)
    except ValueError:
        raise MalformedDocument(f"{name}, line {number}: only figures, with a point and not a comma.") from None
    if not all(0 < figure < MOST_SIZE for figure in row):
        raise MalformedDocument(f"{name}, line {number}: figures above 0 are expected.")
    return row


def _follows(name: str, number: int, before: tuple[float, ...] | None, row: tuple[float, ...]) -> None:
    """Sizes rise; ranges leave no gap between them."""
    ranges = name in RANGES
    if ranges and row[0] >= row[1]:
        raise MalformedDocument(f"{name}, line {number}: a range goes from the smaller figure to the larger.")
    if before is None:
        return
    if row[0] <= before[0]:
        raise MalformedDocument(f"{name}, line {number}: sizes must rise; {row[0]:g} follows {before[0]:g}.")
    if ranges and row[0] > before[1]:
        raise MalformedDocument(f"{name}, line {number}: there is a gap between {before[1]:g} and {row[0]:g} A.")


def series_csv(name: str, rows: Rows) -> str:
    """A series as a file."""
    return "\n".join([",".join(HEADS[name]), *(",".join(f"{figure:g}" for figure in row) for row in rows)]) + "\n"


def next_up(rows: Rows, wanted: float) -> float | None:
    """The smallest size that is not below what is wanted; None where there is none so large."""
    # A size that is met but for rounding is met.
    return next((row[0] for row in rows if row[0] >= wanted * (1 - 1e-9)), None)
