"""What people type on the command line, made into values of the core."""

import re
from collections.abc import Sequence
from pathlib import Path

from wiretrace.circuit.checked import parse_circuit
from wiretrace.circuit.document import Circuit, End
from wiretrace.errors import MalformedDocument, Problem, UnknownTarget
from wiretrace.faults.fault import Fault, FaultKind
from wiretrace.formats.quantity import parse_quantity
from wiretrace.formats.report import Probes
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.plant import Plant
from wiretrace.simulation.state import Action

_DO = re.compile(r"^([^.@]+(?:\.\d+)?)\.([a-z_]+)(?:=(on|off))?@([^.]+(?:\.\d+[a-zµ]*)?)(?:\.\.(.+))?$")


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


def read_time_us(text: str) -> int:
    """A time in integer microseconds: 250ms, 1.5 s, 2 min. Raises ValueError."""
    seconds = parse_quantity(text, "s")
    if seconds < 0:
        raise ValueError(f"{text} is before the beginning.")
    return round(seconds * 1e6)


def read_actions(plant: Plant, texts: Sequence[str]) -> list[Action]:
    """`S1.press@0.1s`, `S1.press@0.1s..0.6s` (held), `G1.switch=off@2s`, in any order."""
    actions = []
    for text in texts:
        match = _DO.match(text)
        if not match:
            raise ValueError(f"{text!r} is not of the form DEVICE.OPERATION[=on|off]@TIME[..TIME].")
        label, operation, value, start, stop = match.groups()
        device = _device_id(plant, label)
        actions.append(Action(read_time_us(start), device, operation, value != "off"))
        if stop is not None:
            actions.append(Action(read_time_us(stop), device, operation, value == "off"))
    return actions


def read_end(plant: Plant, text: str) -> End:
    """`K1:A1` as a terminal of the circuit. Raises UnknownTarget or ValueError."""
    label, colon, terminal = text.strip().partition(":")
    if not colon:
        raise ValueError(f"{text!r} is not of the form DEVICE:TERMINAL.")
    end = End(device=_device_id(plant, label), terminal=terminal)
    plant.node(end)
    return end


def read_probes(plant: Plant, text: str) -> Probes:
    """`K1:A1,K1:A2`: red first, then black."""
    ends = text.split(",")
    if len(ends) != 2:
        raise ValueError(f"{text!r} is not of the form TERMINAL,TERMINAL.")
    return Probes(red=read_end(plant, ends[0]), black=read_end(plant, ends[1]))


def read_fault(plant: Plant, text: str) -> Fault:
    """`K1/coil=open`, `H1/lamp=open`, or a conductor by its id: `c4=300ohm`, `c4=open`."""
    place, equals, what = text.partition("=")
    if not equals:
        raise ValueError(f"{text!r} is not of the form DEVICE/ELEMENT=open, WIRE=open or WIRE=300ohm.")
    label, slash, branch = place.partition("/")
    place_id = _device_id(plant, label) if slash else label
    plant.branch_index(place_id, branch)
    if what == "open":
        return Fault(FaultKind.OPEN, place_id, branch)
    return Fault(FaultKind.HIGH_RESISTANCE, place_id, branch, parse_quantity(what, "ohm"))


def _device_id(plant: Plant, label: str) -> str:
    for item in plant.devices.values():
        if item.label == label:
            return item.id
    labels = ", ".join(item.label for item in plant.devices.values())
    message = f"There is no device {label}. The circuit has: {labels}."
    raise UnknownTarget(message, (Problem("unknown_device", message),))
