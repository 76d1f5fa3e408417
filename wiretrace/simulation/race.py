"""Races: ends that depend on which of two armatures is the faster.

Two armatures that travel at the same time are suspected. The run is made again with the one
slower and with the other slower; when the two runs end with something in another position, the circuit
leaves its end to the wear of two springs.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Final

from wiretrace.catalogue.machinery.structure import DeviceState
from wiretrace.errors import TooManyEvents, UnstableInstant
from wiretrace.faults.kinds.devices import WrongSetting
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, Trajectory, run
from wiretrace.simulation.state import Action, State

SLOWER: Final = 1.6
"""How much slower the one is made: well beyond the spread of one make."""
MOST_PAIRS: Final = 10


@dataclass(frozen=True)
class Race:
    """Two devices on whose speed the end depends, and the devices that end otherwise."""

    devices: tuple[str, str]
    ends: tuple[str, ...]


Slower = dict[str, Assembly]
"""The circuit with one armature slower, by the device: made once where several runs are looked at."""


def find_races(
    assembly: Assembly, state: State, actions: Sequence[Action], until_us: int, slower: Slower | None = None
) -> tuple[Race, ...]:
    """The races of a run. Raises what `run` raises."""
    slower = {} if slower is None else slower
    trajectory = run(assembly, state, actions, until_us)
    found = []
    for pair in suspects(assembly, trajectory)[:MOST_PAIRS]:
        ends = [_end_with(_with_slower(assembly, device, slower), state, actions, until_us, device) for device in pair]
        differ = tuple(name for name in assembly.devices if ends[0].get(name) != ends[1].get(name))
        if differ:
            found.append(Race(pair, differ))
    return tuple(found)


def suspects(assembly: Assembly, trajectory: Trajectory) -> list[tuple[str, str]]:
    """Pairs of armatures that travel at one time."""
    pairs: dict[tuple[str, str], None] = {}
    movers = [item.id for item in assembly.devices.values() if item.kind.racing]
    for frame in trajectory.frames:
        moving = [name for name in movers if frame.state.devices[name]["moves_at_us"] is not None]
        pairs |= dict.fromkeys(combinations(moving, 2))
    return list(pairs)


def _with_slower(assembly: Assembly, device: str, known: Slower) -> Assembly:
    if device not in known:
        item = assembly.devices[device]
        slow = [WrongSetting(device, name, min(200.0, float(item.params[name]) * SLOWER)) for name in item.kind.racing]
        known[device] = assembly.with_faults((*assembly.faults, *slow))
    return known[device]


def _end_with(
    slower: Assembly, state: State, actions: Sequence[Action], until_us: int, device: str
) -> Mapping[str, object]:
    """Where everything stands at the end when one armature is slow; how it fails, if it does."""
    try:
        end = run(slower, state, actions, until_us)
    except (UnstableInstant, TooManyEvents) as error:
        return {device: error.message}
    return {name: _stands(end.frames[-1], end.end.devices[name], name) for name in slower.devices}


def _stands(frame: Frame, device: DeviceState, name: str) -> object:
    """What of a device is worth comparing: where it stands, not when it gets there."""
    discrete = {k: v for k, v in device.items() if not isinstance(v, float) and not k.endswith("_us")}
    return tuple(sorted(discrete.items(), key=lambda pair: pair[0])), frame.views[name].active
