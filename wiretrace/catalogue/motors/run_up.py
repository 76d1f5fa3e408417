"""From torque to speed: acceleration over the whole range of speeds, and time along it.

Speeds are shares of the synchronous speed, positive with the field of U-V-W. The acceleration is
taken at fixed speeds, close together near both synchronous speeds where the torque is steep, and is
straight in between; so time follows exactly (``dw/dt`` linear in ``w``), and a run that is cut in two comes out
the same as one that is not.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from wiretrace.catalogue.motors.machine import Machine

Floats = NDArray[np.float64]

_SLIPS: Final = np.concatenate([[0.0], np.geomspace(0.001, 0.2, 40), np.linspace(0.2, 1.0, 17)[1:]])
_BEYOND: Final = np.concatenate([1 + np.geomspace(0.02, 0.2, 8), np.linspace(1.3, 2.2, 10), [3, 5, 10, 30, 100, 1000]])
"""Far beyond: a converter that begins at a low frequency on a motor which still turns."""
SPEEDS: Final[Floats] = np.concatenate([-_BEYOND[::-1], _SLIPS - 1, (1 - _SLIPS)[::-1], _BEYOND])
"""Where the acceleration is known; standstill stands there twice, as the end of either direction."""

ZERO: Final = int(np.searchsorted(SPEEDS, 0.0))
"""Index of standstill as the end of turning backward; the next is standstill as the start of turning forward."""

MARKS: Final = (0.15, 0.4, 0.62, 0.78, 0.89)
"""Speeds at which the impedance of a motor that runs up or down is taken anew."""

_WAY: Final = (*(-mark for mark in MARKS), 0.0, *MARKS)

NEAR: Final = 0.012
"""Distance to the final speed from which that is used."""

FRICTION: Final = 0.02
"""Torque of bearings and fan, as a share of the rated torque."""

_SPEEDS: Final[Sequence[float]] = SPEEDS.tolist()
_FORWARD: Final = np.arange(len(SPEEDS)) > ZERO


@dataclass(frozen=True)
class Load:
    """What the motor drives. Torques in newton metres, inertia in kilogram square metres."""

    kind: str
    torque_nm: float
    friction_nm: float
    rated_speed: float
    inertia_kgm2: float


@dataclass(frozen=True, eq=False)
class Drive:
    """A machine with its load. Torques of both at SPEEDS are worked out once; compared by identity, which is quick."""

    machine: Machine
    load: Load

    @cached_property
    def torques(self) -> tuple[Floats, Floats]:
        """Torque for each volt squared of positive and of negative sequence, newton metres."""
        forward = np.array([self.machine.torque_nm_per_v2(1 - speed) for speed in _SPEEDS])
        return forward, -forward[::-1]

    @cached_property
    def braking(self) -> Floats:
        """Torque for each ampere squared of direct current at SPEEDS, newton metres, against turning."""
        size = np.array([self.machine.brake_nm_per_a2(speed) for speed in _SPEEDS])
        return np.where(_FORWARD, -size, size)

    @cached_property
    def load_torque(self) -> Floats:
        """Torque of load and friction against turning, newton metres."""
        load = self.load
        if load.kind == "fan":
            size = load.friction_nm + max(0.0, load.torque_nm - load.friction_nm) * (SPEEDS / load.rated_speed) ** 2
        else:
            constant = load.torque_nm if load.kind == "constant" else 0.0
            size = np.full(len(SPEEDS), max(load.friction_nm, constant))
        return np.where(_FORWARD, size, -size)


@dataclass(frozen=True)
class Acceleration:
    """Rate of change of speed at SPEEDS, in shares of synchronous speed a second."""

    rate: Sequence[float]

    def final(self, speed: float) -> float:
        """The speed that it comes to from here: where the rate is zero, or the end of the range."""
        cell = self._cell(speed)
        while cell is not None:
            root = self._root(cell, speed)
            if root is not None:
                return root
            speed, cell = self._leave(cell, speed)
        return speed

    def after(self, speed: float, seconds: float) -> tuple[float, float]:
        """Speed after some seconds, and the mean of its size until then."""
        cell, left, turned = self._cell(speed), seconds, 0.0
        while cell is not None and left > 0:
            rate, slope = self._at(cell, speed)
            edge = _SPEEDS[cell + 1] if rate > 0 else _SPEEDS[cell]
            needed = _time(edge - speed, rate, slope)
            if needed is None or needed > left:
                end = speed + (rate * left if slope == 0 else rate / slope * math.expm1(slope * left))
                turned += _way(speed, end, rate, slope, left)
                return end, abs(turned) / seconds
            left -= needed
            turned += _way(speed, edge, rate, slope, needed)
            speed, cell = self._leave(cell, speed)
        turned += speed * left
        return speed, abs(turned) / seconds if seconds else abs(speed)

    def seconds_to(self, speed: float, target: float) -> float | None:
        """Seconds until it reaches `target`; None when it never does."""
        total, cell = 0.0, self._cell(speed)
        while cell is not None:
            rate, slope = self._at(cell, speed)
            edge = _SPEEDS[cell + 1] if rate > 0 else _SPEEDS[cell]
            inside = min(speed, edge) <= target <= max(speed, edge)
            needed = _time((target if inside else edge) - speed, rate, slope)
            if needed is None:
                return None
            total += needed
            if inside:
                return total
            speed, cell = self._leave(cell, speed)
        return None

    def _cell(self, speed: float) -> int | None:
        """The cell it moves in from here; None where it stays."""
        if speed == 0:
            if self.rate[ZERO + 1] > 0:
                return ZERO + 1
            return ZERO - 1 if self.rate[ZERO] < 0 else None
        index = int(np.searchsorted(SPEEDS, speed, side="right")) - 1
        index = min(max(index, 0), len(_SPEEDS) - 2)
        if speed == _SPEEDS[index] and self.rate[index] < 0:
            index -= 1
        return index if index >= 0 and self._at(index, speed)[0] != 0 else None

    def _at(self, cell: int, speed: float) -> tuple[float, float]:
        """Rate at a speed within a cell, and its slope."""
        low, high = _SPEEDS[cell], _SPEEDS[cell + 1]
        slope = (self.rate[cell + 1] - self.rate[cell]) / (high - low)
        return self.rate[cell] + slope * (speed - low), slope

    def _root(self, cell: int, speed: float) -> float | None:
        """Where in this cell, ahead of `speed`, the rate comes to zero."""
        rate, slope = self._at(cell, speed)
        if slope >= 0:
            return None  # Where the rate grows with the speed its zero is one that the motor moves away from.
        root = speed - rate / slope
        return root if _SPEEDS[cell] <= root <= _SPEEDS[cell + 1] else None

    def _leave(self, cell: int, speed: float) -> tuple[float, int | None]:
        """The edge through which it leaves a cell, and the next cell; standstill holds it if the rates do."""
        up = self._at(cell, speed)[0] > 0
        edge = _SPEEDS[cell + 1] if up else _SPEEDS[cell]
        if edge == 0:
            goes_on = self.rate[ZERO + 1] > 0 if up else self.rate[ZERO] < 0
            return 0.0, (ZERO + 1 if up else ZERO - 1) if goes_on else None
        beyond = cell + 1 if up else cell - 1
        return edge, beyond if 0 <= beyond < len(_SPEEDS) - 1 else None


@lru_cache(maxsize=1024)
def acceleration(drive: Drive, positive_v: float, negative_v: float, direct_a: float = 0.0) -> Acceleration:
    """Acceleration under steady winding voltages of both sequences, volts, and direct current, amperes."""
    forward, backward = drive.torques
    driving = forward * positive_v**2 + backward * negative_v**2
    if direct_a:
        driving = driving + drive.braking * direct_a**2
    return accelerated(drive, driving)


def accelerated(drive: Drive, driving_nm: Floats) -> Acceleration:
    """Acceleration under a driving torque at each of SPEEDS, newton metres."""
    sync_rad_s = drive.machine.plate.sync_rpm * math.pi / 30
    rate = (driving_nm - drive.load_torque) / (drive.load.inertia_kgm2 * sync_rad_s)
    return Acceleration(rate.tolist())


def next_mark(speed: float, final: float) -> float:
    """Where the impedance is taken anew on the way to `final`: a mark, or most of the way if that is nearer."""
    most = speed + 0.65 * (final - speed)
    if final > speed:
        return min([mark for mark in _WAY if mark > speed + 1e-6] + [max(most, speed + NEAR)])
    return max([mark for mark in _WAY if mark < speed - 1e-6] + [min(most, speed - NEAR)])


def _way(speed: float, end: float, rate: float, slope: float, seconds: float) -> float:
    """Integral of the speed over the seconds from one to the other, under a rate that changes with it by `slope`."""
    if abs(slope * seconds) < 1e-6:
        return (speed + end) / 2 * seconds
    return speed * seconds + (end - speed - rate * seconds) / slope


def _time(way: float, rate: float, slope: float) -> float | None:
    """Seconds for a way under a rate that changes with it by `slope`; None when it never gets there."""
    if way == 0:
        return 0.0
    if abs(slope * way) < 1e-9 * abs(rate):
        return way / rate
    growth = 1 + slope * way / rate
    return math.log(growth) / slope if growth > 0 else None
