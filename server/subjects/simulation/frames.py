"""The instants that this process solved last: who probes what was just shown need not have it solved again."""

from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final
from weakref import ReferenceType, ref

from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, checked_state, frame_of
from wiretrace.simulation.state import State

MOST_BYTES: Final = 30_000_000
BYTES_EACH: Final = 2_000
"""Memory of a frame for each node and branch, its factors included, as measured."""


@dataclass(frozen=True)
class _Kept:
    """A frame of an assembly, which it does not keep alive, and the memory that it takes."""

    of: ReferenceType[Assembly]
    frame: Frame
    size_bytes: int


class Frames:
    """Frames used last, up to `most_bytes` in all."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._most_bytes = most_bytes
        self._known: OrderedDict[tuple[int, int], _Kept] = OrderedDict()

    def keep(self, assembly: Assembly, frames: Iterable[Frame]) -> None:
        """Remember frames of an assembly, the last one longest."""
        for frame in frames:
            key = id(assembly), frame.state.time_us
            self._known[key] = _Kept(ref(assembly), frame, _size(assembly))
            self._known.move_to_end(key)
        while len(self._known) > 1 and sum(kept.size_bytes for kept in self._known.values()) > self._most_bytes:
            self._known.popitem(last=False)

    def at(self, assembly: Assembly, state: State) -> Frame:
        """The frame of a state, solved if it is not known. Raises what `checked_state` and `frame_of` raise."""
        known = self._known.get((id(assembly), state.time_us))
        if known is not None and known.of() is assembly and known.frame.state == state:
            return known.frame
        frame = frame_of(assembly, checked_state(assembly, state))
        self.keep(assembly, (frame,))
        return frame


def _size(assembly: Assembly) -> int:
    return BYTES_EACH * (len(assembly.nodes) + len(assembly.branches))
