"""The parts of a circuit as pieces to be laid out, and which of them belong to the power circuit."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import Part, Role
from wiretrace.document.checked import Installed, check_circuit
from wiretrace.document.circuit import Circuit, End, Placement
from wiretrace.document.nets import nets

WIDE: Final = 4
"""Terminals from which a part is taken to be a box of its own."""

POWER: Final = frozenset(
    (
        *(Does.FEEDS, Does.FEELS_CURRENT, Does.FEELS_VOLTAGE, Does.TURNS, Does.LESSENS, Does.CONVERTS),
        *(Does.STEPS_CURRENT_DOWN, Does.SHORTS, Does.MEASURES),
    )
)
"""What belongs to the power circuit; main poles and other loads do where there are three or more."""

Key = tuple[str, str]
"""Device and part."""

WORKED: Final = frozenset((Does.OPERATES, Does.SHOWS, Does.CONSUMES, Does.TAKES_SIGNALS, Does.TRANSFORMS, Does.LOCKS))
"""What a control circuit is there for; without any of these contacts before a motor belong to the power circuit."""


@dataclass(frozen=True)
class Piece:
    """A part to be placed, with the potentials at its terminals; None where it has no wire."""

    item: Installed
    part: Part
    nets: tuple[int | None, ...]

    @property
    def key(self) -> Key:
        return self.item.id, self.part.name

    @property
    def by_hand(self) -> bool:
        return self.item.kind.actuator in (Actuator.HAND, Actuator.HANDLE)

    @property
    def from_left(self) -> tuple[int | None, ...]:
        """Potentials in the order in which they leave the symbol."""
        return self.nets[::-1] if self.part.right_first else self.nets

    @property
    def is_power(self) -> bool:
        """Does it belong to the power circuit?"""
        three = len(self.part.branches) >= 3
        return (three and self.part.does in (Does.SWITCHES_LOAD, Does.CONSUMES)) or self.part.does in POWER

    @property
    def is_motor(self) -> bool:
        return self.part.does is Does.TURNS

    @property
    def is_load(self) -> bool:
        roles = {b.role for b in self.item.structure.branches if b.name in self.part.branches}
        return Role.LOAD in roles and len(self.part.terminals) <= 2

    @property
    def is_supply(self) -> bool:
        """Does it make a voltage of its own out of another: a transformer, a power supply?"""
        return self.part.does is Does.TRANSFORMS and len(self.part.terminals) >= WIDE

    @property
    def live(self) -> set[int]:
        """Potentials at its live poles."""
        return self._poles(live=True)

    @property
    def returning(self) -> set[int]:
        """Potentials at its neutral and earthed poles."""
        return self._poles(live=False)

    def _poles(self, *, live: bool) -> set[int]:
        poles = self.item.kind.poles
        return {
            net
            for name, net in zip(self.part.terminals, self.nets, strict=True)
            if net is not None and name in poles and (poles[name][0] == "live") == live
        }

    @property
    def is_way(self) -> bool:
        """Does it lead on from one potential to others: contacts and nothing else, or a supply?"""
        if self.is_supply:
            return True
        roles = {b.role for b in self.item.structure.branches if b.name in self.part.branches}
        return bool(roles) and roles <= {Role.CONTACT, Role.PATH}


def pieces_of(circuit: Circuit) -> tuple[list[Piece], list[Piece]]:
    """Parts that have a wire, for the power and for the control sheet; the first part of a device without any."""
    number = {end: index for index, net in enumerate(nets(circuit)) for end in net.ends}
    power: list[Piece] = []
    control: list[Piece] = []
    for item in check_circuit(circuit):
        pieces = [
            Piece(item, part, tuple(number.get(End(device=item.id, terminal=name)) for name in part.terminals))
            for part in item.structure.parts
        ]
        wired = [piece for piece in pieces if any(net is not None for net in piece.nets)]
        for piece in wired or pieces[:1]:
            (power if piece.is_power else control).append(piece)
    if any(piece.is_motor for piece in power) and not any(piece.part.does in WORKED for piece in control):
        return power + control, []
    # What lies between two parts of the power circuit belongs to it, such as a terminal or a contact before the motor.
    lines = {net for piece in power if piece.is_motor for net in piece.nets}
    lines -= {net for piece in power if piece.item.kind.poles for net in piece.nets} | {None}
    ends = {net for piece in power for net in piece.nets} - {None}
    aside = {
        piece.key
        for piece in control
        if (piece.is_way and set(piece.nets) <= ends) or (piece.part.does is Does.JOINS and lines & set(piece.nets))
    }
    return power + [p for p in control if p.key in aside], [p for p in control if p.key not in aside]


def feeds(power: Sequence[Piece], control: Sequence[Piece]) -> tuple[set[int], set[int]]:
    """Potentials from which the control circuit is fed, and those to which it returns.

    What a transformer or power supply gives is reached by way of what feeds it.
    """
    sources = [piece for piece in (*power, *control) if piece.item.kind.poles]
    back = {net for piece in sources for net in piece.returning}
    feed = {net for piece in sources if not piece.is_supply for net in piece.live}
    feed |= {net for piece in power for net in piece.nets if net is not None}
    return feed - back, back


def placement(piece: Piece, x: float, y: float) -> Placement:
    return Placement(device=piece.item.id, part=piece.part.name, x=x, y=y)
