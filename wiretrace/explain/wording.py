"""The reason for a reading in two sentences, one a probe."""

from wiretrace.circuit.document import End
from wiretrace.explain.probe_path import LoadShare, ProbePath
from wiretrace.instruments.voltmeter import Reading, display
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.reach import Standing

NO_CURRENT_V = 0.05
"""Volts below which a load is said to carry nothing."""


def sentences(
    assembly: Assembly, reading: Reading, red: ProbePath, black: ProbePath, refers: str | None = None
) -> tuple[str, str]:
    """What each probe is joined to; the second sentence ends in what that means for the meter.

    `refers` is the place of a path that nobody laid and that alone joins the two sides.
    """
    first = f"Red, {_spot(assembly, reading.red, red)}, {_joined(assembly, red)}."
    second = f"Black, {_spot(assembly, reading.black, black)}, {_joined(assembly, black)}: {_so(reading, red, black)}."
    if refers is not None:
        second = f"{second[:-1]}; only {element_name(assembly, refers, '')} refers the one side to the other."
    return first, second


def _spot(assembly: Assembly, end: End, path: ProbePath) -> str:
    name = f"on {assembly.devices[end.device].designated(end.terminal)}"
    return f"{name} (wire {path.number})" if path.number else f"{name} (no wire)"


def _joined(assembly: Assembly, path: ProbePath) -> str:
    if path.pole is None or path.standing is Standing.NONE:
        return "is joined to nothing"
    pole = path.pole.terminal
    if pole[0].isdigit():
        pole = f"{assembly.devices[path.pole.device].designated(pole)}"
    contacts = _through(assembly, path)
    if not path.loads:
        return f"is joined to {pole}{contacts}"
    own = f"reaches {pole} {'' if path.also else 'only '}through {_shares(assembly, path)}"
    own += f" and{contacts}" if contacts else ""
    also = path.also
    if also is None or also.pole is None:
        return own
    return f"{own}, and {also.pole.terminal} through {_shares(assembly, also)}"


def _shares(assembly: Assembly, path: ProbePath) -> str:
    return listed([_dropping(assembly, share) for share in path.loads])


def _dropping(assembly: Assembly, share: LoadShare) -> str:
    name = element_name(assembly, share.device, share.branch)
    return f"{name} (which drops {display(share.voltage_v)} V)"


def _through(assembly: Assembly, path: ProbePath) -> str:
    """The contacts on a way, a few by name; and whatever drops something that should drop nothing."""
    dropping = {(share.device, share.branch): _dropping(assembly, share) for share in path.drops}
    names = [dropping.pop(contact, element_name(assembly, *contact)) for contact in path.contacts]
    if len(names) > 4:
        told = [name for name in names[2:-1] if "which drops" in name]
        rest = len(names) - 3 - len(told)
        names = [*names[:2], *told, *([f"{rest} more"] if rest else []), names[-1]]
    names += dropping.values()
    if not names:
        return " by wire alone" if not path.loads else ""
    return " through " + listed(names)


def element_name(assembly: Assembly, device: str, branch: str) -> str:
    """A contact or load as people call it: "K1 13-14", "the coil K1", "the lamp H1"."""
    wire = next((wire for wire in assembly.circuit.conductors if wire.id == device), None)
    if wire is not None:
        return f"the wire {assembly.net_numbers.get(wire.a) or device}"
    if device not in assembly.devices:
        return _stray(assembly, device)
    item = assembly.devices[device]
    if not branch:
        parted = any(fault.where == device and fault.parts() for fault in assembly.faults)
        return f"a joint at {item.label}" if parted else f"a bridge at {item.label}"
    has_number = branch[0].isdigit()
    if has_number and sum(1 for b in item.structure.branches if b.name[0].isdigit()) > 1:
        return f"{item.label} {branch}"
    if has_number:
        return item.label
    several = any(branch in part.branches and len(part.branches) > 1 for part in item.structure.parts)
    return f"{branch} of {part_name(assembly, device, branch)}" if several else part_name(assembly, device, branch)


def part_name(assembly: Assembly, device: str, branch: str) -> str:
    """The part that an element belongs to, as people call it: "the motor M1"."""
    item = assembly.devices[device]
    part = next((part.title.lower() for part in item.structure.parts if branch in part.branches), branch)
    return f"the {part} {item.label}"


def _stray(assembly: Assembly, place: str) -> str:
    """A path that nobody laid, with its ends."""
    stray = next((stray for stray in assembly.circuit.strays if stray.id == place), None)
    if stray is None:
        return "a stray path"
    ends = [assembly.devices[end.device].designated(end.terminal) for end in (stray.a, stray.b)]
    what = "the capacitance" if stray.resistance_ohm is None else "the leakage"
    return f"{what} from {ends[0]} to {ends[1]}"


def listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def _so(reading: Reading, red: ProbePath, black: ProbePath) -> str:
    shown = f"the meter shows {reading.display} V"
    if reading.red == reading.black:
        return f"both probes stand on one terminal, and {shown}"
    if not reading.joined:
        return f"with no return path between the probes {shown}"
    if Standing.NONE in (red.standing, black.standing):
        return f"with no source on this path {shown}"
    if Standing.LOAD in (red.standing, black.standing) and red.pole != black.pole:
        drop = sum(share.voltage_v for share in (*red.loads, *black.loads))
        if drop < 0.05 * abs(reading.voltage_v):
            return f"only the meter's own small current flows there, so {shown}"
        return f"the loads share the voltage, and {shown}"
    if red.pole == black.pole and (red.loads or black.loads):
        if abs(reading.voltage_v) < NO_CURRENT_V:
            return f"no current flows, so both have the same potential and {shown}"
        return f"the load between them takes its share, so {shown}"
    if red.pole == black.pole:
        return f"both stand on the same pole, so {shown}, the drop along the way"
    return f"so {shown}"
