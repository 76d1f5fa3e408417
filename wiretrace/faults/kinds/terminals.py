"""Faults of a terminal: loose, or bridged to another."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar, Literal, Self

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed, has_terminal
from wiretrace.document.circuit import Circuit, End, Id, Text
from wiretrace.document.nets import nets
from wiretrace.faults.fault import JOINT_OHM, About, Added, Fault, Named, Site, Sort
from wiretrace.faults.kinds.elements import Ohm, path_or_load
from wiretrace.faults.naming import end_name, ohms
from wiretrace.faults.places import bridged_by_an_element, earths, neighbours, potentials
from wiretrace.faults.spots import Spot, Terminal, end_from_text
from wiretrace.quantity import number_text, parse_quantity, quantity_or_none


def no_terminal(devices: Mapping[str, Installed], device: str, terminal: str) -> str | None:
    """What is wrong with a terminal that a fault names."""
    item = devices.get(device)
    if item is None:
        return f"There is no device {device}."
    if not has_terminal(item, End(device=device, terminal=terminal)):
        return f"There is no terminal {item.label}:{terminal} in this circuit."
    return None


@dataclass(frozen=True)
class LooseTerminal(Fault):
    """A terminal with so many ohms between its wires and the device; without any it is open."""

    place: Id
    terminal: Text
    resistance_ohm: Ohm | None = None
    kind: Literal["loose_terminal"] = "loose_terminal"
    about: ClassVar = About(
        title="Loose terminal",
        forms=("K1:A1=open", "K1:A1=2kohm"),
        weight=4.0,
        why="Joints work loose by warmth and shaking: the commonest of all.",
        sorts=(Sort.OPEN, Sort.COMES_AND_GOES),
    )

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        return no_terminal(devices, self.place, self.terminal)

    @property
    def end(self) -> End:
        return End(device=self.place, terminal=self.terminal)

    def parts(self) -> End | None:
        return self.end

    def cuts_off(self) -> End | None:
        return self.end if self.resistance_ohm is None else None

    def words(self, named: Named) -> str:
        name = end_name(named, self.end)
        return f"{name} is loose" if self.resistance_ohm is None else f"{ohms(self.resistance_ohm)} at {name}"

    def written(self, named: Named) -> str:
        what = "open" if self.resistance_ohm is None else f"{number_text(self.resistance_ohm)}ohm"
        return f"{named.devices[self.place].label}:{self.terminal}={what}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        if not isinstance(spot, Terminal):
            return None
        ohm = None if what == "open" else quantity_or_none(what, "ohm")
        return cls(spot.end.device, spot.end.terminal, ohm) if what == "open" or ohm is not None else None

    @classmethod
    def of_terminal(cls, end: End) -> Iterator[Self]:
        yield cls(end.device, end.terminal)

    def how_to_set(self, named: Named) -> str:
        if self.resistance_ohm is not None:
            return super().how_to_set(named)
        return f"Lift all wires off {end_name(named, self.end)}; keep them together."

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        if parted is None:
            return ()
        bad = None if self.resistance_ohm is None else Value(JOINT_OHM + self.resistance_ohm)
        return (Added(self.place, Role.PATH, *parted, bad, Value(JOINT_OHM)),)


@dataclass(frozen=True)
class Bridge(Fault):
    """So many ohms from a terminal to the terminal `to`."""

    place: Id
    terminal: Text
    to: End
    resistance_ohm: Ohm = 0.0
    kind: Literal["bridge"] = "bridge"
    about: ClassVar = About(
        title="Bridge",
        forms=("K1:A1=to F1:2", "M1:U1=to M1:PE 2kohm"),
        rare=0.05,
        rare_why="Strands and filings between neighbouring terminals, a conductor that rubs through to earth.",
    )

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        return no_terminal(devices, self.place, self.terminal) or no_terminal(devices, self.to.device, self.to.terminal)

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        a, b = site.node(End(device=self.place, terminal=self.terminal)), site.node(self.to)
        short = Value(max(self.resistance_ohm, JOINT_OHM))
        return (Added(self.place, path_or_load(self.resistance_ohm), a, b, short),)

    def words(self, named: Named) -> str:
        ohm = f" of {ohms(self.resistance_ohm)}" if self.resistance_ohm else ""
        return f"A bridge{ohm} from {end_name(named, self._end)} to {end_name(named, self.to)}"

    def written(self, named: Named) -> str:
        ohm = f" {number_text(self.resistance_ohm)}ohm" if self.resistance_ohm else ""
        label, other = named.devices[self.place].label, named.devices[self.to.device].label
        return f"{label}:{self.terminal}=to {other}:{self.to.terminal}{ohm}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        word, _, rest = what.partition(" ")
        if not isinstance(spot, Terminal) or word != "to":
            return None
        to, _, ohm = rest.strip().partition(" ")
        ohm_ = parse_quantity(ohm, "ohm") if ohm.strip() else 0.0
        return cls(spot.end.device, spot.end.terminal, end_from_text(circuit, to), ohm_)

    @classmethod
    def rarely(cls, circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Self]:
        """Between neighbouring terminals that have wires, and from every potential to earth."""
        potential = potentials(circuit)
        for item in devices.values():
            for one, other in neighbours(item):
                a, b = End(device=item.id, terminal=one), End(device=item.id, terminal=other)
                apart = a in potential and b in potential and potential[a] != potential[b]
                if apart and not bridged_by_an_element(item, one, other):
                    yield cls(item.id, one, b)
        earthed = earths(devices)
        for net in nets(circuit):
            if earthed and not set(earthed) & set(net.ends):
                yield cls(net.ends[0].device, net.ends[0].terminal, earthed[0])

    @property
    def _end(self) -> End:
        return End(device=self.place, terminal=self.terminal)
