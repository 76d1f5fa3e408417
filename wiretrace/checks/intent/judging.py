"""Lines of an operating description, judged over every state that the circuit was worked to.

A `when` is judged at every event of its kind that begins with no other hand on a command and in which its conditions
hold; `while` and `never` in every state that lasts, and `never` of two opposing contactors also in between.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from wiretrace.catalogue.machinery.status import tells, words
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Move
from wiretrace.checks.intent.lines import RUNS, STANDS, Clause, Event, Line, Mode, Never, Unread, When, While, Worked
from wiretrace.checks.intent.reading import read_line
from wiretrace.checks.playing import worked
from wiretrace.checks.playing.explore import AFTER_US, Explorer
from wiretrace.checks.playing.states import Edge, How, Reached
from wiretrace.checks.playing.telling import not_played, told
from wiretrace.simulation.engine import frame_of

HOWS: Final = {
    Worked.TRIPS: How.TRIP,
    Worked.RESET: How.RESET,
    Worked.GOES: How.SUPPLY,
    Worked.RETURNS: How.SUPPLY,
}
STANDING: Final = ("still", "coasts", "coasts_forward", "coasts_backward")
DOES: Final = re.compile(r"(turns|brakes|coasts|hums|runs|feeds|conducts|measures|glows|sounds)\b")
"""What says itself what a device does, without is."""
DAMAGED: Final = ("coil_burnt", "blown", "welded")
EARLY_S: Final = 0.5
"""How much earlier or later than said something may come, or a tenth of the time if that is more."""


class LineOutcome(StrEnum):
    """How it stands with a line."""

    HELD = "held"
    BROKEN = "broken"
    NEVER_MET = "never met"
    CANNOT_TELL = "cannot tell"
    UNREAD = "unread"


@dataclass(frozen=True)
class Judged:
    """A line as it was written, how it stands, why in words, and the moves that show where it is broken."""

    text: str
    outcome: LineOutcome
    reason: str = ""
    device: str | None = None
    moves: tuple[Move, ...] = ()
    seen_us: int = 0


@dataclass(frozen=True)
class Broken:
    """Where a line is broken: in or after which state, along which edges, by what."""

    clause: Clause
    here: Reached
    edges: tuple[Edge, ...]


def judged(facts: Facts, texts: Sequence[str]) -> tuple[Judged, ...]:
    """Every line that is not empty. Raises NothingToCheck for a circuit without a coil, and what a run raises."""
    made = worked(facts)
    return tuple(_judged(made, " ".join(text.split())) for text in texts if text.strip())


def _judged(made: Explorer, text: str) -> Judged:
    try:
        line = read_line(made, text)
    except Unread as error:
        return Judged(text, LineOutcome.UNREAD, str(error))
    return judge(made, text, line)


def judge(made: Explorer, text: str, line: Line) -> Judged:
    """How it stands with a line that was read."""
    judge = Judge(made)
    broken = next(judge.broken(line), None)
    if broken is not None:
        moves, seen_us = made.found.moves_to(broken.here.number, broken.edges)
        return Judged(text, LineOutcome.BROKEN, judge.words(broken, moves), broken.clause.device, moves, seen_us)
    # What lies behind a trip, a chatter or the bound of what is played may break it, or bring it about.
    unplayed = next(not_played(made), None)
    if unplayed is not None:
        return Judged(text, LineOutcome.CANNOT_TELL, unplayed.why)
    if not judge.met:
        return Judged(text, LineOutcome.NEVER_MET, "Nothing of the kind happened, whatever was worked.")
    return Judged(text, LineOutcome.HELD, judge.over(line))


class Judge:
    """Judges one line; `met` counts where its conditions held."""

    def __init__(self, made: Explorer) -> None:
        self.made = made
        self.met = 0
        self._motors: dict[int, dict[str, str]] = made.facts.remembered("motors shown", dict)

    def broken(self, line: Line) -> Iterator[Broken]:
        """Every place where it is broken, in the order of the fewest moves."""
        match line:
            case When():
                yield from self._when(line)
            case While():
                for here in self._lasting():
                    if self._all(here, line.conditions):
                        self.met += 1
                        yield from (Broken(one, here, ()) for one in line.outcomes if not self.holds(here, one))
            case Never():
                for here in self._lasting():
                    self.met += 1
                    if self._all(here, line.states):
                        yield Broken(line.states[0], here, ())
                yield from self._in_between(line)

    def over(self, line: Line) -> str:
        """How often it was judged, as it goes on after "it holds"."""
        if isinstance(line, When):
            return f"{self.met} {'time' if self.met == 1 else 'times'}."
        return f"in {self.met} {'state' if self.met == 1 else 'states'}."

    def _lasting(self) -> list[Reached]:
        """States that were looked at with every supply and line there, and nothing that goes in and out."""
        return [one for one in self.made.found.states if not one.chatters]

    def _in_between(self, line: Never) -> Iterator[Broken]:
        if len(line.states) != 2 or any(one.what != "pulled_in" or one.mode is Mode.NOT for one in line.states):
            return
        first, second = (one.device for one in line.states)
        together = self.made.witness.together
        seen = together.get((first, second)) or together.get((second, first))
        if seen is not None:
            step = Edge(seen.of, seen.of, How.HAND, seen.moves, seen.after_us, "")
            yield Broken(line.states[0], self.made.found.states[seen.of], (step,))

    def _when(self, line: When) -> Iterator[Broken]:
        for here, way in self._events(line.event):
            if not self._all(here, line.conditions):
                continue
            self.met += 1
            last, waited = self.made.found.rested(way[-1].to if way else here.number)
            course = [(way[-1].to if way else here.number, 0.0)]
            now = sum(edge.took_us for edge in way) / 1e6
            for edge in waited:
                now += edge.took_us / 1e6
                course.append((edge.to, now - AFTER_US / 1e6))
            for one in line.outcomes:
                if not self._comes(one, course, last, line):
                    yield Broken(one, here, (*way, *waited))

    def _events(self, event: Event) -> Iterator[tuple[Reached, tuple[Edge, ...]]]:
        """Where it happens: the state before, and the edges that it takes."""
        states = self.made.found.states
        if event.worked is Worked.COMES:
            yield states[0], ()
            return
        for edge in self.made.found.edges:
            here = states[edge.of]
            if self._is(event, edge, here) and not self._damaged(here):
                if event.worked is not Worked.PRESSED_AND_LET_GO:
                    yield here, (edge,)
                    continue
                let_go = (one for one in self.made.found.leaving[edge.to] if one.lets_go and one.device == edge.device)
                yield from ((here, (edge, one)) for one in let_go)

    def _damaged(self, here: Reached) -> bool:
        """Has something burnt, blown or welded before? What the circuit then does nobody has described."""
        return any(tells(status, code) for status in here.key for code in DAMAGED)

    def _is(self, event: Event, edge: Edge, here: Reached) -> bool:
        if event.worked in HOWS:
            ours = not event.device or event.device == edge.device
            gives = not edge.moves or edge.moves[-1].value
            wants = {Worked.GOES: False, Worked.RETURNS: True}.get(event.worked, gives)
            return ours and edge.how is HOWS[event.worked] and gives is wants
        if edge.how is not How.HAND or edge.device != event.device or here.held - {event.device}:
            return False
        if event.worked is Worked.LET_GO:
            return edge.lets_go
        if event.worked is Worked.TURNED:
            to = Clause(event.device, event.to)
            return not self.holds(here, to) and self.holds(self.made.found.states[edge.to], to)
        return not edge.lets_go and not here.held

    def _comes(self, one: Clause, course: Sequence[tuple[int, float]], last: int, line: When) -> bool:
        """Is the outcome seen as it is said, on the way from an event to where nothing changes any more?"""
        states = self.made.found.states
        when = [at for number, at in course if self.holds(states[number], one)]
        if line.within_s is not None:
            return bool(when) and when[0] <= line.within_s
        if line.after_s is not None:
            return bool(when) and abs(when[0] - line.after_s) <= max(EARLY_S, 0.1 * line.after_s)
        if one.mode is Mode.GOES:
            return bool(when)
        if one.mode is Mode.STAYS:
            return len(when) == len(course)
        return self.holds(states[last], one)

    def _all(self, here: Reached, clauses: Sequence[Clause]) -> bool:
        return all(self.holds(here, one) for one in clauses)

    def holds(self, here: Reached, one: Clause) -> bool:
        """Is it so in this state?"""
        status = self.status(here, one.device)
        if one.what in (RUNS, STANDS) and one.device in self.made.motors:
            stands = any(tells(status, code) for code in STANDING) or status.startswith("brakes")
            so = stands is (one.what == STANDS)
        else:
            so = tells(status, one.what)
        return so is (one.mode is not Mode.NOT)

    def status(self, here: Reached, device: str) -> str:
        if device not in self.made.motors:
            return here.key[self.made.place(device)]
        if here.number not in self._motors:
            views = frame_of(self.made.assembly, here.state).views
            self._motors[here.number] = {name: views[name].status for name in self.made.motors}
        return self._motors[here.number][device]

    def words(self, broken: Broken, moves: tuple[Move, ...]) -> str:
        """What is seen instead."""
        last = broken.edges[-1].to if broken.edges else broken.here.number
        status = words(self.status(self.made.found.states[last], broken.clause.device))
        begun = told(moves) if moves else "under power"
        label = self.made.facts.label(broken.clause.device)
        return f"{begun[0].upper()}{begun[1:]}: {label} {'' if DOES.match(status) else 'is '}{status}."
