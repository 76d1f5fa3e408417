"""Marks: an expected figure beside the circuit's, and the misconceptions that give what was expected."""

from collections.abc import Mapping
from typing import Any, Final, Literal

from wiretrace.catalogue.machinery.status import status_of_words
from wiretrace.document.circuit import End, Frozen
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.reach import reach
from wiretrace.training.prediction.answers import Between, Share, Unclear, Volts, amperes, device_is_on, understood
from wiretrace.training.prediction.currents import Clamped
from wiretrace.training.prediction.misconceptions import MISCONCEPTIONS, Misconception
from wiretrace.training.prediction.models import Case, Course
from wiretrace.training.prediction.sheet import NEXT, PredictionSheet, Spot
from wiretrace.upgrading import Data, Upgrades

CLOSE: Final = 0.03
"""Share by which a figure may be off, since people round and supplies differ."""
LEAST_V: Final = 1.0
FULL_FROM: Final = 0.85
NONE_BELOW: Final = 0.05


class Fit(Frozen):
    """A misconception that gives the figure that was written; `about` names what was taken for something else."""

    name: str
    about: str


class Mark(Frozen):
    """`expected` is what was written, `shown` the status that the circuit shows; right is None where nothing was.

    `question` asks about what was not understood. At `NEXT` `shown` is what whoever made the sheet would measure, which
    people compare.
    """

    version: Literal[2] = 2
    expected: str
    shown: str
    right: bool | None
    question: str = ""
    fits: tuple[Fit, ...] = ()


def _codes(data: Data) -> dict[str, Any]:
    """Version 2 has codes where version 1 had words."""
    fits = [{"name": one["name"], "about": one["about"]} for one in data["fits"]]
    return {**data, "shown": status_of_words(data["shown"]), "fits": fits}


mark_upgrades: Final = Upgrades("mark", _codes)


Answers = Mapping[str, str]
"""What was written for a state, by the letter of a meter or the id of a device."""


def mark_state(course: Course, index: int, answers: Answers) -> dict[str, Mark]:
    """Marks of every meter and device of a sheet in one of its states."""
    sheet = course.sheet
    marks = {spot.letter: _meter(course, index, spot, answers.get(spot.letter, "")) for spot in sheet.meters}
    marks |= {
        jaw.letter: _clamp(Clamped(course, index, jaw.conductor), answers.get(jaw.letter, "")) for jaw in sheet.clamps
    }
    marks |= {name: _device(course, index, name, answers.get(name, "")) for name in sheet.devices}
    if sheet.asks_next and index == len(course.sheet.states) - 1:
        marks[NEXT] = Mark(expected=answers.get(NEXT, ""), shown=sheet.next, right=None)
    return marks


def _meter(course: Course, index: int, spot: Spot, text: str) -> Mark:
    case = Case(course, index, spot.red, spot.black)
    reading = case.reading
    shown = f"={reading.display} V"
    answer = understood(text)
    if answer is None:
        return Mark(expected="", shown=shown, right=None)
    if isinstance(answer, Unclear):
        return Mark(expected=text, shown=shown, right=None, question=answer.question)
    supply = supply_v(case)
    volts = reading.voltage_v
    if agrees(answer, volts, supply, course.sheet):
        return Mark(expected=text, shown=shown, right=True)
    return Mark(expected=text, shown=shown, right=False, fits=_fits(case, answer, supply))


def _clamp(case: Clamped, text: str) -> Mark:
    shown = f"={case.reading.display} A"
    answer = amperes(text)
    if answer is None:
        return Mark(expected="", shown=shown, right=None)
    if isinstance(answer, Unclear):
        return Mark(expected=text, shown=shown, right=None, question=answer.question)
    if case.agrees(answer, case.reading.current_a):
        return Mark(expected=text, shown=shown, right=True)
    fits: dict[str, Fit] = {}
    for name, figure in case.other_figures():
        if case.agrees(answer, figure.value):
            fits.setdefault(name, Fit(name=name, about=figure.about))
    return Mark(expected=text, shown=shown, right=False, fits=tuple(fits.values()))


