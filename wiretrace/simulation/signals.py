"""What the branches of one device see, worked out only for those that it looks at."""

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Protocol

from wiretrace.catalogue.machinery.element import Heard, Signal
from wiretrace.network.solve import Flow


class Tones(Protocol):
    """What flows at a frequency of its own."""

    @property
    def frequency_hz(self) -> float:
        """That frequency."""

    @property
    def flow(self) -> Flow:
        """What flows."""


class Flows(Protocol):
    """What flows: alternating, and direct where any source drives it."""

    @property
    def ac(self) -> Flow:
        """The alternating part."""

    @property
    def dc(self) -> Flow | None:
        """The direct part."""

    @property
    def tones(self) -> Sequence[Tones]:
        """The parts of other frequencies than that of the supplies."""


class BranchSignals(Mapping[str, Signal]):
    """The signals of one device by branch name. `indexes` are the numbers of its branches."""

    __slots__ = ("_indexes", "_point")

    def __init__(self, point: Flows, indexes: Mapping[str, int]) -> None:
        self._point = point
        self._indexes = indexes

    def __getitem__(self, name: str) -> Signal:
        index = self._indexes[name]
        ac, dc = self._point.ac, self._point.dc
        direct = (0.0, 0.0) if dc is None else (dc.volts[index].real, dc.amperes[index].real)
        if not self._point.tones:
            return Signal(ac.volts[index], ac.amperes[index], *direct)
        tones = [Heard(one.frequency_hz, one.flow.volts[index], one.flow.amperes[index]) for one in self._point.tones]
        return Signal(ac.volts[index], ac.amperes[index], *direct, tuple(tones))

    def __iter__(self) -> Iterator[str]:
        return iter(self._indexes)

    def __len__(self) -> int:
        return len(self._indexes)


class InnerSignals(Mapping[str, Signal]):
    """The signals of a device of which some elements have a fault inside: an element sees what is left for it.

    `series_ohm` is the resistance of a joint within an element, infinite where it is open: then it sees nothing.
    """

    __slots__ = ("_seen", "_series_ohm")

    def __init__(self, seen: Mapping[str, Signal], series_ohm: Mapping[str, float]) -> None:
        self._seen = seen
        self._series_ohm = series_ohm

    def __getitem__(self, name: str) -> Signal:
        signal, ohm = self._seen[name], self._series_ohm.get(name, 0.0)
        if math.isinf(ohm):
            return Signal(0j, 0j)
        left = signal.voltage_v - ohm * signal.current_a
        tones = tuple(one._replace(voltage_v=one.voltage_v - ohm * one.current_a) for one in signal.tones)
        return Signal(left, signal.current_a, signal.dc_v - ohm * signal.dc_a, signal.dc_a, tones)

    def __iter__(self) -> Iterator[str]:
        return iter(self._seen)

    def __len__(self) -> int:
        return len(self._seen)
