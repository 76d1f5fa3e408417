"""Times and currents from the very models that the simulation runs: overload relay, breaker, fuse, start, cable."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Final

import numpy as np

from wiretrace.catalogue.machinery import thermal
from wiretrace.catalogue.motors.run_up import FRICTION, SPEEDS, Acceleration, Drive, Load, accelerated
from wiretrace.catalogue.protection import fuses
from wiretrace.catalogue.protection.switchgear import Breaker
from wiretrace.sizing.plate import Plate
from wiretrace.sizing.starting import Way, way_of

Points = tuple[tuple[float, float], ...]
NEAR_FULL: Final = 0.97
"""Share of the rated speed at which a start counts as over."""
CHANGE_OVER: Final = 0.8
"""The same in star, where it is changed over to delta."""
LONGEST_S: Final = 10_000.0
STEPS: Final = 60
"""In which a start is followed to see what trips on it."""


def overload_trips_s(trip_class: str, times: float, heat: float = 0.0) -> float | None:
    """Seconds in which an overload relay trips at a multiple of its dial, from a heat; None for never."""
    state = {"heat_1": heat, "heat_2": heat, "heat_3": heat}
    return thermal.seconds_to_trip(state, [times**2] * 3, thermal.tau_s(trip_class))


def breaker_trips_s(at_once_times: float, times: float) -> float | None:
    """Seconds in which a breaker opens at a multiple of its rating, from cold; None for never."""
    if times >= at_once_times:
        return Breaker.CLEARING_US / 1e6
    if times**2 <= Breaker.TRIP_HEAT:
        return None
    return Breaker.TAU_S * math.log(times**2 / (times**2 - Breaker.TRIP_HEAT))


def fuse_clears_s(rating_a: float, current_a: float) -> float | None:
    """Seconds in which a gG link clears; None for never."""
    return fuses.clears_in_s(fuses.melting_curve(fuses.GENERAL, rating_a), current_a)


@dataclass(frozen=True)
class Start:
    """How a motor starts, by the way that its plate tells (`sizing.starting`)."""

    plate: Plate

    @property
    def way(self) -> Way:
        return way_of(self.plate)

    @property
    def first_a(self) -> float:
        """Line current at the first moment, amperes."""
        return self.way.line(self.plate) * self.plate.locked_ratio * self.plate.current_a

    @cached_property
    def drive(self) -> Drive | None:
        machine = self.plate.machine
        if machine is None:
            return None
        torque = machine.plate.torque_nm
        rated = machine.plate.speed_rpm / machine.plate.sync_rpm
        load = Load("fan", 0.9 * torque, FRICTION * torque, rated, self.plate.inertia_kgm2)
        return Drive(machine, load)

    @cached_property
    def rise(self) -> Acceleration | None:
        """How it comes up to speed; None where nothing is known of the machine."""
        drive = self.drive
        if drive is None:
            return None
        held = self.way.holds_torque
        if held is not None:
            torque = held(self.plate) * drive.machine.plate.torque_nm
            return accelerated(drive, np.where(SPEEDS < 1.0, torque, 0.0))
        volts = np.array([self.winding_v(drive, float(speed)) for speed in SPEEDS])
        return accelerated(drive, drive.torques[0] * volts**2)

    def winding_v(self, drive: Drive, speed: float) -> float:
        """Voltage of a winding at a speed of the start, volts: a share of the rated one, or what holds the current."""
        plate = drive.machine.plate
        if self.way.holds_current:
            held = self.plate.start_limit * plate.winding_a * abs(drive.machine.impedance_ohm(1 - speed))
            return min(plate.winding_v, held)
        return self.way.winding(self.plate) * plate.winding_v

    @cached_property
    def seconds(self) -> float | None:
        """How long it takes up to nearly full speed; None where it never gets there, or nothing is known."""
        if self.plate.start_s is not None:
            return self.plate.start_s
        drive, rise = self.drive, self.rise
        if drive is None or rise is None:
            return None
        target = (CHANGE_OVER if self.way.changes_over else NEAR_FULL) * drive.load.rated_speed
        return rise.seconds_to(0.0, target)

    def current_a(self, seconds: float) -> float:
        """Line current at a moment of the start, amperes."""
        whole, drive, rise = self.seconds, self.drive, self.rise
        if whole is None or drive is None or rise is None or self.plate.start_s is not None:
            return self.first_a if whole is None or seconds < whole else self.plate.current_a
        if self.way.holds_torque is not None:
            return self.first_a
        speed, _ = rise.after(0.0, seconds)
        winding = self.winding_v(drive, speed) / abs(drive.machine.impedance_ohm(1 - speed))
        return self.way.transforms(self.plate) * winding / drive.machine.plate.winding_a * self.plate.current_a

    @property
    def relay_times(self) -> float:
        """What the overload relay carries of the line's current while it starts."""
        return self.way.relay_start(self.plate)

    @cached_property
    def course(self) -> tuple[float, ...]:
        """Line current in the middle of each of so many steps of the start, amperes; none where it never gets up."""
        step = (self.seconds or 0.0) / STEPS
        return tuple(self.current_a((number + 0.5) * step) for number in range(STEPS)) if step else ()

    def points(self) -> Points:
        """The start as points of current and time, for a chart."""
        whole = self.seconds
        if whole is None:
            return ()
        marks = np.geomspace(0.01, whole, 40)
        return (*((self.current_a(float(at)), float(at)) for at in marks), (self.plate.current_a, whole * 1.05))


