"""Wrong models of a circuit: for each misconception the figure that a person who holds it would write."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.circuit import End
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.contacts import WrongContact
from wiretrace.faults.kinds.elements import Open
from wiretrace.instruments.voltmeter import Reading, read_voltage
from wiretrace.network.point import OperatingPoint
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.reach import Standing, reach
from wiretrace.training.prediction.sheet import PredictionSheet, states_of

NEAREST: Final = 8
"""Contacts about the probes that are thought of the other way round."""
NO_METER_OHM: Final = 1e15
NO_LOADS: Final = -1
"""Stands for no branch, where branches are told by their numbers."""


@dataclass(frozen=True)
class Figure:
    """What a person would write, in volts or amperes, and what he took for something else."""

    value: float
    about: str = ""


class Course:
    """A sheet run on its circuit, and run again under what somebody forgets or takes for something else."""

    def __init__(self, sheet: PredictionSheet, assembly: Assembly) -> None:
        self.sheet = sheet
        self.drawn = assembly
        self.assembly = assembly.with_faults((*assembly.faults, *sheet.faults)) if sheet.faults else assembly
        self.frames = states_of(sheet, self.assembly)
        self._points: dict[tuple[int, int], OperatingPoint] = {}
        self._others: dict[str, tuple[Assembly, list[Frame]] | None] = {}

    def point(self, index: int, values: Sequence[Value | None], which: int) -> OperatingPoint:
        """A state solved with other values; once for all meters of a sheet, by what is other in it."""
        if (index, which) not in self._points:
            solved = self.assembly.equations.solve(values, self.frames[index].point)
            self._points[index, which] = solved
        return self._points[index, which]

    @cached_property
    def without_seal(self) -> tuple[Assembly, list[Frame]] | None:
        """As if no contact beside a button held what the button had switched on."""
        return self._under([Open(*seal) for seal in _seals(self.assembly)])

    @cached_property
    def inputs_exchanged(self) -> list[tuple[str, Assembly, list[Frame]]]:
        """As if a program read a field contact the other way round, one contact at a time."""
        found = []
        for device, branch in _field_contacts(self.assembly):
            if (course := self._under([WrongContact(device, branch)])) is not None:
                found.append((f"{self.assembly.devices[device].label} {branch}", *course))
        return found

    @cached_property
    def without_faults(self) -> tuple[Assembly, list[Frame]] | None:
        """As if the circuit were sound; None where it is."""
        return (self.drawn, states_of(self.sheet, self.drawn)) if self.sheet.faults else None

    @cached_property
    def connects_both_ways(self) -> bool:
        """Is there a motor that star and delta are both made of?"""
        return any(_connects_both_ways(self.assembly, name) for name in self.assembly.devices)

    def under(self, name: str, faults: Sequence[Fault]) -> tuple[Assembly, list[Frame]] | None:
        """Run with faults that stand for what somebody takes for something else, once; None where there are none."""
        if name not in self._others:
            self._others[name] = self._under(faults)
        return self._others[name]

    def _under(self, faults: Sequence[Fault]) -> tuple[Assembly, list[Frame]] | None:
        if not faults:
            return None
        other = self.assembly.with_faults((*self.assembly.faults, *faults))
        return other, states_of(self.sheet, other)


@dataclass(frozen=True)
class Case:
    """A meter in a state."""

    course: Course
    index: int
    red: End
    black: End

    @property
    def assembly(self) -> Assembly:
        return self.course.assembly

    @property
    def frame(self) -> Frame:
        return self.course.frames[self.index]

    @cached_property
    def reading(self) -> Reading:
        return read_voltage(self.assembly, self.frame.point, self.red, self.black)

    def flipped(self, number: int) -> float:
        """What the meter would show with a contact in its other position, volts."""
        values = list(self.frame.values)
        item = self.assembly.devices[self.assembly.branches[number].place]
        values[number] = item.kind.contact_value(item.params) if values[number] is None else None
        return self.with_values(values, number)

    def without_loads(self) -> float:
        """What the meter would show if no load led anywhere, volts."""
        refs = self.assembly.branches
        kept = [None if ref.role is Role.LOAD else v for ref, v in zip(refs, self.frame.values, strict=True)]
        return self.with_values(kept, NO_LOADS)

    def with_values(self, values: Sequence[Value | None], which: int) -> float:
        """What the meter would show with other values of the elements, volts; `which` names them."""
        point = self.course.point(self.index, values, which)
        return abs(read_voltage(self.assembly, point, self.red, self.black).voltage_v)

    def joined_without(self, number: int) -> bool:
        """Are the probes joined by closed contacts and wires alone, without this one?"""
        return self.assembly.node(self.black) in _joined(self, self.assembly.node(self.red), number)

    @cached_property
    def nearest_contacts(self) -> list[int]:
        """Contacts that one meets first on the way from the probes along wires and contacts, open or closed."""
        assembly = self.assembly
        at: dict[int, list[int]] = {}
        for number, ref in enumerate(assembly.branches):
            if ref.role in (Role.CONTACT, Role.PATH):
                at.setdefault(ref.a, []).append(number)
                at.setdefault(ref.b, []).append(number)
        waiting = [assembly.node(self.red), assembly.node(self.black)]
        seen, found = set(waiting), []
        for node in waiting:
            for number in at.get(node, ()):
                ref = assembly.branches[number]
                if ref.role is Role.CONTACT and number not in found:
                    found.append(number)
                for far in (ref.a, ref.b):
                    if far not in seen:
                        seen.add(far)
                        waiting.append(far)
            if len(found) >= NEAREST:
                break
        return found[:NEAREST]


def no_load_carries(case: Case) -> Iterator[Figure]:
    """Nobody thinks of the load that carries the other pole through: without any load."""
    yield Figure(case.without_loads())


def closed_shows_supply(case: Case) -> Iterator[Figure]:
    """A closed contact between the probes is taken for one that the supply stands across."""
    for number in case.nearest_contacts:
        if case.frame.values[number] is not None and _bridges(case, number):
            about = _named(case.assembly, number)
            yield from (Figure(figure.value, about) for figure in other_pole(case))
            yield Figure(case.flipped(number), about)


def contact_other_way(case: Case) -> Iterator[Figure]:
    """Normally open is taken for normally closed, or the other way round."""
    for number in case.nearest_contacts:
        yield Figure(case.flipped(number), _named(case.assembly, number))


def meter_carries_nothing(case: Case) -> Iterator[Figure]:
    """The meter's own path is forgotten: what would stand there without it."""
    point = case.frame.point
    yield Figure(abs(read_voltage(case.assembly, point, case.red, case.black, NO_METER_OHM).voltage_v))


