"""Lines of an operating description, from the words in which people write them. Raises Unread, which says why."""

import re
from collections.abc import Sequence
from typing import Final

from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.status import WORDS, words
from wiretrace.checks.intent.lines import RUNS, STANDS, Clause, Event, Line, Mode, Never, Unread, When, While, Worked
from wiretrace.checks.playing.explore import Explorer
from wiretrace.document.checked import Installed

CODES: Final = {read: code for code, read in WORDS.items()}
SINGULAR: Final = {"are": "is", "go": "goes", "come": "comes", "stay": "stays", "run": "runs", "stand": "stands"}
CODE: Final = re.compile(r"=.*|[^+:]+")
TIME: Final = re.compile(r"^(?P<rest>.*?),? (?P<how>after|within) (?P<number>\d+(?:\.\d+)?) ?(?P<unit>ms|s|min)$")
SECONDS: Final = {"ms": 0.001, "s": 1.0, "min": 60.0}
SUPPLY: Final = "the supply"
SUPPLIES: Final = {
    "goes": Worked.GOES,
    "is lost": Worked.GOES,
    "returns": Worked.RETURNS,
    "comes back": Worked.RETURNS,
    "comes": Worked.COMES,
}
HANDS: Final = {
    "is pressed and let go": Worked.PRESSED_AND_LET_GO,
    "is pressed": Worked.PRESSED,
    "is held": Worked.PRESSED,
    "is let go": Worked.LET_GO,
    "trips": Worked.TRIPS,
    "is reset": Worked.RESET,
}
MOTORS: Final = {
    "runs": RUNS,
    "starts": RUNS,
    "stands": STANDS,
    "stops": STANDS,
    "runs forward": "turns_forward",
    "runs backward": "turns_backward",
}
SEVERAL: Final = re.compile(r",? and |, ")
FORMS: Final = "A line begins with when, while or never: when S1 is pressed, then K1 goes in."


def read_line(made: Explorer, text: str) -> Line:
    """What a line says. Raises Unread."""
    plain = " ".join(text.split()).rstrip(".")
    first, _, rest = plain.partition(" ")
    match first.lower():
        case "when":
            return _when(made, rest)
        case "while":
            before, after = _in_two(
                rest, "Say after a comma what is to be while that is so: while K1 is in, H1 is lit."
            )
            return While(_clauses(made, before), _clauses(made, after))
        case "never":
            return Never(_clauses(made, rest.replace(" while ", " and ")))
    raise Unread(FORMS)


def _when(made: Explorer, rest: str) -> When:
    before, after = _in_two(rest, "Say after a comma what then happens: when S1 is pressed, then K1 goes in.")
    event, _, conditions = before.partition(" while ")
    timed = TIME.match(after)
    times: dict[str, float] = {}
    if timed is not None:
        times = {f"{timed['how']}_s": float(timed["number"]) * SECONDS[timed["unit"]]}
        after = timed["rest"]
    outcomes, _, more = after.partition(" while ")
    told = [text for text in (conditions, more) if text]
    return When(
        _event(made, event),
        tuple(clause for text in told for clause in _clauses(made, text)),
        _clauses(made, outcomes),
        times.get("after_s"),
        times.get("within_s"),
    )


def _in_two(rest: str, else_: str) -> tuple[str, str]:
    before, comma, after = rest.partition(", ")
    if not comma:
        before, comma, after = rest.partition(" then ")
    after = after.removeprefix("then ")
    if not before or not after:
        raise Unread(else_)
    return before, after


def _event(made: Explorer, text: str) -> Event:
    lower = text.lower()
    if lower.startswith(SUPPLY):
        worked = SUPPLIES.get(lower.removeprefix(SUPPLY).strip())
        if worked is None:
            raise Unread("The supply comes, goes or returns.")
        return Event("", worked)
    item, said = _device(made, text)
    known = HANDS.get(said)
    if known in (Worked.TRIPS, Worked.RESET):
        return Event(item.id, _fitting(item, known))
    if known is not None and item.kind.actuator is Actuator.HAND:
        return Event(item.id, known)
    if item.kind.group != "command":
        raise Unread(f"Nobody works {item.label} by hand. When is said of commands, trips and the supply; use while.")
    return Event(item.id, Worked.TURNED, _status(made, item, said))


def _fitting(item: Installed, worked: Worked) -> Worked:
    operations = item.kind.operations
    if not any(one.trips if worked is Worked.TRIPS else one.resets for one in operations):
        raise Unread(f"{item.label} does not {'trip' if worked is Worked.TRIPS else 'reset'} by hand.")
    return worked


def _clauses(made: Explorer, text: str) -> tuple[Clause, ...]:
    """Several, parted by and. What is said of the last of several devices is said of all: K1 and K2 are in."""
    pieces = SEVERAL.split(text.strip())
    said: list[str] = []
    last = ""
    for piece in reversed(pieces):
        label, _, its = piece.strip().partition(" ")
        last = its or last
        said.append(f"{label} {last}")
    return tuple(_clause(made, piece) for piece in reversed(said))


def _clause(made: Explorer, text: str) -> Clause:
    item, said = _device(made, text)
    if said in MOTORS and item.structure.parts_that(Does.TURNS):
        return Clause(item.id, MOTORS[said], Mode.GOES if said == "starts" else Mode.IS)
    for verb, mode in (("is not ", Mode.NOT), ("goes ", Mode.GOES), ("comes ", Mode.GOES), ("stays ", Mode.STAYS)):
        if said.startswith(verb):
            what = _status(made, item, f"is {said.removeprefix(verb)}")
            # What goes out and comes in again at once has not gone.
            return Clause(item.id, what, Mode.IS if mode is Mode.GOES and what == "dropped_out" else mode)
    if said in ("trips", "sounds", "runs"):
        return Clause(item.id, {"trips": "tripped"}.get(said, said), Mode.GOES if said == "trips" else Mode.IS)
    return Clause(item.id, _status(made, item, said))


def _device(made: Explorer, text: str) -> tuple[Installed, str]:
    label, _, said = text.strip().partition(" ")
    named = [item for item in made.facts.items if item.label == label] or [
        item for item in made.facts.items if item.label.lower() == label.lower()
    ]
    if not label:
        raise Unread("Name a device: K1 is in.")
    if len(named) != 1:
        raise Unread(f"There is no device {label}." if not named else f"{label} may be {made.facts.labels(named)}.")
    told: Sequence[str] = said.lower().split()
    if not told:
        raise Unread(f"Say what {label} does: {label} is in.")
    return named[0], " ".join([SINGULAR.get(told[0], told[0]), *told[1:]])


def _status(made: Explorer, item: Installed, said: str) -> str:
    """The code of what it is said to be."""
    verb, _, what = said.partition(" ")
    what = what.removeprefix("turned ").removeprefix("at ").removeprefix("to ")
    if verb not in ("is", "turns", "goes") or not what:
        raise Unread(f"Not understood: {item.label} {said}. Say that it is something: K1 is in.")
    what = {"held": "pressed", "let go": "released"}.get(what, what)
    seen = {words(code).lower(): code for status in sorted(made.statuses(item.id)) for code in CODE.findall(status)}
    code = seen.get(what) or CODES.get(what)
    if code is None:
        raise Unread(f'{item.label} is never "{what}". It is {" or ".join(seen) or "nothing that can be told"}.')
    return code
