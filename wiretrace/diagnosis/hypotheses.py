"""What may be wrong: every single fault of a circuit, how likely it is, and the values that it may have."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.faults.fault import Fault
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.registry import KINDS, kind_name
from wiretrace.simulation.assembly import Assembly

WEIGHTS: Final[Mapping[str, float]] = {
    name: cls.about.weight for name, cls in KINDS.items() if cls.about.weight is not None
}
"""How often each kind of fault comes about, in proportion, by its name. A user may give his own."""


@dataclass(frozen=True)
class Hypothesis:
    """A fault that may be there, None for a sound circuit; `values` are the same with each value it stands for."""

    fault: Fault | None
    weight: float
    values: tuple[Fault, ...]


def hypotheses(sound: Assembly) -> tuple[Hypothesis, ...]:
    """The sound circuit first, then every single fault, in the order of the document."""
    found = [Hypothesis(None, 1.0, ())]
    for fault in possible_faults(sound.circuit, sound.devices):
        found.append(Hypothesis(fault, WEIGHTS[kind_name(fault)], fault.values()))
    return tuple(found)
