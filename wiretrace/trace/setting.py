"""How an instructor sets a fault on a real board, and by which reading he proves that it is set."""

from collections.abc import Callable, Mapping
from typing import Any, Final

from wiretrace.circuit.document import End
from wiretrace.explain.wording import element_name
from wiretrace.faults.devices import Stuck, WrongSetting
from wiretrace.faults.elements import HighResistance, LooseTerminal, Open, Short, Welded, WrongContact
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly

CAUTION: Final = "Dead and locked off, by the instructor alone; never a short circuit on a board under power."


def how_to_set(assembly: Assembly, fault: Fault) -> str:
    """What to loosen, lift, bridge or set."""
    return _HOW.get(type(fault), _not_by_hand)(assembly, fault)


def _end(assembly: Assembly, end: End) -> str:
    return assembly.devices[end.device].designated(end.terminal)


def _ends(assembly: Assembly, place: str, branch: str) -> list[str]:
    """The two terminals of an element, or of a wire."""
    wire = next((wire for wire in assembly.circuit.conductors if wire.id == place), None)
    if wire is not None:
        return [_end(assembly, wire.a), _end(assembly, wire.b)]
    item = assembly.devices[place]
    found = next((one for one in item.structure.branches if one.name == branch), None)
    return [] if found is None else [item.designated(found.a), item.designated(found.b)]


def _name(assembly: Assembly, fault: Any) -> str:
    return element_name(assembly, fault.place, fault.branch)


def _open(assembly: Assembly, fault: Open) -> str:
    ends = _ends(assembly, fault.place, fault.branch)
    if fault.branch:
        return f"Lift the wires off {ends[0]} and insulate them: it is as if {_name(assembly, fault)} were open."
    return f"Lift the wire off {ends[0]} (the other end is at {ends[1]}) and insulate its end."


def _loose(assembly: Assembly, fault: LooseTerminal) -> str:
    return f"Lift all wires off {_end(assembly, End(device=fault.place, terminal=fault.terminal))}; keep them together."


def _joint(assembly: Assembly, fault: HighResistance) -> str:
    ends = _ends(assembly, fault.place, fault.branch)
    where = f" between {ends[0]} and {ends[1]}" if len(ends) == 2 else ""
    name, ohm = _name(assembly, fault), f"{fault.resistance_ohm:g} ohm"
    return f"Put a resistor of some {ohm}, made for the voltage, into {name}{where}."


def _welded(assembly: Assembly, fault: Welded) -> str:
    ends = _ends(assembly, fault.place, fault.branch)
    return f"Bridge {ends[0]} and {ends[1]} with a wire." if len(ends) == 2 else _not_by_hand(assembly, fault)


def _stuck(assembly: Assembly, fault: Stuck) -> str:
    item = assembly.devices[fault.place]
    if item.kind.jams:
        return f"Not on a board: a blocked {item.label} burns. Show it on the screen."
    return f"Keep {item.label} from moving, with a wedge of insulating material or by its lock."


def _setting(assembly: Assembly, fault: WrongSetting) -> str:
    item = assembly.devices[fault.place]
    param = next(param for param in item.kind.params if param.name == fault.name)
    value = ("on" if fault.value else "off") if isinstance(fault.value, bool) else f"{fault.value} {param.unit}".strip()
    return f"Set {param.title.lower()} of {item.label} to {value}."


def _wrong(assembly: Assembly, fault: WrongContact) -> str:
    return f"Move both wires of {_name(assembly, fault)} to a contact of the other kind."


def _not_by_hand(assembly: Assembly, fault: Fault) -> str:
    return "Not on a board: show it on the screen."


_HOW: Final[Mapping[type[Fault], Callable[[Assembly, Any], str]]] = {
    Open: _open,
    LooseTerminal: _loose,
    HighResistance: _joint,
    Welded: _welded,
    Stuck: _stuck,
    WrongSetting: _setting,
    WrongContact: _wrong,
    Short: _not_by_hand,
}
