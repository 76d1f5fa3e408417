"""Why a device stands as it does: what feeds it, or where the way to it is open."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Final

from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Branch, Role
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import End
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.explain.gaps import Way, bridged, dead_poles, feeding_pair, gap_places, live_way
from wiretrace.explain.probe_path import LoadShare
from wiretrace.explain.reading import told_drops
from wiretrace.explain.wording import listed
from wiretrace.faults.naming import element_name
from wiretrace.instruments.voltmeter import display
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.reach import feeding

FED_SHARE: Final = 0.5
"""Share of what a load is made for, from which it is said to be fed."""
SOME_V: Final = 1.0
MOST_CONTACTS: Final = 5


@dataclass(frozen=True)
class Leading:
    """A way on the sheet: the terminals passed from the device to the pole, the wires, and whether it is whole."""

    terminals: tuple[End, ...]
    conductors: tuple[str, ...]
    whole: bool


@dataclass(frozen=True)
class DeviceReason:
    """Why a device is as it is.

    `missing` are the openings on the way, as (place, element); `depends` the devices on which it depends.
    """

    says: str
    sentences: tuple[str, ...]
    ways: tuple[Leading, ...] = ()
    missing: tuple[tuple[str, str], ...] = ()
    depends: tuple[str, ...] = ()


def why_device(assembly: Assembly, frame: Frame, device: str) -> DeviceReason:
    """What feeds a device in a state, or what keeps it from being fed. Raises UnknownTarget."""
    item = assembly.devices.get(device)
    if item is None:
        message = f"There is no device {device}."
        raise UnknownTarget(message, (Problem("unknown_device", message, device),))
    says = frame.views[device].says
    remedy = item.kind.remedy(frame.views[device].status)
    if item.kind.three_phase is not None:
        reason = _motor(assembly, frame, item)
    elif (load := _load(frame, item)) is not None:
        reason = _fed(assembly, frame, item, load)
    else:
        reason = DeviceReason(says, ())
    if item.kind.starts_by:
        reason = replace(reason, sentences=(_lines(assembly, frame, item), *reason.sentences))
    first = f"{item.label}: {says}." if says else f"{item.label} shows nothing."
    sentences = (first, *((remedy,) if remedy else ()), *reason.sentences)
    return DeviceReason(says, sentences, reason.ways, reason.missing, reason.depends)


def _load(frame: Frame, item: Installed) -> Branch | None:
    """The load that makes it what it is: its coil, its lamp; of several the one with the most voltage."""
    coils = item.structure.branches_of(Does.OPERATES, Does.FEELS_VOLTAGE) or item.structure.branches
    inside = set(item.structure.internal_nodes)
    loads = [branch for branch in coils if branch.role is Role.LOAD and not {branch.a, branch.b} & inside]
    loads = [branch for branch in loads if branch.name in item.kind.starts_by] or loads
    return max(loads, key=lambda load: _volts(frame.signals[item.id][load.name]), default=None)


def _lines(assembly: Assembly, frame: Frame, item: Installed) -> str:
    """What stands between the lines that a device is fed by, beside what starts it."""
    inside = set(item.structure.internal_nodes)
    ends = [b.a for b in item.structure.branches if b.role is Role.LOAD and b.b in inside]
    pairs = list(combinations(ends, 2))
    nodes = assembly.graph.node_of
    volts = [display(_across(frame, nodes[item.id, a], nodes[item.id, b])) for a, b in pairs]
    return f"Between its lines {listed(ends)} stand {listed([f'{volt} V' for volt in volts])}."


def _volts(signal: Signal) -> float:
    return max(signal.rms_v, abs(signal.dc_v))


def _fed(assembly: Assembly, frame: Frame, item: Installed, load: Branch) -> DeviceReason:
    says = frame.views[item.id].says
    ref = assembly.branches[assembly.branch_index(item.id, load.name)]
    across = _across(frame, ref.a, ref.b)
    inside = _volts(frame.signals[item.id][load.name])
    name = _capital(element_name(assembly, item.id, load.name))
    pair = feeding_pair(assembly, frame, item.id, (ref.a, ref.b), _enough(item, load, across))
    if pair is None:
        return DeviceReason(says, (f"{name} has {display(across)} V: no way leads from it to two poles of a supply.",))
    sentences = [f"{name} has {display(across)} V{_made_for(item, load)}: {_told_pair(assembly, frame, pair)}."]
    gaps = gap_places(assembly, pair)
    if gaps:
        sentences.append(_seals(assembly, frame, item, pair))
    if not gaps and not _enough(item, load, across):
        sentences.append(_lacking(assembly, frame, pair))
    elif _enough(item, load, across) and inside < SOME_V:
        sentences.append("It carries no current although the voltage stands at it: it is open inside.")
    elif _enough(item, load, across) and not frame.views[item.id].active:
        sentences.append(_too_little(item, load, across) or _not_moving(assembly, frame, item))
    ways = tuple(_leading(assembly, way) for way in pair)
    return DeviceReason(says, tuple(s for s in sentences if s), ways, gaps, _depends(assembly, item.id, pair))


def _enough(item: Installed, load: Branch, volts: float) -> bool:
    made_for = item.kind.operating(item.params, load.name)
    return volts >= (FED_SHARE * made_for.voltage_v if made_for else SOME_V)


def _made_for(item: Installed, load: Branch) -> str:
    made_for = item.kind.operating(item.params, load.name)
    return f" of the {made_for.voltage_v:g} V that it is made for" if made_for else ""


def _across(frame: Frame, a: int, b: int) -> float:
    return frame.point.largest_v(a, b)


def _too_little(item: Installed, load: Branch, volts: float) -> str:
    """That a coil has too little to pick up, in volts."""
    made_for = item.kind.operating(item.params, load.name)
    share = item.kind.ratings(item.params).picks_up_from
    if made_for is None or share is None or volts >= share * made_for.voltage_v:
        return ""
    return f"It picks up only from {display(share * made_for.voltage_v)} V, {100 * share:.0f} %."


def _seals(assembly: Assembly, frame: Frame, item: Installed, pair: Sequence[Way]) -> str:
    """Which of its own contacts will bridge what is open, once it has picked up."""
    found = {gap: names for way in pair for gap in way.gaps if (names := bridged(assembly, frame, item.id, gap))}
    told = [
        f"{listed([element_name(assembly, item.id, name) for name in names])} bridges"
        f" {element_name(assembly, assembly.branches[gap].place, assembly.branches[gap].branch)}"
        for gap, names in found.items()
    ]
    return f"Once it has picked up, {listed(told)}." if told else ""


def _told_pair(assembly: Assembly, frame: Frame, pair: Sequence[Way]) -> str:
    broken = [way for way in pair if way.gaps]
    if broken:
        return ", and ".join(_open_at(assembly, way) for way in broken)
    dead = dead_poles(assembly, frame)
    return "; ".join(
        f"{_start(assembly, way)} is joined to {_pole(assembly, way)}{_by(assembly, way)}"
        + (", which gives no voltage" if way.path.nodes[-1] in dead else "")
        for way in pair
    )


def _open_at(assembly: Assembly, way: Way) -> str:
    names = [element_name(assembly, place, branch) for place, branch in gap_places(assembly, (way,))]
    return f"the way from {_pole(assembly, way)} to {_start(assembly, way)} is open at {listed(names)}"


def _by(assembly: Assembly, way: Way) -> str:
    refs = [assembly.branches[number] for number in way.path.branches]
    names = [element_name(assembly, ref.place, ref.branch) for ref in refs if ref.role in (Role.CONTACT, Role.LOAD)]
    if not names:
        return " by wire alone"
    if len(names) > MOST_CONTACTS:
        names = [*names[:3], f"{len(names) - 4} more", names[-1]]
    return f" through {listed(names)}"


def _start(assembly: Assembly, way: Way) -> str:
    return _node_name(assembly, way.path.nodes[0])


def _pole(assembly: Assembly, way: Way) -> str:
    device, terminal = assembly.nodes[way.path.nodes[-1]]
    return assembly.devices[device].designated(terminal) if terminal[0].isdigit() else terminal


def _node_name(assembly: Assembly, node: int) -> str:
    device, terminal = assembly.nodes[node]
    return assembly.devices[device].designated(terminal)


def _lacking(assembly: Assembly, frame: Frame, pair: Sequence[Way]) -> str:
    """Why a whole way does not bring its voltage: no source behind it, or a joint that drops it."""
    drops = [share for way in pair for share in _drops(assembly, frame, way)]
    if drops:
        told = listed([f"{element_name(assembly, d.device, d.branch)} drops {display(d.voltage_v)} V" for d in drops])
        return f"On the way {told}."
    poles = {way.path.nodes[-1] for way in pair}
    off = [
        item.label
        for (item, terminal), feeds in zip(_sources(assembly), feeding(assembly, frame), strict=True)
        if not feeds and assembly.graph.inner[item.id, terminal] in poles
    ]
    return f"{listed(list(dict.fromkeys(off)))} gives no voltage." if off else ""


def _sources(assembly: Assembly) -> list[tuple[Installed, str]]:
    return [(item, terminal) for item in assembly.devices.values() for terminal in item.kind.poles]


def _drops(assembly: Assembly, frame: Frame, way: Way) -> tuple[LoadShare, ...]:
    solution = frame.point.dc or frame.point.ac
    refs = [(number, assembly.branches[number]) for number in way.path.branches]
    return told_drops(refs, [abs(drop) for drop in solution.drop_v.tolist()])


def _not_moving(assembly: Assembly, frame: Frame, item: Installed) -> str:
    """Why a device that is fed does not do what it should: locked, or on its way."""
    for group in assembly.locked:
        away = [
            assembly.devices[name].label
            for name in group
            if name != item.id and assembly.devices[name].kind.away(frame.state.devices[name])
        ]
        if item.id in group and away:
            return f"The mechanical interlock holds it while {listed(away)} is away from rest."
    state = frame.state.devices[item.id]
    due = {name: time for name, time in state.items() if name.endswith("_at_us") and isinstance(time, int)}
    burns_at = due.pop("burns_at_us", None)
    if due:
        return f"It changes by itself in {(min(due.values()) - frame.state.time_us) / 1e6:.3f} s."
    if burns_at is not None:
        seconds = (burns_at - frame.state.time_us) / 1e6
        return f"It does not move although it has its voltage; its winding burns in {seconds:.0f} s if this lasts."
    return ""


def _depends(assembly: Assembly, device: str, ways: Sequence[Way]) -> tuple[str, ...]:
    """Devices whose openings are missing, or where none is, those whose contacts lead there."""
    missing = [place for place, _ in gap_places(assembly, ways)]
    passed = [assembly.branches[number] for way in ways for number in way.path.branches]
    found = missing or [ref.place for ref in passed if ref.role is Role.CONTACT]
    return tuple(name for name in dict.fromkeys(found) if name in assembly.devices and name != device)


def _leading(assembly: Assembly, way: Way) -> Leading:
    inner = {(item.id, name) for item in assembly.devices.values() for name in item.structure.internal_nodes}
    ends = tuple(
        End(device=device, terminal=name)
        for device, name in (assembly.nodes[node] for node in way.path.nodes)
        if (device, name) not in inner
    )
    wires = tuple(assembly.branches[n].place for n in way.path.branches if not assembly.branches[n].branch)
    return Leading(tuple(dict.fromkeys(ends)), wires, not way.gaps)


def _motor(assembly: Assembly, frame: Frame, item: Installed) -> DeviceReason:
    says, windings = frame.views[item.id].says, item.kind.three_phase
    starts = windings.starts if windings else ()
    nodes = {name: assembly.node(End(device=item.id, terminal=name)) for name in starts}
    lines = [_across(frame, a, b) for a, b in combinations(nodes.values(), 2)]
    fed = max(lines, default=0.0) >= FED_SHARE * (item.kind.made_for_line_v(item.params) or math.inf)
    ways = {name: live_way(assembly, frame, item.id, node, fed) for name, node in nodes.items()}
    known = [way for way in ways.values() if way is not None]
    gaps = gap_places(assembly, known)
    sentences = []
    if unfed := [item.designated(name) for name, way in ways.items() if way is None]:
        sentences.append(f"No way leads from {listed(unfed)} to a live pole.")
    broken = [way for way in known if way.gaps]
    if broken:
        sentences.append(_capital(f"{', and '.join(_open_at(assembly, way) for way in broken)}."))
    elif known:
        sentences.extend(_leads(assembly, frame, known))
        sentences.append(f"Between them stand {listed([f'{display(volts)} V' for volts in lines])}.")
        amperes = [frame.signals[item.id][b.name].rms_a for b in item.structure.branches_of(Does.TURNS)]
        if max(amperes, default=0.0) < 1e-3 and not math.isclose(max(lines), 0.0, abs_tol=SOME_V):
            sentences.append("No current flows in its windings: they are joined nowhere, or open.")
        # A winding whose line is missing carries nothing either, and the others raise a voltage in it.
        if not unfed and not {way.path.nodes[-1] for way in known} & dead_poles(assembly, frame):
            sentences.append(_open_windings(assembly, frame, item))
        if max(lines) < SOME_V:
            sentences.append(_lacking(assembly, frame, known))
    leading = tuple(_leading(assembly, way) for way in known)
    return DeviceReason(says, tuple(s for s in sentences if s), leading, gaps, _depends(assembly, item.id, known))


def _leads(assembly: Assembly, frame: Frame, ways: Sequence[Way]) -> Iterator[str]:
    """From which pole each lead of a motor is fed; a pole that gives nothing feeds none."""
    dead = dead_poles(assembly, frame)
    feeds: list[str] = []
    gives_none: list[str] = []
    for way in ways:
        told = f"{_start(assembly, way)} {{}} {_pole(assembly, way)}"
        (gives_none if way.path.nodes[-1] in dead else feeds).append(told)
    if feeds:
        yield f"Its leads are fed: {'; '.join(one.format('from') for one in feeds)}."
    if gives_none:
        yield _capital(f"{listed([one.format('leads to') for one in gives_none])}, which gives no voltage.")


def _open_windings(assembly: Assembly, frame: Frame, item: Installed) -> str:
    """Windings that carry nothing although volts stand across their terminals."""
    windings = item.kind.three_phase
    outer = set(windings.starts) if windings else set[str]()
    names = [branch.name for branch in item.structure.branches_of(Does.TURNS) if {branch.a, branch.b} & outer]
    amperes = {name: frame.signals[item.id][name].rms_a for name in names}
    refs = {name: assembly.branches[assembly.branch_index(item.id, name)] for name in names}
    empty = [name for name in names if amperes[name] < 1e-3 and _across(frame, refs[name].a, refs[name].b) > SOME_V]
    if not empty or len(empty) == len(names):
        return ""
    told = listed([element_name(assembly, item.id, name) for name in empty])
    return f"{_capital(told)} carries nothing although volts stand across it: it is open."


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]
