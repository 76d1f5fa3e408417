"""Nodal analysis: potentials and currents of a network in the steady state.

Sign convention, fixed here once: branch current flows from `a` to `b`, and
``current = admittance * (potential_a - potential_b + emf)``.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Final

import numpy as np

from wiretrace.errors import SingularNetwork
from wiretrace.network.causes import singular_causes
from wiretrace.network.factor import Factor, Updated, factor_dense, factor_sparse
from wiretrace.network.topology import Complexes, Ints, Network, Topology, branch_levels, topology

DENSE_UP_TO: Final = 300
"""Unknowns up to which a dense factorisation is faster than a sparse one."""

MOST_CHANGED: Final = 8
"""Branches up to which a changed network is solved by way of the factors of the one before."""

LARGEST_UPDATE: Final = 1e5
"""Growth from which such a way would lose too many digits."""

SMALLEST_LEFT: Final = 1e-8
"""Share of a branch's admittance, in series with all else, from which a change of it keeps enough digits."""

NO_CURRENT_A: Final = 1e-9
"""What counts as nothing flowing: the rounding of a fraction of a microvolt across a closed contact."""

TOPOLOGIES_KEPT: Final = 256
TOPOLOGY_BYTES_KEPT: Final = 30_000_000


@dataclass(frozen=True)
class Flow:
    """Volts across every branch and amperes through it."""

    drop_v: Complexes
    current_a: Complexes

    @cached_property
    def volts(self) -> list[complex]:
        """`drop_v` as plain numbers."""
        volts: list[complex] = self.drop_v.tolist()
        return volts

    @cached_property
    def amperes(self) -> list[complex]:
        """`current_a` as plain numbers."""
        amperes: list[complex] = self.current_a.tolist()
        return amperes


@dataclass(frozen=True)
class Solution(Flow):
    """A solved network.

    `potential_v` (one per node) is relative to the zero of the node's island; two nodes of
    different islands have no defined voltage between them. `current_a` is one per branch.
    """

    network: Network
    topology: Topology
    unknowns: Complexes
    potential_v: Complexes
    factor: Factor
    admittance_s: Complexes
    transfer_s: Complexes
    emf_v: Complexes
    base: "Solution | None" = None
    """The solution whose factors this one goes back to, if they are not its own."""
    updates: dict[tuple[int, ...], tuple[Complexes, Complexes, Complexes]] = field(default_factory=dict)
    """What has been worked out about changes of some branches: incidence, answers, and their product."""

    def joined(self, a: int, b: int) -> bool:
        """Is there any conducting path between two nodes?"""
        return bool(self.topology.island[a] == self.topology.island[b])

    def volts_between(self, a: int, b: int) -> complex:
        """Voltage from `a` to `b`, which must be `joined`."""
        return complex(self._probe(a, b) @ self.unknowns[:-1])

    def loaded(self, pairs: Sequence[tuple[int, int]], ohm: float) -> Complexes:
        """Volts across pairs of joined nodes once a resistance stands across each of them."""
        if not pairs:
            return np.empty(0, dtype=np.complex128)
        probes = np.stack([self._probe(a, b) for a, b in pairs], axis=1)
        source_ohm = probes.T @ self.factor.solve(probes)
        return np.linalg.solve(np.eye(len(pairs)) + source_ohm / ohm, probes.T @ self.unknowns[:-1]).astype(
            np.complex128
        )

    def thevenin(self, a: int, b: int) -> tuple[complex, complex]:
        """Open-circuit voltage from `a` to `b` in volts and source impedance in ohm.

        The nodes must be `joined`.
        """
        probe = self._probe(a, b)
        return complex(probe @ self.unknowns[:-1]), complex(probe @ self.factor.solve(probe))

    def between(self, pairs: Sequence[tuple[int, int]]) -> tuple[Complexes, Complexes]:
        """Voltage across each pair of nodes, and what an ampere through one pair raises across another, ohm.

        Nodes of different islands are each told from the zero of their own.
        """
        probes = np.stack([self._probe(a, b) for a, b in pairs], axis=1)
        return probes.T @ self.unknowns[:-1], probes.T @ self.factor.solve(probes)

    def own_ohm(self, branch: int) -> complex:
        """What an ampere that is fed in at one end of a branch, and taken out at the other, raises across it."""
        return complex(_update(self, (branch,))[2][0, 0])

    def changed(self, branch: int, admittance_s: complex) -> "Flow | None":
        """What flows once a branch that is coupled to no other has another admittance.

        None where it would lose too many digits, as where it parts what is fed (Woodbury's identity for one row).
        """
        before = complex(self.admittance_s[branch])
        driven = complex(self.drop_v[branch] + self.emf_v[branch])
        if before != 0 and abs(before * driven) <= NO_CURRENT_A and abs(admittance_s) <= abs(before):
            return self
        if before == 0 and not self.joined(int(self.network.a[branch]), int(self.network.b[branch])):
            # Two parts that are joined at one place only: nothing flows from the one to the other.
            drop = self.drop_v.copy()
            drop[branch] = -self.emf_v[branch]
            return Flow(drop, self.current_a)
        step = admittance_s - before
        unknowns = np.append(self.factor.solve(_incidence(self.topology, branch)[:-1]), 0)
        raised = self.topology.ends_sign @ unknowns[self.topology.ends_index]
        left = 1 + step * complex(raised[branch])
        if abs(left) < SMALLEST_LEFT:
            return None
        drop = self.drop_v - raised * (step / left * driven)
        admittance = self.admittance_s.copy()
        admittance[branch] = admittance_s
        return Flow(drop, _currents(self.network, admittance, self.transfer_s, drop + self.emf_v))

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


