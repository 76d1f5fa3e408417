"""What people call the parts of a circuit: "K1 13-14", "the coil K1", "the wire 5"."""

from wiretrace.document.circuit import End
from wiretrace.faults.fault import Named


def end_name(named: Named, end: End) -> str:
    """A terminal as it stands on the sheet: "K1:A1"."""
    return named.devices[end.device].designated(end.terminal)


def element_name(named: Named, device: str, branch: str) -> str:
    """A contact or load as people call it: "K1 13-14", "the coil K1", "the lamp H1"."""
    wire = next((wire for wire in named.circuit.conductors if wire.id == device), None)
    if wire is not None:
        return f"the wire {named.net_numbers.get(wire.a) or device}"
    if device not in named.devices:
        return _stray(named, device)
    item = named.devices[device]
    if not branch:
        parted = any(fault.where == device and fault.parts() for fault in named.faults)
        return f"a joint at {item.label}" if parted else f"a bridge at {item.label}"
    has_number = branch[0].isdigit()
    if has_number and sum(1 for b in item.structure.branches if b.name[0].isdigit()) > 1:
        return f"{item.label} {branch}"
    if has_number:
        return item.label
    several = any(branch in part.branches and len(part.branches) > 1 for part in item.structure.parts)
    return f"{branch} of {part_name(named, device, branch)}" if several else part_name(named, device, branch)


def part_name(named: Named, device: str, branch: str) -> str:
    """The part that an element belongs to, as people call it: "the motor M1"."""
    item = named.devices[device]
    part = next((part.title.lower() for part in item.structure.parts if branch in part.branches), branch)
    return f"the {part} {item.label}"


def _stray(named: Named, place: str) -> str:
    """A path that nobody laid, with its ends."""
    stray = next((stray for stray in named.circuit.strays if stray.id == place), None)
    if stray is None:
        return "a stray path"
    what = "the capacitance" if stray.resistance_ohm is None else "the leakage"
    return f"{what} from {end_name(named, stray.a)} to {end_name(named, stray.b)}"


def element_between(named: Named, place: str, branch: str) -> str:
    """An element; a conductor with its ends, since a potential has several."""
    wire = next((wire for wire in named.circuit.conductors if wire.id == place), None)
    if wire is None:
        return element_name(named, place, branch)
    number = named.net_numbers.get(wire.a) or wire.id
    return f"the wire {number} from {end_name(named, wire.a)} to {end_name(named, wire.b)}"


def ends_of(named: Named, place: str, branch: str) -> list[str]:
    """The two terminals of an element or of a conductor, as they stand on the sheet."""
    wire = next((wire for wire in named.circuit.conductors if wire.id == place), None)
    if wire is not None:
        return [end_name(named, wire.a), end_name(named, wire.b)]
    item = named.devices[place]
    found = next((one for one in item.structure.branches if one.name == branch), None)
    return [] if found is None else [item.designated(found.a), item.designated(found.b)]


def capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def ohms(ohm: float) -> str:
    return f"{ohm:g} ohm"
