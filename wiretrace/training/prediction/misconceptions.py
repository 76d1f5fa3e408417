"""The misconceptions that a wrong figure can come from: what each leads to, what is right, and its wrong model."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

from wiretrace.training.prediction import models
from wiretrace.training.prediction.models import Case, Figure


@dataclass(frozen=True)
class Misconception:
    name: str
    title: str
    leads_to: str
    right: str
    figures: Callable[[Case], Iterator[Figure]]


MISCONCEPTIONS: Final = (
    Misconception(
        "no_reference",
        "No reference assumed where a load carries the other pole through",
        "0 V is expected across an open contact with a load behind it.",
        "The load carries the neutral to the far side of the open contact, so the meter shows the full supply.",
        models.no_load_carries,
    ),
    Misconception(
        "supply_across_closed",
        "Supply expected across a closed contact",
        "The full voltage is expected where current flows through the contact.",
        "Both sides of a closed contact have one potential: the meter shows next to nothing.",
        models.closed_shows_supply,
    ),
    Misconception(
        "seal_forgotten",
        "Seal-in forgotten",
        "The circuit is expected to fall back when the button is let go.",
        "The contact beside the button keeps the coil fed until something opens the path.",
        models.seal_forgotten,
    ),
    Misconception(
        "contact_other_way",
        "Normally open taken for normally closed, or the other way round",
        "The contact is thought of in the other position.",
        "The symbol shows a contact at rest: coil without current, button not pressed.",
        models.contact_other_way,
    ),
    Misconception(
        "other_pole",
        "Live and neutral side confused",
        "The terminal is taken to stand on the other pole of the supply.",
        "Follow the terminal to a pole through closed contacts alone: that pole is where it stands.",
        models.other_pole,
    ),
    Misconception(
        "line_for_phase",
        "Line and phase voltage confused",
        "The figure is 1.73 times too large or too small.",
        "Between two lines stands 1.73 times what stands from a line to neutral.",
        models.line_for_phase,
    ),
    Misconception(
        "star_for_delta",
        "Star and delta quantities mixed up",
        "The figure is a third, 58 %, 1.73 or three times of what is there.",
        "In star a winding has 58 % of the line voltage, in delta all of it.",
        models.star_for_delta,
    ),
    Misconception(
        "meter_forgotten",
        "The meter's own path forgotten",
        "A figure is expected that stands there only while nobody measures.",
        "The meter is a path of its own, and loads what it measures.",
        models.meter_carries_nothing,
    ),
    Misconception(
        "program_other_way",
        "Normally closed and normally open confused in a program",
        "The program is thought to read a healthy normally closed contact as off.",
        "A closed field contact makes its input on, so the program uses a normally open instruction for it.",
        models.program_other_way,
    ),
)


def misconception(name: str) -> Misconception:
    """The misconception of this name."""
    return next(one for one in MISCONCEPTIONS if one.name == name)
