"""The circuits that ship, as documents in the open format."""

from importlib.resources import files
from typing import Annotated

from pydantic import Field

from wiretrace.circuit.checked import parse_circuit
from wiretrace.circuit.document import Circuit, Frozen, Label, Text


class Step(Frozen):
    """One step of an operating sequence, in the designations that people use.

    `do` lists hands as (device, operation, on or off); `faults` replaces the faults present, in the
    words of the command line; after `wait_s` seconds the devices are expected to say `expect`.
    """

    text: Text
    do: tuple[tuple[Label, Text, bool], ...] = ()
    faults: tuple[Text, ...] | None = None
    wait_s: Annotated[float, Field(gt=0, le=3600)] = 0.5
    expect: dict[Label, Text]


class Sequence(Frozen):
    """What is done with a circuit to show it, and what must come of it."""

    steps: tuple[Step, ...]


def library_names() -> tuple[str, ...]:
    """Names of the circuits that ship, sorted."""
    names = (entry.name for entry in files(__name__).iterdir())
    return tuple(sorted(name.removesuffix(".json") for name in names if name.endswith(".json")))


def library_circuit(name: str) -> Circuit:
    """The circuit of this name. Raises KeyError when none ships under it."""
    if name not in library_names():
        raise KeyError(name)
    return parse_circuit(files(__name__).joinpath(f"{name}.json").read_text("utf-8"))


def library_sequence(name: str) -> Sequence:
    """The operating sequence of a circuit that ships. Raises KeyError when there is none."""
    if name not in library_names():
        raise KeyError(name)
    text = files(__name__).joinpath("sequences", f"{name}.json").read_text("utf-8")
    return Sequence.model_validate_json(text)
