"""A prediction sheet: meters and devices to be predicted in some states of a circuit. Its JSON is an open format."""

from collections.abc import Iterator
from itertools import pairwise
from typing import Annotated, Any, Final, Literal, Self

from pydantic import Field, ValidationError, model_validator

from wiretrace.bounds import Most
from wiretrace.document.checked import has_terminal
from wiretrace.document.circuit import NO_NUL, End, Frozen, Id, Text
from wiretrace.errors import MalformedDocument, Problem
from wiretrace.faults.registry import AnyFault
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, frame_of, initial_state, run
from wiretrace.simulation.state import Action
from wiretrace.upgrading import Data, Upgrades

Moment = Annotated[int, Field(ge=0, le=24 * 3600 * 1_000_000)]
MOST_STATES: Final = 12
MOST_FAULTS: Final = 4
NEXT: Final = "NEXT"
"""The place at which it is written what one would measure next."""


class Spot(Frozen):
    """A voltmeter by its letter, and where its probes stand."""

    letter: Annotated[str, Field(pattern=r"^[A-H]$")]
    red: End
    black: End


class Jaw(Frozen):
    """A current clamp by its letter, and the conductor that it is around."""

    letter: Annotated[str, Field(pattern=r"^[P-W]$")]
    conductor: Id


class Hand(Frozen):
    """What a hand does on the way, at a time in microseconds."""

    at_us: Moment
    device: Id
    operation: Text
    value: bool = True


class Halt(Frozen):
    """A state that is asked about: the moment at which the circuit is stopped."""

    title: Text
    at_us: Moment


class PredictionSheet(Frozen):
    """What is asked about a circuit. `counts` tells whether figures must be right, or full, part and none.

    `faults` are in it all the time; `told` whether whoever fills it in is told which. With `asks_next` the last state
    asks what one would measure next, and why; `next` is what whoever made the sheet would.
    """

    format: Literal["wiretrace/prediction-sheet"] = "wiretrace/prediction-sheet"
    version: Literal[3] = 3
    title: Annotated[str, Field(min_length=1, max_length=200)]
    meters: Annotated[tuple[Spot, ...], Most(8, 1)]
    clamps: Annotated[tuple[Jaw, ...], Most(8)] = ()
    devices: Annotated[tuple[Id, ...], Most(12)] = ()
    hands: Annotated[tuple[Hand, ...], Most(500)] = ()
    states: Annotated[tuple[Halt, ...], Most(MOST_STATES, 1)]
    faults: Annotated[tuple[AnyFault, ...], Most(MOST_FAULTS)] = ()
    told: bool = True
    asks_next: bool = False
    next: Annotated[str, Field(max_length=500, pattern=NO_NUL)] = ""
    hints: bool = False
    counts: Literal["exact", "about"] = "exact"

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if any(later.at_us <= earlier.at_us for earlier, later in pairwise(self.states)):
            raise ValueError("The states must follow each other in time.")
        letters = [spot.letter for spot in self.meters] + [jaw.letter for jaw in self.clamps]
        if len(set(letters)) < len(letters):
            raise ValueError("Each meter needs a letter of its own.")
        # Only what came later: a sheet that was kept before can still be opened.
        taken = {*(jaw.letter for jaw in self.clamps), *([NEXT] if self.asks_next else [])}
        if mixed := taken & set(self.devices):
            raise ValueError(f"The device {min(mixed)} has the name of what else is asked: it cannot be asked about.")
        return self


def _sound(data: Data) -> dict[str, Any]:
    """Version 2 may have faults in the circuit."""
    return {"faults": [], "told": True, **data}


def _volts_alone(data: Data) -> dict[str, Any]:
    """Version 3 may ask for currents, and what to measure next."""
    return {"clamps": [], "asks_next": False, "next": "", **data}


sheet_upgrades: Final = Upgrades("prediction sheet", _sound, _volts_alone)


def kept_sheet(data: Any) -> PredictionSheet:
    """A sheet that was taken once, perhaps by an earlier release. Raises NewerVersion, pydantic.ValidationError."""
    return PredictionSheet.model_validate(sheet_upgrades(data))


def sheet_from_data(data: Any) -> tuple[PredictionSheet, tuple[Problem, ...]]:
    """A sheet from JSON, read as far as it goes: what of its meters, hands and states is wrong is left out and named.

    Raises NewerVersion; MalformedDocument where nothing is left that could be asked.
    """
    data = sheet_upgrades(data)
    try:
        return PredictionSheet.model_validate(data), ()
    except ValidationError as error:
        broken = error
    problems = [_told(item) for item in broken.errors()]
    if isinstance(data, dict):
        mended = dict(data)
        for name in ("meters", "clamps", "devices", "hands", "states", "faults"):
            given = data.get(name)
            if isinstance(given, list):
                bad = {
                    item["loc"][1] for item in broken.errors() if item["loc"][:1] == (name,) and len(item["loc"]) > 1
                }
                mended[name] = [one for index, one in enumerate(given) if index not in bad]
        try:
            return PredictionSheet.model_validate(mended), tuple(problems)
        except ValidationError:
            pass
    raise MalformedDocument("This is no prediction sheet that could be asked.", tuple(problems))


def _told(item: Any) -> Problem:
    place = ".".join(str(part) for part in item["loc"]) or "sheet"
    return Problem("prediction_sheet", f"{place}: {item['msg']}", path=place)


def misfits(sheet: PredictionSheet, assembly: Assembly) -> Iterator[str]:
    """What a sheet asks of a circuit that is not there, as where the circuit has changed since."""
    for spot in sheet.meters:
        for end in (spot.red, spot.black):
            item = assembly.devices.get(end.device)
            if item is None or not has_terminal(item, end):
                yield f"Meter {spot.letter} stands on {end.device}:{end.terminal}, which is not there."
    conductors = {wire.id for wire in assembly.circuit.conductors}
    for jaw in sheet.clamps:
        if jaw.conductor not in conductors:
            yield f"Clamp {jaw.letter} is around the wire {jaw.conductor}, which is not there."
    for name in sheet.devices:
        if name not in assembly.devices:
            yield f"The device {name} is not there."
    links = conductors | {path.id for path in assembly.circuit.strays}
    for fault in sheet.faults:
        if (wrong := fault.misfit(assembly.devices, links)) is not None:
            yield f"A fault of the sheet does not fit the circuit: {wrong}"
    for hand in sheet.hands:
        item = assembly.devices.get(hand.device)
        if item is None or hand.operation not in {operation.name for operation in item.kind.operations}:
            yield f"There is no {hand.operation} of {hand.device} to work at {hand.at_us / 1e6:g} s."


def states_of(sheet: PredictionSheet, assembly: Assembly) -> list[Frame]:
    """The circuit as it stands in each state of a sheet. Raises what `run` raises."""
    state = initial_state(assembly)
    frames: list[Frame] = []
    for halt in sheet.states:
        due = [
            Action(hand.at_us, hand.device, hand.operation, hand.value)
            for hand in sheet.hands
            if state.time_us <= hand.at_us <= halt.at_us and (hand.at_us > state.time_us or not frames)
        ]
        state = run(assembly, state, due, halt.at_us).end
        frames.append(frame_of(assembly, state))
    return frames
