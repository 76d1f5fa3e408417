"""What all faults have in common: when they are there, and what they may change.

A kind of fault is one class with an `about` (`kinds` finds it). It states once whether it fits a circuit, what it
changes (the value of a branch that is there anyway, branches of its own, a parameter, a movement, something done by
hand), where it can come about, what it is called, how it is written and how an instructor sets it on a board.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, ClassVar, Final, Protocol, Self

from pydantic import ConfigDict, Field

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.purpose import Breaks
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, End
from wiretrace.faults.spots import Spot

JOINT_OHM: Final = 1e-4
"""Resistance of a sound joint at a terminal."""
SHORTEST_SLOT_US: Final = 10_000
"""A joint that comes and goes within half a period has no steady state to compute."""
SLOTS_AHEAD: Final = 64
"""How far a change is looked for; a fair coin falls that often on one side once in 10^19."""

Setting = bool | int | float | str
Microseconds = Annotated[int, Field(ge=0, le=2**53)]


class Site(Protocol):
    """The wiring that a fault is in: nodes, branches and devices by their names."""

    @property
    def devices(self) -> Mapping[str, Installed]: ...

    def node(self, end: End) -> int:
        """Node of a terminal."""

    def branch_index(self, place: str, branch: str = "") -> int:
        """Number of a branch of a device, or of a conductor."""

    def ends(self, index: int) -> tuple[int, int]:
        """Nodes that a branch lies between."""

    def laid(self, conductor: str) -> tuple[int, ...]:
        """The branch of a conductor, and those that faults have put in its place so far; the last holds."""

    def link_value(self, conductor: str) -> Value | None:
        """What a sound conductor is worth."""


class Named(Protocol):
    """A circuit whose parts have names: what sentences about a fault are made from."""

    @property
    def circuit(self) -> Circuit: ...

    @property
    def devices(self) -> Mapping[str, Installed]: ...

    @property
    def net_numbers(self) -> Mapping[End, str]: ...

    @property
    def faults(self) -> Sequence["Fault"]: ...


class Sort(StrEnum):
    """What an exercise is asked to hide: families of single faults, and two ways of making it harder."""

    OPEN = "open"
    STUCK = "stuck"
    SETTING = "setting"
    SHORT = "short"
    JOINT = "joint"
    TWO = "two"
    COMES_AND_GOES = "comes_and_goes"


@dataclass(frozen=True)
class About:
    """What is known of a kind of fault.

    `forms` are examples of how it is written. `weight` is how often it comes about in proportion to the others, and
    `why` the reason; without one it is put in by a person. `rare` is the weight of what `rarely` finds: it is looked
    for where nothing likely explains what was seen, for the reason `rare_why`. `sorts` are those of the exercises that
    may hide it, `breaks` what an element declares that can have it.
    """

    title: str
    forms: tuple[str, ...]
    weight: float | None = None
    why: str = ""
    rare: float | None = None
    rare_why: str = ""
    sorts: tuple[Sort, ...] = ()
    breaks: Breaks | None = None


@dataclass(frozen=True)
class Added:
    """A branch that a fault adds: its value with the fault and without. While the fault is there the branches
    `replaces` conduct no more.
    """

    place: str
    role: Role
    a: int
    b: int
    with_fault: Value | None
    without: Value | None = None
    replaces: tuple[int, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Fault:
    """A fault, from `start_us` on.

    An intermittent one has a `slot_us`: in every stretch of that length it is there or not, by chance that follows
    from `seed`.
    """

    __pydantic_config__ = ConfigDict(extra="forbid")

    about: ClassVar[About]

    start_us: Microseconds = 0
    slot_us: Annotated[int, Field(ge=0, le=3_600_000_000)] = 0
    seed: Microseconds = 0

    @property
    def where(self) -> str:
        """The device or conductor that has it."""
        raise NotImplementedError

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        """Why this circuit cannot have it, None if it can. `links` are the ids of conductors and stray paths."""
        raise NotImplementedError

    def words(self, named: Named) -> str:
        """What is wrong, with designations as they stand on the sheet: "K1 13-14 is open"."""
        raise NotImplementedError

    def written(self, named: Named) -> str:
        """As it is written in one line, without its times: `K1/13-14=open`. `read` understands it."""
        raise NotImplementedError

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        """The fault that `what` names at this spot; None where it names none of this kind.

        Raises UnknownTarget or ValueError where it names one that cannot be.
        """
        raise NotImplementedError

    def how_to_set(self, named: Named) -> str:
        """What an instructor loosens, lifts, bridges or sets on a board."""
        return "Not on a board: show it on the screen."

    @classmethod
    def of_element(cls, device: str, branch: str) -> Self:
        """The fault of an element that declares to break so."""
        raise NotImplementedError

    @classmethod
    def of_device(cls, item: Installed) -> Iterator[Self]:
        """Those that a device can have as a whole."""
        yield from ()

    @classmethod
    def of_terminal(cls, end: End) -> Iterator[Self]:
        """Those that a terminal with a wire can have."""
        yield from ()

    @classmethod
    def of_conductor(cls, wire: str) -> Iterator[Self]:
        """Those that a conductor can have."""
        yield from ()

    @classmethod
    def rarely(cls, circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Self]:
        """Those that nobody looks for before all that is likely has been ruled out."""
        yield from ()

    def values(self) -> tuple[Self, ...]:
        """The values of it that stand for its range, the typical one first."""
        return (self,)

    def in_series(self) -> tuple[str, str, float] | None:
        """The element (device or conductor, branch) that it puts ohms in series with, and how many."""
        return None

    def cuts_off(self) -> End | None:
        """The terminal that it parts from its wires for good."""
        return None

    def parts(self) -> End | None:
        """The terminal that it parts: what hangs on it inside the device gets a node of its own."""
        return None

    def adds(self, site: Site, parted: tuple[int, int] | None = None) -> tuple[Added, ...]:
        """The branches that it adds. `parted` are the outer and the inner node of the terminal that it parts."""
        return ()

    def disturb(self, values: list[Value | None], site: Site) -> None:
        """Change what branches are worth that were there before it."""

    def settings(self) -> Mapping[str, Setting]:
        """Parameters of its device that it sets."""
        return {}

    @property
    def holds(self) -> bool:
        """Does it keep its device from moving?"""
        return False

    def done(self) -> tuple[str, bool] | None:
        """What it does to its device by hand, once: an operation and on or off."""
        return None

    def active(self, now_us: int) -> bool:
        """Is the fault there at this time?"""
        if now_us < self.start_us:
            return False
        return self.slot_us == 0 or _chance(self.seed, (now_us - self.start_us) // self.slot_us)

    def next_change_us(self, now_us: int) -> int | None:
        """When it next comes or goes after `now_us`, or None for never."""
        if now_us < self.start_us:
            return self.start_us
        if self.slot_us == 0:
            return None
        slot = (now_us - self.start_us) // self.slot_us
        there = _chance(self.seed, slot)
        for ahead in range(1, SLOTS_AHEAD):
            if _chance(self.seed, slot + ahead) != there:
                return self.start_us + (slot + ahead) * self.slot_us
        return self.start_us + (slot + SLOTS_AHEAD) * self.slot_us


Faults = Sequence[Fault]
_WORD: Final = (1 << 64) - 1


def _chance(seed: int, slot: int) -> bool:
    """A fair coin for each slot: one step of the SplitMix64 generator (Steele, Lea, Flood 2014)."""
    z = (seed * 0x9E3779B97F4A7C15 + (slot + 1) * 0xD1342543DE82EF95) & _WORD
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & _WORD
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & _WORD
    return bool((z ^ (z >> 31)) & 1)
