"""From JSON to a circuit that the catalogue understands, or to a list of what is wrong."""

import json
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final

from pydantic import ValidationError

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.structure import Param, Structure
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import (
    FORMAT,
    LIMITS,
    Circuit,
    Conductor,
    Convention,
    Device,
    End,
    Stray,
)
from wiretrace.document.upgrades import circuit_upgrades
from wiretrace.errors import (
    CircuitTooLarge,
    InvalidCircuit,
    MalformedDocument,
    Problem,
)

LONGEST_TEXT: Final = 4000


@dataclass(frozen=True)
class Installed:
    """A device with its kind, all parameters settled, and the structure that follows."""

    device: Device
    kind: Kind
    params: Mapping[str, bool | int | float | str]
    structure: Structure
    convention: Convention = "iec"

    @property
    def id(self) -> str:
        return self.device.id

    @property
    def label(self) -> str:
        return self.device.label

    def designated(self, terminal: str) -> str:
        """A terminal as people write it in the circuit's convention: K1:13, or K1:T1."""
        if self.convention == "nema":
            marking = next((t.nema for t in self.structure.terminals if t.name == terminal), "")
            return f"{self.label}:{marking or terminal}"
        return f"{self.label}:{terminal}"


def parse_circuit(text: str | bytes) -> Circuit:
    """Read a circuit document from JSON text.

    Raises MalformedDocument, NewerVersion, CircuitTooLarge or InvalidCircuit.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise MalformedDocument(f"This is not JSON: {error}.") from error
    return circuit_from_data(data)


def circuit_from_data(data: Any) -> Circuit:
    """As `parse_circuit`, from JSON that is already decoded."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise MalformedDocument(f'A circuit document is an object with "format": "{FORMAT}".')
    circuit = kept_circuit(data)
    check_circuit(circuit)
    return circuit


def kept_circuit(data: Mapping[str, Any]) -> Circuit:
    """A document that was taken once, perhaps by an earlier release: its shape is looked at, and no more.

    Raises NewerVersion, CircuitTooLarge, MalformedDocument.
    """
    data = circuit_upgrades(data)
    check_size(data)
    try:
        return Circuit.model_validate(data)
    except ValidationError as error:
        raise MalformedDocument(
            "The document is not shaped like a circuit.", tuple(_shape_problems(error, data))
        ) from error


def check_size(data: Mapping[str, Any]) -> None:
    """Is there no more of anything than a circuit may have? Raises CircuitTooLarge."""
    for name, limit in LIMITS.items():
        items = data.get(name)
        if isinstance(items, list) and len(items) > limit:
            raise CircuitTooLarge(f"The circuit has {len(items)} {name.replace('_', ' ')}; the limit is {limit}.")


def check_circuit(circuit: Circuit) -> tuple[Installed, ...]:
    """Check a circuit against itself and the catalogue; return its devices, settled.

    Raises InvalidCircuit with every problem found, not just the first.
    """
    problems = [*_duplicates(circuit)]
    installed: dict[str, Installed] = {}
    for device in circuit.devices:
        found = list(_device_problems(device))
        problems += found
        if not found:
            installed[device.id] = install(device, circuit.convention)
    known = {device.id: device for device in circuit.devices}
    for link in _links(circuit):
        problems += _link_problems(link, known, installed)
    for sheet in circuit.sheets:
        for index, symbol in enumerate(sheet.symbols):
            path = f"sheet {sheet.id}, symbol {index + 1}"
            if symbol.device not in known:
                problems.append(Problem("unknown_device", f"No device has the id {symbol.device}.", path=path))
            elif symbol.device in installed and symbol.part not in {
                part.name for part in installed[symbol.device].structure.parts
            }:
                label = known[symbol.device].label
                problems.append(
                    Problem("unknown_part", f"{label} has no part {symbol.part}.", symbol.device, path=path)
                )
    if problems:
        count = len(problems)
        message = problems[0].message if count == 1 else f"{count} things are wrong in this circuit."
        raise InvalidCircuit(message, tuple(problems))
    return tuple(installed.values())


def check_consistent(devices: Iterable[Installed]) -> None:
    """Do the parameters of every device agree with each other? Asked of a circuit that is to be used.

    A drawing may be saved before they do. Raises InvalidCircuit.
    """
    problems = [
        Problem("contradiction", f"{item.label}: {told}", item.id)
        for item in devices
        for told in item.kind.contradictions(item.params)
    ]
    if problems:
        raise InvalidCircuit(problems[0].message, tuple(problems))


def install(device: Device, convention: Convention = "iec") -> Installed:
    """Settle the parameters of a device whose kind and parameters are known to be valid."""
    kind = KINDS[device.kind]
    params = kind.defaults() | dict(device.params)
    return Installed(device, kind, params, kind.structure(params), convention)


