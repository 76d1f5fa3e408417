"""A voltmeter of low impedance that stays where it is put: its own current may operate something."""

from dataclasses import dataclass, replace
from typing import Final

from wiretrace.document.circuit import End
from wiretrace.faults.kinds.terminals import Bridge
from wiretrace.instruments.voltmeter import LOW_IMPEDANCE_OHM, Reading, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, run
from wiretrace.simulation.fading import metered
from wiretrace.simulation.state import State

STAYS_US: Final = 500_000


@dataclass(frozen=True)
class LowReading:
    """What the meter shows once all has come to rest, and the devices that it made say something else."""

    reading: Reading
    operates: tuple[str, ...]


def read_low_impedance(assembly: Assembly, state: State, red: End, black: End) -> LowReading:
    """Put a meter of 3.3 kohm between two terminals in a state and leave it there for half a second.

    Raises UnknownTarget when a probe stands on nothing, and what `run` raises.
    """
    assembly.node(red), assembly.node(black)
    if red == black:
        return LowReading(read_voltage(assembly, frame_of(assembly, state).point, red, black), ())
    # To the circuit the meter is a bridge from probe to probe.
    meter = Bridge(red.device, red.terminal, black, LOW_IMPEDANCE_OHM)
    loaded = assembly.with_faults((*assembly.faults, meter))
    alone = run(assembly, state, (), state.time_us + STAYS_US)
    trajectory = run(loaded, state, (), state.time_us + STAYS_US)
    last, without = trajectory.frames[-1], alone.frames[-1]
    operates = tuple(name for name in assembly.devices if last.views[name].active != without.views[name].active)
    # The meter stands in the solution already; a second one of no consequence reads across it.
    seen = metered(loaded, replace(last, state=trajectory.end))
    return LowReading(read_voltage(loaded, seen.point, red, black, 1e12), operates)
