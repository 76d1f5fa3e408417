"""By which terminals a part is fed and leads on, and which part of a device leads the others."""

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import Part, Role


def sides(kind: Kind, part: Part) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The terminals by which a part is fed, and those that lead on, in their order."""
    inner, frames = set(kind.internal_nodes), {t.name for t in kind.terminals if t.frame}
    own = [name for name in part.terminals if name not in frames]
    if part.does is Does.FEEDS:
        return (), part.terminals
    if part.does is Does.TRANSFORMS:
        return tuple(n for n in own if n not in kind.poles), tuple(n for n in own if n in kind.poles)
    if part.does is Does.FEELS_VOLTAGE or (part.does is Does.TURNS and kind.three_phase is None):
        return tuple(own), ()
    if part.does is Does.TURNS and kind.three_phase is not None:
        return kind.three_phase.starts, kind.three_phase.ends or ()
    ways = [b for b in kind.branches if b.name in part.branches and b.role is not Role.SOURCE]
    fed = set(part.fed) or {branch.a for branch in ways} - inner
    on = {end for branch in ways for end in (branch.a, branch.b)} - inner - fed
    return tuple(n for n in own if n in fed), tuple(n for n in own if n in on)


def leads(kind: Kind, part: Part) -> bool:
    """Does the part stand for the device: its head, its coil, the first of several?"""
    if kind.actuator in (Actuator.HAND, Actuator.HANDLE, Actuator.PROCESS):
        return True
    before = kind.parts[: kind.parts.index(part)]
    return not before or (part.when is not None and all(other.when is not None for other in before))
