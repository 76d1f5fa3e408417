"""Chatter: a relay that opens its own coil, found because its state comes back.

The simulation is deterministic, so a discrete state that recurs, again and again after the same time, recurs for as
long as what heats and turns meanwhile lets it. A short period is chatter and a longer one an honest flasher. What heats
and turns is followed over whole periods: each quantity by the change that it makes in one of them; what sees nothing
of the chatter goes on as under steady signals, exactly.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Final

from wiretrace.catalogue.machinery.element import Signal
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.state import State

LONGEST_PERIOD_US: Final = 300_000
"""A contact that comes and goes slower than this is taken to be meant."""
TIMES_SEEN: Final = 4
"""Returns that tell how fast a quantity changes, and how fast that changes."""
FEWEST: Final = 4
"""Periods from which leaping is worth it."""
STRAYS: Final = 0.01
"""Share by which the change of a quantity in a period may be off at the end of a leap."""
LONGEST: Final = 10**15
NEGLIGIBLE: Final = 1e-4
"""Share of a quantity by which it may change unnoticed in one leap."""
MOST_GROWTH: Final = 1.5
"""Factor by which the change of a quantity in a period may have grown at the end of a leap."""

SAME: Final = 1e-9
"""Share of a volt or ampere by which what a device sees may change and count as steady."""

Key = tuple[object, ...]
Seen = Mapping[str, Mapping[str, Signal]]
"""What every device sees, by device and element."""


@dataclass(frozen=True)
class Chatter:
    """Devices that keep changing, since when, how often, and until when this was followed."""

    devices: tuple[str, ...]
    since_us: int
    period_us: int
    until_us: int = 0

    def goes_on(self, until_us: int) -> "Chatter":
        """The same, seen for longer."""
        return replace(self, until_us=until_us)


@dataclass(frozen=True)
class Return:
    """A chatter, and the states at its last returns, a period apart."""

    assembly: Assembly
    chatter: Chatter
    states: Sequence[State]
    laps: Sequence[tuple[State, State]]
    """Every state of the last period, with the one a period before."""
    seen: Sequence[Seen]
    """What the devices saw in each state of the last period, the last one last."""

    def leap(self, until_us: int) -> State | None:
        """The state some whole periods later, not after `until_us`; None where that is not worth it or cannot be told.

        It ends before anything is due that does not come again with each period.
        """
        period_us, last = self.chatter.period_us, self.states[-1]
        most = (until_us - last.time_us) // period_us
        for before, now in self.laps:
            most = min(most, *(_before_due(before, now, device, name) for device, name in _times(now)), most)
        apart = self._apart()
        for device, _, values in self._quantities():
            if device not in apart:
                most = min(most, _steady(values, most))
        if most < FEWEST:
            return None
        devices = {device: dict(state) for device, state in last.devices.items()}
        for device, name, values in self._quantities():
            devices[device][name] = grown(values, most)
        for device, name in _times(last):
            devices[device][name] = _shifted(last.devices[device][name], self.states[-2].devices[device][name], most)
        span_us = most * period_us
        params = self.assembly.values.params(last.time_us)
        for item in self.assembly.evolving:
            if item.id in apart or (item.kind.momentary and self._stands(item.id)):
                evolved = item.kind.evolve(params[item.id], last.devices[item.id], self.seen[-1][item.id], span_us)
                follows = evolved.keys() if item.id in apart else item.kind.momentary
                devices[item.id] |= {name: evolved[name] for name in follows if not name.endswith("_us")}
        return State(last.time_us + span_us, devices)

    def _apart(self) -> set[str]:
        """Devices that see nothing of the chatter: nothing of them switches, and what they see is steady."""
        return {
            item.id
            for item in self.assembly.evolving
            if self._stands(item.id) and all(_same(seen[item.id], self.seen[-1][item.id]) for seen in self.seen)
        }

    def _stands(self, device: str) -> bool:
        """Does nothing of a device switch during a period?"""
        discrete = [
            {n: v for n, v in now.devices[device].items() if not isinstance(v, float) and not n.endswith("_us")}
            for _, now in self.laps
        ]
        return all(state == discrete[0] for state in discrete)

    def _quantities(self) -> Iterator[tuple[str, str, Sequence[float]]]:
        """Quantities that grow, by device and name with what they were at the returns."""
        for device, state in self.states[-1].devices.items():
            momentary = self.assembly.devices[device].kind.momentary
            for name, last in state.items():
                if isinstance(last, float) and name not in momentary:
                    yield device, name, [float(past.devices[device][name] or 0.0) for past in self.states]


@dataclass
class Recurrence:
    """Watches one stretch without actions."""

    _seen: dict[Key, list[int]] = field(default_factory=dict)
    _history: list[tuple[State, Seen]] = field(default_factory=list)

    def seen(self, assembly: Assembly, state: State, signals: Seen) -> Return | None:
        """Note a state and what is seen in it; return the chatter once the same state has come back often enough."""
        self._history.append((state, signals))
        times = self._seen.setdefault(_key(state), [])
        times.append(state.time_us)
        if len(times) < TIMES_SEEN:
            return None
        last = times[-TIMES_SEEN:]
        period_us = last[-1] - last[-2]
        if period_us > LONGEST_PERIOD_US or any(b - a != period_us for a, b in pairwise(last)):
            return None
        since = [past for past, _ in self._history if past.time_us >= last[-2]]
        devices = tuple(
            device_id
            for device_id, item in assembly.devices.items()
            if len({repr(item.kind.values(item.params, past.devices[device_id]).keys()) for past in since}) > 1
        )
        if not devices:
            return None
        by_time = {past.time_us: past for past, _ in self._history}
        lately = [seen for past, seen in self._history if past.time_us >= last[-2]]
        laps = [(by_time.get(past.time_us - period_us, past), past) for past in since if past.time_us > last[-2]]
        chatter = Chatter(devices, times[0], period_us, state.time_us)
        return Return(assembly, chatter, [by_time[time] for time in last], laps, lately)


def _same(one: Mapping[str, Signal], other: Mapping[str, Signal]) -> bool:
    return all(
        abs(one[name].voltage_v - other[name].voltage_v) <= SAME
        and abs(one[name].current_a - other[name].current_a) <= SAME
        and abs(one[name].dc_v - other[name].dc_v) <= SAME
        and abs(one[name].dc_a - other[name].dc_a) <= SAME
        for name in other
    )


def _key(state: State) -> Key:
    """The discrete part of a state, with what is due soon as a distance in time.

    What is due later than any chatter is left out, and so are the times of devices that heat or turn: those drift.
    """

    key: list[object] = []
    for device in state.devices.values():
        drifts = any(isinstance(value, float) for value in device.values())
        for name, value in device.items():
            if isinstance(value, float) or name.endswith("_since_us"):
                continue
            if isinstance(value, int) and name.endswith("_at_us"):
                left = value - state.time_us
                key.append(left if left <= LONGEST_PERIOD_US and not drifts else None)
            else:
                key.append(value)
    return tuple(key)


def _times(state: State) -> Iterator[tuple[str, str]]:
    """Variables that are times, by device and name."""
    for device, variables in state.devices.items():
        yield from ((device, name) for name in variables if name.endswith("_us"))


def _before_due(before: State, now: State, device: str, name: str) -> int:
    """How many periods may pass before something is due that did not come with the last one."""
    last, then = now.devices[device][name], before.devices[device][name]
    if not isinstance(last, int) or last < now.time_us:
        return LONGEST
    if not isinstance(then, int) or before is now:
        return 0
    left, closer = last - now.time_us, then - before.time_us - (last - now.time_us)
    if closer <= 0:
        return LONGEST
    # A fixed time must not be passed; an estimate that comes closer is trusted half way.
    return left // closer - 1 if last == then else left // (2 * closer)


def _steady(values: Sequence[float], most: int) -> int:
    """How many periods the change of a quantity goes on as it does, up to STRAYS, or comes to nothing anyway."""
    changes = [b - a for a, b in pairwise(values)]
    largest = max(abs(change) for change in changes)
    if largest == 0:
        return most
    little = int(min(LONGEST, NEGLIGIBLE * max(1.0, abs(values[-1])) / largest))
    ratios = _ratios(changes)
    if ratios is None:
        return min(most, little)
    if ratios[1] > 1:
        # A change that grows goes on growing only for so long: each factor, however near to 1, is huge in the end.
        most = min(most, max(little, int(math.log(MOST_GROWTH) / math.log(ratios[1]))))
    drift = abs(ratios[1] - ratios[0])
    # A ratio that drifts by so much each period is off by drift n^2 / 2 after n of them.
    return min(most, LONGEST if drift == 0 else max(little, int(math.sqrt(2 * STRAYS / drift))))


def _ratios(changes: Sequence[float]) -> tuple[float, float] | None:
    """How each change compares with the one before; None where they go to and fro or grow out of hand."""
    if 0 in changes:
        return None
    before, ratio = changes[1] / changes[0], changes[2] / changes[1]
    return (before, ratio) if before > 0 and 0 < ratio < MOST_GROWTH else None


def grown(values: Sequence[float], periods: int) -> float:
    """A quantity some periods later: its changes go on in the ratio of the last two."""
    changes = [b - a for a, b in pairwise(values)]
    ratios = _ratios(changes)
    if ratios is None:
        return values[-1]
    ratio = ratios[1]
    if ratio > 1 and periods * math.log(ratio) > math.log(MOST_GROWTH):
        # Changes so small that only rounding tells how they grow: they stay as they are.
        ratio = 1.0
    grown = periods * ratio if abs(ratio - 1) < 1e-12 else ratio * (1 - ratio**periods) / (1 - ratio)
    return values[-1] + changes[2] * grown


def _shifted(last: object, before: object, periods: int) -> int | None:
    """A time some periods later: it stays, or comes again with each."""
    if not isinstance(last, int) or not isinstance(before, int):
        return last if isinstance(last, int) else None
    return last + periods * (last - before)
