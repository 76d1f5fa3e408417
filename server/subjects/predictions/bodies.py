"""What /api/jobs/ID/predictions takes and gives."""

from datetime import datetime
from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import BeforeValidator, Field, StringConstraints, model_validator

from server.bodies import CheckedCircuit, Serial, Writer
from wiretrace.bounds import Most
from wiretrace.document.circuit import NO_NUL, Circuit, End, Frozen, Id
from wiretrace.training.prediction.sheet import MOST_STATES, Halt, Hand, PredictionSheet, Spot, sheet_upgrades

Written = Annotated[str, StringConstraints(max_length=200, pattern=NO_NUL)]
StateNumber = Annotated[int, Field(ge=0, lt=MOST_STATES)]


class NewSheet(Frozen):
    sheet: Annotated[PredictionSheet, BeforeValidator(sheet_upgrades)]
    circuit: CheckedCircuit


class SheetLine(Frozen):
    id: int
    title: str
    made_at: datetime
    attempts: int


class SheetList(Frozen):
    sheets: tuple[SheetLine, ...]


class Change(Frozen):
    at: datetime
    state: int
    place: str
    text: str


class AttemptLine(Frozen):
    """`mine` where the person who asks may go on with it."""

    id: int
    who: str
    mine: bool
    started_at: datetime
    ended_at: datetime | None


class FitData(Frozen):
    """A misconception that gives the figure that was written; `about` names what was taken for something else."""

    name: str
    title: str
    leads_to: str
    right: str
    about: str


class MarkData(Frozen):
    """`expected` is what was written, `shown` what the circuit shows; right is None where nothing was written.

    `question` asks about what was not understood.
    """

    expected: str
    shown: str
    right: bool | None
    question: str
    fits: tuple[FitData, ...]


class Believed(Frozen):
    """The misconception that explains what was written for the states that were compared, or two that both do; none
    where nothing is sure. `apart` is a state and a meter of the sheet, not compared yet, that would tell the two apart.
    """

    named: tuple[FitData, ...]
    apart: tuple[int, str] | None


class AttemptBody(AttemptLine):
    """`answers` by the number of the state, from 0, and by the letter of a meter or the id of a device.

    `marks` are those of states that were compared; what was written for these stays as it is.
    """

    answers: dict[str, dict[str, str]]
    changes: tuple[Change, ...]
    marks: dict[str, dict[str, MarkData]]


class SheetBody(Frozen):
    """A sheet with the circuit that it was made for, and who attempted it.

    `told` says whether answers and key may be had now: by whoever made it, while nobody fills it in. `faults` are those
    of the sheet in words; a sheet that does not tell its own `hides` them, and its circuit shows none.
    """

    id: int
    told: bool
    made_at: datetime
    sheet: PredictionSheet
    circuit: Circuit
    faults: tuple[str, ...]
    hides: bool
    attempts: tuple[AttemptLine, ...]


class AttemptList(Frozen):
    attempts: tuple[AttemptBody, ...]


class NewAttempt(Frozen):
    who: Annotated[str, StringConstraints(max_length=100, strip_whitespace=True, pattern=NO_NUL)] = ""


class Answer(Frozen):
    """An answer; `serial` counts the changes of its writer."""

    state: StateNumber
    place: Id
    text: Written
    serial: Serial


class Answers(Frozen):
    writer: Writer
    answers: Annotated[tuple[Answer, ...], Most(200)]


class Ended(Frozen):
    ended: Literal[True]


class CompareState(Frozen):
    state: StateNumber


class SheetFile(Frozen):
    """The text of a file that should be a prediction sheet."""

    text: Annotated[str, StringConstraints(max_length=500_000)]


class SheetRead(Frozen):
    """A sheet as far as it could be read, and what of it could not."""

    sheet: PredictionSheet
    problems: tuple[str, ...]


class PositionsRequest(Frozen):
    """With two states, by their numbers from 0, also where a meter would tell them apart."""

    circuit: CheckedCircuit
    sheet: PredictionSheet
    apart: tuple[StateNumber, StateNumber] | None = None


class TellingData(Frozen):
    """A position, and what a meter shows there in the first and in the second state."""

    red: End
    black: End
    first: str
    second: str


class Positions(Frozen):
    """Letters of meters that tell nothing in any state, and positions that tell two states apart, the best first."""

    useless: tuple[str, ...]
    telling: tuple[TellingData, ...]


class ProposalRequest(Frozen):
    """What hands do, and the states that are asked about."""

    circuit: CheckedCircuit
    hands: Annotated[tuple[Hand, ...], Most(500)] = ()
    states: Annotated[tuple[Halt, ...], Most(MOST_STATES, 1)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if any(later.at_us <= earlier.at_us for earlier, later in pairwise(self.states)):
            raise ValueError("The states must follow each other in time.")
        return self


class ProposedMeters(Frozen):
    """Meters that tell most misconceptions apart in these states, the most telling first."""

    meters: tuple[Spot, ...]


class Key(Frozen):
    """What the circuit shows, state by state: marks by the letter of a meter or the id of a device."""

    states: tuple[dict[str, MarkData], ...]
