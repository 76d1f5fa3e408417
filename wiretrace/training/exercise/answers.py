"""What is wrong, named by the apprentice: is it so, and if not, which observation speaks against it; and the proof."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np

from wiretrace.catalogue.machinery.status import words
from wiretrace.diagnosis.dictionary import show
from wiretrace.diagnosis.engine import OHMS, VOLTS
from wiretrace.diagnosis.hypotheses import Hypothesis
from wiretrace.diagnosis.procedure import Halt
from wiretrace.diagnosis.repertoire import Floats, lookers, spots
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault
from wiretrace.faults.kinds.elements import BAD_JOINTS_OHM
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.following import Observed, Runs, follow
from wiretrace.training.exercise.order import looks_under
from wiretrace.training.exercise.steps import Leg

WRONG_S: Final = 300
MEND_S: Final = 180
"""What it takes to replace a part that was sound, and to mend what was not, seconds."""
VALUE: Final = "resistance_ohm"


def mended(sound: Assembly, hidden: Sequence[Fault], named: Fault, halts: Sequence[Halt]) -> Fault | None:
    """The hidden fault that is named; one that nothing could tell from it counts as named. None if there is none."""
    for one in hidden:
        if _plain(one) == _plain(named):
            return one
    # Each by itself: beside another that hides it, much would look the same.
    return next((one for one in hidden if _alike(sound, one, named, halts)), None)


def _plain(fault: Fault) -> Fault:
    """A fault without what nobody is asked for: when it is there, and how many ohms it has."""
    plain = replace(fault, start_us=0, slot_us=0, seed=0)
    # A loose terminal without ohms is off, one with ohms is a bad joint: that is another kind of fault.
    return _with_ohms(plain, 0.0) if getattr(plain, VALUE, None) is not None else plain


def _with_ohms(fault: Fault, ohm: float) -> Fault:
    changed: Any = {VALUE: ohm}
    return replace(fault, **changed)


def _alike(sound: Assembly, one: Fault, other: Fault, halts: Sequence[Halt]) -> bool:
    where = spots(sound)
    try:
        shown = [show(sound.circuit, (fault,), halts, where) for fault in (replace(one, slot_us=0), other)]
    except WiretraceError:
        return False
    first, second = shown
    return (
        first.looks == second.looks and _near(first.volts, second.volts, VOLTS) and _near(first.ohms, second.ohms, OHMS)
    )


def _near(one: Floats, other: Floats, tolerance: tuple[float, float]) -> bool:
    return bool(np.allclose(one, other, rtol=tolerance[1], atol=tolerance[0]))


def against(sound: Assembly, legs: Sequence[Leg], seen: Sequence[Observed], named: Fault) -> int | None:
    """The number of the first leg that speaks against a fault; None where none does."""
    values = tuple(_with_ohms(named, ohm) for ohm in BAD_JOINTS_OHM) if _has_ohms(named) else (named,)
    followed = follow(Runs(sound), legs, seen, (), Hypothesis(named, 1.0, values))
    last = len(followed.fits) - 1
    return None if any(followed.fits[last]) else last


def _has_ohms(fault: Fault) -> bool:
    return bool(getattr(fault, VALUE, 0.0))


@dataclass(frozen=True)
class Proof:
    """What came of the operating sequence after mending: what is not as it should be, none if all is."""

    unmet: tuple[str, ...]


def proved(assembly: Assembly, faults: Sequence[Fault], halts: Sequence[Halt]) -> Proof:
    """Run the operating sequence with what is still wrong at the panel, wires off and bridges in it too."""
    names = [item.label for item in lookers(assembly)]
    found, sound = looks_under(assembly, faults, halts), looks_under(assembly, (), halts)
    return Proof(
        tuple(
            f"{halt.text}: {name} {words(is_) or 'otherwise'}, should be {words(should) or 'normal'}"
            for halt, looks, right in zip(halts, found, sound, strict=True)
            for name, is_, should in zip(names, looks, right, strict=True)
            if is_ != should
        )
    )
