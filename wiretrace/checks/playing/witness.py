"""What is looked at while a circuit is worked: contacts, lamps, coils, opposing contactors, chatter."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Move
from wiretrace.checks.opposing import opposing
from wiretrace.simulation.engine import Frame, Trajectory
from wiretrace.simulation.graph import BranchRef
from wiretrace.simulation.race import suspects

PARTS_V: Final = 1.0
"""Volts across an open contact from which it parts something."""
LIT: Final = 0.5
"""Share of its voltage from which a lamp is lit."""
WORKS: Final = (0.85, 1.12)
"""Shares of its voltage within which a coil is to work (IEC 60947-4-1, 8.2.1.2), and a little of a light supply."""
NOTHING: Final = 0.2
"""Share of its voltage below which a coil is not fed: leakage, and what an electronic output lets through."""


@dataclass(frozen=True)
class Seen:
    """What was seen in a state of a certain number."""

    number: int
    share: float = 0.0


@dataclass(frozen=True)
class OnTheWay:
    """What was seen on the way from a state: the moves of the step, and when after them."""

    of: int
    moves: tuple[Move, ...]
    after_us: int


@dataclass
class Witness:
    """What was seen, of each thing the first time."""

    facts: Facts
    opened: set[tuple[str, str]] = field(default_factory=set)
    """Contacts that were open in some state."""
    parted: set[tuple[str, str]] = field(default_factory=set)
    """Contacts that had voltage across while they were open."""
    lit: dict[str, Seen] = field(default_factory=dict)
    dark: dict[str, Seen] = field(default_factory=dict)
    wrong_v: dict[str, Seen] = field(default_factory=dict)
    """Coils and lamps at a voltage that they are not made for."""
    together: dict[tuple[str, str], OnTheWay] = field(default_factory=dict)
    """Opposing contactors that were in together."""
    chatters: dict[tuple[str, ...], OnTheWay] = field(default_factory=dict)
    racing: dict[tuple[str, str], OnTheWay] = field(default_factory=dict)
    """Armatures that travelled at one time."""
    open_transformers: dict[str, Seen] = field(default_factory=dict)

    def __post_init__(self) -> None:
        facts = self.facts
        self.contacts: tuple[BranchRef, ...] = tuple(
            ref
            for item in facts.items
            for ref in facts.contacts(item)
            if facts.does(ref) in (Does.NORMALLY_OPEN, Does.NORMALLY_CLOSED, Does.CHANGES_OVER)
        )
        self._index = {(ref.place, ref.branch): index for index, ref in enumerate(facts.assembly.branches)}
        self.lamps = tuple(
            (item.id, branch.name)
            for item in facts.that(Does.SHOWS)
            for branch in item.structure.branches_of(Does.SHOWS)
        )
        self.coils: Mapping[tuple[str, str], float] = {
            (item.id, branch.name): made_for.voltage_v
            for item in facts.that(Does.OPERATES, Does.SHOWS)
            for branch in item.structure.branches_of(Does.OPERATES, Does.SHOWS)
            if (made_for := item.kind.operating(item.params, branch.name)) is not None
        }
        both = [(one.id, two.id) for one, two in opposing(facts)]
        self.poles = {name: self._poles(name) for pair in both for name in pair}
        self.pairs = [(pair, tuple(self.poles[name] for name in pair)) for pair in both]

    def _poles(self, device: str) -> tuple[int, ...]:
        item = self.facts.assembly.devices[device]
        return tuple(self._index[ref.place, ref.branch] for ref in self.facts.main_poles(item))

    def passed(self, trajectory: Trajectory, of: int, moves: Sequence[Move]) -> None:
        """What happened on the way."""
        began = trajectory.frames[0].state.time_us
        for chatter in trajectory.chatters:
            self.chatters.setdefault(chatter.devices, OnTheWay(of, tuple(moves), chatter.since_us - began))
        for pair in suspects(self.facts.assembly, trajectory):
            self.racing.setdefault(pair, OnTheWay(of, tuple(moves), trajectory.end.time_us - began))
        for names, (first, second) in self.pairs:
            if names in self.together:
                continue
            both = (frame for frame in trajectory.frames if closed(frame, first) and closed(frame, second))
            meet = next(both, None)
            if meet is not None:
                self.together[names] = OnTheWay(of, tuple(moves), meet.state.time_us - began)
        for frame in trajectory.frames:
            self._look_at_contacts(frame)

    def _look_at_contacts(self, frame: Frame) -> None:
        for ref in self.contacts:
            name = (ref.place, ref.branch)
            if name not in self.parted and frame.values[self._index[name]] is None:
                self.opened.add(name)
                if frame.signals[ref.place][ref.branch].rms_v > PARTS_V:
                    self.parted.add(name)

    def look(self, frame: Frame, number: int, *, fed: bool) -> None:
        """What is to be seen in a state; nothing where the supply, or a line of it, is away."""
        if not fed:
            return
        for (device, branch), volts in self.coils.items():
            share = frame.signals[device][branch].rms_v / volts
            if share > NOTHING and not WORKS[0] <= share <= WORKS[1]:
                self.wrong_v.setdefault(device, Seen(number, share))
        for device, branch in self.lamps:
            rated_v = self.coils.get((device, branch))
            if rated_v is not None:
                is_lit = frame.signals[device][branch].rms_v >= LIT * rated_v
                (self.lit if is_lit else self.dark).setdefault(device, Seen(number))
        for item in self.facts.that(Does.STEPS_CURRENT_DOWN):
            if frame.views[item.id].attention:
                self.open_transformers.setdefault(item.id, Seen(number))


def closed(frame: Frame, poles: Sequence[int]) -> bool:
    """Does one of these poles conduct?"""
    return any(frame.values[index] is not None for index in poles)
