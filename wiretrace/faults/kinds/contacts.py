"""Faults of a contact: welded, or of the wrong kind."""

from dataclasses import dataclass
from typing import ClassVar, Literal, Self

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.purpose import Breaks, Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit
from wiretrace.faults.fault import About, Named, Site, Sort
from wiretrace.faults.kinds.elements import OnBranch
from wiretrace.faults.naming import capital, element_between, element_name, ends_of
from wiretrace.faults.spots import Element, Spot


@dataclass(frozen=True)
class OnContact(OnBranch):
    """A contact that is not where its armature is."""

    WORD: ClassVar[str]

    def _on_conductor(self) -> str | None:
        return f"A conductor such as {self.place} cannot have this fault."

    def _on_element(self, item: Installed, role: Role) -> str | None:
        return None if role is Role.CONTACT else f"{item.label} {self.branch} is no contact."

    def what(self) -> str:
        return self.WORD

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        found = isinstance(spot, Element) and spot.branch and what == cls.WORD
        return cls(spot.place, spot.branch) if isinstance(spot, Element) and found else None

    def _closed(self, site: Site) -> Value:
        item = site.devices[self.place]
        return item.kind.contact_value(item.params)


@dataclass(frozen=True)
class Welded(OnContact):
    """A contact that stays closed."""

    kind: Literal["welded"] = "welded"
    WORD: ClassVar = "welded"
    about: ClassVar = About(
        title="Welded",
        forms=("K1/13-14=welded",),
        weight=0.7,
        why="After a short circuit, or many starts.",
        sorts=(Sort.STUCK,),
        breaks=Breaks.WELDS,
    )

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        return self._closed(site) if value is None else value

    def words(self, named: Named) -> str:
        return capital(f"{element_between(named, self.place, self.branch)} is welded")

    def how_to_set(self, named: Named) -> str:
        ends = ends_of(named, self.place, self.branch)
        return f"Bridge {ends[0]} and {ends[1]} with a wire." if len(ends) == 2 else super().how_to_set(named)


@dataclass(frozen=True)
class WrongContact(OnContact):
    """A contact that is closed where it should be open, and the other way round."""

    kind: Literal["wrong_contact"] = "wrong_contact"
    WORD: ClassVar = "wrong contact"
    about: ClassVar = About(
        title="Wrong contact",
        forms=("S1/13-14=wrong contact",),
        weight=0.2,
        why="Built in at the last repair; it would have shown at once.",
        sorts=(Sort.STUCK,),
        breaks=Breaks.WRONG,
    )

    def made_of(self, value: Value | None, site: Site) -> Value | None:
        return self._closed(site) if value is None else None

    def words(self, named: Named) -> str:
        return f"{capital(element_between(named, self.place, self.branch))}: the wrong kind of contact"

    def how_to_set(self, named: Named) -> str:
        name, other = element_name(named, self.place, self.branch), self._other(named)
        if other is None:
            return f"Build in a contact of the other kind in place of {name}."
        return f"Move both wires of {name} to a contact of the other kind: {element_name(named, self.place, other)}."

    def _other(self, named: Named) -> str | None:
        """A contact of the other kind that the device has."""
        structure = named.devices[self.place].structure
        opposite = {Does.NORMALLY_OPEN: Does.NORMALLY_CLOSED, Does.NORMALLY_CLOSED: Does.NORMALLY_OPEN}
        for does, other in opposite.items():
            if any(self.branch in part.branches for part in structure.parts_that(does)):
                return next((branch for part in structure.parts_that(other) for branch in part.branches), None)
        return None
