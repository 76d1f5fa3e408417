"""The one misconception that explains what a person wrote, over all answers; two where they cannot be told apart.

Each misconception is weighed against none at all: what a person with it would write, and how often; what is written by
mistake. A figure that many mistakes lead to, as nothing or the whole supply, tells little by itself.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.training.prediction.answers import Between, Share, Unclear, Volts, amperes, device_is_on, understood
from wiretrace.training.prediction.currents import LEAST_A, Clamped
from wiretrace.training.prediction.marking import FULL_FROM, NONE_BELOW, Answers, agrees, other_courses, supply_v
from wiretrace.training.prediction.misconceptions import MISCONCEPTIONS
from wiretrace.training.prediction.models import Case, Course

HOLDS: Final = 0.85
"""How often somebody with a misconception answers by it where it leads to another figure than the right one."""
SLIPS: Final = 0.1
"""How often anybody answers wrongly by a slip."""
COMMON: Final = 0.4
RARE: Final = 0.03
"""Shares of slips that are nothing or all of the supply, and that are some certain other figure."""
ALL: Final = 1.1
"""Share of the supply up to which a figure counts as all of it."""
HAS_NONE: Final = 0.5
"""Share of people with no misconception that this circuit would show."""
ALONE: Final = 0.85
NAMED: Final = 0.9
"""How sure it must be that it is this one, or one of these two, before they are named."""
LEAST: Final = 2
"""So many wrong answers it must explain at least."""


@dataclass(frozen=True)
class Asked:
    """An answer to a meter, clamp or device in a state: is it right, and by which misconceptions it would be written.

    `figures` has for each misconception that leads to another figure than the right one what it would write, one for
    each thing that it may be about; `common` tells whether the answer is what many mistakes lead to.
    """

    state: int
    letter: str
    right: bool
    common: bool
    matches: Mapping[str, Mapping[str, float]]
    """By misconception and what it is about: how likely it writes this, 0 where it writes something else."""


@dataclass(frozen=True)
class Belief:
    """What explains the answers: no misconception, one, or two, and what each is about."""

    names: tuple[str, ...] = ()
    about: tuple[str, ...] = ()


def asked(course: Course, answers: Mapping[int, Answers]) -> Iterator[Asked]:
    """All answers to meters and devices that say something."""
    for index, given in answers.items():
        yield from _devices(course, index, given)
        yield from _currents(course, index, given)
        for spot in course.sheet.meters:
            answer = understood(given.get(spot.letter, ""))
            if answer is not None and not isinstance(answer, Unclear):
                yield _asked(Case(course, index, spot.red, spot.black), spot.letter, answer)


def _devices(course: Course, index: int, given: Answers) -> Iterator[Asked]:
    for name in course.sheet.devices:
        answer = device_is_on(given.get(name, ""))
        if answer is None or isinstance(answer, Unclear):
            continue
        shown = course.frames[index].views[name].active
        matches: dict[str, dict[str, float]] = {}
        for which, about, frames in other_courses(course):
            if frames[index].views[name].active != shown:
                matches.setdefault(which, {})[about] = float(answer != shown)
        yield Asked(index, name, answer == shown, True, matches)


def _currents(course: Course, index: int, given: Answers) -> Iterator[Asked]:
    for jaw in course.sheet.clamps:
        answer = amperes(given.get(jaw.letter, ""))
        if answer is None or isinstance(answer, Unclear):
            continue
        case = Clamped(course, index, jaw.conductor)
        matches: dict[str, dict[str, float]] = {}
        for name, figure in case.other_figures():
            known = matches.setdefault(name, {})
            known[figure.about] = max(known.get(figure.about, 0.0), float(case.agrees(answer, figure.value)))
        yield Asked(index, jaw.letter, case.agrees(answer, case.reading.current_a), answer.high < LEAST_A, matches)


def _asked(case: Case, letter: str, answer: Volts | Between | Share) -> Asked:
    supply, sheet, shown = supply_v(case), case.course.sheet, case.reading.voltage_v
    matches: dict[str, dict[str, float]] = {}
    for one in MISCONCEPTIONS:
        for about, figures in _other_figures(case, one.name, supply).items():
            fitting = sum(agrees(answer, volts, supply, sheet) for volts in figures)
            matches.setdefault(one.name, {})[about] = fitting / len(figures)
    share = _share(answer, supply)
    common = share is not None and (share < NONE_BELOW or FULL_FROM <= share <= ALL)
    return Asked(case.index, letter, agrees(answer, shown, supply, sheet), common, matches)


def _other_figures(case: Case, name: str, supply: float) -> dict[str, list[float]]:
    """What a misconception would write where that is not right, by what it is about."""
    one = next(one for one in MISCONCEPTIONS if one.name == name)
    found: dict[str, list[float]] = {}
    for figure in one.figures(case):
        if not agrees(Volts(abs(figure.value)), case.reading.voltage_v, supply, case.course.sheet):
            known = found.setdefault(figure.about, [])
            if not any(abs(volts - figure.value) < 1.0 for volts in known):
                known.append(figure.value)
    return found


def _share(answer: Volts | Between | Share, supply: float) -> float | None:
    if isinstance(answer, Between):
        return answer.high / supply
    return abs(answer.volts) / supply if isinstance(answer, Volts) else answer.share


def believed(answers: Sequence[Asked]) -> Belief:
    """What explains them, if anything does."""
    evidence = {name: _evidence(name, answers) for name in {one for each in answers for one in each.matches}}
    prior = (1 - HAS_NONE) / len(MISCONCEPTIONS)
    weights = {name: prior * math.exp(best) for name, (best, _, _) in evidence.items()}
    idle = len(MISCONCEPTIONS) - len(weights)
    whole = HAS_NONE + idle * prior + sum(weights.values())
    order = sorted(weights, key=lambda name: (-weights[name], name))
    likely = [name for name in order if evidence[name][2] >= LEAST][:2]
    shares = [weights[name] / whole for name in likely]
    count = 1 if sum(shares[:1]) >= ALONE else 2 if sum(shares) >= NAMED else 0
    return Belief(tuple(likely[:count]), tuple(evidence[name][1] for name in likely[:count]))


def _evidence(name: str, answers: Sequence[Asked]) -> tuple[float, str, int]:
    """How much likelier the answers are with it, as a logarithm; about what it is; how many wrong ones it explains."""
    abouts = {about for one in answers for about in one.matches.get(name, {})}
    found = []
    for about in sorted({*abouts, ""}):
        ratio, explained = 0.0, 0
        for one in answers:
            by_about = one.matches.get(name, {})
            if not by_about:
                continue
            # Without a certain thing that it is about: any of them.
            share = by_about.get(about) if about else sum(by_about.values()) / len(by_about)
            if share is None:
                continue
            plain = 1 - SLIPS if one.right else SLIPS * (COMMON if one.common else RARE)
            ratio += math.log(HOLDS * share / plain + 1 - HOLDS)
            explained += not one.right and share > 0
        found.append((ratio - math.log(max(1, len(abouts))) * bool(about), about, explained))
    return max(found)


def tells_apart(course: Course, names: Sequence[str], compared: Sequence[int]) -> tuple[int, str] | None:
    """A state of the sheet that is not compared yet, and a meter that shows two misconceptions different figures."""
    for index in (index for index in range(len(course.sheet.states)) if index not in compared):
        for spot in course.sheet.meters:
            case = Case(course, index, spot.red, spot.black)
            figures = [_rounded(case, name) for name in names]
            if figures[0] != figures[1]:
                return index, spot.letter
    return None


def _rounded(case: Case, name: str) -> list[int]:
    return sorted(round(volts) for some in _other_figures(case, name, supply_v(case)).values() for volts in some)
