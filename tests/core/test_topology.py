"""The clusters of a network, beside those that a graph library finds."""

import numpy as np
import pytest
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from wiretrace.network.topology import LEVELS_S, Network, topology


@pytest.mark.parametrize("seed", range(300))
def test_islands_and_zeros_are_those_of_the_graph(seed: int) -> None:
    draw = np.random.default_rng(seed)
    nodes, branches = int(draw.integers(1, 40)), int(draw.integers(0, 80))
    ground = int(draw.integers(-1, nodes))
    a, b = draw.integers(0, nodes, branches), draw.integers(0, nodes, branches)
    level = draw.integers(0, len(LEVELS_S) + 1, branches)
    found = topology(Network(nodes, a, b, ground), level)
    joins = level < len(LEVELS_S)
    graph = coo_array((np.ones(int(joins.sum())), (a[joins], b[joins])), shape=(nodes, nodes))
    count, island = connected_components(graph, directed=False)
    assert found.island.tolist() == island.tolist()
    # Each island has one node that is zero by definition, the ground where it has it, and no unknown too few.
    zero = (found.columns == found.size).all(axis=0)
    assert found.size == nodes - count
    assert sorted(island[zero].tolist()) == list(range(count))
    if ground >= 0:
        assert zero[ground]
