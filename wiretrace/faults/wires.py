"""Faults of wiring: a conductor that stands on the wrong terminal, or two exchanged."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wiretrace.catalogue.structure import Role
from wiretrace.circuit.checked import Installed
from wiretrace.circuit.document import End, Id
from wiretrace.faults.elements import no_terminal
from wiretrace.faults.fault import Added, Fault, Site

Side = Literal["a", "b"]


def _laid_to(site: Site, conductor: str, end: Side, node: int) -> Added:
    """A conductor with one end elsewhere than the faults before this one have put it."""
    laid = site.laid(conductor)
    a, b = site.ends(laid[-1])
    a, b = (node, b) if end == "a" else (a, node)
    return Added(conductor, Role.PATH, a, b, site.link_value(conductor), replaces=laid)


def _end_node(site: Site, conductor: str, end: Side) -> int:
    return site.ends(site.laid(conductor)[-1])[0 if end == "a" else 1]


@dataclass(frozen=True)
class Moved(Fault):
    """A conductor whose end stands on the terminal `to`."""

    place: Id
    to: End
    end: Side = "a"
    kind: Literal["moved"] = "moved"

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        if self.place not in links:
            return f"{self.place} is no conductor."
        return no_terminal(devices, self.to.device, self.to.terminal)

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        return (_laid_to(site, self.place, self.end, site.node(self.to)),)


@dataclass(frozen=True)
class Exchanged(Fault):
    """Two conductors, one end of each where the other belongs."""

    place: Id
    other: Id
    end: Side = "a"
    other_end: Side = "a"
    kind: Literal["exchanged"] = "exchanged"

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
