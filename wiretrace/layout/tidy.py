"""A clean sheet for a circuit without geometry: current paths from above to below, or rungs from left to right.

Power: one row for each step away from the supply. Control: potentials are ranked by their distance from the feed; a
part hangs under its upper potential, what is in series below each other, what is in parallel side by
side, all loads in one row at the bottom and what lies on the neutral side under them. Wires are laid by
the sheet itself.
"""

from collections import defaultdict, deque
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal

from wiretrace.catalogue.device import Part, Role
from wiretrace.circuit.checked import Installed, check_circuit
from wiretrace.circuit.document import Circuit, Convention, End, Placement, Sheet
from wiretrace.circuit.nets import nets


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
LEFT: Final = 9
POWER_COLUMN, POWER_ROW = 22, 8
POLE: Final = 4
"""Distance of the poles of a part."""
WIDE: Final = 4
"""Terminals from which a part is taken to be a box of its own."""
BOX: Final = 6
"""Terminals from which a box stands among the loads, where contacts lead to it."""

POWER_SYMBOLS: Final = frozenset(
    (
        *("supply_3", "supply_1", "isolator_3", "breaker_3", "breaker_4", "fuse_3", "motor_starter_3"),
        *("contactor_3", "heater_3", "monitor_3", "motor_3", "motor_6", "motor_1"),
        *("current_transformer", "terminal_shorting", "ammeter"),
    )
)
TALL_SYMBOLS: Final = {"motor_3": 11, "motor_6": 13, "motor_1": 11, "supply_3": 4, "supply_1": 8, "transformer": 11}
"""Rows that need more than the usual height."""


@dataclass(frozen=True)
class _Piece:
    """A part to be placed, with the potentials at its terminals; None where it has no wire."""

    item: Installed
    part: Part
    nets: tuple[int | None, ...]

    @property
    def key(self) -> tuple[str, str]:
        return self.item.id, self.part.name

    @property
    def is_load(self) -> bool:
        roles = {b.role for b in self.item.structure.branches if b.name in self.part.branches}
        return Role.LOAD in roles and len(self.part.terminals) <= 2

    @property
    def is_way(self) -> bool:
        """Does it lead on from one potential to others: contacts and nothing else, or a transformer?"""
        if self.item.kind.coupled and len(self.part.terminals) >= WIDE:
            return True
        roles = {b.role for b in self.item.structure.branches if b.name in self.part.branches}
        return bool(roles) and roles <= {Role.CONTACT, Role.PATH}


def tidy(circuit: Circuit, convention: Convention | None = None) -> Circuit:
    """The circuit with new sheets of one convention, its own if none is named; it is shown on these.

    Power and control; empty ones are left out. Sheets of the other convention stay.
    """
    convention = convention or circuit.convention
    power, control = _pieces(circuit)
    kept = tuple(sheet for sheet in circuit.sheets if sheet.convention != convention)

    def sheet(kind: Literal["power", "control"], symbols: Sequence[Placement]) -> Sheet:
        free = _free_id(kept, kind if convention == "iec" else f"{kind}-nema")
        return Sheet(id=free, title=kind.title(), kind=kind, convention=convention, symbols=tuple(symbols))

    sheets = []
    if power or not control:
        sheets.append(sheet("power", _power(power)))
    if control:
        paper = LADDER if convention == "nema" else UPRIGHT
        sheets.append(sheet("control", _Control(control, _feeds(circuit, power), paper).place()))
    return circuit.model_copy(update={"sheets": (*kept, *sheets), "convention": convention})


def redrawn(circuit: Circuit, convention: Convention) -> Circuit:
    """The circuit shown in a convention: on the sheets that it has there, with what they lack added at the edge."""
    sheets = [sheet for sheet in circuit.sheets if sheet.convention == convention]
    if not sheets:
        return tidy(circuit, convention)
    here = {(symbol.device, symbol.part) for sheet in sheets for symbol in sheet.symbols}
    fresh = tidy(circuit.model_copy(update={"sheets": ()}), convention)
    for new in fresh.sheets:
        missing = [symbol for symbol in new.symbols if (symbol.device, symbol.part) not in here]
        index = next((i for i, sheet in enumerate(sheets) if sheet.kind == new.kind), None)
        if index is None:
            sheets.append(new.model_copy(update={"id": _free_id(circuit.sheets, new.id), "symbols": tuple(missing)}))
        elif missing:
            old = sheets[index]
            sheets[index] = old.model_copy(update={"symbols": (*old.symbols, *_at_edge(old, missing))})
    kept = tuple(sheet for sheet in circuit.sheets if sheet.convention != convention)
    return circuit.model_copy(update={"sheets": (*kept, *sheets), "convention": convention})


