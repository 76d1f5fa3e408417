"""The circuits that ship, as documents in the open format, each with its operating sequence."""

from importlib.resources import files

from wiretrace.document.checked import parse_circuit
from wiretrace.document.circuit import Circuit
from wiretrace.sequences.sequence import Sequence, read_sequence


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
    return read_sequence(files(__name__).joinpath("sequences", f"{name}.json").read_text("utf-8"))
