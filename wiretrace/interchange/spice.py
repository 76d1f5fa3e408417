"""SPICE netlist of one state of a circuit, for an independent check of the core.

Every terminal is a node and every conducting element stands in the netlist with its value in
that state; open contacts are left out. Each conductor has a source of zero volts that measures its
current. The netlist runs in batch mode and prints the real and imaginary part of every node's
potential in volts RMS and of every conductor's current in amperes; where a source of direct
voltage is at work, the direct potentials and currents before them, and after them those of each frequency that is not
that of the supplies.
"""

import cmath
import math
from collections.abc import Iterator

from wiretrace.catalogue.machinery.element import Value
from wiretrace.network.solve import Solution
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


def spice_netlist(assembly: Assembly, frame: Frame) -> str:
    """The netlist as text. Node ``n7`` is terminal 7 of the list in its comments, ``vi5`` measures branch 5."""
    zeros = _zeros(frame.point.ac)
    ground = zeros[int(frame.point.ac.topology.island[0])] if assembly.nodes else -1
    lines = [f"* {one_line(assembly.circuit.title)}, at {frame.state.time_us / 1e6:.6f} s"]
    lines += [f"* n{node} = {assembly.graph.node_label(node)}" for node in range(len(assembly.nodes))]
    lines += [f"Vzero n{ground} 0 dc 0 ac 0"]
    # A part of the network on its own has no potential to the rest: tie its zero to earth.
    lines += [f"Rzero{node} n{node} 0 1" for island, node in sorted(zeros.items()) if node != ground]
    lines += _direct_zeros(frame, set(zeros.values()))
    tones = (*frame.point.tones, *frame.point.fading)
    sources = sorted({*_driving(frame), *(n for one in tones for n in _nonzero(one.flow))})
    measured = []
    for number, value in enumerate(frame.values):
        if value is not None:
            ref = assembly.branches[number]
            lines.append(f"* {ref.place} {ref.branch}".rstrip())
            lines += _element(assembly, frame, number, value, number in sources)
            if not ref.branch:
                measured.append(number)
    lines += _rising(assembly, frame)
    lines += [".control", "set numdgt=15"]
    if frame.point.dc is not None:
        lines += ["op", *(f"print v(n{node})" for node in range(len(assembly.nodes)))]
        lines += [f"print i(vi{number})" for number in measured]
    shown = [f"print vr(n{node}) vi(n{node})" for node in range(len(assembly.nodes))]
    shown += [f"print real(i(vi{number})) imag(i(vi{number}))" for number in measured]
    lines += [*_at(assembly.frequency_hz), *shown]
    for tone in tones:
        # Each frequency by itself, with the sources of the others at zero volts.
        lines += [line for number in sources for line in _set(number, complex(tone.flow.emf_v[number]))]
        lines += [*_at(tone.frequency_hz), *shown]
    return "\n".join([*lines, "quit", ".endc", ".end", ""])


def _at(frequency_hz: float) -> Iterator[str]:
    frequency = f"{frequency_hz:.15g}"
    yield f"ac lin 1 {frequency} {frequency}"


def _driving(frame: Frame) -> list[int]:
    """Branches with a source of alternating voltage at the frequency of the supplies."""
    return [n for n, value in enumerate(frame.values) if value is not None and value.emf_v != 0]


def _nonzero(flow: Solution) -> list[int]:
    """Branches with a source at the frequency of this solution."""
    return [n for n, emf_v in enumerate(flow.emf_v.tolist()) if emf_v != 0]


def _set(number: int, emf_v: complex) -> Iterator[str]:
    """A source of the netlist with another voltage: `emf_v` is the rise from a to b."""
    size, angle = cmath.polar(-emf_v)
    yield f"alter @vs{number}[acmag] = {size:.15g}"
    yield f"alter @vs{number}[acphase] = {math.degrees(angle):.15g}"


