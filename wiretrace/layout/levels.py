"""The levels of voltage of a control circuit: each that has contacts and loads of its own gets a sheet of its own."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wiretrace.layout.pieces import Key, Piece


@dataclass(frozen=True)
class Level:
    """Parts of one level, with the supply that makes its voltage at their head; None where it comes from outside."""

    supply: Piece | None
    pieces: tuple[Piece, ...]

    def feeds(self, outside: tuple[set[int], set[int]]) -> tuple[set[int], set[int]]:
        """Potentials from which the level is fed, and those to which it returns."""
        feed, back = outside
        if self.supply is None:
            return feed, back
        fed = {net for net in self.supply.nets if net is not None}
        return fed - self.supply.live - back, back


def levels(control: Sequence[Piece], back: set[int]) -> list[Level]:
    """The level that is fed from outside, then those that a supply of the circuit feeds.

    A supply stays among the parts that feed it where these do nothing but feed it, as a control transformer with
    its fuses, and where it feeds one part only, as the rectifier of a brake.
    """
    level = _levels_of(control, back)
    split: list[Piece] = []
    for supply in (piece for piece in control if piece.is_supply):
        own = [piece for piece in control if level[piece.key] == supply.key and piece is not supply]
        first = any(level[piece.key] is None and piece.is_load for piece in control)
        if len(own) > 1 and first:
            split.append(supply)
            level[supply.key] = supply.key
        else:
            level |= dict.fromkeys((piece.key for piece in own), level[supply.key])
    heads = [None, *split]
    found = [Level(head, tuple(p for p in control if level[p.key] == (head and head.key))) for head in heads]
    return [one for one in found if one.pieces]


def _levels_of(control: Sequence[Piece], back: set[int]) -> dict[Key, Key | None]:
    """Which supply feeds each part, None where none does; what two of them feed counts for neither."""
    at: dict[int, list[Piece]] = {}
    for piece in control:
        for net in set(piece.nets) - back:
            if net is not None and not piece.is_supply:
                at.setdefault(net, []).append(piece)
    level: dict[Key, Key | None] = {piece.key: None for piece in control}
    for supply in (piece for piece in control if piece.is_supply):
        reached = _reached(supply.live, at, back)
        apart = all(level[piece.key] is None for piece in reached)
        level |= dict.fromkeys((piece.key for piece in reached), supply.key if apart else None)
    return level


def _reached(start: set[int], at: Mapping[int, Sequence[Piece]], back: set[int]) -> list[Piece]:
    """Parts that hang together with a potential, by way of others than the returning ones."""
    waiting, seen, found = sorted(start), set(start), {}
    while waiting:
        for piece in at.get(waiting.pop(), ()):
            found[piece.key] = piece
            fresh = [net for net in piece.nets if net is not None and net not in seen and net not in back]
            waiting += fresh
            seen.update(fresh)
    return list(found.values())
