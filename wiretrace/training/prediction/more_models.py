"""More wrong models of a circuit: what a person would write who takes it for something else in one of these ways."""

import math
from collections import deque
from collections.abc import Iterator, Sequence
from typing import Final

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.circuit import End
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.contacts import Welded
from wiretrace.faults.kinds.devices import WrongSetting
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.prediction.models import Case, Figure, read_under

DRAWN: Final = -2
"""Stands for all contacts as they are drawn, where what is other is told by the number of a branch."""
SOME_V: Final = 1.0
CARRIES_A: Final = 1e-3
STRAY_OHM: Final = 100_000.0
"""Ohms behind a voltage from which it is stray: a meter of low impedance would hardly see it."""


def as_drawn(case: Case) -> Iterator[Figure]:
    """The drawing is taken for the state: every contact as it is at rest."""
    yield Figure(case.with_values(_at_rest(case), DRAWN))


def _at_rest(case: Case) -> list[Value | None]:
    assembly = case.assembly
    values: list[Value | None] = list(case.frame.values)
    for item in assembly.devices.values():
        rest = item.kind.values(item.params, item.kind.initial(item.params))
        # A breaker or an isolator is drawn open and thought to be on.
        if item.kind.protects is not None or item.kind.actuator is Actuator.HANDLE:
            continue
        for number, _ in assembly.graph.branches_of[item.id]:
            branch = assembly.branches[number]
            if branch.role is Role.CONTACT:
                values[number] = rest.get(branch.branch)
    return values


def timer_at_once(case: Case) -> Iterator[Figure]:
    """A timed contact is taken for one that moves with the coil."""
    yield from _under(case, "timer at once", _timers(case.assembly, "delay_s", 0.05))


def delay_other_way(case: Case) -> Iterator[Figure]:
    """Delayed when it comes in is taken for delayed when it goes out, or the other way round."""
    faults = [
        WrongSetting(item.id, "mode", "off_delay" if item.params["mode"] == "on_delay" else "on_delay")
        for item in case.assembly.devices.values()
        if item.params.get("mode") in ("on_delay", "off_delay")
    ]
    yield from _under(case, "delay other way", faults)


def _timers(assembly: Assembly, name: str, value: float) -> list[Fault]:
    return [WrongSetting(item.id, name, value) for item in assembly.devices.values() if name in item.params]


def stop_ignored(case: Case) -> Iterator[Figure]:
    """A stop that is held is thought to end nothing."""
    stops = [item for item in case.assembly.devices.values() if item.kind.is_stop(item.params)]
    yield from _under(case, "stop ignored", _closed(case.assembly, [item.id for item in stops]))


def interlock_forgotten(case: Case) -> Iterator[Figure]:
    """A normally closed contact of a contactor is thought to let everything through."""
    coils = [
        item.id
        for item in case.assembly.devices.values()
        if item.structure.parts_that(Does.OPERATES, Does.SWITCHES_LOAD)
    ]
    yield from _under(case, "interlock forgotten", _closed(case.assembly, coils))


def _closed(assembly: Assembly, devices: Sequence[str]) -> list[Fault]:
    """Their normally closed contacts, welded."""
    return [
        Welded(name, part.branches[0])
        for name in devices
        for part in assembly.devices[name].structure.parts
        if part.does is Does.NORMALLY_CLOSED and part.branches
    ]


def _under(case: Case, name: str, faults: Sequence[Fault]) -> Iterator[Figure]:
    course = case.course.under(name, faults)
    if course is not None:
        yield Figure(read_under(case, *course))


def drops_along(case: Case) -> Iterator[Figure]:
    """Voltage is thought to be used up step by step by whatever stands in the way, contacts and loads alike."""
    way = _way(case)
    if way is None:
        return
    supply, places = way
    here = [places.get(case.assembly.node(end)) for end in (case.red, case.black)]
    steps = max(places.values())
    if here[0] is not None and here[1] is not None and steps > 1:
        yield Figure(supply * abs(here[0] - here[1]) / steps)


def _way(case: Case) -> tuple[float, dict[int, int]] | None:
    """The shortest way with current from a live pole to a neutral one past both probes: the steps to each node."""
    assembly, frame = case.assembly, case.frame
    poles = {
        assembly.graph.node_of[item.id, terminal]: (item.id, terminal, what)
        for item in assembly.devices.values()
        for terminal, (what, _) in item.kind.poles.items()
        if what in ("live", "neutral")
    }
    at: dict[int, list[tuple[int, int]]] = {}
    for ref, value in zip(assembly.branches, frame.values, strict=True):
        if value is not None and ref.role in (Role.CONTACT, Role.PATH, Role.LOAD):
            cost = 0 if ref.role is Role.PATH else 1
            at.setdefault(ref.a, []).append((ref.b, cost))
            at.setdefault(ref.b, []).append((ref.a, cost))
    lives = [node for node, (_, _, what) in poles.items() if what == "live"]
    neutrals = [node for node, (_, _, what) in poles.items() if what == "neutral"]
    for live in lives:
        from_live = _steps(at, live)
        for neutral in (node for node in neutrals if node in from_live):
            to_neutral = _steps(at, neutral)
            whole = from_live[neutral]
            on_way = {
                node: steps
                for node, steps in from_live.items()
                if node in to_neutral and steps + to_neutral[node] == whole
            }
            if all(case.assembly.node(end) in on_way for end in (case.red, case.black)):
                one, two = (End(device=poles[node][0], terminal=poles[node][1]) for node in (live, neutral))
                volts = read_voltage(assembly, frame.point, one, two).voltage_v
                return abs(volts), on_way
    return None


