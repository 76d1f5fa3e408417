"""ngspice as the judge of the core: many states of circuits in one process, compared on every potential and current."""

import re
import subprocess
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np

from wiretrace.interchange.spice import spice_netlist
from wiretrace.network.solve import Solution
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

AGREES: Final = 1e-6
"""Of full scale, on potentials and on currents of conductors."""
Figures = Mapping[str, complex]


@dataclass(frozen=True)
class Solved:
    """What ngspice makes of a state: each vector by its name, alternating and, where a source drives any, direct;
    and for each frequency that is not that of the supplies."""

    ac: Figures
    dc: Figures | None
    tones: tuple[Figures, ...] = ()


def solved(states: Sequence[tuple[Assembly, Frame]], folder: Path) -> list[Solved]:
    """The netlists of all states solved by one ngspice. Raises CalledProcessError, TimeoutExpired, KeyError."""
    script = ["* judge", ".control", "set filetype=binary"]
    for number, (assembly, frame) in enumerate(states):
        text = spice_netlist(assembly, frame)
        netlist, _, asked = text.partition(".control\n")
        (folder / f"{number}.cir").write_text(f"{netlist}.end\n", encoding="utf-8")
        script.append(f"source {folder}/{number}.cir")
        for kind, *lines in _analyses(asked):
            script += [*lines, f"write {folder}/{number}.{kind}"]
        script += ["destroy all", "remcirc"]
    (folder / "judge.cir").write_text("\n".join([*script, "quit", ".endc", ".end", ""]), encoding="utf-8")
    command = ["ngspice", "-b", str(folder / "judge.cir")]
    subprocess.run(command, capture_output=True, stdin=subprocess.DEVNULL, check=True, timeout=60 + len(states))
    found = []
    for number, (_, frame) in enumerate(states):
        direct = None if frame.point.dc is None else vectors(folder / f"{number}.op")
        count = len(frame.point.tones) + len(frame.point.fading)
        tones = tuple(vectors(folder / f"{number}.ac{at}") for at in range(1, count + 1))
        found.append(Solved(vectors(folder / f"{number}.ac0"), direct, tones))
    return found


def _analyses(asked: str) -> Iterator[tuple[str, ...]]:
    """Name and lines of all that a netlist asks for: of direct current, if any, then of each frequency."""
    altered: list[str] = []
    count = 0
    for line in asked.splitlines():
        what = line.partition(" ")[0]
        if what == "alter":
            altered.append(line)
        elif what == "op":
            yield "op", line
        elif what == "ac":
            yield f"ac{count}", *altered, line
            altered, count = [], count + 1


def vectors(raw: Path) -> Figures:
    """The first point of a binary raw file, by the name of each vector. It goes: an old one is never taken for it."""
    head, _, values = raw.read_bytes().partition(b"Binary:\n")
    raw.unlink()
    names = re.findall(r"^\t\d+\t(\S+)\t", head.decode("ascii", "replace"), re.MULTILINE)
    kind = np.complex128 if b"Flags: complex" in head else np.float64
    return {name: complex(value) for name, value in zip(names, np.frombuffer(values, kind), strict=True)}


def disagreement(assembly: Assembly, frame: Frame, found: Solved) -> str | None:
    """How far ngspice and the core are apart beyond what `AGREES` allows; None where they agree."""
    numbers = [n for n, ref in enumerate(assembly.branches) if not ref.branch and frame.values[n] is not None]
    told = _apart(frame.point.ac, found.ac, numbers)
    if told is None and frame.point.dc is not None and found.dc is not None:
        told = _apart(frame.point.dc, _from_zeros(frame.point.dc, found.dc), numbers)
    for one, judged_tone in zip((*frame.point.tones, *frame.point.fading), found.tones, strict=True):
        told = told or _apart(one.flow, judged_tone, numbers)
    return told and f"{told} at {frame.state.time_us} us"


def _apart(ours: Solution, theirs: Figures, numbers: Sequence[int]) -> str | None:
    potentials = np.array([theirs[f"v(n{n})"] for n in range(len(ours.potential_v))])
    currents = np.array([theirs[f"i(vi{n})"] for n in numbers])
    for name, judged, core in (("V", potentials, ours.potential_v), ("A", currents, ours.current_a[list(numbers)])):
        scale = max(1.0, float(np.abs(core).max(initial=0.0)))
        off = float(np.abs(judged - core).max(initial=0.0))
        if not off <= AGREES * scale:
            return f"ngspice differs by {off:g} {name} of {scale:g}"
    return None


def _from_zeros(ours: Solution, theirs: Figures) -> Figures:
    """Potentials of each part of the network from the node that is the core's zero in it."""
    shape = ours.topology
    zeros = {int(shape.island[n]): n for n in np.flatnonzero((shape.columns == shape.size).all(axis=0)).tolist()}
    level = {f"v(n{n})": theirs[f"v(n{zeros[int(part)]})"] for n, part in enumerate(shape.island)}
    return {name: value - level.get(name, 0) for name, value in theirs.items()}


def judged(states: Sequence[tuple[Assembly, Frame]], folder: Path) -> Iterator[str]:
    """Where ngspice and the core are apart."""
    for (assembly, frame), found in zip(states, solved(states, folder), strict=True):
        if (apart := disagreement(assembly, frame, found)) is not None:
            yield apart
