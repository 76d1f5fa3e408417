"""What the rules of the motor circuit share: what is joined with which contactors in, and which feed which motor."""

import numpy as np
from numpy.typing import NDArray

from wiretrace.checks.facts import Facts, Parts
from wiretrace.document.checked import Installed


def joined_with(facts: Facts, contactors: tuple[Installed, ...], but: tuple[str, ...] = ()) -> Parts:
    """What is joined with these contactors in, protection on; `but` are devices whose poles are left out."""
    ids = frozenset(item.id for item in contactors)
    parts: Parts = facts.remembered(("in", ids, but), lambda: facts.joined_by(_mask_in(facts, ids), but))
    return parts


def _mask_in(facts: Facts, ids: frozenset[str]) -> NDArray[np.bool_]:
    on: NDArray[np.bool_] = facts.remembered(
        "on", lambda: facts.mask(lambda ref: facts.opens_itself(ref) and not facts.is_pole(ref))
    ).copy()
    for name in ids:
        on[facts.rows_of_poles(name)] = True
    return on


def leads_of(facts: Facts, motor: Installed) -> list[int]:
    """Nodes of the leads of a motor."""
    windings = motor.kind.three_phase
    return [facts.node(motor, name) for name in windings.leads] if windings else []


def contactors_of(facts: Facts, motor: Installed) -> list[Installed]:
    """Contactors through whose poles a motor gets its lines."""
    feeding: dict[str, list[Installed]] = facts.remembered("feeding", lambda: _feeding(facts))
    return feeding.get(motor.id, [])


def _feeding(facts: Facts) -> dict[str, list[Installed]]:
    """By motor, the contactors that give it a line by themselves."""
    live = [pole.node for pole in facts.poles if pole.what == "live"]
    leads = [(motor.id, node) for motor in facts.motors for node in leads_of(facts, motor)]
    nodes = [node for _, node in leads]
    found: dict[str, list[Installed]] = {}
    for item in facts.contactors if nodes else ():
        label = joined_with(facts, (item,)).label
        fed = np.isin(label[nodes], label[live])
        for name in dict.fromkeys(leads[row][0] for row in np.flatnonzero(fed).tolist()):
            found.setdefault(name, []).append(item)
    return found
