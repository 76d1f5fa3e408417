"""Is a conductor in a short circuit: does its current go from pole to pole without a load on the way?"""

from dataclasses import dataclass

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.explain.wording import listed
from wiretrace.faults.naming import element_name
from wiretrace.network.topology import Complexes
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

LARGE_A = 20.0
"""Amperes from which it is worth asking."""
MAIN = 0.3
"""Share of the current that must go on along one way: two reversing contactors that are both in share it."""


@dataclass(frozen=True)
class ShortCircuit:
    """A way from pole to pole without a load: in words, the wires in it, and its amperes RMS."""

    words: str
    conductors: tuple[str, ...]
    current_a: float


def short_circuit(assembly: Assembly, frame: Frame, conductor: str) -> ShortCircuit | None:
    """From which pole to which, through what; None when it is none."""
    number = assembly.branch_index(conductor)
    for solution in frame.point.parts:
        if abs(solution.current_a[number]) < LARGE_A:
            continue
        forth = _followed(assembly, solution.current_a, number, assembly.branches[number].b)
        back = _followed(assembly, solution.current_a, number, assembly.branches[number].a)
        if forth is None or back is None:
            return None
        wires = {wire.id for wire in assembly.circuit.conductors}
        refs = [assembly.branches[step] for step in (*reversed(back[1]), *forth[1])]
        passed = [
            element_name(assembly, ref.place, ref.branch)
            for ref in refs
            if ref.place not in wires and (ref.role is Role.CONTACT or not ref.branch)
        ]
        words = f"from {back[0]} to {forth[0]} through {listed(list(dict.fromkeys(passed)) or ['wire alone'])}"
        laid = [conductor, *(ref.place for ref in refs if ref.place in wires)]
        return ShortCircuit(words, tuple(dict.fromkeys(laid)), float(abs(solution.current_a[number])))
    return None


def _followed(assembly: Assembly, amperes: Complexes, number: int, node: int) -> tuple[str, list[int]] | None:
    """The pole that the current comes to from this end of a branch, and the branches on the way; None at a load."""
    way: list[int] = []
    seen, size = {number}, abs(amperes[number])
    while True:
        at = [n for n, ref in enumerate(assembly.branches) if node in (ref.a, ref.b) and n not in seen]
        onward = max(at, key=lambda n: abs(amperes[n]), default=None)
        if onward is None or abs(amperes[onward]) < MAIN * size:
            return None
        ref = assembly.branches[onward]
        if ref.role is Role.SOURCE:
            return assembly.nodes[node][1], way
        if ref.role is Role.LOAD and ref.branch:
            return None
        seen.add(onward)
        way.append(onward)
        node = ref.b if ref.a == node else ref.a
