"""Factors of the equations, dense or sparse, and those of equations that differ from others in a few branches."""

from dataclasses import dataclass
from typing import Any, Final, Protocol

import numpy as np
from scipy.linalg import lapack
from scipy.sparse import coo_array
from scipy.sparse.linalg import splu

from wiretrace.network.topology import Complexes, Ints, Topology

SMALLEST_PIVOT: Final = 1e-13
"""Pivot of the scaled matrix below which the network counts as singular."""

# The bare LAPACK calls: the checked wrappers cost more than solving a small circuit does.
_getrf: Any = lapack.zgetrf
_getrs: Any = lapack.zgetrs


class Factor(Protocol):
    def solve(self, rhs: Complexes) -> Complexes: ...


@dataclass(frozen=True)
class _Dense:
    lu: Complexes
    pivots: Ints
    scale: Complexes

    def solve(self, rhs: Complexes) -> Complexes:
        scale = self.scale if rhs.ndim == 1 else self.scale[:, None]
        x, _ = _getrs(self.lu, self.pivots, scale * rhs)
        solved: Complexes = scale * x
        return solved


@dataclass(frozen=True)
class _Sparse:
    lu: object
    scale: Complexes

    def solve(self, rhs: Complexes) -> Complexes:
        scale = self.scale if rhs.ndim == 1 else self.scale[:, None]
        solved: Complexes = scale * self.lu.solve(scale * rhs)  # type: ignore[attr-defined]
        return solved


@dataclass(frozen=True)
class Updated:
    """The factors of a matrix that differs from a factorised one in a few branches (Woodbury's identity)."""

    base: Factor
    columns: Complexes
    """The incidence of the changed branches."""
    answers: Complexes
    """What the base makes of those."""
    change: Complexes
    """How much of the voltage across the changed branches comes back."""

    def solve(self, rhs: Complexes) -> Complexes:
        x = self.base.solve(rhs)
        return x - self.answers @ (self.change @ (self.columns.T @ x))


def _scale(diagonal: Complexes) -> Complexes | None:
    if (diagonal == 0).any():
        return None
    scale: Complexes = (1 / np.sqrt(np.abs(diagonal))).astype(np.complex128)
    return scale


def factor_dense(shape: Topology, weight: Complexes) -> Factor | None:
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


def factor_sparse(shape: Topology, weight: Complexes) -> Factor | None:
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
