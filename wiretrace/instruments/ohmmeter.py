"""Resistance and continuity: a source of its own, the circuit dead, parallel paths included."""

from dataclasses import dataclass
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.errors import MeasurementRefused, Problem
from wiretrace.instruments.voltmeter import read_between, read_voltage
from wiretrace.network.solve import Solution
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.reach import Standing, reach

BEEPS_UNDER_OHM: Final = 30.0
RANGE_OHM: Final = 60e6
LIVE_FROM_V: Final = 1.0
PASSES: Final = 1e-6
"""Share of the meter's current from which an element belongs to what it measures."""
NEVER: Final = "never measure resistance on a live circuit"


@dataclass(frozen=True)
class Resistance:
    """What an ohmmeter shows. `resistance_ohm` is None when it shows OL."""

    red: End
    black: End
    resistance_ohm: float | None
    display: str
    beeps: bool


def read_resistance(assembly: Assembly, frame: Frame, red: End, black: End) -> Resistance:
    """Direct-current resistance between two terminals, in ohm.

    Raises MeasurementRefused when a probe would stand on something live, UnknownTarget when it
    would stand on nothing.
    """
    a, b = assembly.node(red), assembly.node(black)
    refuse_live(assembly, frame, red, black, NEVER)
    solution = assembly.equations.solve_dead(frame.values)
    if not solution.joined(a, b):
        return Resistance(red, black, None, "OL", False)
    _refuse_fed(assembly, frame, solution, red, black)
    ohm = 0.0 if a == b else solution.thevenin(a, b)[1].real
    if ohm > RANGE_OHM:
        return Resistance(red, black, None, "OL", False)
    return Resistance(red, black, ohm, _display(ohm), ohm < BEEPS_UNDER_OHM)


def refuse_live(assembly: Assembly, frame: Frame, red: End, black: End, rule: str) -> None:
    """Raises MeasurementRefused, with the rule, when a probe stands on something live, or at a voltage to earth.

    Both probes behind one load have no voltage between them, and 230 V to earth: the meter would be put on that.
    """
    reached = reach(assembly, frame)
    for end in (red, black):
        if reached.standing[assembly.node(end)] is Standing.LIVE:
            name = f"{assembly.devices[end.device].designated(end.terminal)}"
            message = f"{name} is live: {rule}."
            raise MeasurementRefused(message, (Problem("live", message, end.device, end.terminal),))
        volts = _to_earth_v(assembly, frame, end)
        if volts > LIVE_FROM_V:
            name = f"{assembly.devices[end.device].designated(end.terminal)}"
            message = f"{name} stands at {volts:.0f} V to earth: {rule}."
            raise MeasurementRefused(message, (Problem("live", message, end.device, end.terminal),))
    if abs(read_voltage(assembly, frame.point, red, black).voltage_v) > LIVE_FROM_V:
        message = f"There is voltage between the probes: {rule}."
        raise MeasurementRefused(message, (Problem("live", message, red.device, red.terminal),))


def _refuse_fed(assembly: Assembly, frame: Frame, dead: Solution, red: End, black: End) -> None:
    """Raises MeasurementRefused when a part of what the meter's current goes through is fed."""
    volts = dead.response(assembly.node(red), assembly.node(black))
    for number, ref in enumerate(assembly.branches):
        if abs(volts[number] * dead.admittance_s[number]) > PASSES:
            value = frame.values[number]
            seen = sum(abs(part.drop_v[number]) for part in frame.point.parts)
            drives = value is not None and (value.emf_v != 0 or value.emf_dc_v != 0 or value.tone is not None)
            if drives or seen > LIVE_FROM_V:
                place = assembly.devices[ref.place].label if ref.place in assembly.devices else ref.place
                message = f"{place}, which the meter's current goes through, is fed: {NEVER}."
                raise MeasurementRefused(message, (Problem("live", message, red.device, red.terminal),))


def _to_earth_v(assembly: Assembly, frame: Frame, end: End) -> float:
    """What a voltmeter would show from a terminal to earth, volts; nothing where there is no earth."""
    ground = assembly.graph.ground
    if ground < 0:
        return 0.0
    return read_between(frame.point, assembly.node(end), ground)


def _display(ohm: float) -> str:
    """Four digits with k or M, as a hand meter shows them."""
    for factor, letter in ((1e6, "M"), (1e3, "k")):
        if ohm >= 0.9995 * factor:
            return f"{ohm / factor:.4g} {letter}"
    return f"{ohm:.4g}" if ohm >= 0.1 else f"{ohm:.2f}"
