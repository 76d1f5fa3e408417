"""Standard sizes: files that a user can replace by his own."""

import csv
import io
from collections.abc import Mapping, Sequence
from functools import cache
from importlib import resources
from typing import Final

from wiretrace.errors import MalformedDocument

Rows = tuple[tuple[float, ...], ...]

HEADS: Final[Mapping[str, tuple[str, ...]]] = {
    "breakers-iec": ("rating_a",),
    "breakers-na": ("rating_a",),
    "fuse-links-iec": ("rating_a",),
    "fuse-links-na": ("rating_a",),
    "contactors-iec": ("rating_a",),
    "contactors-na": ("rating_a",),
    "overloads": ("from_a", "to_a"),
    "cables-iec": ("area_mm2", "conduit_a", "multicore_conduit_a", "wall_a", "air_a"),
    "cables-na": ("area_mm2", "conduit_a", "multicore_conduit_a", "wall_a", "air_a"),
    "current-transformers": ("rating_a",),
    "control-transformers": ("rating_va",),
}
"""The series and their columns. Breakers and fuses: IEC 60898, 60947, 60269; North American standard ratings.
Contactors: AC-3 ratings, and the motor current of NEMA sizes 00 to 7. Cables: IEC 60364-5-52, table B.52.4 (copper,
PVC, three loaded conductors, 30 degC), and copper at 75 degC in North American sizes by their area."""
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
    if not lines or tuple(cell.strip() for cell in lines[0]) != head:
        raise MalformedDocument(f"The first line of {name} must be {','.join(head)}.")
    if not 1 < len(lines) <= MOST_ROWS:
        raise MalformedDocument(f"{name}: between 1 and {MOST_ROWS - 1} sizes are expected.")
    rows: list[tuple[float, ...]] = []
    for number, line in enumerate(lines[1:], 2):
        row = _row(name, head, number, line)
        _follows(name, number, rows[-1] if rows else None, row)
        rows.append(row)
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
    ranges = name == "overloads"
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
