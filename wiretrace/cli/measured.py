"""One instrument read at the end of a run, as text."""

from collections.abc import Callable, Mapping
from functools import partial
from typing import TypeAlias

from wiretrace.cli.arguments import read_end, read_probes
from wiretrace.instruments.clamp_meter import capture_current, display, read_current
from wiretrace.instruments.diode_tester import read_diode
from wiretrace.instruments.low_impedance import read_low_impedance
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.instruments.testers import read_insulation, read_phase_sequence, read_two_pole
from wiretrace.instruments.voltmeter import HIGH_IMPEDANCE_OHM, Coupling, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, Trajectory, frame_of
from wiretrace.simulation.fading import metered

Reader: TypeAlias = Callable[[Assembly, Trajectory, str], str]


def measured(assembly: Assembly, trajectory: Trajectory, instrument: str, where: str) -> str:
    """What the instrument shows there. Raises UnknownTarget, MeasurementRefused, ValueError."""
    return _READERS[instrument](assembly, trajectory, where)


def _last(assembly: Assembly, trajectory: Trajectory) -> Frame:
    return metered(assembly, frame_of(assembly, trajectory.end))


def _volts(ohm: float, coupling: Coupling, assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    ends, frame = read_probes(assembly, where), _last(assembly, trajectory)
    reading = read_voltage(assembly, frame.point, ends.red, ends.black, ohm, coupling)
    unit = "V DC" if reading.coupling is Coupling.DC else "V"
    return f"{reading.display} {unit}" + ("" if reading.joined else " (no return path)")


def _low_volts(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    ends = read_probes(assembly, where)
    seen = read_low_impedance(assembly, trajectory.end, ends.red, ends.black)
    operated = ", ".join(assembly.devices[device].label for device in seen.operates)
    shown = f"{seen.reading.display} V" + ("" if seen.reading.joined else " (no return path)")
    return shown + (f"; its own current operates {operated}" if operated else "")


def _ohms(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    ends = read_probes(assembly, where)
    resistance = read_resistance(assembly, _last(assembly, trajectory), ends.red, ends.black)
    return f"{resistance.display} ohm" + (", beeps" if resistance.beeps else "")


def _diode(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    ends = read_probes(assembly, where)
    seen = read_diode(assembly, _last(assembly, trajectory), ends.red, ends.black)
    return (seen.display if seen.volts is None else f"{seen.display} V") + (", beeps" if seen.beeps else "")


def _amperes(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    return f"{read_current(assembly, _last(assembly, trajectory).point, where.split(',')).display} A"


def _capture(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    kept = capture_current(assembly, trajectory, where.split(","))
    largest = f"largest {display(kept.maximum_a)} A at {kept.maximum_at_us / 1e6:.3f} s"
    return f"start {display(kept.inrush_a)} A, {largest}"


def _two_pole(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    ends = read_probes(assembly, where)
    seen = read_two_pole(assembly, _last(assembly, trajectory).point, ends.red, ends.black)
    return seen.shows + (", live pole at red" if seen.live_pole else "")


def _sequence(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    names = where.split(",")
    if len(names) != 3:
        raise ValueError(f"{where!r} is not of the form TERMINAL,TERMINAL,TERMINAL.")
    one, two, three = (read_end(assembly, name) for name in names)
    return read_phase_sequence(assembly, _last(assembly, trajectory).point, one, two, three).shows


def _insulation(assembly: Assembly, trajectory: Trajectory, where: str) -> str:
    red, black, *volts = where.split(",")
    if len(volts) > 1 or not all(volt.isdigit() for volt in volts):
        raise ValueError(f"{where!r} is not of the form TERMINAL,TERMINAL or TERMINAL,TERMINAL,1000.")
    test_v = int(volts[0]) if volts else 500
    ends = (read_end(assembly, red), read_end(assembly, black))
    found = read_insulation(assembly, _last(assembly, trajectory), *ends, test_v)
    return f"{found.display} at {found.test_v} V" + ("" if found.enough else ", too low")


_READERS: Mapping[str, Reader] = {
    "volts": partial(_volts, HIGH_IMPEDANCE_OHM, Coupling.AUTO),
    "low-volts": _low_volts,
    "ac-volts": partial(_volts, HIGH_IMPEDANCE_OHM, Coupling.AC),
    "dc-volts": partial(_volts, HIGH_IMPEDANCE_OHM, Coupling.DC),
    "ohms": _ohms,
    "amperes": _amperes,
    "capture": _capture,
    "two-pole": _two_pole,
    "sequence": _sequence,
    "diode": _diode,
    "insulation": _insulation,
}
