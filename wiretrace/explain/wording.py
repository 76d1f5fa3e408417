"""The reason for a reading in two sentences, one a probe."""

from collections.abc import Sequence

from wiretrace.document.circuit import End
from wiretrace.explain.probe_path import LoadShare, ProbePath
from wiretrace.faults.naming import element_name
from wiretrace.instruments.voltmeter import Coupling, Reading, display
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.reach import Standing

NO_CURRENT_V = 0.05
"""Volts below which a load is said to carry nothing."""


def sentences(
    assembly: Assembly,
    reading: Reading,
    red: ProbePath,
    black: ProbePath,
    refers: str | None = None,
    raising: Sequence[str] = (),
) -> tuple[str, str]:
    """What each probe is joined to; the second sentence ends in what that means for the meter.

    `refers` is the place of a path that nobody laid and that alone joins the two sides. `raising` are motors whose
    residual voltage the meter shows, or capacitors that it shows the charge of.
    """
    first = f"Red, {_spot(assembly, reading.red, red)}, {_joined(assembly, red)}."
    second = f"Black, {_spot(assembly, reading.black, black)}, {_joined(assembly, black)}: {_so(reading, red, black)}."
    if refers is not None:
        second = f"{second[:-1]}; only {element_name(assembly, refers, '')} refers the one side to the other."
    if raising:
        second = f"Black, {_spot(assembly, reading.black, black)}, {_joined(assembly, black)}: "
        second += (
            f"the meter shows {reading.display} V, for {listed(list(raising))} {_raise(reading, len(raising) == 1)}."
        )
    elif reading.frequency_hz is not None:
        second = f"{second[:-1]}, at {reading.frequency_hz:.3g} Hz."
    return first, second


def _raise(reading: Reading, one: bool) -> str:
    if reading.coupling is Coupling.DC:
        return "is still charged" if one else "are still charged"
    turns = "still turns, and its rotor raises" if one else "still turn, and their rotors raise"
    return f"{turns} this residual voltage until it has died away"


def _spot(assembly: Assembly, end: End, path: ProbePath) -> str:
    name = f"on {assembly.devices[end.device].designated(end.terminal)}"
    return f"{name} (wire {path.number})" if path.number else f"{name} (no wire)"


def _joined(assembly: Assembly, path: ProbePath) -> str:
    if path.star_of is not None:
        return f"stands on the star point of {assembly.devices[path.star_of].label}, where its three windings meet"
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
    if red.star_of is not None or black.star_of is not None:
        return _in_star(red, black, shown)
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


def _in_star(red: ProbePath, black: ProbePath, shown: str) -> str:
    """What a star point makes of a reading: it stands in the middle of the phases, one winding from each."""
    if red.star_of == black.star_of:
        return f"both stand on it, so {shown}, the drop along the way"
    other = black if red.star_of is not None else red
    if other.standing is Standing.LIVE:
        return f"across each winding lies the line voltage over root three, 58 % of it: {shown}"
    return f"three like windings hold it in the middle of the three phases, near the neutral: {shown}"