class Solver:
    """Solves one network again and again; remembers the unknowns of patterns it has met."""

    def __init__(self, network: Network) -> None:
        self.network = network
        self._topologies: dict[bytes, Topology] = {}
        self.size_bytes = 0
        """Memory that the remembered unknowns take."""

    def solve(
        self,
        admittance_s: Complexes,
        emf_v: Complexes,
        transfer_s: Complexes | None = None,
        near: Solution | None = None,
    ) -> Solution:
        """Solve for the admittance (siemens) and emf (volts, a to b) of each branch.

        `transfer_s` has the transfer admittance of each pair of the network, in siemens. An
        admittance of zero is an open branch. `near` is a solution that may differ in few branches
        only; then its factors are used again. Raises SingularNetwork with named causes.
        """
        transfer = np.zeros(len(self.network.pair_to), dtype=np.complex128) if transfer_s is None else transfer_s
        if near is not None:
            solution = self._from(near.base or near, admittance_s, emf_v, transfer)
            if solution is not None:
                return solution
        unknowns, factor, shape = None, None, None
        if np.isfinite(admittance_s).all() and np.isfinite(emf_v).all():
            shape = self._topology(branch_levels(admittance_s))
            driven = _currents(self.network, admittance_s, transfer, emf_v)
            unknowns, factor = _solve(shape, np.concatenate([admittance_s, transfer]), driven)
        if shape is None or unknowns is None or factor is None or not np.isfinite(unknowns).all():
            raise SingularNetwork(
                "The network has no single answer.", singular_causes(self.network, admittance_s, emf_v)
            )
        return self._solution(shape, unknowns, factor, admittance_s, emf_v, transfer)

    def _solution(
        self,
        shape: Topology,
        unknowns: Complexes,
        factor: Factor,
        admittance_s: Complexes,
        emf_v: Complexes,
        transfer_s: Complexes,
        base: Solution | None = None,
    ) -> Solution:
        potential = unknowns[shape.columns].sum(axis=0)
        drop = shape.ends_sign @ unknowns[shape.ends_index]
        current = _currents(self.network, admittance_s, transfer_s, drop + emf_v)
        return Solution(
            drop, current, self.network, shape, unknowns, potential, factor, admittance_s, transfer_s, emf_v, base
        )

    def _from(
        self, base: Solution, admittance_s: Complexes, emf_v: Complexes, transfer_s: Complexes
    ) -> Solution | None:
        """The solution by way of the factors of `base`; None when too much is different."""
        step = admittance_s - base.admittance_s
        changed = step.nonzero()[0]
        if len(changed) > MOST_CHANGED or not (emf_v is base.emf_v or np.array_equal(emf_v, base.emf_v)):
            return None
        transferred = transfer_s - base.transfer_s
        pairs = transferred.nonzero()[0]
        to, of = self.network.pair_to[pairs].tolist(), self.network.pair_from[pairs].tolist()
        rows = sorted({*changed.tolist(), *to, *of})
        if not rows:
            return base
        if len(rows) > MOST_CHANGED or emf_v[rows].any():
            return None
        if branch_levels(admittance_s[rows]).tolist() != base.topology.level[rows].tolist():
            return None
        columns, answers, product = _update(base, tuple(rows))
        place = {row: number for number, row in enumerate(rows)}
        change = np.diag(step[rows])
        for a, b, pair in zip(to, of, pairs.tolist(), strict=True):
            change[place[a], place[b]] = transferred[pair]
        try:
            back = np.linalg.inv(np.eye(len(rows)) + product @ change)
        except np.linalg.LinAlgError:
            return None
        if np.abs(back).max() > LARGEST_UPDATE:
            return None
        factor = Updated(base.factor, columns, answers, change @ back)
        unknowns = base.unknowns.copy()
        unknowns[:-1] -= answers @ (factor.change @ (columns.T @ unknowns[:-1]))
        return self._solution(base.topology, unknowns, factor, admittance_s, emf_v, transfer_s, base)

    def _topology(self, level: Ints) -> Topology:
        key = level.tobytes()
        shape = self._topologies.get(key)
        if shape is None:
            shape = topology(self.network, level)
            if len(self._topologies) >= TOPOLOGIES_KEPT or self.size_bytes > TOPOLOGY_BYTES_KEPT:
                self._topologies.clear()
                self.size_bytes = 0
            self._topologies[key] = shape
            self.size_bytes += shape.size_bytes
        return shape