def _shape_problems(error: ValidationError, data: Mapping[str, Any]) -> Iterator[Problem]:
    for item in error.errors(include_url=False, include_context=False, include_input=False):
        loc = item["loc"]
        path = ".".join(str(step) for step in loc)
        yield Problem("shape", f"{path}: {item['msg']}.", path=path, **_place(loc, data))


def _place(loc: tuple[int | str, ...], data: Mapping[str, Any]) -> dict[str, str]:
    """The device or conductor that a position in the document lies in, where it has an id."""
    if len(loc) < 2 or loc[0] not in ("devices", "conductors") or not isinstance(loc[1], int):
        return {}
    item = data[str(loc[0])][loc[1]]
    name = item.get("id") if isinstance(item, dict) else None
    return {str(loc[0])[:-1]: name} if isinstance(name, str) else {}


def _duplicates(circuit: Circuit) -> Iterator[Problem]:
    for device_id in _repeated(device.id for device in circuit.devices):
        yield Problem("duplicate_id", f"Two devices have the id {device_id}.", device=device_id)
    for link_id in _repeated(link.id for link in _links(circuit)):
        yield Problem("duplicate_id", f"Two conductors have the id {link_id}.", conductor=link_id)
    for sheet_id in _repeated(sheet.id for sheet in circuit.sheets):
        yield Problem("duplicate_id", f"Two sheets have the id {sheet_id}.", path=f"sheet {sheet_id}")
    for label in _repeated(device.label for device in circuit.devices):
        last = [device.id for device in circuit.devices if device.label == label][-1]
        yield Problem("duplicate_label", f"Two devices are called {label}.", device=last)


def _links(circuit: Circuit) -> tuple[Conductor | Stray, ...]:
    return (*circuit.conductors, *circuit.strays)


def _repeated(names: Iterable[str]) -> list[str]:
    return [name for name, count in Counter(names).items() if count > 1]


def _device_problems(device: Device) -> Iterator[Problem]:
    kind = KINDS.get(device.kind)
    if kind is None:
        yield Problem(
            "unknown_kind",
            f"{device.label} is of the kind {device.kind}, which the catalogue does not have.",
            device.id,
        )
        return
    known = {param.name: param for param in kind.params}
    for name, value in device.params.items():
        if name not in known:
            yield Problem("unknown_parameter", f"{device.label}: a {kind.title.lower()} has no {name}.", device.id)
        elif (fault := value_fault(known[name], value)) is not None:
            yield Problem("value_out_of_range", f"{device.label}: {known[name].title} {fault}.", device.id, path=name)


def value_fault(param: Param, value: bool | float | str) -> str | None:
    """What is wrong with a parameter's value, or None."""
    if param.type == "choice":
        fits = value in param.choices and not isinstance(value, bool)
        return None if fits else "must be one of " + ", ".join(str(c) for c in param.choices)
    if param.type == "text":
        # What no database can hold is no text.
        fits = isinstance(value, str) and len(value) <= LONGEST_TEXT and "\x00" not in value
        return None if fits else f"must be a text of at most {LONGEST_TEXT} letters, without NUL"
    if param.type == "switch":
        return None if isinstance(value, bool) else "must be true or false"
    if isinstance(value, bool | str):
        return "must be a number"
    low, high = param.minimum, param.maximum
    if (low is not None and value < low) or (high is not None and value > high):
        return f"is {value:g} {param.unit}; it must lie from {low:g} to {high:g} {param.unit}".rstrip()
    return None


def _link_problems(
    link: Conductor | Stray, known: Mapping[str, Device], installed: Mapping[str, Installed]
) -> list[Problem]:
    problems = []
    for end in (link.a, link.b):
        if end.device not in known:
            message = f"Conductor {link.id} ends at a device {end.device} that does not exist."
            problems.append(Problem("unknown_device", message, conductor=link.id))
        elif end.device in installed and not has_terminal(installed[end.device], end):
            message = f"Conductor {link.id} ends at {known[end.device].label}:{end.terminal}, "
            message += f"but {known[end.device].label} has no terminal {end.terminal}."
            problems.append(Problem("unknown_terminal", message, end.device, end.terminal, link.id))
    if isinstance(link, Stray) and link.resistance_ohm is None and link.capacitance_nf is None:
        message = f"Stray path {link.id} has neither a resistance nor a capacitance."
        problems.append(Problem("stray_without_value", message, conductor=link.id))
    if link.a == link.b:
        message = f"Conductor {link.id} begins and ends at the same terminal."
        problems.append(Problem("same_terminal", message, link.a.device, link.a.terminal, link.id))
    return problems


def has_terminal(installed: Installed, end: End) -> bool:
    """Does the device have the terminal that `end` names?"""
    return any(terminal.name == end.terminal for terminal in installed.structure.terminals)
