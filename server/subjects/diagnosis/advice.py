"""What the engine makes of observations, as the screen takes it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from server.subjects.diagnosis.bodies import (
    AdviceAnswer,
    AdviceRequest,
    LikelyData,
    LookData,
    NextData,
    ObservationData,
    Reach,
    RegionData,
    StatusData,
    TakenData,
    WeightData,
)
from wiretrace.catalogue.machinery.status import words
from wiretrace.diagnosis.advise import Standing, confirms, likely, next_of, standing
from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Advice, Engine, Outcome
from wiretrace.diagnosis.hypotheses import WEIGHTS
from wiretrace.diagnosis.learning import learned
from wiretrace.diagnosis.pairs import Made
from wiretrace.diagnosis.repertoire import RISK, Kind, lookers
from wiretrace.diagnosis.splitting import Region, region
from wiretrace.diagnosis.words import (
    figure,
    first_words,
    hypothesis_words,
    observation_words,
    outcome_words,
    region_words,
    said,
)
from wiretrace.document.circuit import End
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.faults.registry import KINDS, kind_name
from wiretrace.simulation.assembly import Assembly

MOST_LEFT: Final = 60
MOST_FITFUL: Final = 8
ADVICES: Final = 4


Counts = Mapping[str, tuple[int, float]]


def advice(engine: Engine, body: AdviceRequest, reach: Reach, counts: Counts) -> AdviceAnswer:
    """Which faults fit what was observed, and what to observe next. Raises MalformedDocument, UnknownTarget.

    `counts` are how often each kind was found, and how often it was to be expected.
    """
    weights = learned(counts) | body.weights
    engine = engine.weighed(weights)
    assembly, known = Assembly(body.circuit), engine.known
    made = observed(engine, assembly, body.observations)
    now = standing(engine, made, {number for number, one in enumerate(body.observations) if one.twice})
    looked_at = [what for what, _ in made]
    confirming = not now.outside and confirms(engine, now, looked_at)
    where = region(engine, assembly, made) if now.outside else None
    return AdviceAnswer(
        reach=reach,
        outside=now.outside,
        region=None if where is None else RegionData(words=region_words(assembly, known, where), places=where.places),
        fitful=tuple(hypothesis_words(known, assembly, number) for number in now.fitful[:MOST_FITFUL]),
        halts=tuple(halt.text for halt in known.halts),
        looks=_looks(engine, assembly),
        count=len(engine.left(now.possible)),
        of=len(engine.left(now.alive if confirming else now.possible)),
        confirming=confirming,
        confirmed=now.confirmed,
        likely=_likely(engine, assembly, now),
        next=tuple(
            _told(engine, assembly, one, looked_at)
            for one in (_halving(where) if now.outside else next_of(engine, now, looked_at, ADVICES))
        ),
        taken=tuple(
            TakenData(
                words=observation_words(known, assembly, one.observation),
                shows=outcome_words(assembly, one.observation, one.outcome),
                before=one.before,
                after=one.after,
                bits=one.bits,
            )
            for one in now.taken
        ),
        unfitting=now.unfitting,
        weights=tuple(
            WeightData(
                kind=kind,
                title=KINDS[kind].about.title,
                weight=weights[kind],
                prior=weight,
                found=counts.get(kind, (0, 0.0))[0],
                expected=counts.get(kind, (0, 0.0))[1],
                why=KINDS[kind].about.why,
            )
            for kind, weight in sorted(WEIGHTS.items(), key=lambda item: -item[1])
        ),
    )


def _likely(engine: Engine, assembly: Assembly, now: Standing) -> tuple[LikelyData, ...]:
    return tuple(
        LikelyData(
            words=hypothesis_words(engine.known, assembly, number),
            likelihood=share,
            fits=fits,
            places=tuple(fault.where for fault in engine.known.hypotheses[number].faults),
            kinds=tuple(map(kind_name, engine.known.hypotheses[number].faults)),
        )
        for number, share, fits in likely(engine, now)[:MOST_LEFT]
    )


@dataclass(frozen=True)
class Halving:
    """A reading that halves a region, and what it shows if all is as drawn up to there."""

    observation: Observation
    as_drawn_v: float
    bits: float = 1.0
    leaves: tuple[int, float, int] = (0, 0.0, 0)


def _halving(where: Region | None) -> tuple[Halving, ...]:
    """The reading that halves a region, where nothing known explains what was observed."""
    if where is None or where.next is None:
        return ()
    return (Halving(where.next, where.as_drawn_v),)


def _told(engine: Engine, assembly: Assembly, one: Halving | Advice, made: Sequence[Observation]) -> NextData:
    what = one.observation
    return NextData(
        kind="volts" if what.kind is Kind.VOLTS else "ohms" if what.kind is Kind.OHMS else "look",
        halt=what.halt,
        red=_end(engine, what, "red"),
        black=_end(engine, what, "black"),
        words=observation_words(engine.known, assembly, what),
        bits=one.bits,
        leaves=one.leaves,
        caution=RISK[what.kind],
        first=first_words(engine.known, made[-1].halt if made else None, what.halt),
        as_drawn=outcome_words(assembly, what, one.as_drawn_v) if isinstance(one, Halving) else None,
    )


def observed(engine: Engine, assembly: Assembly, every: Sequence[ObservationData]) -> Made:
    """Observations as the engine takes them. Raises MalformedDocument, UnknownTarget."""
    return [_observed(engine, assembly, number, one) for number, one in enumerate(every, 1)]


def _looks(engine: Engine, assembly: Assembly) -> tuple[LookData, ...]:
    found = []
    for at, item in enumerate(lookers(assembly)):
        in_state = [
            dict.fromkeys(looks[halt][at] for looks in engine.known.looks if looks[halt][at])
            for halt in range(engine.halts)
        ]
        every = dict.fromkeys((*(one for state in in_state for one in state), *item.kind.may_be_seen))
        found.append(
            LookData(
                device=item.id,
                label=item.label,
                statuses=tuple(_statuses(state) for state in in_state),
                otherwise=_statuses(every),
            )
        )
    return tuple(found)


def _statuses(codes: Iterable[str]) -> tuple[StatusData, ...]:
    return tuple(StatusData(status=code, says=words(code)) for code in codes)


def _end(engine: Engine, what: Observation, side: Literal["red", "black"]) -> End | None:
    if what.spot < 0:
        return None
    spot = engine.known.spots[what.spot]
    return spot.red if side == "red" else spot.black


def _observed(engine: Engine, assembly: Assembly, number: int, one: ObservationData) -> tuple[Observation, Outcome]:
    """An observation as the engine takes it. Raises MalformedDocument, UnknownTarget."""
    if one.halt >= engine.halts:
        raise _unknown(f"Observation {number}: there are {engine.halts} states.")
    if one.device is not None:
        ids = [item.id for item in lookers(assembly)]
        if one.device not in ids or one.halt < 0:
            raise _unknown(f"Observation {number}: of this device nothing is seen there.")
        which = ids.index(one.device)
        return Observation(Kind.WORD, one.halt, which), (said(engine, one.halt, which, one.text),)
    if one.red is None or one.black is None:
        raise MalformedDocument(f"Observation {number} names neither a device nor two terminals.")
    pair = {one.red, one.black}
    at = next((n for n, spot in enumerate(engine.known.spots) if {spot.red, spot.black} == pair), None)
    if at is None:
        raise _unknown(f"Observation {number}: measure across a device or a wire, or from a terminal to a pole.")
    kind = Kind.OHMS if one.halt < 0 else Kind.VOLTS
    return Observation(kind, one.halt, at), figure(number, one.text, one.text, kind)


def _unknown(message: str) -> UnknownTarget:
    return UnknownTarget(message, (Problem("no_such_observation", message),))
