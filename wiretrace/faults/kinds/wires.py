"""Faults of wiring: a conductor that stands on the wrong terminal, or two exchanged."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import product
from typing import ClassVar, Literal, Self

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, End, Id
from wiretrace.faults.fault import About, Added, Fault, Named, Site
from wiretrace.faults.kinds.terminals import no_terminal
from wiretrace.faults.naming import capital, element_between, end_name
from wiretrace.faults.places import neighbours, potentials, wire_ends
from wiretrace.faults.spots import Side, Spot, WireEnd, end_from_text, wire_end_from_text


def _laid_to(site: Site, conductor: str, end: Side, node: int) -> Added:
    """A conductor with one end elsewhere than the faults before this one have put it."""
    laid = site.laid(conductor)
    a, b = site.ends(laid[-1])
    a, b = (node, b) if end == "a" else (a, node)
    return Added(conductor, Role.PATH, a, b, site.link_value(conductor), replaces=laid)


def _end_node(site: Site, conductor: str, end: Side) -> int:
    return site.ends(site.laid(conductor)[-1])[0 if end == "a" else 1]


@dataclass(frozen=True)
class Misplaced(Fault):
    """A conductor whose end stands on the terminal `to`."""

    place: Id
    to: End
    end: Side = "a"
    kind: Literal["moved"] = "moved"
    about: ClassVar = About(
        title="On the wrong terminal",
        forms=("w4.b=to K1:14",),
        rare=0.03,
        rare_why="Somebody put a wire back beside where it was.",
    )

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        if self.place not in links:
            return f"{self.place} is no conductor."
        return no_terminal(devices, self.to.device, self.to.terminal)

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        return (_laid_to(site, self.place, self.end, site.node(self.to)),)

    def words(self, named: Named) -> str:
        wire = element_between(named, self.place, "")
        return capital(f"{wire}: its end {self.end} stands on {end_name(named, self.to)}")

    def written(self, named: Named) -> str:
        return f"{self.place}.{self.end}=to {named.devices[self.to.device].label}:{self.to.terminal}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        word, _, rest = what.partition(" ")
        if not isinstance(spot, WireEnd) or word != "to":
            return None
        return cls(spot.wire, end_from_text(circuit, rest), _known(spot, spot.wire))

    @classmethod
    def rarely(cls, circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Self]:
        """One wire, beside where it belongs."""
        ends, potential = wire_ends(circuit), potentials(circuit)
        for item in devices.values():
            for pair in neighbours(item):
                for here, there in (pair, pair[::-1]):
                    to = End(device=item.id, terminal=there)
                    for wire, side in ends.get(End(device=item.id, terminal=here), ()):
                        if potential.get(to) != potential[wire.a]:
                            yield cls(wire.id, to, side)


@dataclass(frozen=True)
class Exchanged(Fault):
    """Two conductors, one end of each where the other belongs."""

    place: Id
    other: Id
    end: Side = "a"
    other_end: Side = "a"
    kind: Literal["exchanged"] = "exchanged"
    about: ClassVar = About(
        title="Exchanged wires",
        forms=("w4.b=with w7.b",),
        rare=0.1,
        rare_why="Two wires were taken off and put back the other way round, phases most of all.",
    )

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        if self.place not in links:
            return f"{self.place} is no conductor."
        if self.other not in links or self.other == self.place:
            return f"{self.place} is to be exchanged with {self.other}, which is no other conductor."
        return None

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        here, there = _end_node(site, self.place, self.end), _end_node(site, self.other, self.other_end)
        return (
            _laid_to(site, self.place, self.end, there),
            _laid_to(site, self.other, self.other_end, here),
        )

    def words(self, named: Named) -> str:
        ends = element_between(named, self.place, ""), element_between(named, self.other, "")
        return capital(f"{ends[0]} and {ends[1]} are exchanged")

    def written(self, named: Named) -> str:
        return f"{self.place}.{self.end}=with {self.other}.{self.other_end}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        word, _, rest = what.partition(" ")
        if not isinstance(spot, WireEnd) or word != "with":
            return None
        other = wire_end_from_text(rest)
        return cls(spot.wire, other.wire, _known(spot, spot.wire), _known(other, rest))

    @classmethod
    def rarely(cls, circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Self]:
        """Two wires of neighbouring terminals."""
        ends, potential = wire_ends(circuit), potentials(circuit)
        for item in devices.values():
            for one, other in neighbours(item):
                here, there = (ends.get(End(device=item.id, terminal=name), ()) for name in (one, other))
                for (wire, side), (second, far) in product(here, there):
                    if potential[wire.a] != potential[second.a]:
                        yield cls(wire.id, second.id, side, far)


def _known(spot: WireEnd, text: str) -> Side:
    """The side of a conductor. Raises ValueError where none is written."""
    if spot.side is None:
        raise ValueError(f"{text!r} is not the end of a conductor, such as w7.a or w7.b.")
    return spot.side
