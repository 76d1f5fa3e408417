"""Where no known fault explains what was seen: on which stretch of the way the drawing and the panel part.

In the first state in which something does not do what it should, the way of its current is followed on the drawing from
pole to pole. Readings on it are as drawn up to somewhere, and not beyond: between the two lies what is wrong, and the
next reading is taken in the middle.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Engine, Outcome
from wiretrace.diagnosis.procedure import reached
from wiretrace.diagnosis.repertoire import Kind, lookers
from wiretrace.document.circuit import End
from wiretrace.explain.device import why_device
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, initial_state

Made = Sequence[tuple[Observation, Outcome]]
SOUND = 0
"""The row of a dictionary that tells of the sound circuit."""


@dataclass(frozen=True)
class Region:
    """The stretch that the evidence points at: of which device in which state, from where to where on its way.

    `first` is the last place that is as drawn, `last` the first that is not, or the device itself; `places` are the
    devices and wires between. `next` is the reading that halves it, with what it shows where all is as drawn, volts;
    None where nothing between can be measured.
    """

    device: str
    halt: int
    first: End
    last: End
    places: tuple[str, ...]
    next: Observation | None
    as_drawn_v: float


def region(engine: Engine, assembly: Assembly, made: Made) -> Region | None:
    """Where the evidence points; None where nothing was seen that is not as drawn, or no way leads to it."""
    halt, devices = _symptom(engine, assembly, made)
    if not devices:
        return None
    frame = _frame(engine, assembly, halt)
    poles = frozenset(
        End(device=item.id, terminal=name) for item in assembly.devices.values() for name in item.kind.poles
    )
    state = _State(engine, made, halt, poles)
    ways = {device: found for device in devices if (found := _ways(assembly, frame, device))}
    # What hangs on a contact of another that does not do what it should follows from that other.
    order = sorted(ways, key=lambda one: len({end.device for way in ways[one] for end in way} & set(ways) - {one}))
    for device in order:
        stretches = [state.stretch(way) for way in ways[device]]
        # A way on which something was read that is not as drawn; else that of which least is known.
        _, _, at = min((not bad, first - last, at) for at, (first, last, bad) in enumerate(stretches))
        return state.region(device, ways[device][at], stretches[at])
    return None


@dataclass(frozen=True)
class _State:
    """What was read in one state; readings to a `pole` of a supply tell whether a terminal is as drawn."""

    engine: Engine
    made: Made
    halt: int
    poles: frozenset[End]

    def stretch(self, way: Sequence[End]) -> tuple[int, int, bool]:
        """Numbers of the last terminal as drawn and of the first after it that is not, and whether that was read."""
        first, last = 0, len(way) - 1
        for at, end in enumerate(way):
            told = self._as_drawn(end)
            if told is False:
                return first, at, True
            if told:
                first = at
        return first, max(first, last), False

    def _as_drawn(self, end: End) -> bool | None:
        """Was a terminal read, and as in a sound circuit? None where it was not read."""
        found = None
        for what, outcome in self.made:
            if what.kind is Kind.VOLTS and what.halt == self.halt and self._is_at(what.spot, end):
                found = bool(self.engine.fits(what, outcome)[SOUND]) and found is not False
        return found

    def _is_at(self, spot: int, end: End) -> bool:
        where = self.engine.known.spots[spot]
        return where.red == end and where.black in self.poles

    def region(self, device: str, way: Sequence[End], stretch: tuple[int, int, bool]) -> Region:
        """What lies between the two ends of a stretch, and the reading in its middle."""
        first, last, _ = stretch
        between = way[first : last + 1]
        places = tuple(dict.fromkeys((*(end.device for end in between), *_wires(self.engine, between))))
        volts = self.engine.known.volts[SOUND, self.halt]
        observed = {what for what, _ in self.made}
        for end in sorted(way[first + 1 : last], key=lambda one: abs(2 * way.index(one) - first - last)):
            spots = [
                number
                for number in range(self.engine.spots)
                if self._is_at(number, end) and Observation(Kind.VOLTS, self.halt, number) not in observed
            ]
            if spots:
                best = spots[int(np.argmax(volts[spots]))]
                what = Observation(Kind.VOLTS, self.halt, best)
                return Region(device, self.halt, way[first], way[last], places, what, float(volts[best]))
        return Region(device, self.halt, way[first], way[last], places, None, 0.0)


def _symptom(engine: Engine, assembly: Assembly, made: Made) -> tuple[int, tuple[str, ...]]:
    """The first state in which devices do not do what a sound circuit does, and which."""
    seen = [item.id for item in lookers(assembly)]
    found: dict[int, dict[str, None]] = {}
    for what, outcome in made:
        if not isinstance(outcome, tuple) or engine.fits(what, outcome)[SOUND]:
            continue
        sound = engine.known.looks[SOUND][what.halt]
        differ = [what.spot] if what.kind is Kind.WORD else [n for n, one in enumerate(outcome) if one != sound[n]]
        found.setdefault(what.halt, {}).update(dict.fromkeys(seen[number] for number in differ))
    first = min(found, default=-1)
    return first, tuple(found.get(first, ()))


def _frame(engine: Engine, assembly: Assembly, halt: int) -> Frame:
    """The sound circuit in a state. Raises what a run raises."""
    state = initial_state(assembly)
    for one in engine.known.halts[: halt + 1]:
        frame, state = reached(assembly, state, one)
    return frame


def _ways(assembly: Assembly, frame: Frame, device: str) -> list[tuple[End, ...]]:
    """The terminals passed from each pole to the device, on the drawing."""
    found = (tuple(reversed(way.terminals)) for way in why_device(assembly, frame, device).ways)
    return [way for way in found if len(way) > 1]


def _wires(engine: Engine, between: Sequence[End]) -> list[str]:
    ends = set(between)
    return [wire.id for wire in engine.known.circuit.conductors if wire.a in ends and wire.b in ends]
