"""Why an instrument shows what it shows, in a sentence."""

from wiretrace.errors import MeasurementRefused
from wiretrace.explain.current import explain_current
from wiretrace.explain.resistance import explain_resistance
from wiretrace.instruments.measures import Clamp, Measure, Ohmmeter
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


def why_measured(assembly: Assembly, frame: Frame, what: Measure) -> str:
    """The ways that an ohmmeter's current takes, or what the conductors in a clamp feed; nothing for other instruments.

    What a voltmeter shows has a reason of more parts: `explain_reading`. Raises UnknownTarget.
    """
    if isinstance(what, Clamp):
        return explain_current(assembly, frame, what.conductors, what.turned).sentence
    if isinstance(what, Ohmmeter):
        try:
            return explain_resistance(assembly, frame, what.red, what.black).sentence
        except MeasurementRefused as refusal:
            return str(refusal)
    return ""
