"""Why something happened: the chain of causes back to a hand, a fault or a time that ran out."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.status import tells
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.explain.short_circuit import ShortCircuit, short_circuit
from wiretrace.explain.wording import listed
from wiretrace.faults.naming import element_name
from wiretrace.instruments.clamp_meter import display
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.state import Action

DEEPEST: Final = 5
CHANGED: Final = 0.2
"""Share of the larger by which what a device sees must change to count as a cause."""
NOTHING: Final = 1e-3
UNDER_WAY: Final = 1
"""Position of an armature between rest and home."""
MOST: Final = 3
"""Openings and closings named for one cause."""


@dataclass(frozen=True)
class Cause:
    """Something that happened: which device came to say what, when, and why, in a sentence.

    `conductors` are the wires of the short circuit that did it.
    """

    at_us: int
    device: str
    sentence: str
    conductors: tuple[str, ...] = ()


def why_event(assembly: Assembly, frames: Sequence[Frame], hands: Sequence[Action], device: str) -> tuple[Cause, ...]:
    """Why a device came to say what it says in the last of these frames, the nearest cause first.

    Empty where it has said the same in all of them.
    """
    return tuple(_chain(assembly, frames, hands, device, len(frames) - 1))


def _chain(
    assembly: Assembly, frames: Sequence[Frame], hands: Sequence[Action], device: str, upto: int
) -> Iterator[Cause]:
    seen: set[str] = set()
    while device in assembly.devices and device not in seen and len(seen) < DEEPEST:
        seen.add(device)
        at = _last_change(assembly, frames, device, upto)
        if at is None:
            return
        cause, device, upto = _cause(assembly, frames, hands, device, at)
        yield cause


def _cause(
    assembly: Assembly, frames: Sequence[Frame], hands: Sequence[Action], device: str, at: int
) -> tuple[Cause, str, int]:
    """Why a device changed in a frame, and the device whose change up to which frame is the cause of that."""
    now_us = frames[at].state.time_us
    felt = _felt(frames, assembly.devices[device], at)
    felt_us = -1 if felt is None else frames[felt].state.time_us
    hand = max((h for h in hands if h.device == device and h.at_us <= now_us), key=_when, default=None)
    if hand is not None and hand.at_us >= felt_us:
        before = max((i for i in range(at) if frames[i].state.time_us < hand.at_us), default=0)
        why, upto = f"{_after(now_us - hand.at_us)}a hand worked it ({_title(assembly, hand)})", 0
        return Cause(now_us, device, f"{_told(assembly, frames, device, before, at)}{why}."), "", upto
    if felt is None:
        told = f"{_told(assembly, frames, device, at - 1, at)} by itself{_figure(frames[at], device)}."
        return Cause(now_us, device, told), "", 0
    moved = _moved(assembly, frames[felt - 1], frames[felt], device)
    names = listed([f"{name} {'closed' if closed else 'opened'}" for _, name, closed in moved[:MOST]]) if moved else ""
    limit = _limit(frames[at], assembly.devices[device])
    why = f"{_after(now_us - felt_us)}{names or _quantity(assembly, frames, device, felt)}{limit}"
    told = _told(assembly, frames, device, felt - 1, at)
    short = _short(assembly, frames[felt:at], device)
    because = f": a short circuit of {display(short.current_a)} A {short.words}" if short else ""
    cause = Cause(now_us, device, f"{told}{why}{because}.", short.conductors if short else ())
    return cause, moved[0][0] if moved else "", felt


def _figure(frame: Frame, device: str) -> str:
    """The first figure that a device shows at that moment: of a motor its speed."""
    figures = frame.views[device].figures
    return f", at {figures[0].value:.3g} {figures[0].unit}" if figures else ""


def _short(assembly: Assembly, frames: Sequence[Frame], device: str) -> ShortCircuit | None:
    """The short circuit through a device that current trips, in one of these frames."""
    if assembly.devices[device].kind.actuator is not Actuator.CURRENT:
        return None
    wires = [wire.id for wire in assembly.circuit.conductors if device in (wire.a.device, wire.b.device)]
    found = (short_circuit(assembly, frame, wire) for frame in frames for wire in wires)
    return next((short for short in found if short is not None), None)


def _told(assembly: Assembly, frames: Sequence[Frame], device: str, before: int, at: int) -> str:
    """What a device did between two frames, with what it said on the way; an armature under way says nothing new."""
    under_way = {i for i in range(before, at) if frames[i].state.devices[device].get("position") == UNDER_WAY}
    said = [frames[i].views[device].says for i in range(before, at + 1) if i not in under_way]
    told = [word for word, was in zip(said, ["", *said], strict=False) if word != was]
    how = "changed over" if len(told) == 1 else f"went from {told[0]}{_by_way(told[1:-1])} to {told[-1]}"
    return f"At {frames[at].state.time_us / 1e6:.3f} s {assembly.devices[device].label} {how}"


def _by_way(words: Sequence[str]) -> str:
    return f" by way of {listed(list(words[-MOST:]))}" if words else ""


def _when(hand: Action) -> int:
    return hand.at_us


def _title(assembly: Assembly, hand: Action) -> str:
    operations = assembly.devices[hand.device].kind.operations
    operation = next((one for one in operations if one.name == hand.operation), None)
    if operation is None:
        return hand.operation
    if hand.value or operation.style == "pulse":
        return operation.title.lower()
    return "let go" if operation.style == "momentary" else f"{operation.title.lower()}: off"


def _after(time_us: int) -> str:
    if time_us == 0:
        return " when "
    span = f"{time_us / 1e6:.2f} s" if time_us >= 1_000_000 else f"{time_us / 1000:.0f} ms"
    return f", {span} after "


def _last_change(assembly: Assembly, frames: Sequence[Frame], device: str, upto: int) -> int | None:
    """The last frame at which a device said something else, or its contacts stood otherwise, than before."""
    own = [number for number, ref in enumerate(assembly.branches) if ref.place == device and ref.role is Role.CONTACT]
    for at in range(upto, 0, -1):
        before, now = frames[at - 1], frames[at]
        moved = any((before.values[n] is None) != (now.values[n] is None) for n in own)
        if moved or before.views[device].status != now.views[device].status:
            return at
    return None


def _felt(frames: Sequence[Frame], item: Installed, at: int) -> int | None:
    """The frame at which what a device answers to last changed; none where nothing did.

    What was due at `at` was planned under what it saw before; else it follows what it sees at once, as a lamp does.
    """
    names = _answers_to(item)
    due = [time for name, time in frames[at - 1].state.devices[item.id].items() if name.endswith("_at_us")]
    planned = frames[at].state.time_us in due
    for felt in range(at - 1 if planned else at, 0, -1):
        before, now = frames[felt - 1].signals[item.id], frames[felt].signals[item.id]
        if any(_differs(size(before[name]), size(now[name])) for name, size in names):
            return felt
    return None


def _answers_to(item: Installed) -> list[tuple[str, Callable[[Signal], float]]]:
    """The elements that a device feels something by: volts of its loads, amperes of its heaters or of what trips."""
    found: list[tuple[str, Callable[[Signal], float]]] = []
    for branch in item.structure.branches:
        does = item.structure.does(branch.name)
        trips = branch.role is Role.CONTACT and item.kind.actuator is Actuator.CURRENT
        gives = branch.role is Role.SOURCE and does is Does.CONVERTS
        if branch.role is Role.LOAD:
            found.append((branch.name, _volts))
        elif branch.role is Role.PATH or gives or (trips and does is not Does.NORMALLY_OPEN):
            found.append((branch.name, _amperes))
    return found


def _volts(signal: Signal) -> float:
    return max(signal.rms_v, abs(signal.dc_v))


def _amperes(signal: Signal) -> float:
    return max(signal.rms_a, abs(signal.dc_a))


def _differs(was: float, has: float) -> bool:
    return abs(was - has) > max(CHANGED * max(was, has), NOTHING)


def _quantity(assembly: Assembly, frames: Sequence[Frame], device: str, felt: int) -> str:
    """What a device sees that changed most between a frame and the one before, from how much to how much."""
    item = assembly.devices[device]
    found = []
    for name, size in _answers_to(item):
        was, has = (size(frames[at].signals[device][name]) for at in (felt - 1, felt))
        unit = "V" if size is _volts else "A"
        words = f"{element_name(assembly, device, name)} went from {display(was)} to {display(has)} {unit}"
        found.append((abs(was - has) / max(was, has, NOTHING), words))
    return max(found)[1] if found else "what it sees had changed"


def _limit(frame: Frame, item: Installed) -> str:
    """From where on it does what it says now, or what a protection is set to."""
    status = frame.views[item.id].status
    limit = next((words for code, words in item.kind.limits(item.params).items() if tells(status, code)), "")
    if limit:
        return f"; {limit}"
    dial = item.kind.protects.dial if item.kind.protects is not None else ""
    return f"; it is set to {float(item.params[dial]):g} A" if dial else ""


def _moved(assembly: Assembly, before: Frame, now: Frame, device: str) -> list[tuple[str, str, bool]]:
    """What closed or opened between two frames and is joined to a device, as (place, name, closed).

    Of a device whose contacts change over, that which goes with what the device came to see counts first.
    """
    found = []
    item = assembly.devices[device]
    joined = _joined(assembly, before, now, item)
    names = _answers_to(item)
    seen = [sum(size(frame.signals[device][name]) for name, size in names) for frame in (before, now)]
    for number, ref in enumerate(assembly.branches):
        was, has = before.values[number] is not None, now.values[number] is not None
        if was != has and ref.place != device and {ref.a, ref.b} & joined:
            found.append((ref.place, element_name(assembly, ref.place, ref.branch), has))
    found.sort(key=lambda one: one[2] != (seen[1] > seen[0]))
    # One device with several contacts counts once, by its first.
    return list({place: (place, name, has) for place, name, has in reversed(found)}.values())[::-1]


def _joined(assembly: Assembly, before: Frame, now: Frame, item: Installed) -> set[int]:
    """Nodes to which the elements of a device are joined in either of two frames, through contacts and wires."""
    felt = {name for name, _ in _answers_to(item)}
    own = [ref for ref in assembly.branches if ref.place == item.id and ref.branch in felt]
    reached = {node for ref in own for node in (ref.a, ref.b)}
    ways: dict[int, list[int]] = {}
    for number, ref in enumerate(assembly.branches):
        conducts = before.values[number] is not None or now.values[number] is not None
        if conducts and ref.role in (Role.CONTACT, Role.PATH):
            ways.setdefault(ref.a, []).append(ref.b)
            ways.setdefault(ref.b, []).append(ref.a)
    todo = list(reached)
    while todo:
        for far in ways.get(todo.pop(), ()):
            if far not in reached:
                reached.add(far)
                todo.append(far)
    return reached
