"""Every single fault that a circuit can have, as its devices declare it."""

from collections.abc import Callable, Iterator, Mapping
from typing import Final

from wiretrace.catalogue.purpose import Breaks
from wiretrace.catalogue.structure import Param
from wiretrace.circuit.checked import Installed
from wiretrace.circuit.document import Circuit
from wiretrace.faults.devices import Stuck, WrongSetting
from wiretrace.faults.elements import HighResistance, LooseTerminal, Open, Short, Welded, WrongContact
from wiretrace.faults.fault import Fault, Setting

BAD_JOINT_OHM: Final = 300.0
"""A joint at which a relay lets go and a voltmeter still reads."""

_ELEMENT: Final[Mapping[Breaks, Callable[[str, str], Fault]]] = {
    Breaks.OPENS: Open,
    Breaks.BAD_JOINT: lambda place, branch: HighResistance(place, branch, BAD_JOINT_OHM),
    Breaks.SHORTS: Short,
    Breaks.WELDS: Welded,
    Breaks.WRONG: WrongContact,
}


def possible_faults(circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Fault]:
    """One fault after the other: of devices in the order of the document, then of conductors."""
    used = {(end.device, end.terminal) for wire in circuit.conductors for end in (wire.a, wire.b)}
    for item in devices.values():
        yield from _of_device(item)
        for terminal in item.structure.terminals:
            if (item.id, terminal.name) in used:
                yield LooseTerminal(item.id, terminal.name)
    for wire in circuit.conductors:
        yield Open(wire.id)
        yield HighResistance(wire.id, resistance_ohm=BAD_JOINT_OHM)


def _of_device(item: Installed) -> Iterator[Fault]:
    for branch in item.structure.branches:
        for breaks in branch.can_break:
            yield _ELEMENT[breaks](item.id, branch.name)
    if item.kind.sticks:
        yield Stuck(item.id)
    for param in item.kind.params:
        if param.set_on_site:
            for value in _wrong_values(param, item.params[param.name]):
                yield WrongSetting(item.id, param.name, value)


def _wrong_values(param: Param, now: Setting) -> Iterator[Setting]:
    """What somebody might set instead: half and twice, the other way, another choice."""
    if param.type == "number":
        for factor in (0.5, 2.0):
            value = min(max(float(now) * factor, param.minimum or 0.0), param.maximum or float(now))
            if value != now:
                yield value
    elif param.type == "switch":
        yield not now
    elif param.type == "choice":
        yield from (choice for choice in param.choices if choice != now)
