"""The potential of every terminal to one of them: the hot and cold map of a circuit."""

import math
from dataclasses import dataclass

from wiretrace.document.circuit import End
from wiretrace.network.point import OperatingPoint
from wiretrace.simulation.assembly import Assembly


@dataclass(frozen=True)
class Potential:
    """Volts of a terminal to the reference: RMS of the alternating part, and the direct part.

    `joined` is False when no conducting path leads there: then there is no potential to speak of.
    """

    end: End
    ac_v: float
    dc_v: float
    joined: bool


def potentials(assembly: Assembly, point: OperatingPoint, reference: End) -> tuple[Potential, ...]:
    """All terminals, in the order of the document. Raises UnknownTarget for a reference that is not there."""
    zero = assembly.node(reference)
    found = []
    for item in assembly.devices.values():
        for terminal in item.structure.terminals:
            node = assembly.graph.node_of[item.id, terminal.name]
            ac = math.hypot(
                *(abs(one.volts_between(node, zero)) for one in point.alternating if one.joined(node, zero))
            )
            dc = sum(one.volts_between(node, zero).real for one in point.direct if one.joined(node, zero))
            found.append(Potential(End(device=item.id, terminal=terminal.name), ac, dc, point.joined(node, zero)))
    return tuple(found)
