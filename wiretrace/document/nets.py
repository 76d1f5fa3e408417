"""Potentials: terminals joined by conductors, and the number that each bears."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from wiretrace.document.circuit import Circuit, End


@dataclass(frozen=True)
class Net:
    """One potential: its wire number and the terminals joined by conductors."""

    number: str
    ends: tuple[End, ...]
    conductors: tuple[str, ...]


def nets(circuit: Circuit) -> tuple[Net, ...]:
    """The potentials of a circuit, in the order in which its conductors name them.

    A number that a conductor bears holds for its whole potential; the others are numbered
    1, 2, 3 ... in order, leaving out the numbers already taken.
    """
    leader: dict[End, End] = {}

    def find(end: End) -> End:
        # Every step halves the way for those who come after: thousands of wires may lie on one terminal.
        while (above := leader.setdefault(end, end)) != end:
            leader[end] = end = leader[above]
        return end

    for conductor in circuit.conductors:
        a, b = find(conductor.a), find(conductor.b)
        if a != b:
            leader[b] = a
    ends: dict[End, dict[End, None]] = {}
    conductors: dict[End, list[str]] = {}
    numbers: dict[End, str] = {}
    for conductor in circuit.conductors:
        root = find(conductor.a)
        ends.setdefault(root, {}).update({conductor.a: None, conductor.b: None})
        conductors.setdefault(root, []).append(conductor.id)
        if conductor.number and root not in numbers:
            numbers[root] = conductor.number
    free = _free_numbers(set(numbers.values()))
    return tuple(Net(numbers.get(root) or next(free), tuple(ends[root]), tuple(conductors[root])) for root in ends)


def numbers_by_end(all_nets: Iterable[Net]) -> Mapping[End, str]:
    """The wire number at each terminal that has a conductor."""
    return {end: net.number for net in all_nets for end in net.ends}


def _free_numbers(taken: set[str]) -> Iterator[str]:
    count = 0
    while True:
        count += 1
        if str(count) not in taken:
            yield str(count)