def other_pole(case: Case) -> Iterator[Figure]:
    """A terminal on the neutral side is taken for one on the live side, or the other way round."""
    reached = reach(case.assembly, case.frame)
    for here, there in ((case.red, case.black), (case.black, case.red)):
        node = case.assembly.node(here)
        standing, pole = reached.standing[node], reached.pole[node]
        if standing in (Standing.LIVE, Standing.NEUTRAL) and pole is not None:
            for other in _other_poles(case.assembly, pole, standing):
                volts = read_voltage(case.assembly, case.frame.point, other, there).voltage_v
                yield Figure(abs(volts), case.assembly.devices[here.device].designated(here.terminal))


def line_for_phase(case: Case) -> Iterator[Figure]:
    volts = abs(case.reading.voltage_v)
    yield from (Figure(volts * math.sqrt(3)), Figure(volts / math.sqrt(3)))


def star_for_delta(case: Case) -> Iterator[Figure]:
    """A third, three times, 58 % or 1.73 of a figure, where a motor can be connected both ways."""
    if case.course.connects_both_ways:
        volts = abs(case.reading.voltage_v)
        yield from (Figure(volts * factor) for factor in (1 / 3, 3.0, 1 / math.sqrt(3), math.sqrt(3)))


def seal_forgotten(case: Case) -> Iterator[Figure]:
    if case.course.without_seal is not None:
        yield Figure(read_under(case, *case.course.without_seal))


