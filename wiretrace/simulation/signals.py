"""What the branches of one device see, worked out only for those that it looks at."""

from collections.abc import Iterator, Mapping

from wiretrace.catalogue.element import Signal
from wiretrace.network.solve import OperatingPoint


class BranchSignals(Mapping[str, Signal]):
    """The signals of one device by branch name. `indexes` are the numbers of its branches."""

    __slots__ = ("_indexes", "_point")

    def __init__(self, point: OperatingPoint, indexes: Mapping[str, int]) -> None:
        self._point = point
        self._indexes = indexes

    def __getitem__(self, name: str) -> Signal:
        index = self._indexes[name]
        ac, dc = self._point.ac, self._point.dc
        if dc is None:
            return Signal(ac.volts[index], ac.amperes[index])
        return Signal(ac.volts[index], ac.amperes[index], dc.volts[index].real, dc.amperes[index].real)

    def __iter__(self) -> Iterator[str]:
        return iter(self._indexes)

    def __len__(self) -> int:
        return len(self._indexes)