def overload_points(trip_class: str, dial_a: float) -> Points:
    """Current and time of an overload relay, from cold."""
    return _points(1.16, 15.0, dial_a, lambda times: overload_trips_s(trip_class, times))


def band_points(trip_class: str, dial_a: float) -> tuple[Points, Points]:
    """The band of a class: from hot, carrying its dial, to cold."""
    hot = _points(1.16, 15.0, dial_a, lambda times: overload_trips_s(trip_class, times, 1.0))
    return hot, overload_points(trip_class, dial_a)


def breaker_points(at_once_a: float, rating_a: float) -> Points:
    """Current and time of a breaker, from cold."""
    return _points(1.31, 40.0, rating_a, lambda times: breaker_trips_s(at_once_a / rating_a, times))


def thermal_limit_points(plate: Plate) -> Points:
    """What a motor stands: the heat of twice the time of its class's limit; a cage motor stands a stall of some 20 s.

    In inverse proportion to the square of the current from the stall on, and the same time constant below
    (IEC 60034-1, 9.3.3: 1.5 times the rated current for two minutes).
    """
    tau = 120.0 / math.log(1.5**2 / (1.5**2 - LIMIT_HEAT))
    return _points(1.13, plate.locked_ratio * 1.2, plate.current_a, lambda times: _limit(tau, times))


LIMIT_HEAT: Final = 1.12**2


def _limit(tau: float, times: float) -> float | None:
    return tau * math.log(times**2 / (times**2 - LIMIT_HEAT)) if times**2 > LIMIT_HEAT else None


def cable_points(area_mm2: float, k: float) -> Points:
    """What a cable withstands for a short time, k2 S2 = I2 t (IEC 60364-4-43:2008, 434.5.2)."""
    return tuple((k * area_mm2 / math.sqrt(at), at) for at in (0.01, 0.1, 1.0, 5.0))


def _points(low: float, high: float, unit_a: float, time_at: Callable[[float], float | None]) -> Points:
    found = []
    for times in np.geomspace(low, high, 120):
        seconds = time_at(float(times))
        if seconds is not None and seconds <= LONGEST_S:
            found.append((float(times) * unit_a, seconds))
    return tuple(found)


def trips_on_start(trip_class: str, dial_a: float, start: Start) -> float | None:
    """Seconds after which an overload relay trips on a cold start; None where it holds.

    The relay's own heating along the current of the start, in small steps.
    """
    return _heated(start, dial_a / start.relay_times, thermal.tau_s(trip_class), thermal.TRIP_HEAT)


def breaker_on_start(at_once_a: float, rating_a: float, start: Start) -> float | None:
    """Seconds after which a breaker that opens at once from a current on opens on a cold start; None where it holds."""
    if start.current_a(0.0) >= at_once_a:
        return Breaker.CLEARING_US / 1e6
    return _heated(start, rating_a, Breaker.TAU_S, Breaker.TRIP_HEAT)


def _heated(start: Start, unit_a: float, tau: float, trip: float) -> float | None:
    whole = start.seconds
    if whole is None:
        # It never gets up: the relay must see to that.
        times = start.current_a(0.0) / unit_a
        return tau * math.log(times**2 / (times**2 - trip)) if times**2 > trip else None
    heat, step = 0.0, whole / STEPS
    for number, amperes in enumerate(start.course):
        final = (amperes / unit_a) ** 2
        after = final + (heat - final) * math.exp(-step / tau)
        if after >= trip:
            return number * step + tau * math.log((final - heat) / (final - trip))
        heat = after
    return None


@lru_cache(maxsize=64)
def start_of(plate: Plate) -> Start:
    """The start as it is made; the same for every school."""
    return Start(plate)


def mean_heat(currents: Sequence[tuple[float, float]]) -> float:
    """Heat that currents, each for so many seconds, come to when they are repeated without end."""
    whole = sum(seconds for _, seconds in currents)
    return sum(times**2 * seconds for times, seconds in currents) / whole
