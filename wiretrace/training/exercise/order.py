"""The work order: what an operator reports, made from the simulation. It never tells of the fault.

He stands before the machine and not before the panel: he tells of motors, of lamps and horns, and of what has tripped.
Only where nothing of that is otherwise does he tell of the panel. Which of several ways of saying it he takes hangs on
what is seen alone, so that it tells nothing more.
"""

import hashlib
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.status import tells, words
from wiretrace.diagnosis.procedure import Halt, reached
from wiretrace.diagnosis.repertoire import lookers, seen
from wiretrace.document.checked import Installed
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state

Looks = tuple[tuple[str, ...], ...]
Ways = tuple[str, ...]

TURNING: Final = (
    *("turns_forward", "turns_backward", "turns_up", "turns_down", "turning", "runs", "high_speed", "low_speed"),
    *("overloaded",),
)
COASTING: Final = ("coasts", "coasts_forward", "coasts_backward", "brakes_from_forward", "brakes_from_backward")
STARTS_NOT: Final[Ways] = ("{it} does not start", "nothing happens at {it}", "{it} stays where it is")
HUMS: Final[Ways] = ("{it} hums and does not turn", "{it} only hums", "{it} hums loudly and stands still")
STOPS: Final[Ways] = ("{it} runs out and stops", "{it} does not keep running", "{it} dies away")
RUNS_ON: Final[Ways] = ("{it} runs, and it should stand", "{it} turns when it should not", "{it} does not stay still")
WRONG_WAY: Final[Ways] = ("{it} turns the wrong way", "{it} goes the other way round")
ROUGH: Final[Ways] = ("{it} growls and shakes while it runs", "{it} runs, but it sounds rough")
DRONES: Final[Ways] = ("{it} drones and pulls hard while it runs", "{it} runs, but it labours")
HOT: Final[Ways] = ("{it} smells hot", "{it} gets so hot that nobody can hold a hand on it")
DARK: Final[Ways] = ("{it} stays dark", "{it} does not come on")
LIT: Final[Ways] = ("{it} is lit, and it should not be", "{it} shines when it should be dark")
FAINT: Final[Ways] = ("{it} only glows", "{it} is hardly lit")
SILENT: Final[Ways] = ("{it} stays silent", "nothing is heard of {it}")
SOUNDS: Final[Ways] = ("{it} sounds, and there is no reason", "{it} goes off")
TRIPPED: Final[Ways] = ("{it} has gone off", "{it} trips", "{it} is out again")
BEFORE: Final[Ways] = (
    "Yesterday all was well.",
    "It has been so since this morning.",
    "The shift before had no trouble.",
    "Nobody has touched anything, they say.",
)
TASK: Final = "Find the cause and repair it."
_RATING: Final = re.compile(r",? \d[\d.,/ ]*(kW|W|hp|V|A)\b")
"""The rating in what a device does, which nobody speaks of."""


def looks_under(sound: Assembly, faults: Sequence[Fault], halts: Sequence[Halt]) -> Looks:
    """The statuses of devices at the end of each halt. Raises what a run raises, and UnknownTarget."""
    assembly = sound.with_faults(tuple(faults))
    state, looks = initial_state(assembly), list[tuple[str, ...]]()
    for halt in halts:
        frame, state = reached(assembly, state, halt)
        looks.append(seen(assembly, frame))
    return tuple(looks)


@dataclass(frozen=True)
class _Wrong:
    """A device that does otherwise than it should: what it is seen to do, and what it does in a sound circuit."""

    item: Installed
    function: str
    shows: str
    should: str


def work_order(assembly: Assembly, faults: Sequence[Fault], halts: Sequence[Halt]) -> str:
    """What an operator says, and what is to be done. Raises UnknownTarget where nothing is seen to be wrong."""
    items = list(lookers(assembly))
    functions = {device.id: _RATING.sub("", device.function).strip() for device in assembly.circuit.devices}
    found, sound = looks_under(assembly, faults, halts), looks_under(assembly, (), halts)
    for number, halt in enumerate(halts):
        wrong = [
            _Wrong(item, functions.get(item.id, ""), shows, should)
            for item, shows, should in zip(items, found[number], sound[number], strict=True)
            if shows != should
        ]
        if not wrong:
            continue
        told = _told(wrong)
        when = _when(assembly, functions, halt, number == 0)
        before = f" Until then all is as usual ({_quoted(halts[number - 1].text)})." if number else ""
        return f"{_capital(f'{when} {told}'.strip())}.{before} {_one(BEFORE, told)} {TASK}"
    message = "With this fault everything is seen to do as it should: there is nothing that an operator could report."
    raise UnknownTarget(message, (Problem("no_symptom", message),))


