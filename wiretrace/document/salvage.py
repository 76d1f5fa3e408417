"""What can be read of a document that is half right, and what could not be.

A broken value is left out before its device, a broken device before the circuit. Nothing is guessed.
"""

import json
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from wiretrace.catalogue.registry import KINDS
from wiretrace.document.checked import Installed, check_size, has_terminal, install, value_fault
from wiretrace.document.circuit import (
    FORMAT,
    MAX_LINES,
    MAX_SET_ASIDE,
    VERSION,
    Circuit,
    Conductor,
    Device,
    Placement,
    SetAside,
    Sheet,
    Stray,
)
from wiretrace.document.upgrades import circuit_upgrades
from wiretrace.errors import MalformedDocument, NewerVersion, Problem

Item = TypeVar("Item", bound=BaseModel)
MOST_TOLD = 200
"""So many things that could not be read are told by name."""
KNOWN = frozenset(Circuit.model_fields)


@dataclass
class _Reading:
    """A document being read, with what was left out of it so far."""

    problems: list[Problem] = field(default_factory=list)

    def left_out(self, path: str, why: str) -> None:
        if len(self.problems) < MOST_TOLD:
            self.problems.append(Problem("left_out", f"{path}: {why}.", path=path))
        elif len(self.problems) == MOST_TOLD:
            self.problems.append(Problem("left_out", "More than this could not be read."))

    def items(self, data: Any, name: str, model: type[Item]) -> Iterator[Item]:
        """The items of a list that have the shape they should; fields that nobody knows are left out of them."""
        found = data.get(name, [])
        if not isinstance(found, list):
            self.left_out(name, "is no list")
            return
        for index, item in enumerate(found):
            read = self.item(item, f"{name} {index + 1}", model)
            if read is not None:
                yield read

    def item(self, item: Any, path: str, model: type[Item]) -> Item | None:
        if isinstance(item, dict):
            strange = [key for key in item if key not in model.model_fields]
            for key in strange:
                self.left_out(path, f"the field {str(key)[:40]} is not known")
            item = {key: value for key, value in item.items() if key not in strange}
        try:
            return model.model_validate(item)
        except ValidationError as error:
            first = error.errors(include_url=False, include_context=False, include_input=False)[0]
            where = ".".join(str(step) for step in first["loc"])
            self.left_out(path, f"{where}: {first['msg']}" if where else str(first["msg"]))
            return None


def salvage(text: str) -> tuple[Circuit, tuple[Problem, ...]]:
    """The circuit as far as a document tells of one, and all that was left out.

    Raises MalformedDocument for what is no circuit document at all, CircuitTooLarge.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise MalformedDocument(f"This is not JSON: {error}.") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise MalformedDocument(f'A circuit document is an object with "format": "{FORMAT}".')
    check_size(data)
    reading = _Reading()
    with suppress(NewerVersion):
        data = circuit_upgrades(data)
    if data.get("version") != VERSION:
        reading.left_out("version", f"is {str(data.get('version'))[:20]}, read as {VERSION}")
    for name in [name for name in data if name not in KNOWN][:MOST_TOLD]:
        reading.left_out(str(name)[:40], "is not known")
    devices = _devices(reading, data)
    links: set[str] = set()
    conductors = tuple(_links(reading, data, "conductors", Conductor, devices, links))
    strays = tuple(_links(reading, data, "strays", Stray, devices, links))
    title = data.get("title")
    circuit = Circuit(
        title=_plain(title) if isinstance(title, str) else "Imported",
        convention="nema" if data.get("convention") == "nema" else "iec",
        devices=tuple(item.device for item in devices.values()),
        conductors=conductors,
        strays=strays,
        sheets=tuple(_sheets(reading, data, devices)),
        set_aside=tuple(reading.items(data, "set_aside", SetAside))[:MAX_SET_ASIDE],
        description=_lines(reading, data),
    )
    return circuit, tuple(reading.problems)


def _lines(reading: _Reading, data: Any) -> tuple[str, ...]:
    """The lines of the operating description that are lines."""
    told = data.get("description", [])
    if not isinstance(told, list):
        reading.left_out("description", "is no list")
        return ()
    lines = [_plain(line) for line in told if isinstance(line, str)]
    if len(lines) < len(told):
        reading.left_out("description", f"{len(told) - len(lines)} of its lines are no text")
    return tuple(lines[:MAX_LINES])


def _plain(title: str) -> str:
    """A title without what no database can hold."""
    return title.replace("\x00", "").encode("utf-8", "replace").decode("utf-8")[:200]


def _devices(reading: _Reading, data: Any) -> dict[str, Installed]:
    found: dict[str, Installed] = {}
    labels: set[str] = set()
    for device in reading.items(data, "devices", Device):
        if device.kind not in KINDS:
            reading.left_out(device.label, f"the catalogue has no {device.kind}")
        elif device.id in found or device.label in labels:
            reading.left_out(device.label, "there is one already")
        else:
            labels.add(device.label)
            found[device.id] = install(_with_good_values(reading, device))
    return found


def _with_good_values(reading: _Reading, device: Device) -> Device:
    known = {param.name: param for param in KINDS[device.kind].params}
    good = {}
    for name, value in device.params.items():
        fault = "is not known" if name not in known else value_fault(known[name], value)
        if fault is None:
            good[name] = value
        else:
            reading.left_out(f"{device.label}, {name[:40]}", fault)
    return device.model_copy(update={"params": good})


Link = TypeVar("Link", Conductor, Stray)


def _links(
    reading: _Reading, data: Any, name: str, model: type[Link], devices: dict[str, Installed], taken: set[str]
) -> Iterator[Link]:
    for link in reading.items(data, name, model):
        fault = _link_fault(link, devices, taken)
        if fault is None:
            taken.add(link.id)
            yield link
        else:
            reading.left_out(f"{name[:-1]} {link.id}", fault)


def _link_fault(link: Conductor | Stray, devices: dict[str, Installed], taken: set[str]) -> str | None:
    if link.id in taken:
        return "there is one already"
    if link.a == link.b:
        return "it begins and ends at the same terminal"
    if isinstance(link, Stray) and link.resistance_ohm is None and link.capacitance_nf is None:
        return "it has neither a resistance nor a capacitance"
    for end in (link.a, link.b):
        if end.device not in devices:
            return f"it ends at the device {end.device}, which could not be read"
        if not has_terminal(devices[end.device], end):
            return f"{devices[end.device].label} has no terminal {end.terminal}"
    return None


def _sheets(reading: _Reading, data: Any, devices: dict[str, Installed]) -> Iterator[Sheet]:
    sheets = data.get("sheets", [])
    if not isinstance(sheets, list):
        reading.left_out("sheets", "is no list")
    taken: set[str] = set()
    for index, item in enumerate(sheets if isinstance(sheets, list) else []):
        path = f"sheets {index + 1}"
        bare = {k: v for k, v in item.items() if k not in ("symbols", "routes")} if isinstance(item, dict) else item
        sheet = reading.item(bare, path, Sheet)
        if sheet is None or sheet.id in taken:
            continue
        taken.add(sheet.id)
        symbols = tuple(
            symbol for symbol in reading.items(item, "symbols", Placement) if _stands(reading, path, symbol, devices)
        )
        yield sheet.model_copy(update={"symbols": symbols})


def _stands(reading: _Reading, path: str, symbol: Placement, devices: dict[str, Installed]) -> bool:
    item = devices.get(symbol.device)
    if item is not None and any(part.name == symbol.part for part in item.structure.parts):
        return True
    reading.left_out(path, f"nothing is known of the part {symbol.part} of {symbol.device}")
    return False