def printable(text: str) -> str:
    """A text without what ends a line or steers a terminal."""
    return "".join(letter if letter.isprintable() else " " for letter in text)


def one_line(text: str) -> str:
    """A text as a comment can hold it: a break in it would let what follows speak to the simulator."""
    return " ".join(printable(text).split())


def _direct_zeros(frame: Frame, tied: set[int]) -> Iterator[str]:
    """Ties for parts that only capacitances join to others: to direct current they have no potential either."""
    if frame.point.dc is None:
        return
    island = frame.point.dc.topology.island
    held = {int(island[node]) for node in tied}
    for part, node in sorted(_zeros(frame.point.dc).items()):
        if part not in held:
            yield f"Rzero{node} n{node} 0 1 ac=1e15"


def _zeros(solution: Solution) -> dict[int, int]:
    """For each island of the network the node that is its zero."""
    shape = solution.topology
    zero = (shape.columns == shape.size).all(axis=0)
    return {int(shape.island[node]): node for node in range(len(zero)) if zero[node]}


def _element(assembly: Assembly, frame: Frame, number: int, value: Value, driven: bool) -> Iterator[str]:
    """Meter of a link; then source, mutual voltages, resistance and inductance in series, capacitance in parallel."""
    ref = assembly.branches[number]
    here = f"n{ref.a}"
    if not ref.branch:
        # Before both: it measures what goes by the resistance and by the capacitance.
        yield f"Vi{number} {here} m{number} dc 0 ac 0"
        here = f"m{number}"
    if value.joint_ohm:
        yield f"Rj{number} {here} k{number} {value.joint_ohm:.15g}"
        here = f"k{number}"
    if value.capacitance_f:
        yield f"C{number} {here} n{ref.b} {value.capacitance_f:.15g}"
    pieces = []
    if driven or value.emf_dc_v:
        # The emf is the rise from a to b, so the source's plus is at its far end.
        size, angle = cmath.polar(-value.emf_v)
        pieces.append((f"Vs{number}", f"dc {-value.emf_dc_v:.15g} ac {size:.15g} {math.degrees(angle):.15g}"))
    if value.mutual:
        pieces.append((f"Vi{number}", "dc 0 ac 0"))
    for name, ohm, henry in value.mutual:
        other = assembly.branch_index(ref.place, name)
        if frame.values[other] is None:
            continue
        if ohm:
            pieces.append((f"Eo{number}_{other}", f"o{other} 0 {ohm:.15g}"))
        if henry:
            pieces.append((f"E{number}_{other}", f"j{other} 0 {henry:.15g}"))
    if value.resistance_ohm or value.direct_ohm:
        direct = value.resistance_ohm if value.direct_ohm is None else value.direct_ohm
        pieces.append((f"R{number}", f"{direct:.15g} ac={value.resistance_ohm:.15g}"))
    if value.inductance_h:
        pieces.append((f"L{number}", f"{value.inductance_h:.15g}"))
    if not pieces and not value.capacitance_f:
        pieces.append((f"V{number}", "dc 0 ac 0"))
    for index, (name, value_told) in enumerate(pieces):
        there = f"n{ref.b}" if index == len(pieces) - 1 else f"m{number}_{index}"
        yield f"{name} {here} {there} {value_told}"
        here = there


def _rising(assembly: Assembly, frame: Frame) -> Iterator[str]:
    """For each winding on a core with others two nodes: the rise of its current, amperes per second, and its current.

    The latter, in amperes, is of alternating current alone: no winding makes a steady voltage in another.
    """
    for number, value in enumerate(frame.values):
        if value is not None and value.mutual:
            yield f"F{number} 0 j{number} Vi{number} 1"
            yield f"Lj{number} j{number} 0 1"
            yield f"Fo{number} 0 o{number} Vi{number} 1"
            yield f"Ro{number} o{number} 0 1"
            yield f"Lo{number} o{number} 0 1e6"
