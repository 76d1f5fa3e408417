"""Which unknowns the equations have, chosen so that nothing is lost in rounding.

A circuit holds closed contacts of a hundredth of an ohm beside insulation of a million
million. Written in plain node potentials, the small admittances would drown in the rounding
of the large ones. So the unknowns are offsets: nodes joined by large admittances form a
cluster, and each node is written relative to the root of its cluster; clusters joined by the
next smaller admittances form larger clusters, and so on. The offsets across a large admittance
and the potentials of whole clusters then never meet in one difference.

The potential of a node is the sum of its own offset and those of its roots. Each conducting
part of the network (an island) has one root that is zero by definition.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Final

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
Complexes = NDArray[np.complex128]

LEVELS_S: Final = (500.0, 1.0, 1e-4, 1e-8, 0.0)
"""Admittance in siemens above which a branch joins its ends at each level."""

_FALLING: Final = -np.array(LEVELS_S)


@dataclass(frozen=True)
class Network:
    """Branches between nodes 0 .. node_count-1. `ground` is preferred as the zero, -1 for none.

    `pair_to` and `pair_from` list pairs of branches on one core: a voltage across the second
    drives a current in the first. They are not joined by it: a transformer separates.
    """

    node_count: int
    a: Ints
    b: Ints
    ground: int = -1
    pair_to: Ints = field(default_factory=lambda: np.empty(0, dtype=np.intp))
    pair_from: Ints = field(default_factory=lambda: np.empty(0, dtype=np.intp))


@dataclass(frozen=True)
class Topology:
    """Unknowns of a network for one pattern of branch levels.

    `columns[k, node]` is the unknown of the node's level-k offset, `size` where it is zero by
    definition. `stamp_*` lists the entries that each conducting branch, and after the branches
    each pair, adds to the matrix.
    """

    size: int
    island: Ints
    columns: Ints
    level: Ints
    stamp_index: Ints
    stamp_source: Ints
    stamp_sign: Floats
    ends_index: Ints
    ends_sign: Floats

    @property
    def size_bytes(self) -> int:
        """Memory that it takes."""
        return sum(array.nbytes for array in vars(self).values() if isinstance(array, np.ndarray))


def branch_levels(admittance_s: Complexes) -> Ints:
    """Level at which each branch joins its ends: 0 for the largest; len(LEVELS_S) when open."""
    level: Ints = np.searchsorted(_FALLING, -np.abs(admittance_s), side="right").astype(np.intp)
    return level


def topology(network: Network, level: Ints) -> Topology:
    """Choose the unknowns for branches of these levels (see `branch_levels`)."""
    count = network.node_count
    roots = [np.arange(count, dtype=np.intp), *_roots(network, level)]
    labels: dict[int, int] = {}
    island: Ints = np.array([labels.setdefault(root, len(labels)) for root in roots[-1].tolist()], dtype=np.intp)
    own = np.full(count, -1, dtype=np.intp)
    below_zero = np.unique(roots[-1])
    own[np.setdiff1d(np.arange(count), below_zero)] = np.arange(count - len(below_zero))
    size = count - len(below_zero)
    columns = np.stack([np.where(here == above, size, own[here]) for here, above in pairwise(roots)]).astype(np.intp)
    return Topology(size, island, columns, level, *_stamps(network, columns, level, size))


def _roots(network: Network, level: Ints) -> Iterator[Ints]:
    """Root node of every node's cluster at each level, as branches of that level and below join their ends.

    The root is the node of lowest rank, the ground below all others, so that the root of a larger cluster is the root
    of one of the clusters inside it. (Sets that are joined one after the other: Tarjan 1975. The graph routines of the
    library take ten times as long for networks of this size, nearly all of it for preparing them.)
    """
    parent = list(range(network.node_count))
    ground = network.ground

    def root(node: int) -> int:
        while parent[node] != node:
            parent[node] = parent[parent[node]]
            node = parent[node]
        return node

    for number in range(len(LEVELS_S)):
        joins = np.flatnonzero(level == number)
        for one, other in zip(network.a[joins].tolist(), network.b[joins].tolist(), strict=True):
            low, high = root(one), root(other)
            if high == ground or (low > high and low != ground):
                low, high = high, low
            parent[high] = low
        yield np.array([root(node) for node in range(network.node_count)], dtype=np.intp)


def _stamps(network: Network, columns: Ints, level: Ints, size: int) -> tuple[Ints, Ints, Floats, Ints, Floats]:
    """Matrix entries of every conducting branch, and its own incidence.

    A branch of level l has both ends under the same root from level l upwards; those
    offsets cancel exactly and are left out instead of being subtracted.
    """
    depth = len(LEVELS_S)
    kept = np.arange(depth)[:, None] <= level[None, :]
    ends = np.concatenate([np.where(kept, columns[:, network.a], size), np.where(kept, columns[:, network.b], size)])
    sign = np.concatenate([np.ones(depth), -np.ones(depth)])
    to, of = network.pair_to, network.pair_from
    conducting = np.flatnonzero(level < depth)
    coupled = np.flatnonzero((level[to] < depth) & (level[of] < depth))
    rows = np.concatenate([ends[:, conducting], ends[:, to[coupled]]], axis=1)
    cols = np.concatenate([ends[:, conducting], ends[:, of[coupled]]], axis=1)
    source = np.concatenate([conducting, len(level) + coupled])
    index = (rows[:, None, :] * (size + 1) + cols[None, :, :]).reshape(-1)
    used = ((rows[:, None, :] < size) & (cols[None, :, :] < size)).reshape(-1)
    shape = (2 * depth, 2 * depth, len(source))
    signs = np.broadcast_to((sign[:, None] * sign[None, :])[:, :, None], shape).reshape(-1)
    sources = np.broadcast_to(source[None, None, :], shape).reshape(-1)
    return index[used], sources[used], signs[used], ends, sign
