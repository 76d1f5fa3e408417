"""Why a network has no single answer, in terms of its nodes.

`path` of each problem lists the branch numbers concerned, for whoever knows their names.
"""

import numpy as np

from wiretrace.errors import Problem
from wiretrace.network.topology import Complexes, Network


def singular_causes(network: Network, admittance_s: Complexes, emf_v: Complexes) -> tuple[Problem, ...]:
    """Named causes: an undefined value, a loop of ideal sources, a loop of ideal shorts, resonance."""
    undefined = np.flatnonzero(np.isnan(admittance_s) | ~np.isfinite(emf_v))
    if len(undefined):
        return (_problem("undefined_value", "A branch has no defined value.", undefined.tolist()),)
    loops = [_loop_problem(loop, emf_v) for loop in _ideal_loops(network, admittance_s)]
    if loops:
        return tuple(loops)
    ideal = np.flatnonzero(np.isinf(admittance_s)).tolist()
    if ideal:
        return (_problem("ideal_branch", "A branch without any impedance has no defined current.", ideal),)
    conducting = np.flatnonzero(admittance_s).tolist()
    return (
        _problem(
            "resonance",
            "Inductance and capacitance cancel each other: the current has no limit.",
            [branch for branch in conducting if admittance_s[branch].real == 0] or conducting,
        ),
    )


def _problem(code: str, message: str, branches: list[int]) -> Problem:
    return Problem(code, message, path=",".join(str(branch) for branch in branches))


def _loop_problem(loop: list[int], emf_v: Complexes) -> Problem:
    if any(emf_v[branch] != 0 for branch in loop):
        return _problem("source_loop", "Sources without impedance form a loop.", loop)
    return _problem("ideal_short", "Branches without resistance form a loop.", loop)


def _ideal_loops(network: Network, admittance_s: Complexes) -> list[list[int]]:
    """Loops of branches without impedance, as lists of branch numbers."""
    came_by: dict[int, dict[int, int]] = {}
    loops = []
    for branch in np.flatnonzero(np.isinf(admittance_s)).tolist():
        a, b = int(network.a[branch]), int(network.b[branch])
        path = _path(came_by, a, b)
        if path is not None:
            loops.append([*path, branch])
        else:
            came_by.setdefault(a, {})[b] = branch
            came_by.setdefault(b, {})[a] = branch
    return loops


def _path(edges: dict[int, dict[int, int]], start: int, goal: int) -> list[int] | None:
    """Branches on a path between two nodes, or None."""
    seen = {start}
    queue: list[tuple[int, list[int]]] = [(start, [])]
    for node, path in queue:
        if node == goal:
            return path
        for neighbour, branch in edges.get(node, {}).items():
            if neighbour not in seen:
                seen.add(neighbour)
                queue.append((neighbour, [*path, branch]))
    return None
