"""Chatter: a relay that opens its own coil, found because its state comes back.

The simulation is deterministic, so a discrete state that recurs, with everything due at the
same distance, recurs for ever. A short period is chatter and a longer one an honest flasher.
"""

from dataclasses import dataclass, field
from typing import Final

from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.state import State

LONGEST_PERIOD_US: Final = 300_000
"""A contact that comes and goes slower than this is taken to be meant."""

TIMES_SEEN: Final = 3

Key = tuple[object, ...]


@dataclass(frozen=True)
class Chatter:
    """Devices that keep changing, since when, how often, and until when this was followed."""

    devices: tuple[str, ...]
    since_us: int
    period_us: int
    until_us: int = 0


@dataclass
class Recurrence:
    """Watches one stretch without actions. `mute` looks no more: the chatter is known."""

    mute: bool = False
    _seen: dict[Key, list[int]] = field(default_factory=dict)
    _history: list[State] = field(default_factory=list)

    def seen(self, assembly: Assembly, state: State) -> Chatter | None:
        """Note a state; return the chatter once the same state has come back often enough."""
        if self.mute:
            return None
        self._history.append(state)
        times = self._seen.setdefault(_key(state), [])
        times.append(state.time_us)
        if len(times) < TIMES_SEEN or times[-1] - times[-2] > LONGEST_PERIOD_US:
            return None
        since = [past for past in self._history if past.time_us >= times[-2]]
        devices = tuple(
            device_id
            for device_id, item in assembly.devices.items()
            if len({_told_value(item.kind.values(item.params, past.devices[device_id])) for past in since}) > 1
        )
        if not devices:
            return None
        return Chatter(devices, times[0], times[-1] - times[-2])


def _told_value(values: object) -> str:
    return repr(values)


def _key(state: State) -> Key:
    """The discrete part of a state, with what is due soon as a distance in time.

    What is due later than any chatter (an overload that heats) is left out: it drifts.
    """

    def distance(name: str, value: object) -> object:
        if not (name.endswith("_at_us") and isinstance(value, int)):
            return value
        left = value - state.time_us
        return left if left <= LONGEST_PERIOD_US else None

    return tuple(
        (device_id, name, distance(name, value))
        for device_id, device in state.devices.items()
        for name, value in device.items()
        if not isinstance(value, float)
    )