def _fits(case: Case, answer: Volts | Between | Share, supply: float) -> tuple[Fit, ...]:
    """Misconceptions whose wrong model gives the answer; each once, with the first thing that it is about."""
    found = []
    for one in MISCONCEPTIONS:
        about = next((f.about for f in one.figures(case) if agrees(answer, f.value, supply, case.course.sheet)), None)
        if about is not None:
            found.append(_fit(one, about))
    return tuple(found)


def agrees(answer: Volts | Between | Share, volts: float, supply: float, sheet: PredictionSheet) -> bool:
    """Is this what was meant? With `about` figures count as full, part or none."""
    if isinstance(answer, Share):
        if answer.share is None:
            return NONE_BELOW <= abs(volts) / supply < FULL_FROM
        if answer.share in (0.0, 1.0):
            return _class(volts, supply) == _class(answer.share * supply, supply)
        return abs(abs(volts) - answer.share * supply) <= 0.1 * supply
    if isinstance(answer, Between):
        off = max(LEAST_V, CLOSE * abs(volts))
        if sheet.counts == "about":
            return _class(volts, supply) in {_class(answer.low, supply), _class(answer.high, supply)}
        return answer.low - off <= abs(volts) <= answer.high + off
    if sheet.counts == "about":
        return _class(volts, supply) == _class(answer.volts, supply)
    signed = volts if answer.volts < 0 else abs(volts)
    return abs(answer.volts - signed) <= max(LEAST_V, CLOSE * abs(volts))


def _class(volts: float, supply: float) -> str:
    share = abs(volts) / supply
    return "full" if share >= FULL_FROM else "part" if share >= NONE_BELOW else "none"


def supply_v(case: Case) -> float:
    """What full means for a meter, volts: what the source gives, live to neutral, that one of its probes is joined to.

    Where neither is joined to one, the largest that any source of the circuit gives.
    """
    reached = reach(case.assembly, case.frame)
    poles = [reached.pole[case.assembly.node(end)] for end in (case.red, case.black)]
    joined = {case.assembly.nodes[pole][0] for pole in poles if pole is not None}
    given = {name: _given_v(case, name) for name, item in case.assembly.devices.items() if item.kind.poles}
    own = [volts for name, volts in given.items() if name in joined]
    return float(max([*(own or given.values()), LEAST_V]))


def _given_v(case: Case, source: str) -> float:
    poles = case.assembly.devices[source].kind.poles
    ends = {what: End(device=source, terminal=name) for name, (what, _) in reversed(list(poles.items()))}
    if "live" not in ends or "neutral" not in ends:
        return 0.0
    return abs(read_voltage(case.assembly, case.frame.point, ends["live"], ends["neutral"]).voltage_v)


def _device(course: Course, index: int, name: str, text: str) -> Mark:
    view = course.frames[index].views[name]
    answer = device_is_on(text)
    if answer is None:
        return Mark(expected="", shown=view.status, right=None)
    if isinstance(answer, Unclear):
        return Mark(expected=text, shown=view.status, right=None, question=answer.question)
    if answer == view.active:
        return Mark(expected=text, shown=view.status, right=True)
    fits: dict[str, Fit] = {}
    for which, about, frames in other_courses(course):
        if frames[index].views[name].active == answer:
            fits.setdefault(which, Fit(name=which, about=about))
    return Mark(expected=text, shown=view.status, right=False, fits=tuple(fits.values()))


def other_courses(course: Course) -> list[tuple[str, str, list[Frame]]]:
    """The sheet as those with a misconception think that it runs, and what each is about."""
    courses = [("program_other_way", about, frames) for about, _, frames in course.inputs_exchanged]
    if course.without_faults:
        courses.insert(0, ("fault_forgotten", "", course.without_faults[1]))
    if course.without_seal:
        courses.insert(0, ("seal_forgotten", "", course.without_seal[1]))
    return courses


def _fit(one: Misconception, about: str) -> Fit:
    return Fit(name=one.name, about=about)
