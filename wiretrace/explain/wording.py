"""The reason for a reading in two sentences, one a probe."""

from wiretrace.circuit.document import End
from wiretrace.explain.probe_path import ProbePath
from wiretrace.instruments.voltmeter import Reading, display
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.reach import Standing

NO_CURRENT_V = 0.05
"""Volts below which a load is said to carry nothing."""


def sentences(assembly: Assembly, reading: Reading, red: ProbePath, black: ProbePath) -> tuple[str, str]:
    """What each probe is joined to; the second sentence ends in what that means for the meter."""
    first = f"Red, {_spot(assembly, reading.red, red)}, {_joined(assembly, red)}."
    second = f"Black, {_spot(assembly, reading.black, black)}, {_joined(assembly, black)}: {_so(reading, red, black)}."
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
    loads = listed(
        [
            f"{element_name(assembly, share.device, share.branch)} (which drops {display(share.voltage_v)} V)"
            for share in path.loads
        ]
    )
    return f"reaches {pole} only through {loads}{' and' + contacts if contacts else ''}"


def _through(assembly: Assembly, path: ProbePath) -> str:
    names = [element_name(assembly, device, branch) for device, branch in path.contacts]
    if not names:
        return " by wire alone" if not path.loads else ""
    kept = names if len(names) <= 4 else [*names[:2], f"{len(names) - 3} more", names[-1]]
    return " through " + listed(kept)


def element_name(assembly: Assembly, device: str, branch: str) -> str:
    """A contact or load as people call it: "K1 13-14", "the coil K1", "the lamp H1"."""
    if device not in assembly.devices:
        return "a stray path"
    item = assembly.devices[device]
    if not branch:
        return f"a bridge at {item.label}"
    has_number = branch[0].isdigit()
    if has_number and sum(1 for b in item.structure.branches if b.name[0].isdigit()) > 1:
        return f"{item.label} {branch}"
    part = next((p.title.lower() for p in item.structure.parts if branch in p.branches), branch)
    return item.label if has_number else f"the {part} {item.label}"


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
