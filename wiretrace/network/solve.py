"""Nodal analysis: potentials and currents of a network in the steady state.

Sign convention, fixed here once: branch current flows from `a` to `b`, and
``current = admittance * (potential_a - potential_b + emf)``.
"""

from dataclasses import dataclass
from typing import Any, Final, Protocol

import numpy as np
from scipy.linalg import lapack
from scipy.sparse import coo_array
from scipy.sparse.linalg import splu

from wiretrace.errors import SingularNetwork
from wiretrace.network.causes import singular_causes
from wiretrace.network.topology import Complexes, Ints, Network, Topology, branch_levels, topology

DENSE_UP_TO: Final = 300
"""Unknowns up to which a dense factorisation is faster than a sparse one."""

SMALLEST_PIVOT: Final = 1e-13
"""Pivot of the scaled matrix below which the network counts as singular."""

TOPOLOGIES_KEPT: Final = 256

# The bare LAPACK calls: the checked wrappers cost more than solving a small circuit does.
_getrf: Any = lapack.zgetrf
_getrs: Any = lapack.zgetrs


class _Factor(Protocol):
    def solve(self, rhs: Complexes) -> Complexes: ...


@dataclass(frozen=True)
class _Dense:
    lu: Complexes
    pivots: Ints
    scale: Complexes

    def solve(self, rhs: Complexes) -> Complexes:
        x, _ = _getrs(self.lu, self.pivots, self.scale * rhs)
        solved: Complexes = self.scale * x
        return solved


@dataclass(frozen=True)
class _Sparse:
    lu: object
    scale: Complexes

    def solve(self, rhs: Complexes) -> Complexes:
        solved: Complexes = self.scale * self.lu.solve(self.scale * rhs)  # type: ignore[attr-defined]
        return solved


@dataclass(frozen=True)
class Solution:
    """A solved network.

    `potential_v` (one per node) is relative to the zero of the node's island; two nodes of
    different islands have no defined voltage between them. `current_a` is one per branch.
    """

    network: Network
    topology: Topology
    unknowns: Complexes
    potential_v: Complexes
    drop_v: Complexes
    current_a: Complexes
    factor: _Factor

    def joined(self, a: int, b: int) -> bool:
        """Is there any conducting path between two nodes?"""
        return bool(self.topology.island[a] == self.topology.island[b])

    def thevenin(self, a: int, b: int) -> tuple[complex, complex]:
        """Open-circuit voltage from `a` to `b` in volts and source impedance in ohm.

        The nodes must be `joined`.
        """
        probe = self._probe(a, b)
        return complex(probe @ self.unknowns[:-1]), complex(probe @ self.factor.solve(probe))

    def response(self, a: int, b: int) -> Complexes:
        """Volts across every branch for each ampere fed in at `a` and taken out at `b`."""
        unknowns = np.append(self.factor.solve(self._probe(a, b)), 0)
        volts: Complexes = self.topology.ends_sign @ unknowns[self.topology.ends_index]
        return volts

    def _probe(self, a: int, b: int) -> Complexes:
        """The voltage from `a` to `b` as a row of the unknowns; offsets in common left out."""
        columns = self.topology.columns
        differ = columns[:, a] != columns[:, b]
        probe = np.zeros(self.topology.size + 1, dtype=np.complex128)
        probe[columns[differ, a]] += 1
        probe[columns[differ, b]] -= 1
        return probe[:-1]


@dataclass(frozen=True)
class OperatingPoint:
    """The steady state: its alternating part, and its direct part where any source drives one."""

    ac: Solution
    dc: Solution | None = None

    def joined(self, a: int, b: int) -> bool:
        """Is there any conducting path between two nodes?"""
        return self.ac.joined(a, b) or (self.dc is not None and self.dc.joined(a, b))