def _solve(shape: Topology, entries_s: Complexes, driven_a: Complexes) -> tuple[Complexes, Factor | None]:
    """Unknowns, with a zero appended for the offsets that are zero by definition.

    `entries_s` are the admittances of branches and pairs, `driven_a` the currents of the sources.
    """
    size = shape.size
    rhs = np.zeros(size + 1, dtype=np.complex128)
    hot = np.flatnonzero(driven_a)
    depth = len(shape.ends_sign) // 2
    for branch in hot.tolist():
        # One end after the other: offsets that both ends have in common cancel.
        rhs[shape.ends_index[:depth, branch]] -= driven_a[branch]
        rhs[shape.ends_index[depth:, branch]] += driven_a[branch]
    rhs[size] = 0
    weight = entries_s[shape.stamp_source] * shape.stamp_sign
    factor = (factor_dense if size <= DENSE_UP_TO else factor_sparse)(shape, weight)
    if factor is None:
        return rhs, None
    unknowns = np.zeros(size + 1, dtype=np.complex128)
    if size:
        unknowns[:size] = factor.solve(rhs[:size])
    return unknowns, factor


def _currents(network: Network, admittance_s: Complexes, transfer_s: Complexes, volts: Complexes) -> Complexes:
    """Current that `volts` across every branch drive in it and in those coupled to it."""
    currents: Complexes = admittance_s * volts
    if len(transfer_s):
        there = transfer_s * volts[network.pair_from]
        count = len(currents)
        currents.real += np.bincount(network.pair_to, there.real, count)
        currents.imag += np.bincount(network.pair_to, there.imag, count)
    return currents


def _incidence(shape: Topology, branch: int) -> Complexes:
    """Where a current in a branch enters (+1) and leaves (-1) the equations, and one entry for the zeros."""
    depth = len(shape.ends_sign) // 2
    incidence = np.zeros(shape.size + 1, dtype=np.complex128)
    # One end after the other: offsets that both ends have in common cancel.
    incidence[shape.ends_index[:depth, branch]] += 1
    incidence[shape.ends_index[depth:, branch]] -= 1
    return incidence


def _update(base: Solution, rows: tuple[int, ...]) -> tuple[Complexes, Complexes, Complexes]:
    """Incidence of some branches, what the factors of `base` make of it, and the product of both."""
    known = base.updates.get(rows)
    if known is None:
        shape = base.topology
        columns = np.stack([_incidence(shape, row)[:-1] for row in rows], axis=1)
        answers = base.factor.solve(columns)
        known = base.updates[rows] = (columns, answers, columns.T @ answers)
    return known
