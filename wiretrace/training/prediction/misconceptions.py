"""The misconceptions that a wrong figure can come from: what each leads to, what is right, and its wrong model."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

from wiretrace.training.prediction import models, more_models
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
    Misconception(
        "drops_along",
        "Voltage thought to be used up along the way",
        "After each contact and each load less is expected, in equal steps.",
        "Closed contacts and wires drop next to nothing: all of it stands across the load.",
        more_models.drops_along,
    ),
    Misconception(
        "as_drawn",
        "The drawing taken for the state",
        "Contacts are thought to stand as they are drawn, whatever is pressed or pulled in.",
        "A drawing shows all at rest. First say what is pressed and what is in, then where each contact stands.",
        more_models.as_drawn,
    ),
    Misconception(
        "no_current_no_voltage",
        "No current taken for no voltage",
        "0 V is expected wherever nothing flows.",
        "Voltage stands between two potentials whether current flows or not: most of all across what is open.",
        more_models.no_current_no_voltage,
    ),
    Misconception(
        "stop_ignored",
        "A stop that is held is forgotten",
        "The path is thought to stay closed while the stop is held.",
        "While a stop is held its contact is open, and all behind it is cut off.",
        more_models.stop_ignored,
    ),
    Misconception(
        "interlock_forgotten",
        "The interlock is forgotten",
        "The normally closed contact of the other contactor is thought to let through what it parts.",
        "While the other contactor is in, its normally closed contact is open in this path.",
        more_models.interlock_forgotten,
    ),
    Misconception(
        "timer_at_once",
        "A timed contact taken for an instantaneous one",
        "The contact of a timer is thought to move with its coil.",
        "It moves when its time has run out; until then it stands as before.",
        more_models.timer_at_once,
    ),
    Misconception(
        "delay_other_way",
        "On-delay and off-delay mixed up",
        "The delay is thought of at the other end: when the coil is switched off, or on.",
        "On-delay waits after the coil is fed and lets go at once; off-delay the other way round.",
        more_models.delay_other_way,
    ),
    Misconception(
        "stray_is_nothing",
        "Stray voltage thought not to be there",
        "0 V is expected where a meter of high impedance shows what couples in.",
        "An open wire beside a live one takes up a voltage; a meter of low impedance tells that nothing is behind it.",
        more_models.stray_is_nothing,
    ),
    Misconception(
        "all_across_each",
        "The whole supply expected across each of two loads in series",
        "Each load is thought to have the supply for itself.",
        "In series they share it, each by its share of the resistance.",
        more_models.all_across_each,
    ),
    Misconception(
        "shared_equally",
        "Loads in series thought to share equally",
        "Half of the supply is expected across each.",
        "Each has its share of the resistance: next to a lamp a coil has little.",
        more_models.shared_equally,
    ),
    Misconception(
        "other_supply",
        "The voltage of another supply expected",
        "The figure is that of the mains, or of the control supply, where the other one feeds.",
        "Behind a transformer or a power supply there is its own voltage; ask first which source feeds the terminal.",
        more_models.other_supply,
    ),
    Misconception(
        "phases_added",
        "Two phases added up",
        "Twice the phase voltage is expected between two lines.",
        "Two phases are 120 degrees apart: between them stands 1.73 times what stands to neutral.",
        more_models.phases_added,
    ),
    Misconception(
        "peak_for_rms",
        "Peak value written for what a meter shows",
        "The figure is 1.41 times too large.",
        "A meter shows the RMS value; the peak is 1.41 times that.",
        more_models.peak_for_rms,
    ),
    Misconception(
        "earth_is_nothing",
        "Nothing expected against earth",
        "0 V is expected between anything and earth.",
        "The neutral is earthed at the source: what is live has its full voltage against earth.",
        more_models.earth_is_nothing,
    ),
    Misconception(
        "fault_forgotten",
        "The circuit taken for a sound one",
        "What a sound circuit would show is written, whatever is wrong in this one.",
        "First say what the fault opens, bridges or holds, then follow the circuit as it is now.",
        more_models.fault_forgotten,
    ),
)


def misconception(name: str) -> Misconception:
    """The misconception of this name."""
    return next(one for one in MISCONCEPTIONS if one.name == name)
