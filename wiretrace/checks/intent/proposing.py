"""An operating description that holds, written down from what a circuit does: to be read, changed and kept.

Every line is one that was judged and holds. Where a start works only in some states, the first condition under which
it does is said with it.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.status import tells, words
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck
from wiretrace.checks.intent.judging import Judge, LineOutcome, judge
from wiretrace.checks.intent.lines import Unread
from wiretrace.checks.intent.reading import SINGULAR, read_line
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.effects import Effect, Verb, effects
from wiretrace.checks.playing.explore import AFTER_US, Explorer
from wiretrace.checks.playing.states import Edge, How, Reached
from wiretrace.checks.playing.telling import whole
from wiretrace.document.checked import Installed

MOST: Final = 40
"""Lines that are proposed: more nobody reads."""


@dataclass(frozen=True)
class Draft:
    """What happens and then follows; the conditions are still to be found."""

    event: str
    outcome: str
    here: Reached
    device: str


def proposed(facts: Facts) -> tuple[str, ...]:
    """Lines that hold. Nothing for a circuit without a coil, or one that was not worked whole."""
    try:
        made = worked(facts)
    except NothingToCheck:
        return ()
    if not whole(made):
        return ()
    found: dict[tuple[str, str], str] = {}
    for draft in (*_starts(made), *_stops(made)):
        key = (draft.event, draft.outcome)
        lines = (f"when {draft.event}{condition}, then {draft.outcome}" for condition in _conditions(made, draft))
        line = None if key in found else next((text for text in lines if _holds(made, text)), None)
        if line is not None:
            found[key] = line
    more = (text for text in (*_upsets(made), *_nevers(made), *_lamps(made)) if _holds(made, text))
    return tuple(dict.fromkeys((*found.values(), *more)))[:MOST]


def _holds(made: Explorer, text: str) -> bool:
    try:
        return judge(made, text, read_line(made, text)).outcome is LineOutcome.HELD
    except Unread:
        return False


def _event(made: Explorer, edge: Edge) -> str:
    """How a line tells of what somebody does."""
    item = made.assembly.devices[edge.device]
    move = edge.moves[0]
    operation = next(one for one in item.kind.operations if one.name == move.operation)
    if operation.trips:
        return f"{item.label} trips"
    if operation.style == "momentary":
        return f"{item.label} is pressed"
    turned = item.kind.actuator is Actuator.HANDLE and not item.kind.is_stop(item.params)
    status = made.found.states[edge.to].key[made.place(item.id)]
    return f"{item.label} is {'turned to ' if turned else ''}{words(status)}"


def _several(made: Explorer, names: Iterable[str], verb: str, what: str) -> str:
    """K1 goes in, K1 and K2 go in."""
    labels = [made.facts.label(name) for name in sorted(names, key=made.place)]
    plural = {one: many for many, one in SINGULAR.items()}
    return f"{' and '.join(labels)} {verb if len(labels) == 1 else plural[verb]} {what}"


def _starts(made: Explorer) -> Iterator[Draft]:
    """What comes in at once, what is left when the hand goes, and what comes and goes later by itself."""
    told: set[tuple[str, str, bool]] = set()
    for effect, shown in effects(made).items():
        one = (effect.device, effect.operation, effect.value)
        if effect.verb is Verb.STOPS or one in told:
            continue
        told.add(one)
        first, *later = shown.edges
        event, before = _event(made, first), made.found.states[first.to].runs
        new = before - shown.here.runs
        if new:
            yield Draft(event, _several(made, new, "goes", "in"), shown.here, effect.device)
        if event.endswith("is pressed"):
            event = f"{event} and let go"
            stay = new & made.found.states[later[-1].to].runs if later else frozenset()
            if stay:
                yield Draft(event, _several(made, stay, "stays", "in"), shown.here, effect.device)
            elif new and effect.verb is Verb.JOGS:
                yield Draft(event, _several(made, new, "goes", "out"), shown.here, effect.device)
        yield from _later(made, Draft(event, "", shown.here, effect.device), (first, *later))


def _later(made: Explorer, draft: Draft, edges: Sequence[Edge]) -> Iterator[Draft]:
    now_us, before = 0, made.found.states[edges[0].to].runs
    for edge in edges:
        now_us += edge.took_us
        runs = made.found.states[edge.to].runs
        after = f" after {(now_us - AFTER_US) / 1e6:.1f} s".replace(".0 s", " s")
        for names, what in ((runs - before, "in"), (before - runs, "out")):
            if names and edge.how is How.TIME:
                yield replace(draft, outcome=_several(made, names, "goes", what) + after)
        before = runs


def _stops(made: Explorer) -> Iterator[Draft]:
    by_event: dict[str, list[tuple[Effect, Reached]]] = {}
    for effect, shown in effects(made).items():
        if effect.verb is Verb.STOPS:
            by_event.setdefault(_event(made, shown.edges[0]), []).append((effect, shown.here))
    for event, some in by_event.items():
        names = [effect.output for effect, _ in some]
        yield Draft(event, _several(made, names, "goes", "out"), some[0][1], some[0][0].device)


def _conditions(made: Explorer, draft: Draft) -> Iterator[str]:
    """The least first: none, one that another is out or a command stands as it does, all of them."""
    yield ""
    here = draft.here
    out = [f"{item.label} is out" for item in made.facts.contactors if item.id not in here.runs]
    stands = [
        f"{item.label} is {words(here.key[made.place(item.id)])}"
        for item in made.commands
        if item.id != draft.device and not any(one.style == "momentary" for one in item.kind.operations)
    ]
    rest = made.found.states[0].key
    others = [
        f"{item.label} is {words(here.key[made.place(item.id)])}"
        for item in made.facts.that(Does.OPERATES, Does.TAKES_SIGNALS)
        if item not in made.facts.contactors and here.key[made.place(item.id)] != rest[made.place(item.id)]
    ]
    yield from (f" while {one}" for one in (*out, *stands, *others))
    for some in (out, stands, [*out, *stands], [*out, *stands, *others]):
        if len(some) > 1:
            yield f" while {' and '.join(some)}"


def _upsets(made: Explorer) -> Iterator[str]:
    """Nothing begins by a reset or with the supply."""
    if not made.facts.contactors:
        return
    stay = _several(made, [item.id for item in made.facts.contactors], "stays", "out")
    for item in made.facts.items:
        if any(one.resets for one in item.kind.operations):
            yield f"when {item.label} is reset, then {stay}"
    yield f"when the supply returns, then {stay}"


def _nevers(made: Explorer) -> Iterator[str]:
    for (one, two), _ in made.witness.pairs:
        yield f"never {made.facts.label(one)} is in while {made.facts.label(two)} is in"


def _lamps(made: Explorer) -> Iterator[str]:
    """A lamp that is lit just while one thing is so."""
    judges = Judge(made)
    for item in made.facts.that(Does.SHOWS):
        lit = {one.number for one in made.found.states if tells(judges.status(one, item.id), "lit")}
        for other in (*made.facts.that(Does.OPERATES), *_protections(made)):
            for status in sorted({one.key[made.place(other.id)] for one in made.found.states}):
                so = {one.number for one in made.found.states if one.key[made.place(other.id)] == status}
                if lit and so == lit:
                    yield f"while {other.label} is {words(status)}, {item.label} is lit"


def _protections(made: Explorer) -> list[Installed]:
    return [item for item in made.facts.items if any(one.trips for one in item.kind.operations)]
