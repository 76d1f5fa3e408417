"""Faults as a person would tell them: "K1 13-14 does not close", "300 ohm in the wire 5 from S1:14 to K1:A1"."""

from collections.abc import Callable, Mapping
from typing import Any, Final

from wiretrace.circuit.document import End
from wiretrace.explain.wording import element_name
from wiretrace.faults.devices import Operated, Stuck, WrongSetting
from wiretrace.faults.elements import Bridge, HighResistance, LooseTerminal, Open, Short, Welded, WrongContact
from wiretrace.faults.fault import Fault
from wiretrace.faults.wires import Exchanged, Moved
from wiretrace.simulation.assembly import Assembly


def fault_words(assembly: Assembly, fault: Fault) -> str:
    """What is wrong, with designations as they stand on the sheet."""
    words = _HOW[type(fault)](assembly, fault)
    when = f", from {fault.start_us / 1e6:g} s on" if fault.start_us else ""
    return f"{words}{when}{', comes and goes' if fault.slot_us else ''}"


def _end(assembly: Assembly, end: End) -> str:
    return assembly.devices[end.device].designated(end.terminal)


def _element(assembly: Assembly, place: str, branch: str) -> str:
    """An element, or a conductor with its ends, since a potential has several."""
    wire = next((wire for wire in assembly.circuit.conductors if wire.id == place), None)
    if wire is None:
        return element_name(assembly, place, branch)
    number = assembly.net_numbers.get(wire.a) or wire.id
    return f"the wire {number} from {_end(assembly, wire.a)} to {_end(assembly, wire.b)}"


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _ohms(ohm: float) -> str:
    return f"{ohm:g} ohm"


def _open(assembly: Assembly, fault: Open) -> str:
    return _capital(f"{_element(assembly, fault.place, fault.branch)} is open")


def _high(assembly: Assembly, fault: HighResistance) -> str:
    return f"{_ohms(fault.resistance_ohm)} in {_element(assembly, fault.place, fault.branch)}"


def _short(assembly: Assembly, fault: Short) -> str:
    ohm = f" through {_ohms(fault.resistance_ohm)}" if fault.resistance_ohm else ""
    return _capital(f"{_element(assembly, fault.place, fault.branch)} is short-circuited{ohm}")


def _welded(assembly: Assembly, fault: Welded) -> str:
    return _capital(f"{_element(assembly, fault.place, fault.branch)} is welded")


def _wrong(assembly: Assembly, fault: WrongContact) -> str:
    return f"{_capital(_element(assembly, fault.place, fault.branch))}: the wrong kind of contact"


def _loose(assembly: Assembly, fault: LooseTerminal) -> str:
    name = _end(assembly, End(device=fault.place, terminal=fault.terminal))
    return f"{name} is loose" if fault.resistance_ohm is None else f"{_ohms(fault.resistance_ohm)} at {name}"


def _bridge(assembly: Assembly, fault: Bridge) -> str:
    ends = (End(device=fault.place, terminal=fault.terminal), fault.to)
    ohm = f" of {_ohms(fault.resistance_ohm)}" if fault.resistance_ohm else ""
    return f"A bridge{ohm} from {_end(assembly, ends[0])} to {_end(assembly, ends[1])}"


def _moved(assembly: Assembly, fault: Moved) -> str:
    wire = _element(assembly, fault.place, "")
    return _capital(f"{wire}: its end {fault.end} stands on {_end(assembly, fault.to)}")


def _exchanged(assembly: Assembly, fault: Exchanged) -> str:
    return _capital(f"{_element(assembly, fault.place, '')} and {_element(assembly, fault.other, '')} are exchanged")


def _stuck(assembly: Assembly, fault: Stuck) -> str:
    return f"{assembly.devices[fault.place].label} does not move"


def _setting(assembly: Assembly, fault: WrongSetting) -> str:
    item = assembly.devices[fault.place]
    param = next(param for param in item.kind.params if param.name == fault.name)
    value = fault.value if isinstance(fault.value, str) else f"{fault.value:g}"
    return f"{item.label}: {param.title} set to {value} {param.unit}".rstrip()


def _operated(assembly: Assembly, fault: Operated) -> str:
    item = assembly.devices[fault.place]
    operation = next(operation for operation in item.kind.operations if operation.name == fault.name)
    return f"{item.label}: {operation.title.lower()}, done once"


_HOW: Final[Mapping[type, Callable[[Assembly, Any], str]]] = {
    Open: _open,
    HighResistance: _high,
    Short: _short,
    Welded: _welded,
    WrongContact: _wrong,
    LooseTerminal: _loose,
    Bridge: _bridge,
    Moved: _moved,
    Exchanged: _exchanged,
    Stuck: _stuck,
    WrongSetting: _setting,
    Operated: _operated,
}
