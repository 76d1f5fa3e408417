"""What is asked and told about exercises."""

from datetime import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from server.bodies import CheckedCircuit
from wiretrace.bounds import Most
from wiretrace.document.circuit import NO_NUL, Circuit, Frozen
from wiretrace.faults.fault import Sort
from wiretrace.faults.registry import AnyFault
from wiretrace.sequences.sequence import Sequence
from wiretrace.training.exercise.marks import RULE, ReasonCode
from wiretrace.training.exercise.marks import Reason as KeptReason
from wiretrace.training.exercise.steps import Step
from wiretrace.training.exercise.told import ToldEntry

Known = Annotated[int, Field(ge=0, le=100_000)]


class NewExercise(Frozen):
    """Faults that somebody chose; or how hard it shall be (1 to 3) or which kinds it is drawn from.

    Under a `number` that an instructor gives out, all are given the same; what it hides is told when it is closed.
    `weights` are points of a reason where it is not to be marked as usual: the review says so.
    """

    circuit: CheckedCircuit
    sequence: Sequence = Sequence(steps=())
    who: Annotated[str, StringConstraints(max_length=100, strip_whitespace=True, pattern=NO_NUL)] = ""
    number: Annotated[int, Field(ge=1, le=10**9)] | None = None
    level: Annotated[int, Field(ge=1, le=3)] = 1
    sorts: Annotated[tuple[Sort, ...], Most(10)] = ()
    faults: Annotated[tuple[AnyFault, ...], Most(4)] = ()
    weights: Annotated[dict[ReasonCode, Annotated[int, Field(ge=0, le=100)]], Most(len(RULE))] = {}

    @model_validator(mode="after")
    def _weighed(self) -> Self:
        for code, points in self.weights.items():
            if code not in RULE:
                raise ValueError("nothing is lost by that any more")
            if points < RULE[code].least:
                raise ValueError(f"{RULE[code].title.lower()} costs {RULE[code].least} points at least")
        return self

    @model_validator(mode="after")
    def _drawn_or_chosen(self) -> Self:
        if self.faults and self.number is not None:
            raise ValueError("faults that are chosen have no number")
        return self


class ExerciseLine(Frozen):
    """`mine` where the person who asks may go on with it; `number` the one that an instructor gave out."""

    id: int
    mine: bool
    number: int | None
    who: str
    work_order: str
    made_at: datetime
    ended_at: datetime | None


class WeightLine(Frozen):
    """What one of a reason costs of 100 points as usual, at least, and why."""

    code: ReasonCode
    title: str
    points: int
    least: int
    why: str


class ExerciseList(Frozen):
    """The exercises of a job, and the rule by which they are marked."""

    exercises: tuple[ExerciseLine, ...]
    rule: tuple[WeightLine, ...]


class Changed(Frozen):
    """A reason that cost other points than usual."""

    title: str
    points: int
    usual: int


class ExerciseBody(ExerciseLine):
    """An exercise with its circuit and its record; what was hidden, in words, once it has ended.

    `mended` tells whether what was hidden is found and mended, as far as answers said so; `number_closed` whether
    what its number hides may be told. `entries` begin with the one that was asked for.
    `stays_live` is what to know before working on the panel: what its isolator leaves live.
    """

    number_closed: bool
    stays_live: str
    circuit: Circuit
    entries: tuple[ToldEntry, ...]
    mended: bool
    hidden: tuple[str, ...]


class After(Frozen):
    """How many entries of the record are known to whoever asks: what comes after them is not overwritten."""

    known: Known


class StepRequest(After):
    step: Step


class HintRequest(After):
    step: Annotated[int, Field(ge=1, le=3)]


class AnswerRequest(After):
    fault: AnyFault


class Thought(Frozen):
    """How far what every fault would have shown is worked out, and the hint once it is."""

    done: int
    all: int
    entry: ToldEntry | None = None


class ReviewedStep(Frozen):
    """A step of the record by its number; what it told, and what the best reading then would have told, in bits."""

    number: int
    before: int
    after: int
    bits: float
    read: bool
    best: str
    best_bits: float
    wasted: bool
    places: tuple[str, ...]


class Reason(Frozen):
    """What points were lost for, how many, and why that costs any."""

    words: str
    why: str
    points: int


class BestStep(Frozen):
    """A reading of a best path from where the first was taken: what it shows, how many faults fit before and after.

    `first` is what has to be done before it.
    """

    words: str
    shows: str
    before: int
    after: int
    first: str = ""


class _Review(Frozen):
    steps: tuple[ReviewedStep, ...]
    best: tuple[BestStep, ...]
    none_needed: bool = False
    points: int
    took_s: int


class KeptReview(_Review):
    """A review as it is kept."""

    version: Literal[2] = 2
    reasons: tuple[KeptReason, ...]


class Review(_Review):
    """`best` is empty where no single known fault was hidden, or where no reading was needed; `points` of 100, with
    what each reason cost.

    `changed` where whoever hid the fault had it marked otherwise than usual.
    """

    reasons: tuple[Reason, ...]
    changed: tuple[Changed, ...]


class Reviewed(Frozen):
    done: int
    all: int
    review: Review | None = None


class EntriesFrom(Frozen):
    """Of the record only what comes after so many entries."""

    after: Known = 0
