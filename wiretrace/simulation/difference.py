"""What the same hands did to a sound circuit and do to one with faults: where the two part first."""

from collections.abc import Sequence
from dataclasses import dataclass

from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, initial_state, run
from wiretrace.simulation.state import Action


@dataclass(frozen=True)
class Difference:
    """A device that says something else from a moment on, for the first time."""

    at_us: int
    device: str
    sound: str
    faulty: str


def differences(sound: Assembly, faulty: Assembly, actions: Sequence[Action], until_us: int) -> list[Difference]:
    """Devices that come to say something else, each once, the first first.

    Both circuits are put under power at 0 and worked by the same hands. Times at which one of them is a millisecond
    behind count: an armature that moves later is a difference. Raises what `run` raises.
    """
    courses = [run(assembly, initial_state(assembly), actions, until_us).frames for assembly in (sound, faulty)]
    times = sorted({frame.state.time_us for frames in courses for frame in frames})
    found: dict[str, Difference] = {}
    places = [0, 0]
    for time_us in times:
        places = [_holding(frames, place, time_us) for frames, place in zip(courses, places, strict=True)]
        one, other = (frames[place].views for frames, place in zip(courses, places, strict=True))
        for name in one.keys() - found.keys():
            if (one[name].status, one[name].active) != (other[name].status, other[name].active):
                found[name] = Difference(time_us, name, one[name].says, other[name].says)
    order = list(sound.devices)
    return sorted(found.values(), key=lambda one: (one.at_us, order.index(one.device)))


def _holding(frames: Sequence[Frame], place: int, time_us: int) -> int:
    """The frame that holds at a time, looked for from one that held before."""
    while place + 1 < len(frames) and frames[place + 1].state.time_us <= time_us:
        place += 1
    return place
