"""What may be wrong: every single fault of a circuit, how likely it is, and the values that it may have."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Final

from wiretrace.circuit.document import Circuit
from wiretrace.faults.devices import Stuck, WrongSetting
from wiretrace.faults.elements import HighResistance, LooseTerminal, Open, Short, Welded, WrongContact
from wiretrace.faults.fault import Fault
from wiretrace.faults.possible import possible_faults
from wiretrace.simulation.assembly import Assembly

WEIGHTS: Final[Mapping[type[Fault], float]] = {
    LooseTerminal: 4.0,
    Open: 3.0,
    HighResistance: 2.0,
    Stuck: 1.0,
    WrongSetting: 1.0,
    Welded: 0.7,
    Short: 0.5,
    WrongContact: 0.2,
}
"""How often each comes about, in proportion: joints work loose most; a wrong contact was built in and would have
shown at once. A user may give his own."""

DEFAULTS: Final[Mapping[str, float]] = {str(vars(kind)["kind"]): weight for kind, weight in WEIGHTS.items()}
"""The same by the name of the kind."""
WHY_SO_OFTEN: Final[Mapping[str, str]] = {
    "loose_terminal": "Joints work loose by warmth and shaking: the commonest of all.",
    "open": "Fuses blow, coils burn out, lamps fail, wires break where they bend.",
    "high_resistance": "Dirt and burnt contacts make them before they open altogether.",
    "stuck": "Armatures and pistons stick by dirt and wear.",
    "setting": "Somebody turned a dial.",
    "welded": "After a short circuit, or many starts.",
    "short": "Insulation fails seldom, and then something trips.",
    "wrong_contact": "Built in at the last repair; it would have shown at once.",
}
"""Why each kind is as likely as it is; a user may know his own plant better."""

JOINT_OHM: Final = (30.0, 300.0, 3_000.0)
"""A bad joint may have any resistance: these stand for its range."""


@dataclass(frozen=True)
class Hypothesis:
    """A fault that may be there, None for a sound circuit; `values` are the same with each value it stands for."""

    fault: Fault | None
    weight: float
    values: tuple[Fault, ...]


def hypotheses(circuit: Circuit, weights: Mapping[type[Fault], float] = WEIGHTS) -> tuple[Hypothesis, ...]:
    """The sound circuit first, then every single fault, in the order of the document."""
    found = [Hypothesis(None, 1.0, ())]
    for fault in possible_faults(circuit, Assembly(circuit).devices):
        values: tuple[Fault, ...] = (fault,)
        if isinstance(fault, HighResistance):
            # The typical one first: it stands for the fault where one is needed.
            values = tuple(replace(fault, resistance_ohm=ohm) for ohm in sorted(JOINT_OHM, key=_from_typical))
        found.append(Hypothesis(fault, weights.get(type(fault), 1.0), values))
    return tuple(found)


def _from_typical(ohm: float) -> bool:
    return ohm != JOINT_OHM[1]
