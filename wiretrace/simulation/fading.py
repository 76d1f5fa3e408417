"""What a meter sees of voltages that die away by themselves, such as the residual voltage of a motor that coasts.

Devices do not act on them: they are gone before an armature has moved, or nothing hangs on them. So a run knows nothing
of them, and they are worked out where somebody measures.
"""

from collections.abc import Iterator
from dataclasses import replace
from typing import Final

from wiretrace.catalogue.machinery.element import Tone
from wiretrace.network.point import AtFrequency
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, Trajectory, passed
from wiretrace.simulation.state import State

SHOWN_FROM_V: Final = 0.5
"""RMS volts of such a source below which nobody sees it."""
STEP_US: Final = 40_000
"""After which time a meter that stays where it is first shows another figure."""
LONGER: Final = 1.1
"""Times that each next one takes: a rotor's voltage is gone in a second, a capacitor's in minutes."""
MOST_STEPS: Final = 100


def sources(assembly: Assembly, state: State) -> dict[int, Tone]:
    """The voltages that are left in a state, by the number of the branch that they lie in."""
    params = assembly.values.params(state.time_us)
    return {
        assembly.branch_index(item.id, branch): tone
        for item in assembly.fading
        for branch, tone in item.kind.fading(params[item.id], state.devices[item.id]).items()
        if abs(tone.emf_v) >= SHOWN_FROM_V
    }


def metered(assembly: Assembly, frame: Frame) -> Frame:
    """The frame as a meter finds it: with what is left of such voltages, worked out when it is asked for."""
    tones = sources(assembly, frame.state) if assembly.fading else {}
    if not tones:
        return frame

    def asked() -> tuple[AtFrequency, ...]:
        return assembly.equations.toned(frame.values, tones)

    return replace(frame, point=replace(frame.point, asked=asked))


def watched(assembly: Assembly, trajectory: Trajectory) -> Iterator[Frame]:
    """The frames of a run as a meter finds them, and some in between while such a voltage dies away."""
    ends = (*(frame.state.time_us for frame in trajectory.frames[1:]), trajectory.end.time_us)
    for frame, end_us in zip(trajectory.frames, ends, strict=True):
        now = metered(assembly, frame)
        yield now
        at_us = float(frame.state.time_us)
        for step in range(MOST_STEPS):
            at_us += STEP_US * LONGER**step
            if now.point is frame.point or at_us >= end_us:
                break
            now = metered(assembly, replace(frame, state=passed(assembly, frame, round(at_us))))
            yield now
