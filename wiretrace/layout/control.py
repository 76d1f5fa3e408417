"""Places on a control sheet, upright or lying as a ladder.

Potentials are ranked by their distance from the feed; a part hangs under its upper potential, what is in series below
each other, what is in parallel side by side, all loads in one row at the bottom and what lies on the neutral side
under them. A ladder is the same lying down: its rungs are the columns.
"""

from collections import defaultdict, deque
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.circuit.document import Placement
from wiretrace.layout.pieces import WIDE, Piece, placement


@dataclass(frozen=True)
class Paper:
    """Distances on a control sheet: where the first part stands, from path to path, from step to step."""

    left: int
    top: int
    path: int
    step: int
    lying: bool = False

    def place(self, column: int, row: float) -> tuple[float, float]:
        if self.lying:
            return self.left + row * self.step, self.top + column * self.path
        return self.left + column * self.path, self.top + row * self.step


UPRIGHT: Final = Paper(left=9, top=5, path=11, step=7)
LADDER: Final = Paper(left=6, top=6, path=8, step=10, lying=True)
BOX: Final = 6
"""Terminals from which a box stands among the loads, where contacts lead to it."""


class Control:
    """Places the parts of a control circuit."""

    def __init__(self, pieces: Sequence[Piece], feeds: tuple[set[int], set[int]], paper: Paper) -> None:
        self.pieces = pieces
        self.paper = paper
        self.feed, self.back = feeds
        self.columns = 0
        self.at: dict[tuple[str, str], tuple[int, float]] = {}
        self.taken: dict[float, set[int]] = defaultdict(set)
        """Columns that are taken, by row."""
        self._beside: dict[float, dict[int, int]] = defaultdict(dict)
        self.below: dict[int, list[Piece]] = defaultdict(list)
        for piece in pieces:
            if piece.is_way:
                for net in piece.nets:
                    if net is not None:
                        self.below[net].append(piece)
        self.rank = self._ranks()
        self.bottom = max(self.rank.values(), default=0) + 1

    def place(self) -> list[Placement]:
        """Column and row of every part."""
        seen: set[int] = set()
        start = [net for net in self.feed if self.below.get(net)]
        for net in sorted(start):
            self._walk(net, seen)
        loads = [piece for piece in self.pieces if piece.is_load]
        hung: dict[int, int] = {}
        for piece in sorted(loads, key=lambda load: self._column_above(load)):
            column = self._free_column(self._column_above(piece), self.bottom)
            self._set(piece, column, self.bottom)
            hung |= {end: column for end in piece.nets if end is not None and end not in hung}
        for piece in self.pieces:
            if piece.key not in self.at:
                self._rest(piece, hung)
        return [placement(piece, *self.paper.place(*self.at[piece.key])) for piece in self.pieces]

    def _ranks(self) -> dict[int, int]:
        """Distance of each potential from the feed, in contacts, the longest way that never turns back."""
        first = dict.fromkeys(self.feed, 0)
        waiting = deque(sorted(self.feed))
        order = []
        while waiting:
            net = waiting.popleft()
            order.append(net)
            for piece in self.below.get(net, ()):
                for other in piece.nets:
                    if other is not None and other not in first and other not in self.back:
                        first[other] = first[net] + 1
                        waiting.append(other)
        rank = dict(first)
        for net in order:
            for piece in self.below.get(net, ()):
                for other in piece.nets:
                    if other is not None and other in first and first[other] > first[net]:
                        rank[other] = max(rank[other], rank[net] + 1)
        return rank

    def _walk(self, start: int, seen: set[int]) -> None:
        """Hang everything below a potential. By hand, since a row may be longer than calls can be nested."""
        ways: list[Iterator[tuple[int, int | None]]] = [self._hang(start, None)]
        seen.add(start)
        while ways:
            net, column = next(ways[-1], (None, None))
            if net is None:
                ways.pop()
            elif net not in seen:
                seen.add(net)
                ways.append(self._hang(net, column))

    def _hang(self, net: int, column: int | None) -> Iterator[tuple[int, int | None]]:
        """Place what hangs below a potential: the longest way in the same column, the others beside it.

        Yields the potentials to go on from, each with its column if it has one.
        """
        down = [piece for piece in self.below.get(net, ()) if piece.key not in self.at and self._leads_down(piece, net)]
        down.sort(key=lambda piece: -max((self.rank.get(n, 0) for n in piece.nets if n is not None), default=0))
        for index, piece in enumerate(down):
            if piece.key in self.at:
                continue
            mine = column if index == 0 and column is not None else self._new_column()
            mine = self._free_column(mine, self.rank[net])
            self._set(piece, mine, self.rank[net])
            if self.paper.lying and len(piece.part.terminals) >= WIDE:
                self.columns = max(self.columns, mine + 2)
            others = [other for other in piece.nets if other in self.rank and other != net]
            for way, other in enumerate(others):
                yield other, mine if way == 0 else None

    def _set(self, piece: Piece, column: int, row: float) -> None:
        self.at[piece.key] = (column, row)
        self.taken[row].add(column)

    def _leads_down(self, piece: Piece, net: int) -> bool:
        others = [other for other in piece.nets if other is not None and other != net]
        return not others or any(self.rank.get(other, -1) >= self.rank[net] for other in others)

    def _new_column(self) -> int:
        self.columns += 1
        return self.columns - 1

    def _column_above(self, load: Piece) -> int:
        """The column of a part that ends where a load begins."""
        columns = [
            self.at[piece.key][0]
            for net in load.nets
            if net is not None and net not in self.back
            for piece in self.below.get(net, ())
            if piece.key in self.at
        ]
        return min(columns, default=self.columns)

    def _free_column(self, wanted: int, row: float) -> int:
        """The first free column from the wanted one on. What was found taken is jumped over the next time."""
        taken, beside = self.taken[row], self._beside[row]
        column, passed = wanted, []
        while column in taken:
            passed.append(column)
            column = beside.get(column, column + 1)
        for past in passed:
            beside[past] = column
        self.columns = max(self.columns, column + 1)
        return column

    def _rest(self, piece: Piece, hung: dict[int, int]) -> None:
        """What lies on the neutral side goes under the load it belongs to, anything else to the right."""
        if len(piece.part.terminals) >= BOX and self._below_contacts(piece):
            return
        under = [hung[net] for net in piece.nets if net is not None and net in hung and net not in self.feed]
        if under and len(piece.part.terminals) < WIDE:
            self._set(piece, self._free_column(min(under), self.bottom + 1), self.bottom + 1)
        else:
            wide = (len(piece.part.terminals) * 3) // self.paper.path
            self._set(piece, self._new_column(), 0)
            self.columns += wide

    def _below_contacts(self, piece: Piece) -> bool:
        """A box that contacts lead to, the inputs of a controller, stands among the loads."""
        fed = [
            self.at[way.key][0]
            for net in piece.nets
            if net is not None and net not in self.feed | self.back
            for way in self.below.get(net, ())
            if way.key in self.at
        ]
        if not fed or piece.is_way:
            return False
        width = 1 + len(piece.part.terminals) * 3 // self.paper.path
        taken = self.taken[self.bottom]
        column = min(fed)
        while not taken.isdisjoint(range(column, column + width)):
            column += 1
        self._set(piece, column, self.bottom)
        self.columns = max(self.columns, column + width)
        return True