def _free_id(sheets: Sequence[Sheet], stem: str) -> str:
    taken = {sheet.id for sheet in sheets}
    return next(name for name in (stem, *(f"{stem}-{n}" for n in range(2, 99))) if name not in taken)


def _at_edge(sheet: Sheet, missing: Sequence[Placement]) -> list[Placement]:
    """Places for further parts: in their order to the right of an upright sheet, below the last rung of a ladder."""
    first = min(missing, key=lambda symbol: (symbol.y, symbol.x))
    if sheet.convention == "nema" and sheet.kind == "control":
        shift = (0.0, max((s.y for s in sheet.symbols), default=0) + LADDER.path - first.y)
    else:
        shift = (max((s.x for s in sheet.symbols), default=0) + POWER_COLUMN - min(s.x for s in missing), 0.0)
    return [symbol.model_copy(update={"x": symbol.x + shift[0], "y": symbol.y + shift[1]}) for symbol in missing]


def _pieces(circuit: Circuit) -> tuple[list[_Piece], list[_Piece]]:
    """Parts that have a wire, for the power and for the control sheet; the first part of a device without any."""
    number = {end: index for index, net in enumerate(nets(circuit)) for end in net.ends}
    power: list[_Piece] = []
    control: list[_Piece] = []
    for item in check_circuit(circuit):
        pieces = [
            _Piece(item, part, tuple(number.get(End(device=item.id, terminal=name)) for name in part.terminals))
            for part in item.structure.parts
        ]
        wired = [piece for piece in pieces if any(net is not None for net in piece.nets)]
        for piece in wired or pieces[:1]:
            (power if piece.part.symbol in POWER_SYMBOLS else control).append(piece)
    # A clamp between the motor and what feeds it belongs to the power circuit.
    lines = {net for piece in power if _is_motor(piece) for net in piece.nets}
    lines -= {net for piece in power if piece.item.kind.poles for net in piece.nets} | {None}
    clamps = [piece for piece in control if piece.part.symbol == "terminal" and lines & set(piece.nets)]
    return power + clamps, [piece for piece in control if piece not in clamps]


def _feeds(circuit: Circuit, power: Sequence[_Piece]) -> tuple[set[int], set[int]]:
    """Potentials from which the control circuit is fed, and those to which it returns."""
    number = {end: index for index, net in enumerate(nets(circuit)) for end in net.ends}
    feed: set[int] = set()
    back: set[int] = set()
    for item in check_circuit(circuit):
        for terminal, (what, _) in item.kind.poles.items():
            pole = number.get(End(device=item.id, terminal=terminal))
            # What a transformer gives is reached by way of its primary.
            if pole is not None and not (what == "live" and item.kind.coupled):
                (feed if what == "live" else back).add(pole)
    feed |= {net for piece in power for net in piece.nets if net is not None} - back
    return feed, back


def _power(pieces: Sequence[_Piece]) -> list[Placement]:
    """One row for each step away from the supply, each part under the one that it was reached from."""
    at: dict[int, list[_Piece]] = defaultdict(list)
    for piece in pieces:
        for net in piece.nets:
            if net is not None:
                at[net].append(piece)
    rank: dict[tuple[str, str], int] = {}
    above: dict[tuple[str, str], tuple[str, str] | None] = {}
    roots = [piece for piece in pieces if piece.item.kind.poles and not piece.item.kind.coupled] or list(pieces[:1])
    waiting: deque[tuple[_Piece, int, tuple[str, str] | None]] = deque((piece, 0, None) for piece in roots)
    while waiting:
        piece, depth, parent = waiting.popleft()
        if piece.key in rank:
            continue
        rank[piece.key], above[piece.key] = depth, parent
        # Earth is no step: a motor stands below what feeds it. Nor does a way lead on through a motor.
        for name, net in zip(piece.part.terminals, piece.nets, strict=True):
            if net is not None and name not in ("PE", "N") and not _is_motor(piece):
                waiting.extend((other, depth + 1, piece.key) for other in at[net] if other.key not in rank)
    return _in_rows(pieces, rank, above)


def _is_motor(piece: _Piece) -> bool:
    return piece.part.symbol in ("motor_3", "motor_6", "motor_1")


