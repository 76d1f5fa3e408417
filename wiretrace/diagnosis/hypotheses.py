"""What may be wrong: every single fault of a circuit, how likely it is, and the values that it may have."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.faults.fault import Fault
from wiretrace.faults.possible import possible_faults, rare_faults
from wiretrace.faults.registry import KINDS, kind_name
from wiretrace.simulation.assembly import Assembly

WEIGHTS: Final[Mapping[str, float]] = {
    name: cls.about.weight for name, cls in KINDS.items() if cls.about.weight is not None
}
"""How often each kind of fault comes about, in proportion, by its name. A user may give his own."""
BOTH: Final = 0.05
"""How often a second fault is there beside a first one."""


@dataclass(frozen=True)
class Hypothesis:
    """A fault that may be there, None for a sound circuit; `values` are the same with each value it stands for.

    `also` is a second one that is there with it.
    """

    fault: Fault | None
    weight: float
    values: tuple[Fault, ...]
    also: Fault | None = None

    @property
    def faults(self) -> tuple[Fault, ...]:
        """Those that are there at once."""
        return tuple(one for one in (self.fault, self.also) if one is not None)


def hypotheses(sound: Assembly) -> tuple[Hypothesis, ...]:
    """The sound circuit first, then every single fault, in the order of the document."""
    found = [Hypothesis(None, 1.0, ())]
    for fault in possible_faults(sound.circuit, sound.devices):
        found.append(Hypothesis(fault, WEIGHTS[kind_name(fault)], fault.values()))
    return tuple(found)


def rare_hypotheses(sound: Assembly) -> tuple[Hypothesis, ...]:
    """What else may be wrong, looked for where no likely fault explains what was seen."""
    listed = set(possible_faults(sound.circuit, sound.devices))
    found = dict.fromkeys(one for one in rare_faults(sound.circuit, sound.devices) if one not in listed)
    return tuple(Hypothesis(fault, fault.about.rare or 0.0, (fault,)) for fault in found)


def both(one: Hypothesis, other: Hypothesis, all_weight: float) -> Hypothesis:
    """Two faults at once. `all_weight` is that of all single ones together."""
    assert one.fault is not None
    return Hypothesis(one.fault, BOTH * one.weight * other.weight / all_weight, (one.fault,), other.fault)
