"""Places on a power sheet: one row for each step away from the supply, each part under the one it was reached from."""

from collections import defaultdict, deque
from collections.abc import Iterator, Mapping, Sequence
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.document.circuit import Placement
from wiretrace.layout.pieces import Key, Piece, placement

LEFT: Final = 9
POWER_COLUMN: Final = 22
POLE: Final = 4
"""Distance of the poles of a part."""


def power_places(pieces: Sequence[Piece]) -> list[Placement]:
    """One row for each step away from the supply, each part under the one that it was reached from.

    Motors stand below all that; what is reached through a motor alone, as at slip rings, below the motors.
    """
    walk = _Walk(pieces)
    feeds = [piece for piece in pieces if piece.item.kind.poles and not piece.item.kind.coupled]
    # What only passes on what it is fed with, as a rectifier, stands below that.
    passing = (Does.TRANSFORMS, Does.CONVERTS)
    roots = [piece for piece in feeds if piece.part.does not in passing] or feeds or list(pieces[:1])
    walk.go([(piece, 0, None) for piece in roots], through_motors=False)
    motors = max(walk.rank.values(), default=0) + 1
    walk.rank |= {piece.key: motors for piece in pieces if piece.is_motor}
    behind = [step for piece in pieces if piece.is_motor for step in walk.beyond(piece, motors)]
    walk.go(behind, through_motors=True)
    return _in_rows(pieces, walk.rank, walk.above, motors)


class _Walk:
    """Steps from part to part along their potentials: how far each is, and from which it was reached."""

    def __init__(self, pieces: Sequence[Piece]) -> None:
        self._at: dict[int, list[Piece]] = defaultdict(list)
        for piece in pieces:
            for net in piece.nets:
                if net is not None:
                    self._at[net].append(piece)
        self._gone_on: set[int] = set()
        self.rank: dict[Key, int] = {}
        self.above: dict[Key, Key | None] = {}

    def go(self, starts: Sequence[tuple[Piece, int, Key | None]], *, through_motors: bool) -> None:
        waiting = deque(starts)
        while waiting:
            piece, depth, parent = waiting.popleft()
            if piece.key in self.rank:
                continue
            self.rank[piece.key], self.above[piece.key] = depth, parent
            if through_motors or not piece.is_motor:
                waiting.extend(self.beyond(piece, depth))

    def beyond(self, piece: Piece, depth: int) -> Iterator[tuple[Piece, int, Key | None]]:
        """The parts next to this one. Earth is no step: a motor stands below what feeds it."""
        for name, net in zip(piece.part.terminals, piece.nets, strict=True):
            if net is not None and net not in self._gone_on and not _returns(piece, name):
                self._gone_on.add(net)
                yield from ((other, depth + 1, piece.key) for other in self._at[net] if other.key not in self.rank)


def _returns(piece: Piece, terminal: str) -> bool:
    """Is it a neutral or earth of a source, or a frame?"""
    kind = piece.item.kind
    returning = terminal in kind.poles and kind.poles[terminal][0] != "live"
    return returning or any(t.frame for t in kind.terminals if t.name == terminal)


def _in_rows(
    pieces: Sequence[Piece],
    rank: Mapping[Key, int],
    above: Mapping[Key, Key | None],
    motors: int,
) -> list[Placement]:
    rows: dict[int, list[Piece]] = defaultdict(list)
    for piece in pieces:
        rows[rank.get(piece.key, motors - 1)].append(piece)
    columns: dict[Key, int] = {}
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
