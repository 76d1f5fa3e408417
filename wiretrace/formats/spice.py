"""SPICE netlist of one state of a circuit, for an independent check of the core.

Every terminal is a node and every conducting element stands in the netlist with its value in
that state; open contacts are left out. The netlist runs in batch mode and prints the real and
imaginary part of every node's potential in volts RMS.
"""

import cmath
import math
from collections.abc import Iterator

from wiretrace.catalogue.device import Value
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.plant import Plant


def spice_netlist(plant: Plant, frame: Frame) -> str:
    """The netlist as text. Node ``n7`` is terminal 7 of the list in its comments."""
    zeros = _zeros(frame)
    ground = zeros[int(frame.solution.topology.island[0])] if plant.nodes else -1
    lines = [f"* {plant.circuit.title}, at {frame.state.time_us / 1e6:.6f} s"]
    lines += [f"* n{node} = {plant.node_label(node)}" for node in range(len(plant.nodes))]
    lines += [f"Vzero n{ground} 0 dc 0 ac 0"]
    # A part of the network on its own has no potential to the rest: tie its zero to earth.
    lines += [f"Rzero{node} n{node} 0 1" for island, node in sorted(zeros.items()) if node != ground]
    for number, value in enumerate(frame.values):
        if value is not None:
            ref = plant.branches[number]
            lines.append(f"* {ref.place} {ref.branch}".rstrip())
            lines += _element(number, ref.a, ref.b, value)
    lines += _couplings(plant, frame)
    frequency = f"{plant.frequency_hz:.12g}"
    lines += [f".ac lin 1 {frequency} {frequency}", ".control", "set numdgt=15", "run"]
    lines += [f"print vr(n{node}) vi(n{node})" for node in range(len(plant.nodes))]
    return "\n".join([*lines, "quit", ".endc", ".end", ""])


def _zeros(frame: Frame) -> dict[int, int]:
    """For each island of the network the node that is its zero."""
    shape = frame.solution.topology
    zero = (shape.columns == shape.size).all(axis=0)
    return {int(shape.island[node]): node for node in range(len(zero)) if zero[node]}


def _element(number: int, a: int, b: int, value: Value) -> Iterator[str]:
    """Source, resistance and inductance in series, capacitance in parallel to them."""
    if value.capacitance_f:
        yield f"C{number} n{a} n{b} {value.capacitance_f:.15g}"
    pieces = []
    if value.emf_v:
        size, angle = cmath.polar(value.emf_v)
        pieces.append(("V", f"dc 0 ac {size:.15g} {math.degrees(angle):.15g}"))
    if value.resistance_ohm:
        pieces.append(("R", f"{value.resistance_ohm:.15g}"))
    if value.inductance_h:
        pieces.append(("L", f"{value.inductance_h:.15g}"))
    here = f"n{a}"
    for index, (letter, worth) in enumerate(pieces):
        there = f"n{b}" if index == len(pieces) - 1 else f"m{number}_{index}"
        # The emf is the rise from a to b, so a source's plus is at its far end.
        ends = f"{there} {here}" if letter == "V" else f"{here} {there}"
        yield f"{letter}{number}_{index} {ends} {worth}"
        here = there


def _couplings(plant: Plant, frame: Frame) -> Iterator[str]:
    """Windings on one core, each pair once, by their coupling factor."""
    for number, value in enumerate(frame.values):
        ref = plant.branches[number]
        for name, mutual_h in value.mutual_h if value else ():
            other = plant.branch_index(ref.place, name)
            partner = frame.values[other]
            if value is not None and partner is not None and other > number:
                factor = mutual_h / math.sqrt(value.inductance_h * partner.inductance_h)
                yield f"K{number}_{other} {_coil(number, value)} {_coil(other, partner)} {factor:.15g}"


def _coil(number: int, value: Value) -> str:
    """Name of the inductor that `_element` writes for a branch."""
    return f"L{number}_{bool(value.emf_v) + bool(value.resistance_ohm)}"
