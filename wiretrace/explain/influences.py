"""Which devices would move a reading if they changed over, without solving the circuit anew for each.

Contacts that change over are added branches of a network whose factors are at hand: their currents follow from the
voltages across them and the impedances between them (Woodbury's identity, a handful of equations for each device).
Where they join parts that were separate, nothing may flow from part to part in all; that decides the potential of one
part to the other.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.checked import Installed
from wiretrace.instruments.voltmeter import HIGH_IMPEDANCE_OHM, Coupling, Reading, display, read_voltage
from wiretrace.network.solve import Solution
from wiretrace.network.topology import Complexes
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

NOTICEABLE_V: Final = 0.5
FEWEST_CONTACTS: Final = 40
MOST_WORK: Final = 180_000
"""Nodes of the circuit times contacts that are tried."""
MOST_SOLVED: Final = 8_000
"""Nodes of the circuit times devices for which it is solved anew."""
APART: Final = 1e-10
CLOSE: Final = 1e-6
"""Singular values of equations scaled to one: up to the first a part is cut off, up to the second digits are lost."""
MOVED: Final = 1e-4
"""Root of an ohm: how much a part that is cut off must move the probes against each other to part them."""


@dataclass(frozen=True)
class Influence:
    """A device that would change the reading if all its contacts changed over."""

    device: str
    voltage_v: float
    display: str


@dataclass(frozen=True)
class _Contact:
    """A contact by the number of its branch; `ohm` is what is added in its place, negative where it opens."""

    index: int
    a: int
    b: int
    ohm: complex


def influences(
    assembly: Assembly, frame: Frame, reading: Reading, near: Sequence[Installed]
) -> tuple[tuple[Influence, ...], int]:
    """Those of the devices that would move the reading by more than `NOTICEABLE_V`, and how many were not tried.

    `near` has the nearest first. In the order of the document.
    """
    if reading.frequency_hz is not None:
        return (), 0  # It comes from what has a frequency of its own, and not from the contacts of the circuit.
    direct = reading.coupling is Coupling.DC and frame.point.dc is not None
    solution = reading.part
    probes = [assembly.node(reading.red), assembly.node(reading.black)]
    seen = assembly.equations.seen_from(solution, probes)
    there = [(item, _concerned(solution, seen, list(_contacts(assembly, frame, item, direct)))) for item in near]
    tried, left = _first(
        [(item, contacts) for item, contacts in there if contacts],
        max(FEWEST_CONTACTS, MOST_WORK // len(assembly.nodes)),
    )
    around = _Around(solution, assembly, reading, [contact for _, contacts in tried for contact in contacts])
    solves = max(1, MOST_SOLVED // len(assembly.nodes))
    found = []
    for item, contacts in tried:
        volts = around.with_changed(contacts)
        if volts is None:
            if solves == 0:
                left += 1
                continue
            solves -= 1
            volts = _solved(assembly, frame, reading, item)
        if abs(volts - reading.voltage_v) > NOTICEABLE_V:
            found.append(Influence(item.id, volts, display(volts)))
    order = {name: place for place, name in enumerate(assembly.devices)}
    return tuple(sorted(found, key=lambda influence: order[influence.device])), left


def _first(
    there: Sequence[tuple[Installed, list[_Contact]]], most: int
) -> tuple[list[tuple[Installed, list[_Contact]]], int]:
    """As many of the devices as have so many contacts together, one at the least; how many are left."""
    count, taken = 0, 0
    for _, contacts in there:
        count += len(contacts)
        if taken and count > most:
            break
        taken += 1
    return list(there[:taken]), len(there) - taken


def _contacts(assembly: Assembly, frame: Frame, item: Installed, direct: bool) -> Iterator[_Contact]:
    closed = item.kind.contact_value(item.params)
    for index, name in assembly.graph.branches_of[item.id]:
        ref, value = assembly.branches[index], frame.values[index]
        if ref.role is not Role.CONTACT or ref.branch != name:
            continue
        added_s = assembly.equations.admittance_s(value or closed, direct)
        yield _Contact(index, ref.a, ref.b, (1 if value is None else -1) / added_s)


def _concerned(solution: Solution, seen: set[int], contacts: Sequence[_Contact]) -> list[_Contact]:
    """Contacts in the parts that the probes see, or that the device would join to these."""
    ends = [{int(solution.topology.island[node]) for node in (contact.a, contact.b)} for contact in contacts]
    while more := [both for both in ends if both & seen and both - seen]:
        seen = seen.union(*more)
    return [contact for contact, both in zip(contacts, ends, strict=True) if both <= seen]


class _Around:
    """The network as the probes and some contacts see it."""

    def __init__(self, solution: Solution, assembly: Assembly, reading: Reading, contacts: Sequence[_Contact]) -> None:
        self._alternating = reading.coupling is not Coupling.DC
        pairs = [(contact.a, contact.b) for contact in contacts]
        pairs.append((assembly.node(reading.red), assembly.node(reading.black)))
        self._row = {contact.index: row for row, contact in enumerate(contacts)}
        self._ends = np.array(pairs, dtype=np.intp)
        self._island = solution.topology.island[self._ends]
        self._volts, self._ohm = solution.between(pairs)

    def with_changed(self, contacts: Sequence[_Contact]) -> float | None:
        """The reading after these contacts have changed over, volts; None where digits would be lost."""
        rows = [*(self._row[contact.index] for contact in contacts), len(self._volts) - 1]
        shifts = _shifts(self._island[rows].tolist())
        if shifts is None:
            return 0.0  # Nothing joins the probes.
        added = np.array([contact.ohm for contact in contacts])
        return self._reading(added, self._ohm[np.ix_(rows, rows)], self._volts[rows], shifts)

    def _reading(self, added: Complexes, ohm: Complexes, volts: Complexes, shifts: Complexes) -> float | None:
        """From the impedances (the probes last) to the volts that a meter shows between the probes."""
        count, parts = len(added), shifts.shape[1]
        matrix = np.zeros((count + parts, count + parts), dtype=np.complex128)
        matrix[:count, :count] = ohm[:-1, :-1] + np.diag(added)
        matrix[:count, count:] = -shifts[:-1]
        matrix[count:, :count] = shifts[:-1].T
        given = np.zeros((count + parts, 2), dtype=np.complex128)
        given[:count, 0], given[:count, 1] = volts[:-1], ohm[:-1, -1]
        given[count:, 1] = shifts[-1]
        seen = np.concatenate([-ohm[-1, :-1], shifts[-1]])
        # By the size of a closed contact where one opens: what is left of it there may be nothing but rounding.
        own = np.where(added.real < 0, np.abs(added), np.abs(added) + np.abs(ohm.diagonal()[:-1]))
        scale = np.concatenate([1 / np.sqrt(own), np.sqrt(own.max()) * np.ones(parts)])
        left, sizes, right = np.linalg.svd(matrix * scale * scale[:, None])
        size = sizes / max(1.0, sizes[0])
        if ((size > APART) & (size < CLOSE)).any():
            return None
        stays = size >= CLOSE
        if (np.abs((seen * scale) @ right[~stays].conj().T) > MOVED).any():
            return 0.0  # What is cut off takes one of the probes along.
        answer = (left[:, stays].conj().T @ (scale[:, None] * given)) / sizes[stays, None]
        unknown = scale[:, None] * (right[stays].conj().T @ answer)
        open_v, source_ohm = np.array([volts[-1], ohm[-1, -1]]) + seen @ unknown
        shown = open_v * HIGH_IMPEDANCE_OHM / (HIGH_IMPEDANCE_OHM + source_ohm)
        return float(abs(shown) if self._alternating else shown.real)


def _shifts(islands: Sequence[Sequence[int]]) -> Complexes | None:
    """How the potential of each part that contacts join to another moves what lies across each of them.

    `islands` are the parts at both ends of each contact and, last, of the probes; None when these stay apart.
    """
    group = {part: part for ends in islands for part in ends}
    for a, b in islands[:-1]:
        old, new = group[b], group[a]
        group |= {part: new for part, of in group.items() if of == old}
    red, black = islands[-1]
    if group[red] != group[black]:
        return None
    parts = [part for part, of in group.items() if part != of]
    shifts = np.zeros((len(islands), len(parts)), dtype=np.complex128)
    for row, ends in enumerate(islands):
        for part, sign in zip(ends, (1, -1), strict=True):
            if part in parts:
                shifts[row, parts.index(part)] += sign
    return shifts


def _solved(assembly: Assembly, frame: Frame, reading: Reading, item: Installed) -> float:
    """The reading with a device changed over, by solving the circuit."""
    values = list(frame.values)
    closed = item.kind.contact_value(item.params)
    for index, _ in assembly.graph.branches_of[item.id]:
        if assembly.branches[index].role is Role.CONTACT:
            values[index] = closed if values[index] is None else None
    point = assembly.equations.solve(values)
    return read_voltage(assembly, point, reading.red, reading.black, coupling=reading.coupling).voltage_v
