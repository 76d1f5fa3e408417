"""What meters show at every spot of a circuit in a state, sound or with a fault."""

from collections import OrderedDict
from collections.abc import Sequence
from typing import Final

from wiretrace.catalogue.machinery.element import Value
from wiretrace.diagnosis.repertoire import Floats, Spot, nodes_at
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.fault_readings import (
    Nodes,
    Solved,
    dead_values,
    nodes_under,
    ohms_between,
    solved,
    volts_between,
)
from wiretrace.simulation.state import State

KEPT: Final = 40
"""Solved states that are remembered: a quarter of a megabyte each in a usual circuit."""
Key = tuple[Value | None, ...]


class Readings:
    """Readings at some spots. Faults often leave a circuit in a state that others leave it in: it is solved once."""

    def __init__(self, sound: Assembly, where: Sequence[Spot]) -> None:
        self._sound = sound
        self._nodes = nodes_at(sound, where)
        self._known: OrderedDict[tuple[bool, Key], Solved] = OrderedDict()

    def base(self, state: State, faults: Sequence[Fault], dead: bool = False) -> Solved:
        """A state as it is but for what the faults do to the network; `dead` with the supplies taken off.

        Raises SingularNetwork.
        """
        setting = any(fault.settings() or fault.holds for fault in faults)
        values_of = self._sound.with_faults(faults) if setting else self._sound
        values = dead_values(values_of, state) if dead else values_of.values.in_state(state)
        key = (dead, tuple(values))
        if key not in self._known:
            self._known[key] = solved(self._sound, state, values, dead)
            if len(self._known) > KEPT:
                self._known.popitem(last=False)
        self._known.move_to_end(key)
        return self._known[key]

    def volts(self, base: Solved, faults: Sequence[Fault]) -> Floats:
        """What a voltmeter shows at every spot with at most one fault, volts. Raises SingularNetwork."""
        return volts_between(self._with(base, faults), *self._nodes)

    def ohms(self, base: Solved, faults: Sequence[Fault]) -> Floats:
        """What an ohmmeter shows at every spot of what is dead: infinite for OL. Raises SingularNetwork."""
        return ohms_between(self._with(base, faults), *self._nodes)

    def _with(self, base: Solved, faults: Sequence[Fault]) -> tuple[Nodes, ...]:
        return nodes_under(self._sound, base, faults[0]) if faults else base.nodes
