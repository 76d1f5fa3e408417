"""What people type on the command line, made into values of the core."""

import re
from collections.abc import Iterable
from pathlib import Path
from typing import Final

from wiretrace.document.checked import parse_circuit
from wiretrace.document.circuit import Circuit, End
from wiretrace.errors import MalformedDocument
from wiretrace.faults.spots import device_named, end_from_text
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.quantity import parse_quantity
from wiretrace.sequences.sequence import Sequence, read_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.state import Action
from wiretrace.transport.report import Probes

_DO = re.compile(r"^([^.@]+(?:\.\d+)?)\.([a-z_][a-z0-9_]*)(?:=(on|off))?@([^.]+(?:\.\d+[a-zµ]*)?)(?:\.\.(.+))?$")


def read_circuit(name: str) -> Circuit:
    """The circuit in a file, or the one that ships under this name."""
    if name in library_names():
        return library_circuit(name)
    path = Path(name)
    if not path.is_file():
        raise MalformedDocument(
            f"There is no file {name}, and no circuit ships under this name. "
            f"Those that ship: {', '.join(library_names())}."
        )
    return parse_circuit(path.read_bytes())


def read_sequence_file(circuit: str, name: str | None) -> Sequence:
    """The operating sequence in a file, or the one that ships with the circuit."""
    if name is None:
        if circuit not in library_names():
            raise MalformedDocument(f"{circuit} is no circuit that ships: name its sequence with --sequence.")
        return library_sequence(circuit)
    path = Path(name)
    if not path.is_file():
        raise MalformedDocument(f"There is no file {name}.")
    return read_sequence(path.read_bytes())


LONGEST_S: Final = 366 * 24 * 3600


def read_time_us(text: str) -> int:
    """A time in integer microseconds: 250ms, 1.5 s, 2 min. Raises ValueError."""
    seconds = parse_quantity(text, "s")
    if seconds < 0:
        raise ValueError(f"{text} is before the beginning.")
    if seconds > LONGEST_S:
        raise ValueError(f"{text[:20]} is longer than a year.")
    return round(seconds * 1e6)


def read_actions(assembly: Assembly, texts: Iterable[str]) -> list[Action]:
    """`S1.press@0.1s`, `S1.press@0.1s..0.6s` (held), `G1.switch=off@2s`, in any order."""
    actions = []
    for text in texts:
        match = _DO.match(text)
        if not match:
            raise ValueError(f"{text!r} is not of the form DEVICE.OPERATION[=on|off]@TIME[..TIME].")
        label, operation, value, start, stop = match.groups()
        device = device_named(assembly.circuit, label).id
        actions.append(Action(read_time_us(start), device, operation, value != "off"))
        if stop is not None:
            actions.append(Action(read_time_us(stop), device, operation, value == "off"))
    return actions


def read_end(assembly: Assembly, text: str) -> End:
    """`K1:A1` as a terminal of the circuit. Raises UnknownTarget or ValueError."""
    end = end_from_text(assembly.circuit, text)
    assembly.node(end)
    return end


def read_probes(assembly: Assembly, text: str) -> Probes:
    """`K1:A1,K1:A2`: red first, then black."""
    ends = text.split(",")
    if len(ends) != 2:
        raise ValueError(f"{text!r} is not of the form TERMINAL,TERMINAL.")
    return Probes(red=read_end(assembly, ends[0]), black=read_end(assembly, ends[1]))
