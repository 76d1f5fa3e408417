"""Clean sheets for a circuit, in either convention. Wires are laid by the sheet itself."""

import math
from collections.abc import Sequence
from itertools import chain, count
from typing import Final, Literal

from wiretrace.document.circuit import Circuit, Convention, Placement, Sheet
from wiretrace.layout.control import LADDER, UPRIGHT, Control
from wiretrace.layout.levels import levels
from wiretrace.layout.pieces import feeds, pieces_of
from wiretrace.layout.power import POWER_COLUMN, power_places

ROOM: Final = 5
"""Least distance between two symbols, in modules."""


def tidy(circuit: Circuit, convention: Convention | None = None) -> Circuit:
    """The circuit with new sheets of one convention, its own if none is named; it is shown on these.

    Power and control; empty ones are left out. Sheets of the other convention stay.
    """
    convention = convention or circuit.convention
    power, control = pieces_of(circuit)
    kept = tuple(sheet for sheet in circuit.sheets if sheet.convention != convention)

    sheets: list[Sheet] = []

    def sheet(kind: Literal["power", "control"], title: str, symbols: Sequence[Placement]) -> Sheet:
        free = _free_id((*kept, *sheets), kind if convention == "iec" else f"{kind}-nema")
        return Sheet(id=free, title=title, kind=kind, convention=convention, symbols=tuple(symbols))

    if power or not control:
        sheets.append(sheet("power", "Power", power_places(power)))
    paper = LADDER if convention == "nema" else UPRIGHT
    outside = feeds(power, control)
    for level in levels(control, outside[1]):
        title = "Control" if level.supply is None else f"Control from {level.supply.item.label}"
        sheets.append(sheet("control", title, Control(level.pieces, level.feeds(outside), paper).place()))
    return circuit.model_copy(update={"sheets": (*kept, *sheets), "convention": convention})


def redrawn(circuit: Circuit, convention: Convention) -> Circuit:
    """The circuit shown in a convention: on the sheets that it has there, with what they lack added.

    On a sheet that is still much as it was laid out a part goes where the layout has it, if there is room; else
    to the edge.
    """
    sheets = [sheet for sheet in circuit.sheets if sheet.convention == convention]
    if not sheets:
        return tidy(circuit, convention)
    here = {(symbol.device, symbol.part) for sheet in sheets for symbol in sheet.symbols}
    fresh = tidy(circuit.model_copy(update={"sheets": ()}), convention)
    for new in fresh.sheets:
        missing = [symbol for symbol in new.symbols if (symbol.device, symbol.part) not in here]
        index = _counterpart(sheets, new)
        if index is None:
            if missing:
                free = _free_id((*circuit.sheets, *sheets), new.id)
                sheets.append(new.model_copy(update={"id": free, "symbols": tuple(missing)}))
        elif missing:
            old = sheets[index]
            stands = _stands(old) if _is_like(old, new) else None
            fits = [stands is not None and _has_room(stands, symbol) for symbol in missing]
            fitting = [symbol for symbol, fit in zip(missing, fits, strict=True) if fit]
            rest = [symbol for symbol, fit in zip(missing, fits, strict=True) if not fit]
            added = (*fitting, *(_at_edge(old, rest) if rest else ()))
            sheets[index] = old.model_copy(update={"symbols": (*old.symbols, *added)})
    kept = tuple(sheet for sheet in circuit.sheets if sheet.convention != convention)
    return circuit.model_copy(update={"sheets": (*kept, *sheets), "convention": convention})


def _free_id(sheets: Sequence[Sheet], stem: str) -> str:
    taken = {sheet.id for sheet in sheets}
    return next(name for name in chain((stem,), (f"{stem}-{n}" for n in count(2))) if name not in taken)


def _counterpart(sheets: Sequence[Sheet], fresh: Sheet) -> int | None:
    """Which sheet of a drawing has most of what the layout puts on one; any of its kind where none is titled alike."""
    parts = {(symbol.device, symbol.part) for symbol in fresh.symbols}
    same = [index for index, sheet in enumerate(sheets) if sheet.kind == fresh.kind]

    def shared(index: int) -> int:
        return sum((symbol.device, symbol.part) in parts for symbol in sheets[index].symbols)

    best = max(same, key=shared, default=None)
    if best is None or shared(best):
        return best
    return next((index for index in same if sheets[index].title == fresh.title), None)


def _is_like(sheet: Sheet, fresh: Sheet) -> bool:
    """Does at least half of a sheet stand where the layout has it?"""
    return 2 * len(set(sheet.symbols) & set(fresh.symbols)) >= len(sheet.symbols)


Stands = dict[tuple[int, int], list[Placement]]
"""Symbols by the square of the sheet that they stand in."""


def _square(symbol: Placement) -> tuple[int, int]:
    return math.floor(symbol.x / ROOM), math.floor(symbol.y / ROOM)


def _stands(sheet: Sheet) -> Stands:
    found: Stands = {}
    for symbol in sheet.symbols:
        found.setdefault(_square(symbol), []).append(symbol)
    return found


def _has_room(stands: Stands, symbol: Placement) -> bool:
    column, row = _square(symbol)
    near = (stands.get((column + dx, row + dy), ()) for dx in (-1, 0, 1) for dy in (-1, 0, 1))
    return all(
        abs(other.x - symbol.x) >= ROOM or abs(other.y - symbol.y) >= ROOM for others in near for other in others
    )


def _at_edge(sheet: Sheet, missing: Sequence[Placement]) -> list[Placement]:
    """Places for further parts: in their order to the right of an upright sheet, below the last rung of a ladder."""
    first = min(missing, key=lambda symbol: (symbol.y, symbol.x))
    if sheet.convention == "nema" and sheet.kind == "control":
        shift = (0.0, max((s.y for s in sheet.symbols), default=0) + LADDER.path - first.y)
    else:
        shift = (max((s.x for s in sheet.symbols), default=0) + POWER_COLUMN - min(s.x for s in missing), 0.0)
    return [symbol.model_copy(update={"x": symbol.x + shift[0], "y": symbol.y + shift[1]}) for symbol in missing]