class Solver:
    """Solves one network again and again; remembers the unknowns of patterns it has met."""

    def __init__(self, network: Network) -> None:
        self.network = network
        self._topologies: dict[bytes, Topology] = {}

    def solve(self, admittance_s: Complexes, emf_v: Complexes, transfer_s: Complexes | None = None) -> Solution:
        """Solve for the admittance (siemens) and emf (volts, a to b) of each branch.

        `transfer_s` has the transfer admittance of each pair of the network, in siemens. An
        admittance of zero is an open branch. Raises SingularNetwork with named causes.
        """
        transfer = np.zeros(len(self.network.pair_to), dtype=np.complex128) if transfer_s is None else transfer_s
        unknowns, factor, shape = None, None, None
        if np.isfinite(admittance_s).all() and np.isfinite(emf_v).all():
            shape = self._topology(branch_levels(admittance_s))
            driven = self._currents(admittance_s, transfer, emf_v)
            unknowns, factor = _solve(shape, np.concatenate([admittance_s, transfer]), driven)
        if shape is None or unknowns is None or factor is None or not np.isfinite(unknowns).all():
            raise SingularNetwork(
                "The network has no single answer.", singular_causes(self.network, admittance_s, emf_v)
            )
        potential = unknowns[shape.columns].sum(axis=0)
        drop = shape.ends_sign @ unknowns[shape.ends_index]
        current = self._currents(admittance_s, transfer, drop + emf_v)
        return Solution(self.network, shape, unknowns, potential, drop, current, factor)

    def _currents(self, admittance_s: Complexes, transfer_s: Complexes, volts: Complexes) -> Complexes:
        """Current that `volts` across every branch drive in it and in those coupled to it."""
        currents: Complexes = admittance_s * volts
        if len(transfer_s):
            np.add.at(currents, self.network.pair_to, transfer_s * volts[self.network.pair_from])
        return currents

    def _topology(self, level: Ints) -> Topology:
        key = level.tobytes()
        shape = self._topologies.get(key)
        if shape is None:
            if len(self._topologies) >= TOPOLOGIES_KEPT:
                self._topologies.clear()
            shape = self._topologies[key] = topology(self.network, level)
        return shape


def _solve(shape: Topology, entries_s: Complexes, driven_a: Complexes) -> tuple[Complexes, _Factor | None]:
    """Unknowns, with a zero appended for the offsets that are zero by definition.

    `entries_s` are the admittances of branches and pairs, `driven_a` the currents of the sources.
    """
    size = shape.size
    rhs = np.zeros(size + 1, dtype=np.complex128)
    hot = np.flatnonzero(driven_a)
    np.subtract.at(rhs, shape.ends_index[:, hot], shape.ends_sign[:, None] * driven_a[hot])
    weight = entries_s[shape.stamp_source] * shape.stamp_sign
    factor = (_factor_dense if size <= DENSE_UP_TO else _factor_sparse)(shape, weight)
    if factor is None:
        return rhs, None
    unknowns = np.zeros(size + 1, dtype=np.complex128)
    if size:
        unknowns[:size] = factor.solve(rhs[:size])
    return unknowns, factor


def _scale(diagonal: Complexes) -> Complexes | None:
    if (diagonal == 0).any():
        return None
    scale: Complexes = (1 / np.sqrt(np.abs(diagonal))).astype(np.complex128)
    return scale


def _factor_dense(shape: Topology, weight: Complexes) -> _Factor | None:
    side = shape.size + 1
    matrix = np.empty(side * side, dtype=np.complex128)
    matrix.real = np.bincount(shape.stamp_index, weight.real, side * side)
    matrix.imag = np.bincount(shape.stamp_index, weight.imag, side * side)
    square = matrix.reshape(side, side)[:-1, :-1]
    if not shape.size:
        return _Dense(square, np.empty(0, dtype=np.intp), np.empty(0, dtype=np.complex128))
    scale = _scale(square.diagonal())
    if scale is None:
        return None
    lu, pivots, info = _getrf(square * scale * scale[:, None])
    if info != 0 or np.abs(lu.diagonal()).min() < SMALLEST_PIVOT:
        return None
    return _Dense(lu, pivots, scale)


def _factor_sparse(shape: Topology, weight: Complexes) -> _Factor | None:
    side = shape.size + 1
    rows, columns = np.divmod(shape.stamp_index, side)
    matrix = coo_array((weight, (rows, columns)), shape=(shape.size, shape.size)).tocsc()
    scale = _scale(matrix.diagonal())
    if scale is None:
        return None
    columns_of = np.repeat(np.arange(shape.size), np.diff(matrix.indptr))
    matrix.data = matrix.data * scale[matrix.indices] * scale[columns_of]
    try:
        lu = splu(matrix)
    except RuntimeError:  # SuperLU's only word for an exactly singular matrix
        return None
    if np.abs(lu.U.diagonal()).min() < SMALLEST_PIVOT:
        return None
    return _Sparse(lu, scale)
