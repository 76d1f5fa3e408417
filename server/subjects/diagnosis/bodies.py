"""What /api/trace takes and gives."""

from collections.abc import Mapping
from typing import Annotated, Any, Final, Literal

from pydantic import Field, StringConstraints, model_validator

from server.bodies import CheckedCircuit, Save
from wiretrace.bounds import Most
from wiretrace.catalogue.machinery.status import status_of_words
from wiretrace.document.circuit import NO_NUL, End, Frozen, Id
from wiretrace.sequences.sequence import Sequence

MOST_MADE: Final = 100


class TraceRequest(Frozen):
    """A circuit, and the sequence whose states it is looked at in; an empty one presses every button."""

    circuit: CheckedCircuit
    sequence: Sequence = Sequence(steps=())


class Progress(Frozen):
    done: int
    all: int


class ObservationData(Frozen):
    """Something observed in a state by its number from 0 (-1: isolated and locked out).

    What one `device` does, by its status; or what a meter shows between `red` and `black`, as it was read. `twice`
    where it was made again and came out the same.
    """

    halt: Annotated[int, Field(ge=-1, lt=100)]
    device: Id | None = None
    red: End | None = None
    black: End | None = None
    text: Annotated[str, StringConstraints(min_length=1, max_length=100, pattern=NO_NUL)]
    twice: bool = False

    @model_validator(mode="before")
    @classmethod
    def _status(cls, data: Any) -> Any:
        """Earlier releases kept the words of what a device did."""
        if isinstance(data, Mapping) and data.get("device") and isinstance(data.get("text"), str):
            return {**data, "text": status_of_words(data["text"].strip())}
        return data


class PanelData(Frozen):
    """What was seen and read at a real panel, in the order in which it was."""

    observations: Annotated[tuple[ObservationData, ...], Most(MOST_MADE)] = ()


class KeptPanel(Frozen):
    """What is kept of a job, its version, 0 where nobody has read anything, and the window that saved it."""

    version: int
    writer: str
    panel: PanelData


class SavePanel(Save):
    panel: PanelData


Reach = Literal["likely", "rare", "pairs"]
"""What is thought of: likely faults; rare ones too; and two at once that may explain what was observed."""


class WorkRequest(TraceRequest):
    reach: Reach = "likely"
    observations: Annotated[tuple[ObservationData, ...], Most(MOST_MADE)] = ()


class AdviceRequest(WorkRequest):
    """What was observed; `weights` are how often each kind of fault comes about there, where that is known better."""

    weights: Annotated[dict[Id, Annotated[float, Field(gt=0, le=1000)]], Most(100)] = {}


class StatusData(Frozen):
    """What a device may be seen to do, as it is kept and as people read it."""

    status: str
    says: str


class LookData(Frozen):
    """A device of which something is seen, and what it may do in each state, the sound one's first.

    `otherwise` is what it does in other states, or by no fault that is known.
    """

    device: str
    label: str
    statuses: tuple[tuple[StatusData, ...], ...]
    otherwise: tuple[StatusData, ...]


class LikelyData(Frozen):
    """A fault, how likely, whether it explains all that any fault does, and the devices and wires that it is about.

    One that does not would need one more of the observations to be a slip. `kinds` are those of its fault, or of both.
    """

    words: str
    likelihood: float
    fits: bool
    places: tuple[str, ...]
    kinds: tuple[str, ...]


class NextData(Frozen):
    """What to observe next: bits to be expected, faults left at best, on the mean and at worst; the caution.

    `first` is what has to be done before, to come to its state. Where it halves a region: what it shows if all is as
    drawn up to there.
    """

    kind: Literal["look", "volts", "ohms"]
    halt: int
    red: End | None
    black: End | None
    words: str
    bits: float
    leaves: tuple[int, float, int]
    caution: str
    first: str
    as_drawn: str | None = None


class TakenData(Frozen):
    """An observation in words, how many faults were possible before and after, and the bits that it told."""

    words: str
    shows: str
    before: int
    after: int
    bits: float


class RegionData(Frozen):
    """Where the evidence points, and the places between; the fault is none that is known."""

    words: str
    places: tuple[str, ...]


class WeightData(Frozen):
    """How often a kind of fault comes about, in proportion to the others.

    `prior` is what is known beforehand, for the reason `why`; `weight` what counts: changed by hand, or by how often it
    was `found` at real panels, where so many were `expected`.
    """

    kind: str
    title: str
    weight: float
    prior: float
    found: int
    expected: float
    why: str


class NewFind(Frozen):
    """The fault that was found in a circuit: its kind, or those of two."""

    circuit: CheckedCircuit
    kinds: Annotated[tuple[Id, ...], Field(min_length=1, max_length=2)]


class KeptFind(Frozen):
    id: int


class AdviceAnswer(Frozen):
    """What is thought after observations.

    `count` faults explain the most of them. `unfitting` are the numbers of observations that the likeliest contradicts:
    each is taken for a slip. `next` is to part the faults that fit or, `confirming`, to confirm what is left, weighed
    over so many faults (`of`). `confirmed` where no single slip could make another fault of it; until then no part
    should be replaced. `outside` where two slips at least would be needed: then the `region` says where to look, and
    `next` halves it. `fitful` are faults that would explain everything if they came and went. `reach` is what was
    thought of, which may be less than was asked for.
    """

    reach: Reach
    outside: bool
    region: RegionData | None
    fitful: tuple[str, ...]

    halts: tuple[str, ...]
    looks: tuple[LookData, ...]
    count: int
    of: int
    confirming: bool
    confirmed: bool
    likely: tuple[LikelyData, ...]
    next: tuple[NextData, ...]
    taken: tuple[TakenData, ...]
    unfitting: tuple[int, ...]
    weights: tuple[WeightData, ...]


class EntryData(Frozen):
    fault: str
    symptom: str
    told_by: str
    shows: str
    setting: str


class Book(Frozen):
    """Every fault: its symptom, the reading that parts it best from those that look alike, and how it is set."""

    entries: tuple[EntryData, ...]
    caution: str
