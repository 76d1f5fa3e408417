"""Faults of wiring: a conductor that stands on the wrong terminal, or two exchanged."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar, Literal, Self

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, End, Id
from wiretrace.faults.fault import About, Added, Fault, Named, Site
from wiretrace.faults.kinds.terminals import no_terminal
from wiretrace.faults.naming import capital, element_between, end_name
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
    about: ClassVar = About(title="On the wrong terminal", forms=("w4.b=to K1:14",))

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


@dataclass(frozen=True)
class Exchanged(Fault):
    """Two conductors, one end of each where the other belongs."""

    place: Id
    other: Id
    end: Side = "a"
    other_end: Side = "a"
    kind: Literal["exchanged"] = "exchanged"
    about: ClassVar = About(title="Exchanged wires", forms=("w4.b=with w7.b",))

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


def _known(spot: WireEnd, text: str) -> Side:
    """The side of a conductor. Raises ValueError where none is written."""
    if spot.side is None:
        raise ValueError(f"{text!r} is not the end of a conductor, such as w7.a or w7.b.")
    return spot.side
