"""The parts of a circuit as pieces to be laid out, and which of them belong to the power circuit."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.purpose import Does
from wiretrace.catalogue.structure import Part, Role
from wiretrace.circuit.checked import Installed, check_circuit
from wiretrace.circuit.document import Circuit, End, Placement
from wiretrace.circuit.nets import nets

WIDE: Final = 4
"""Terminals from which a part is taken to be a box of its own."""

POWER: Final = frozenset(
    (
        *(Does.FEEDS, Does.FEELS_CURRENT, Does.FEELS_VOLTAGE, Does.TURNS, Does.LESSENS),
        *(Does.STEPS_CURRENT_DOWN, Does.SHORTS, Does.MEASURES),
    )
)
"""What belongs to the power circuit; main poles do where there are three or more."""


@dataclass(frozen=True)
class Piece:
    """A part to be placed, with the potentials at its terminals; None where it has no wire."""

    item: Installed
    part: Part
    nets: tuple[int | None, ...]

    @property
    def key(self) -> tuple[str, str]:
        return self.item.id, self.part.name

    @property
    def is_power(self) -> bool:
        """Does it belong to the power circuit?"""
        poles = self.part.does is Does.SWITCHES_LOAD and len(self.part.branches) >= 3
        return poles or self.part.does in POWER

    @property
    def is_motor(self) -> bool:
        return self.part.does is Does.TURNS

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
    # A terminal between the motor and what feeds it belongs to the power circuit.
    lines = {net for piece in power if piece.is_motor for net in piece.nets}
    lines -= {net for piece in power if piece.item.kind.poles for net in piece.nets} | {None}
    joints = [piece for piece in control if piece.part.does is Does.JOINS and lines & set(piece.nets)]
    aside = {piece.key for piece in joints}
    return power + joints, [piece for piece in control if piece.key not in aside]


def feeds(circuit: Circuit, power: Sequence[Piece]) -> tuple[set[int], set[int]]:
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


def placement(piece: Piece, x: float, y: float) -> Placement:
    return Placement(device=piece.item.id, part=piece.part.name, x=x, y=y)
