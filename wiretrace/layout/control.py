"""Places on a control sheet, upright or lying as a ladder.

Potentials are ranked by their distance from the feed; a part hangs under its upper potential, what is in series below
each other, what is in parallel side by side, all loads in one row at the bottom and what lies on the neutral side
under them. A ladder is the same lying down: its rungs are the columns.
"""

from collections import defaultdict, deque
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.document.circuit import Placement
from wiretrace.layout.columns import Column, Columns
from wiretrace.layout.pieces import WIDE, Key, Piece, placement


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
        self.columns = Columns()
        self.at: dict[Key, tuple[Column, float]] = {}
        self.below: dict[int, list[Piece]] = defaultdict(list)
        for piece in pieces:
            if piece.is_way:
                for net in piece.nets:
                    if net is not None:
                        self.below[net].append(piece)
        self._begun: dict[int, tuple[int, int]] = {}
        """How many columns there were before and after all below a potential hung: further ones belong to others."""
        boxes = [piece for piece in pieces if len(piece.part.terminals) >= BOX and not piece.is_way]
        self._inputs = {net: index for box in boxes for index, net in enumerate(box.nets) if net is not None}
        """Where among the terminals of a box a potential arrives, so that no two lines to it cross."""
        self.rank = self._ranks()
        self.bottom = max(self.rank.values(), default=0) + 1

    def place(self) -> list[Placement]:
        """Column and row of every part."""
        seen: set[int] = set()
        for net in sorted(net for net, rank in self.rank.items() if rank == 0 and self.below.get(net)):
            self._walk(net, seen)
        hung = self._hang_loads()
        for piece in self.pieces:
            if piece.key not in self.at:
                self._rest(piece, hung)
        places = self.columns.places()
        return [
            placement(piece, *self.paper.place(places[column], row))
            for piece in self.pieces
            for column, row in (self.at[piece.key],)
        ]

    def _ranks(self) -> dict[int, int]:
        """Distance of each potential from the feed, in contacts, the longest way that never turns back."""
        first = dict.fromkeys(self.feed, 0)
        order = self._spread(sorted(self.feed), first)
        # A supply that nothing feeds yet begins a circuit of its own.
        for piece in self.pieces:
            fed = piece.live if piece.is_way and not any(net in first for net in piece.nets) else set()
            first |= dict.fromkeys(fed, 0)
            order += self._spread(sorted(fed), first)
        rank = dict(first)
        for net in order:
            for piece in self.below.get(net, ()):
                for other in piece.nets:
                    if other is not None and other in first and first[other] > first[net]:
                        rank[other] = max(rank[other], rank[net] + 1)
        return rank

    def _spread(self, start: Sequence[int], first: dict[int, int]) -> list[int]:
        """Number the potentials in reach, each one step farther than the one it was reached from."""
        waiting, order = deque(start), []
        while waiting:
            net = waiting.popleft()
            order.append(net)
            for piece in self.below.get(net, ()):
                for other in piece.nets:
                    if other is not None and other not in first and other not in self.back:
                        first[other] = first[net] + 1
                        waiting.append(other)
        return order

    def _walk(self, start: int, seen: set[int]) -> None:
        """Hang everything below a potential. By hand, since a row may be longer than calls can be nested."""
        ways: list[tuple[int, int, Iterator[tuple[int, Column | None]]]] = []
        below: tuple[int, Column | None] | None = (start, None)
        while below or ways:
            if below and below[0] not in seen:
                seen.add(below[0])
                ways.append((below[0], self.columns.count, self._hang(*below)))
            below = next(ways[-1][2], None) if ways else None
            if below is None and ways:
                net, begun, _ = ways.pop()
                self._begun[net] = (begun, self.columns.count)

    def _hang(self, net: int, column: Column | None) -> Iterator[tuple[int, Column | None]]:
        """Place what hangs below a potential: the longest way in the same column, the others beside it.

        Yields the potentials to go on from, each with its column if it has one.
        """
        down = [piece for piece in self.below.get(net, ()) if piece.key not in self.at and self._leads_down(piece, net)]
        begun, row = self.columns.count, self.rank[net]
        for group in self._together(down, net):
            spare = self._ending(net, column) if column and self.columns.count == begun else []
            beside = [piece for piece in group if piece.key not in self.at]
            for piece in beside:
                mine = next((free for free in spare if free.is_free(row, self.bottom)), None) or self.columns.append()
                self._set(piece, mine, row)
                if self.paper.lying and len(piece.part.terminals) >= WIDE:
                    mine.width = max(mine.width, 2)
            for piece in beside:
                others = [other for other in piece.from_left if other in self.rank and other != net]
                for way, other in enumerate(others):
                    yield other, self.at[piece.key][0] if way == 0 else None

    def _together(self, down: Sequence[Piece], net: int) -> list[list[Piece]]:
        """What leads to the same potentials side by side, a hand before the contact that seals it in.

        What leads farthest comes first; what leads to a box, in the order of its terminals.
        """
        groups: dict[frozenset[int], list[Piece]] = defaultdict(list)
        for piece in down:
            groups[frozenset(other for other in piece.nets if other in self.rank and other != net)].append(piece)

        def order(beyond: frozenset[int]) -> tuple[int, int]:
            farthest = max((self.rank[other] for other in beyond), default=0)
            return -farthest, min((self._inputs.get(other, 0) for other in beyond), default=0)

        return [sorted(groups[beyond], key=lambda piece: not piece.by_hand) for beyond in sorted(groups, key=order)]

    def _ending(self, net: int, column: Column | None) -> list[Column]:
        """Columns of the parts that end at a potential, its own first: more can hang below them."""
        places = self.columns.places()
        own = {self.at[piece.key][0] for piece in self.below.get(net, ()) if piece.key in self.at}
        return sorted(own, key=lambda one: (one is not column, places[one]))

    def _hang_loads(self) -> dict[int, Column]:
        """Put the loads in the last row: the first below what feeds it, further ones beside. Columns by potential."""
        hung: dict[int, Column] = {}
        last: dict[int, Column] = {}
        places = self.columns.places()
        above = {piece.key: self._above(piece, places) for piece in self.pieces if piece.is_load}
        loads = sorted(
            (piece for piece in self.pieces if piece.is_load), key=lambda load: _order(above[load.key], places)
        )
        waiting = []
        for piece in loads:
            net, column = above[piece.key]
            if column and net not in last and column.is_free(self.rank[net], self.bottom):
                self._set(piece, column, self.bottom)
                last[net] = column
            else:
                waiting.append(piece)
        # What hangs deepest stands nearest, so that no line to a farther one crosses it.
        for piece in sorted(waiting, key=lambda load: -self.rank.get(above[load.key][0], 0)):
            net, column = above[piece.key]
            place = self._beside(net, last.get(net, column))
            self._set(piece, place, self.bottom)
            last[net] = place
        for piece in loads:
            hung |= {end: self.at[piece.key][0] for end in piece.nets if end is not None and end not in hung}
        return hung

    def _beside(self, net: int, column: Column | None) -> Column:
        """The next column in which a load can hang from a potential without a line through what hangs from others."""
        if column is None:
            return self.columns.append()
        row = self.rank.get(net, 0)
        begun, ended = self._begun.get(net, (0, 0))
        later = column.next
        while later:
            if begun <= later.number < ended:
                column = later
            later = later.next
        while column.next:
            if column.next.is_free(row, self.bottom):
                return column.next
            if column.next.number >= ended:
                break
            column = column.next
        return self.columns.insert(column)

    def _set(self, piece: Piece, column: Column, row: float) -> None:
        self.at[piece.key] = (column, row)
        column.rows.add(row)

    def _leads_down(self, piece: Piece, net: int) -> bool:
        others = [other for other in piece.nets if other is not None and other != net]
        return not others or any(self.rank.get(other, -1) >= self.rank[net] for other in others)

    def _above(self, load: Piece, places: Mapping[Column, int]) -> tuple[int, Column | None]:
        """The potential that feeds a load, and the column of a part that ends there."""
        fed = [net for net in load.nets if net is not None and net not in self.back]
        found = [
            (self.at[piece.key][0], net) for net in fed for piece in self.below.get(net, ()) if piece.key in self.at
        ]
        column, net = min(found, key=lambda pair: places[pair[0]], default=(None, fed[0] if fed else -1))
        return net, column

    def _rest(self, piece: Piece, hung: dict[int, Column]) -> None:
        """What lies on the neutral side goes under the load it belongs to, anything else to the right."""
        if len(piece.part.terminals) >= BOX and self._below_contacts(piece):
            return
        under = [hung[net] for net in piece.nets if net is not None and net in hung and net not in self.feed]
        if under and len(piece.part.terminals) < WIDE:
            places = self.columns.places()
            column = min(under, key=lambda column: places[column])
            while self.bottom + 1 in column.rows:
                column = column.next or self.columns.append()
            self._set(piece, column, self.bottom + 1)
        else:
            column = self.columns.append()
            column.width = self._width(piece)
            self._set(piece, column, 0)

    def _width(self, piece: Piece) -> int:
        """Paths that a part takes whose terminals stand side by side."""
        return 1 + len(piece.part.terminals) * 3 // self.paper.path

    def _below_contacts(self, piece: Piece) -> bool:
        """A box that contacts lead to, the inputs of a controller, stands among the loads."""
        fed = {
            self.at[way.key][0]
            for net in piece.nets
            if net is not None and net not in self.feed | self.back
            for way in self.below.get(net, ())
            if way.key in self.at
        }
        if not fed or piece.is_way:
            return False
        order = list(self.columns)
        first = next(index for index, column in enumerate(order) if column in fed)
        width = self._width(piece)
        order += [self.columns.append() for _ in range(width)]
        while any(self.bottom in column.rows for column in order[first : first + width]):
            first += 1
            order.append(self.columns.append())
        for column in order[first : first + width]:
            self._set(piece, column, self.bottom)
        self._set(piece, order[first], self.bottom)
        return True


def _order(above: tuple[int, Column | None], places: Mapping[Column, int]) -> int:
    """Loads from the left to the right, those that nothing leads to last."""
    column = above[1]
    return len(places) if column is None else places[column]