def _told(wrong: Sequence[_Wrong]) -> str:
    """What he tells of: motors, then what has tripped, lamps and horns; of the panel where there is nothing else."""
    machines = [_machine(one) for one in wrong if one.item.structure.parts_that(Does.TURNS)]
    tripped = [_one(TRIPPED, one.item.label).format(it=one.item.label) for one in wrong if _has_tripped(one)]
    signals = [_signal(one) for one in wrong if one.item.structure.parts_that(Does.SHOWS)]
    told = [*machines, *tripped, *signals]
    if told:
        return _listed(told)
    return _listed(
        [f"at the panel {one.item.label} shows {_said(one.shows)}, usually {_said(one.should)}" for one in wrong]
    )


def _has_tripped(one: _Wrong) -> bool:
    return _head(one.shows) in ("tripped", "blown") and not one.item.structure.parts_that(Does.TURNS)


def _machine(one: _Wrong) -> str:
    """Of a motor: whether it turns, which way, and how it sounds."""
    shows, should = _head(one.shows), _head(one.should)
    name = f"the {_lower(one.function)}" if one.function else one.item.label
    if tells(one.shows, "too_hot") and not tells(one.should, "too_hot"):
        return _say(HOT, name, one)
    if shows == should or (shows in TURNING and "overloaded" in (shows, should)):
        return _say(DRONES if tells(one.shows, "draws_too_much") or shows == "overloaded" else ROUGH, name, one)
    if shows == "hums":
        return _say(HUMS, name, one)
    if should in TURNING and shows in TURNING:
        return _say(WRONG_WAY, name, one)
    if should in TURNING and shows in COASTING:
        return _say(STOPS, name, one)
    if should in TURNING:
        return _say(STARTS_NOT, name, one)
    if shows in TURNING:
        return _say(RUNS_ON, name, one)
    return f"{name} {_said(one.shows)}, usually {_said(one.should)}"


SIGNALS: Final = {"dark": DARK, "lit": LIT, "glows_faintly": FAINT, "silent": SILENT, "sounds": SOUNDS}


def _signal(one: _Wrong) -> str:
    """Of a lamp, a horn or a meter on the door."""
    ways = SIGNALS.get(_head(one.shows))
    name = _called(one.item.label, one.function)
    return _say(ways, name, one) if ways else f"{name} shows {_said(one.shows)}, usually {_said(one.should)}"


def _when(assembly: Assembly, functions: Mapping[str, str], halt: Halt, first: bool) -> str:
    """When it happens, as he would say it: by the last hand that is laid on."""
    if not halt.hands:
        return "as soon as it is switched on," if first else f"at {_quoted(halt.text)}:"
    _, device, operation, value = halt.hands[-1]
    item = assembly.devices[device]
    style = next(one.style for one in item.kind.operations if one.name == operation)
    name = _called(item.label, functions.get(device, ""))
    if style == "momentary":
        return f"when I hold {name}," if value else f"as soon as I let go of {name},"
    return f"at {_quoted(halt.text)}:"


def _called(label: str, function: str) -> str:
    return f"“{function}” ({label})" if function else label


def _head(status: str) -> str:
    return re.split("[+:]", status, maxsplit=1)[0]


def _say(ways: Ways, name: str, one: _Wrong) -> str:
    return _one(ways, f"{one.item.id}{one.shows}{one.should}").format(it=name)


def _one(ways: Ways, of: str) -> str:
    """One of several ways to say it, by what it is said of."""
    return ways[int.from_bytes(hashlib.sha256(of.encode()).digest()[:4]) % len(ways)]


def _listed(told: Sequence[str]) -> str:
    return told[0] if len(told) == 1 else f"{', '.join(told[:-1])}, and {told[-1]}"


def _said(status: str) -> str:
    return words(status) or "normal"


def _quoted(text: str) -> str:
    return f"“{text}”"


def _lower(text: str) -> str:
    """Without the capital that a name begins with, unless it is of letters: VAT pump stays so."""
    return text if text[1:2].isupper() else text[:1].lower() + text[1:]


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]