def _steps(at: dict[int, list[tuple[int, int]]], start: int) -> dict[int, int]:
    """The fewest elements from a node to every other one; wires count nothing."""
    found = {start: 0}
    waiting = deque([start])
    while waiting:
        node = waiting.popleft()
        for far, cost in at.get(node, ()):
            steps = found[node] + cost
            if steps < found.get(far, 1 << 30):
                found[far] = steps
                if cost:
                    waiting.append(far)
                else:
                    waiting.appendleft(far)
    return found


def no_current_no_voltage(case: Case) -> Iterator[Figure]:
    """Where nothing flows nothing is thought to stand: 0 V wherever no load between the probes carries current."""
    signals = case.frame.signals
    near = {case.assembly.node(case.red), case.assembly.node(case.black)}
    carries = any(
        ref.role is Role.LOAD
        and ref.branch
        and {ref.a, ref.b} == near
        and signals[ref.place][ref.branch].rms_a > CARRIES_A
        for ref in case.assembly.branches
    )
    if not carries:
        yield Figure(0.0)


def stray_is_nothing(case: Case) -> Iterator[Figure]:
    """What a meter shows through capacitances and leakage is thought not to be there."""
    if abs(case.reading.voltage_v) >= SOME_V and case.reading.source_ohm > STRAY_OHM:
        yield Figure(0.0)


def all_across_each(case: Case) -> Iterator[Figure]:
    """Each of several loads in series is thought to have the whole supply."""
    yield from (Figure(supply) for supply in _divided(case))


def shared_equally(case: Case) -> Iterator[Figure]:
    """Loads in series are thought to share the voltage equally, whatever they are."""
    yield from (Figure(supply / 2) for supply in _divided(case))


def _divided(case: Case) -> Iterator[float]:
    """The supply, where the meter shows a part of it."""
    volts = abs(case.reading.voltage_v)
    for supply in _supplies(case):
        if 0.05 * supply < volts < 0.9 * supply:
            yield supply


def other_supply(case: Case) -> Iterator[Figure]:
    """The voltage of another supply is expected: the mains where a transformer or a power supply feeds."""
    volts = abs(case.reading.voltage_v)
    for supply in _supplies(case):
        if volts >= SOME_V and abs(supply - volts) > 0.1 * volts:
            yield Figure(supply)


def _supplies(case: Case) -> Iterator[float]:
    """What each source gives from its first live pole to its neutral one, or between two live ones, volts."""
    seen: set[int] = set()
    for item in case.assembly.devices.values():
        lives = [name for name, (what, _) in item.kind.poles.items() if what == "live"]
        others = [name for name, (what, _) in item.kind.poles.items() if what == "neutral"] or lives[1:2]
        if lives and others:
            one, two = (End(device=item.id, terminal=name) for name in (lives[0], others[0]))
            volts = abs(read_voltage(case.assembly, case.frame.point, one, two).voltage_v)
            if volts >= SOME_V and round(volts) not in seen:
                seen.add(round(volts))
                yield volts


def phases_added(case: Case) -> Iterator[Figure]:
    """Two phases are thought to add up: twice 230 V between two lines."""
    volts = abs(case.reading.voltage_v)
    yield from (Figure(2 * supply) for supply in _supplies(case) if abs(volts - math.sqrt(3) * supply) < 0.05 * volts)


def peak_for_rms(case: Case) -> Iterator[Figure]:
    """The peak of an alternating voltage is written for what a meter shows."""
    volts = abs(case.reading.voltage_v)
    if volts >= SOME_V:
        yield Figure(volts * math.sqrt(2))


def earth_is_nothing(case: Case) -> Iterator[Figure]:
    """Against earth nothing is thought to stand, since earth carries no current."""
    for end in (case.red, case.black):
        item = case.assembly.devices[end.device]
        frame = any(one.name == end.terminal and one.frame for one in item.structure.terminals)
        if frame or item.kind.poles.get(end.terminal, ("", 0))[0] == "earth":
            yield Figure(0.0)
            return


def fault_forgotten(case: Case) -> Iterator[Figure]:
    """What is wrong in the circuit is left out."""
    if case.course.without_faults is not None:
        yield Figure(read_under(case, *case.course.without_faults))
