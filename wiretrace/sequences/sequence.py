"""Operating sequences: what is done with a circuit step by step, and what comes of it.

The same steps prove a library circuit, and make a state table: what each coil, contact, lamp and motor
does at each step, with times.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Any, Final, Literal

from pydantic import Field, ValidationError, model_validator

from wiretrace.bounds import Most
from wiretrace.catalogue.machinery.status import status_of_words
from wiretrace.catalogue.machinery.structure import Role, View
from wiretrace.document.circuit import Circuit, Frozen, Label, Text
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.faults.spots import device_named
from wiretrace.faults.text import fault_from_text
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, initial_state, run
from wiretrace.simulation.state import Action
from wiretrace.upgrading import Data, Upgrades

MAX_STEPS = 500


class Step(Frozen):
    """One step of an operating sequence, in the designations that people use.

    `do` lists hands as (device, operation, on or off); `faults` replaces the faults present, in the
    words of `fault_text`; after `wait_s` seconds each device of `expect` must be of the status there.
    """

    text: Text
    do: Annotated[tuple[tuple[Label, Text, bool], ...], Most(50)] = ()
    faults: Annotated[tuple[Annotated[str, Field(max_length=2000)], ...], Most(50)] | None = None
    wait_s: Annotated[float, Field(gt=0, le=3600)] = 0.5
    expect: Annotated[dict[Label, Text], Most(200)] = {}


class Sequence(Frozen):
    """What is done with a circuit to show it, and what must come of it. Version 2 expects statuses, 1 had words."""

    version: Literal[2] = 2
    steps: Annotated[tuple[Step, ...], Most(MAX_STEPS)]

    @model_validator(mode="before")
    @classmethod
    def _as_it_is_now(cls, data: Any) -> Any:
        return sequence_upgrades(data)


def _statuses(data: Data) -> dict[str, Any]:
    """Version 2 expects statuses where version 1 had words."""

    def step(one: Any) -> Any:
        expect = one.get("expect") if isinstance(one, Mapping) else None
        if not isinstance(expect, Mapping):
            return one
        told = {label: status_of_words(said) if isinstance(said, str) else said for label, said in expect.items()}
        return {**one, "expect": told}

    steps = data.get("steps")
    return {**data, "steps": [step(one) for one in steps] if isinstance(steps, list | tuple) else steps}


sequence_upgrades: Final = Upgrades("operating sequence", _statuses)


def kept_sequence(data: Any) -> Sequence:
    """A sequence that was taken once, perhaps by an earlier release. Raises NewerVersion, pydantic.ValidationError."""
    return Sequence.model_validate(data)


@dataclass(frozen=True)
class Taken:
    """A step that was taken: all frames up to its end, the last being the one that then holds."""

    step: Step
    assembly: Assembly
    start_us: int
    frames: tuple[Frame, ...]

    def views(self) -> dict[str, View]:
        """What is seen of every device at the end, by its designation."""
        return {item.label: self.frames[-1].views[item.id] for item in self.assembly.devices.values()}

    def unmet(self) -> dict[str, tuple[str, str]]:
        """Statuses that were expected and did not come, each with what came instead."""
        seen = self.views()
        return {
            label: (status, seen[label].status)
            for label, status in self.step.expect.items()
            if seen[label].status != status
        }


@dataclass(frozen=True)
class Change:
    """Something that changed in a step, so many microseconds after its beginning."""

    after_us: int
    label: str
    what: str


def read_sequence(text: str | bytes) -> Sequence:
    """A sequence from JSON. Raises MalformedDocument."""
    try:
        return Sequence.model_validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = ".".join(str(step) for step in first["loc"])
        raise MalformedDocument(f"This is not an operating sequence: {place}: {first['msg']}.") from error


def take_steps(circuit: Circuit, sequence: Sequence) -> Iterator[Taken]:
    """Take every step in order. Raises UnknownTarget, with the step, for one that names nothing."""
    assembly = Assembly(circuit)
    state = initial_state(assembly)
    for number, step in enumerate(sequence.steps, 1):
        try:
            if step.faults is not None:
                assembly = Assembly(circuit, [fault_from_text(circuit, text) for text in step.faults])
            hands = [Action(state.time_us, device_named(circuit, who).id, what, on) for who, what, on in step.do]
            for label in step.expect:
                device_named(circuit, label)
            trajectory = run(assembly, state, hands, state.time_us + round(step.wait_s * 1e6))
        except (UnknownTarget, ValueError) as error:
            message = f"Step {number} ({step.text}): {getattr(error, 'message', error)}"
            found = getattr(error, "problems", ())
            raise UnknownTarget(message, tuple(found) or (Problem("sequence_names_nothing", message),)) from error
        yield Taken(step, assembly, state.time_us, trajectory.frames)
        state = trajectory.end


def changes(taken: Taken) -> list[Change]:
    """What devices say and what contacts do, in the order in which it happens."""
    found: list[Change] = []
    for before, frame in pairwise(taken.frames):
        after_us = frame.state.time_us - taken.start_us
        for item in taken.assembly.devices.values():
            old, new = before.views[item.id], frame.views[item.id]
            if old.status != new.status:
                found.append(Change(after_us, item.label, new.says))
        for ref, value, was in zip(taken.assembly.branches, frame.values, before.values, strict=True):
            if ref.role is Role.CONTACT and (value is None) != (was is None):
                label = taken.assembly.devices[ref.place].label
                found.append(Change(after_us, f"{label} {ref.branch}", "opens" if value is None else "closes"))
    return found
