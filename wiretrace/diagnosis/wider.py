"""Where no likely fault explains what was observed: rare ones, and two at once, looked at beside them."""

from collections.abc import Callable, Iterable, Sequence

from wiretrace.diagnosis.dictionary import Alike, Worked, dictionary, joined
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.hypotheses import Hypothesis, rare_hypotheses
from wiretrace.diagnosis.pairs import Made, likely_pairs
from wiretrace.simulation.assembly import Assembly

Shared = Callable[[Callable[[Alike], list[Worked]], Sequence[Alike]], Iterable[list[Worked]]]


def wider_hypotheses(sound: Assembly, engine: Engine, made: Made) -> tuple[Hypothesis, ...]:
    """What else may be wrong after these observations."""
    return (*rare_hypotheses(sound), *likely_pairs(engine, made))


def widened(engine: Engine, made: Made, worked: Shared = map) -> Engine:
    """An engine that knows these, too. `worked` does the tasks in order: one after the other, or shared out."""
    known = engine.known
    every = wider_hypotheses(Assembly(known.circuit), engine, made)
    return Engine(joined(known, dictionary(known.circuit, known.halts, every, worked)))
