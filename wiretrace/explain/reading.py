"""Why a voltmeter shows what it shows: a structured reason and two sentences."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import End
from wiretrace.explain.influences import Influence, influences
from wiretrace.explain.probe_path import LoadShare, ProbePath
from wiretrace.explain.reference import referring
from wiretrace.explain.star_point import star_points
from wiretrace.explain.wording import sentences
from wiretrace.instruments.voltmeter import HIGH_IMPEDANCE_OHM, Reading, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.graph import BranchRef
from wiretrace.simulation.reach import Path, Reach, Standing, reach, ways_to_poles

MOST_DROPS = 2
DROPS_V = 1.0
"""Volts from which a contact, a wire or a joint on the way is said to drop something."""


@dataclass(frozen=True)
class Explanation:
    """A reading with its reason."""

    reading: Reading
    red: ProbePath
    black: ProbePath
    meter_completes: bool
    """True when the only current on one probe's way is the meter's own."""
    sentences: tuple[str, str]
    influences: tuple[Influence, ...]
    not_tried: int
    """Devices further away that were not tried for their influence: the work is bounded."""


def explain_reading(assembly: Assembly, frame: Frame, red: End, black: End) -> Explanation:
    """Explain the reading of a 10 Mohm voltmeter from `red` to `black`.

    Raises UnknownTarget when a probe stands on nothing.
    """
    reading = read_voltage(assembly, frame.point, red, black)
    reached = reach(assembly, frame)
    volts = _volts_with_meter(assembly, frame, reading)
    stars = star_points(assembly, frame, [assembly.node(red), assembly.node(black)])
    red_path, black_path = (
        replace(_probe_path(assembly, frame, reached, end, volts), star_of=star)
        for end, star in zip((red, black), stars, strict=True)
    )
    completes = any(
        side.loads and all(share.voltage_v < 0.05 * abs(reading.voltage_v) for share in side.loads)
        for side in (red_path, black_path)
    )
    moving, not_tried = influences(assembly, frame, reading, _near(assembly, frame, reading))
    refers = referring(assembly, frame, reading) if reading.frequency_hz is None else None
    return Explanation(
        reading,
        red_path,
        black_path,
        completes,
        sentences(assembly, reading, red_path, black_path, refers, _raising(assembly, frame, reading)),
        moving,
        not_tried,
    )


def _raising(assembly: Assembly, frame: Frame, reading: Reading) -> tuple[str, ...]:
    """Labels of the devices of which a voltage that dies away makes up most of the reading."""
    if not any(one.flow is reading.part for one in frame.point.fading):
        return ()
    numbers = np.flatnonzero(reading.part.emf_v).tolist()
    places = dict.fromkeys(assembly.branches[n].place for n in numbers)
    return tuple(assembly.devices[place].label for place in places)


def _volts_with_meter(assembly: Assembly, frame: Frame, reading: Reading) -> list[float]:
    """Volts across every branch with the meter's own current added."""
    solution = reading.part
    drops = solution.drop_v
    if not reading.joined or reading.red == reading.black:
        return [abs(drop) for drop in drops.tolist()]
    change = solution.response(assembly.node(reading.red), assembly.node(reading.black))
    loaded = drops - change * (reading.phasor_v / HIGH_IMPEDANCE_OHM)
    return [abs(drop) for drop in loaded.tolist()]


def _probe_path(assembly: Assembly, frame: Frame, reached: Reach, end: End, volts: list[float]) -> ProbePath:
    node = assembly.node(end)
    path = reached.path(assembly, node)
    if path.standing is not Standing.LOAD:
        return _told(assembly, end, path, volts)
    best, *others = ways_to_poles(assembly, frame, node) or (path,)
    told = _told(assembly, end, best, volts)
    return replace(told, also=_told(assembly, end, others[0], volts)) if others else told


def _told(assembly: Assembly, end: End, path: Path, volts: list[float]) -> ProbePath:
    refs = [(number, assembly.branches[number]) for number in path.branches]
    return ProbePath(
        path.standing,
        assembly.net_numbers.get(end),
        None if path.pole is None else _end(assembly, path.pole),
        tuple(_end(assembly, node) for node in path.nodes if _is_terminal(assembly, node)),
        tuple(ref.place for _, ref in refs if not ref.branch),
        tuple((ref.place, ref.branch) for _, ref in refs if ref.role is Role.CONTACT or _is_bridge(assembly, ref)),
        tuple(LoadShare(ref.place, ref.branch, volts[number]) for number, ref in refs if ref.role is Role.LOAD),
        told_drops(refs, volts),
    )


def told_drops(refs: Sequence[tuple[int, BranchRef]], volts: list[float]) -> tuple[LoadShare, ...]:
    """The joints on a way that drop most of what should not drop."""
    found = [(number, ref) for number, ref in refs if ref.role is not Role.LOAD and volts[number] > DROPS_V]
    most = sorted(found, key=lambda pair: -volts[pair[0]])[:MOST_DROPS]
    return tuple(LoadShare(ref.place, ref.branch, volts[number]) for number, ref in found if (number, ref) in most)


def _near(assembly: Assembly, frame: Frame, reading: Reading) -> list[Installed]:
    """Devices with contacts in what the probes are joined to, or would be by one contact more; the nearest first.

    No other can have an influence: what happens in a part without any way to the probes does not reach them.
    """
    conducts = [value is not None for value in frame.values]
    at: list[list[int]] = [[] for _ in assembly.nodes]
    for number, ref in enumerate(assembly.branches):
        at[ref.a].append(number)
        at[ref.b].append(number)
    devices: dict[str, None] = {}
    ways = list(dict.fromkeys((assembly.node(reading.red), assembly.node(reading.black))))
    seen = set(ways)
    for node in ways:
        for number in at[node]:
            ref = assembly.branches[number]
            if ref.role is Role.CONTACT:
                devices.setdefault(ref.place)
            for far in assembly.equations.across(number) if conducts[number] else ():
                if far not in seen:
                    seen.add(far)
                    ways.append(far)
    return [assembly.devices[name] for name in devices if name in assembly.devices]


def _is_bridge(assembly: Assembly, ref: BranchRef) -> bool:
    """Is it a path that a fault has put between two terminals?"""
    laid = ref.branch or ref.place not in assembly.devices or assembly.nodes[ref.a] == assembly.nodes[ref.b]
    return not laid and ref.role is Role.PATH


def _is_terminal(assembly: Assembly, node: int) -> bool:
    device, name = assembly.nodes[node]
    return name not in assembly.devices[device].structure.internal_nodes


def _end(assembly: Assembly, node: int) -> End:
    device, name = assembly.nodes[node]
    return End(device=device, terminal=name)
