"""Places on a power sheet: one row for each step away from the supply, each part under the one it was reached from."""

from collections import defaultdict, deque
from collections.abc import Sequence
from typing import Final

from wiretrace.catalogue.purpose import Does
from wiretrace.circuit.document import Placement
from wiretrace.layout.pieces import Piece, placement

LEFT: Final = 9
POWER_COLUMN: Final = 22
POLE: Final = 4
"""Distance of the poles of a part."""


def power_places(pieces: Sequence[Piece]) -> list[Placement]:
    """One row for each step away from the supply, each part under the one that it was reached from."""
    at: dict[int, list[Piece]] = defaultdict(list)
    for piece in pieces:
        for net in piece.nets:
            if net is not None:
                at[net].append(piece)
    rank: dict[tuple[str, str], int] = {}
    above: dict[tuple[str, str], tuple[str, str] | None] = {}
    roots = [piece for piece in pieces if piece.item.kind.poles and not piece.item.kind.coupled] or list(pieces[:1])
    waiting: deque[tuple[Piece, int, tuple[str, str] | None]] = deque((piece, 0, None) for piece in roots)
    gone_on: set[int] = set()
    while waiting:
        piece, depth, parent = waiting.popleft()
        if piece.key in rank:
            continue
        rank[piece.key], above[piece.key] = depth, parent
        # Earth is no step: a motor stands below what feeds it. Nor does a way lead on through a motor.
        for name, net in zip(piece.part.terminals, piece.nets, strict=True):
            if net is not None and net not in gone_on and not piece.is_motor and not _returns(piece, name):
                gone_on.add(net)
                waiting.extend((other, depth + 1, piece.key) for other in at[net] if other.key not in rank)
    return _in_rows(pieces, rank, above)


def _returns(piece: Piece, terminal: str) -> bool:
    """Is it a neutral or earth of a source, or a frame?"""
    kind = piece.item.kind
    returning = terminal in kind.poles and kind.poles[terminal][0] != "live"
    return returning or any(t.frame for t in kind.terminals if t.name == terminal)


def _in_rows(
    pieces: Sequence[Piece],
    rank: dict[tuple[str, str], int],
    above: dict[tuple[str, str], tuple[str, str] | None],
) -> list[Placement]:
    last = max(rank.values(), default=0)
    rows: dict[int, list[Piece]] = defaultdict(list)
    for piece in pieces:
        rows[last + 1 if piece.is_motor else rank.get(piece.key, last)].append(piece)
    columns: dict[tuple[str, str], int] = {}
    by_key = {piece.key: piece for piece in pieces}
    leading = set(above.values())
    placed, y = [], 2
    for row in sorted(rows):
        taken: set[int] = set()
        # What leads on stands in line; a dead end, such as a phase monitor, stands aside.
        for piece in sorted(rows[row], key=lambda piece: piece.key not in leading):
            parent = above.get(piece.key)
            if piece.part.does is Does.JOINS and parent in by_key:
                column = columns[piece.key] = columns.get(parent, 0)
                x = LEFT - 1 + column * POWER_COLUMN + POLE * _pole(by_key[parent], piece)
                placed.append(placement(piece, x, y))
                continue
            column = 0 if parent is None or piece.is_motor else columns.get(parent, 0)
            while column in taken:
                column += 1
            taken.add(column)
            columns[piece.key] = column
            placed.append(placement(piece, LEFT - 1 + column * POWER_COLUMN, y))
        y += max(piece.part.height for piece in rows[row])
    return placed


def _pole(parent: Piece, piece: Piece) -> int:
    """Which pole of a part feeds a terminal: its terminals go in pairs, above and below."""
    return next((index // 2 for index, net in enumerate(parent.nets) if net is not None and net in piece.nets), 0)