def program_other_way(case: Case) -> Iterator[Figure]:
    for name, assembly, frames in case.course.inputs_exchanged:
        yield Figure(read_under(case, assembly, frames), name)


def read_under(case: Case, assembly: Assembly, frames: Sequence[Frame]) -> float:
    """What the meter shows in the same state of a sheet that was run otherwise, volts."""
    return abs(read_voltage(assembly, frames[case.index].point, case.red, case.black).voltage_v)


def _bridges(case: Case, number: int) -> bool:
    """Does a closed contact lie between the probes: would opening it part them but for loads?"""
    return case.joined_without(NO_LOADS) and not case.joined_without(number)


def _joined(case: Case, start: int, without: int) -> set[int]:
    """Nodes that are one with a node, by way of what is no load and no source."""
    at: dict[int, list[int]] = {}
    for number, (ref, value) in enumerate(zip(case.assembly.branches, case.frame.values, strict=True)):
        if value is not None and ref.role in (Role.CONTACT, Role.PATH) and number != without:
            at.setdefault(ref.a, []).append(ref.b)
            at.setdefault(ref.b, []).append(ref.a)
    seen, waiting = {start}, [start]
    while waiting:
        for far in at.get(waiting.pop(), ()):
            if far not in seen:
                seen.add(far)
                waiting.append(far)
    return seen


def _named(assembly: Assembly, number: int) -> str:
    ref = assembly.branches[number]
    return f"{assembly.devices[ref.place].label} {ref.branch}"


def _other_poles(assembly: Assembly, pole: int, standing: Standing) -> Iterator[End]:
    """Poles of the same source on the other side."""
    device, name = assembly.nodes[pole]
    wanted = "neutral" if standing is Standing.LIVE else "live"
    poles = assembly.devices[device].kind.poles if device in assembly.devices else {}
    yield from (
        End(device=device, terminal=terminal)
        for terminal, (what, _) in poles.items()
        if what == wanted and terminal != name
    )


def _connects_both_ways(assembly: Assembly, name: str) -> bool:
    """Has it both ends of three windings brought out?"""
    parts = assembly.devices[name].structure.parts
    return any(part.does is Does.TURNS and len(part.terminals) >= 6 for part in parts)


def _seals(assembly: Assembly) -> Iterator[tuple[str, str]]:
    """Contacts moved by a coil that lie beside a normally open contact of a button."""
    contacts = [
        (ref, frozenset(_nets(assembly, ref.a, ref.b))) for ref in assembly.branches if ref.role is Role.CONTACT
    ]
    buttons = {nets for ref, nets in contacts if assembly.devices[ref.place].kind.actuator is Actuator.HAND}
    for ref, nets in contacts:
        if assembly.devices[ref.place].kind.actuator is Actuator.COIL and len(nets) == 2 and nets in buttons:
            yield ref.place, ref.branch


def _nets(assembly: Assembly, *nodes: int) -> Iterator[str]:
    for node in nodes:
        device, terminal = assembly.nodes[node]
        number = assembly.net_numbers.get(End(device=device, terminal=terminal))
        if number is not None:
            yield number


def _field_contacts(assembly: Assembly) -> Iterator[tuple[str, str]]:
    """Contacts that lead to an input of a controller."""
    inputs = {
        assembly.net_numbers.get(End(device=item.id, terminal=terminal))
        for item in assembly.devices.values()
        for part in item.structure.parts
        if part.does is Does.TAKES_SIGNALS
        for terminal in part.terminals
    } - {None}
    for ref in assembly.branches:
        if ref.role is Role.CONTACT and inputs & set(_nets(assembly, ref.a, ref.b)):
            yield ref.place, ref.branch
