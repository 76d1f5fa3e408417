"""The states of a machine as text."""

from collections.abc import Iterator

from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck
from wiretrace.checks.playing.diagram import Diagram, state_diagram
from wiretrace.document.circuit import Circuit


def states_text(circuit: Circuit) -> str:
    """Every state, with what leads out of it and where to."""
    try:
        return "\n".join(_lines(state_diagram(Facts(circuit))))
    except NothingToCheck:
        return "No coil: no states."


def _lines(found: Diagram) -> Iterator[str]:
    for one in found.states:
        yield f"{one.number}: {', '.join(one.lines)}{' (nothing stops it)' if one.trap else ''}"
        for arrow in found.arrows:
            if arrow.of == one.number:
                yield f"    {' or '.join(arrow.words)} -> {arrow.to}"
    yield f"Of {found.over}.{' There are more.' if found.left_out else ''}"