def _in_rows(
    pieces: Sequence[_Piece],
    rank: dict[tuple[str, str], int],
    above: dict[tuple[str, str], tuple[str, str] | None],
) -> list[Placement]:
    last = max(rank.values(), default=0)
    rows: dict[int, list[_Piece]] = defaultdict(list)
    for piece in pieces:
        rows[last + 1 if _is_motor(piece) else rank.get(piece.key, last)].append(piece)
    columns: dict[tuple[str, str], int] = {}
    by_key = {piece.key: piece for piece in pieces}
    leading = set(above.values())
    placed, y = [], 2
    for row in sorted(rows):
        taken: set[int] = set()
        # What leads on stands in line; a dead end, such as a phase monitor, stands aside.
        for piece in sorted(rows[row], key=lambda piece: piece.key not in leading):
            parent = above.get(piece.key)
            if piece.part.symbol == "terminal" and parent in by_key:
                column = columns[piece.key] = columns.get(parent, 0)
                x = LEFT - 1 + column * POWER_COLUMN + POLE * _pole(by_key[parent], piece)
                placed.append(_placement(piece, x, y))
                continue
            column = 0 if parent is None or _is_motor(piece) else columns.get(parent, 0)
            while column in taken:
                column += 1
            taken.add(column)
            columns[piece.key] = column
            placed.append(_placement(piece, LEFT - 1 + column * POWER_COLUMN, y))
        y += max(TALL_SYMBOLS.get(piece.part.symbol, POWER_ROW) for piece in rows[row])
    return placed


def _pole(parent: _Piece, piece: _Piece) -> int:
    """Which pole of a part feeds a clamp: its terminals go in pairs, above and below."""
    return next((index // 2 for index, net in enumerate(parent.nets) if net is not None and net in piece.nets), 0)


class _Control:
    """Places the parts of a control circuit."""

    def __init__(self, pieces: Sequence[_Piece], feeds: tuple[set[int], set[int]], paper: Paper) -> None:
        self.pieces = pieces
        self.paper = paper
        self.feed, self.back = feeds
        self.columns = 0
        self.at: dict[tuple[str, str], tuple[int, float]] = {}
        self.below: dict[int, list[_Piece]] = defaultdict(list)
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
            self._walk(net, None, seen)
        loads = [piece for piece in self.pieces if piece.is_load]
        hung: dict[int, int] = {}
        for piece in sorted(loads, key=lambda load: self._column_above(load)):
            column = self._free_column(self._column_above(piece), self.bottom)
            self.at[piece.key] = (column, self.bottom)
            hung |= {end: column for end in piece.nets if end is not None and end not in hung}
        for piece in self.pieces:
            if piece.key not in self.at:
                self._rest(piece, hung)
        return [_placement(piece, *self.paper.place(*self.at[piece.key])) for piece in self.pieces]

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

    def _walk(self, net: int, column: int | None, seen: set[int]) -> None:
        """Hang everything below a potential: the longest way in the same column, the others beside it."""
        if net in seen:
            return
        seen.add(net)
        down = [piece for piece in self.below.get(net, ()) if piece.key not in self.at and self._leads_down(piece, net)]
        down.sort(key=lambda piece: -max((self.rank.get(n, 0) for n in piece.nets if n is not None), default=0))
        for index, piece in enumerate(down):
            if piece.key in self.at:
                continue
            mine = column if index == 0 and column is not None else self._new_column()
            mine = self._free_column(mine, self.rank[net])
            self.at[piece.key] = (mine, self.rank[net])
            if self.paper.lying and len(piece.part.terminals) >= WIDE:
                self.columns = max(self.columns, mine + 2)
            ways = [other for other in piece.nets if other in self.rank and other != net]
            for way, other in enumerate(ways):
                self._walk(other, mine if way == 0 else None, seen)

    def _leads_down(self, piece: _Piece, net: int) -> bool:
        others = [other for other in piece.nets if other is not None and other != net]
        return not others or any(self.rank.get(other, -1) >= self.rank[net] for other in others)

    def _new_column(self) -> int:
        self.columns += 1
        return self.columns - 1

    def _column_above(self, load: _Piece) -> int:
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
        taken = {column for column, at in self.at.values() if at == row}
        column = wanted
        while column in taken:
            column += 1
        self.columns = max(self.columns, column + 1)
        return column

    def _rest(self, piece: _Piece, hung: dict[int, int]) -> None:
        """What lies on the neutral side goes under the load it belongs to, anything else to the right."""
        if len(piece.part.terminals) >= BOX and self._below_contacts(piece):
            return
        under = [hung[net] for net in piece.nets if net is not None and net in hung and net not in self.feed]
        if under and len(piece.part.terminals) < WIDE:
            self.at[piece.key] = (self._free_column(min(under), self.bottom + 1), self.bottom + 1)
        else:
            wide = max(1, (len(piece.part.terminals) * 3) // self.paper.path)
            self.at[piece.key] = (self._new_column(), 0)
            self.columns += wide

    def _below_contacts(self, piece: _Piece) -> bool:
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
        taken = {column for column, row in self.at.values() if row == self.bottom}
        column = min(fed)
        while taken & set(range(column, column + width)):
            column += 1
        self.at[piece.key] = (column, self.bottom)
        self.columns = max(self.columns, column + width)
        return True


def _placement(piece: _Piece, x: float, y: float) -> Placement:
    return Placement(device=piece.item.id, part=piece.part.name, x=x, y=y)
