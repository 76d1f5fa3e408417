"""Lists of a circuit as CSV: wires, terminals, parts; and a circuit from a list of wires.

CSV as in RFC 4180, the first line naming the columns, texts that a spreadsheet would take for a formula
marked as text.
"""

import csv
import io
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from itertools import product
from typing import Final

from pydantic import ValidationError

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.structure import Param
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import MAX_CONDUCTORS, MAX_DEVICES, Circuit, Conductor, Device, End
from wiretrace.document.nets import nets, numbers_by_end
from wiretrace.errors import MalformedDocument, Problem

WIRE_COLUMNS: Final = (
    *("from device", "from terminal", "to device", "to terminal"),
    *("number", "colour", "size mm2", "length m"),
)
NEEDED: Final = WIRE_COLUMNS[:4]
LARGEST_CSV: Final = 2_000_000
"""Characters of a list that is read."""
RARE: Final = 20.0
"""Places further down in its group that weigh as much as one terminal that is not used."""

_MEASURES: Final = (
    ("size mm2", "cross_section_mm2", 0.05, 1000.0),
    ("length m", "length_m", 0.001, 10_000.0),
)
_LABEL: Final = re.compile(r"^[A-Za-z0-9_.\-+/]{1,24}$")
_FORMULA: Final = re.compile(r"[\s\x00-\x1f\u00a0\u200b\ufeff]*[=+\-@\uff1d\uff0b\uff0d\uff20|%]|[\t\r\n']")
"""What a spreadsheet may take for a formula, also after blanks and as full-width signs; or for our own mark."""


def wire_list(circuit: Circuit) -> str:
    """Every conductor: its two terminals, number, colour, size and length."""
    labels = {device.id: device.label for device in circuit.devices}
    numbers = numbers_by_end(nets(circuit))
    rows = [
        (
            *(labels[wire.a.device], wire.a.terminal, labels[wire.b.device], wire.b.terminal),
            *(numbers[wire.a], wire.colour or "", f"{wire.cross_section_mm2:g}", f"{wire.length_m:g}"),
        )
        for wire in circuit.conductors
    ]
    return csv_text(WIRE_COLUMNS, rows)


def terminal_plan(circuit: Circuit) -> str:
    """Every terminal that has a wire: which wires, and where they go."""
    labels = {device.id: device.label for device in circuit.devices}
    numbers = numbers_by_end(nets(circuit))
    there: dict[End, list[End]] = {}
    for wire in circuit.conductors:
        there.setdefault(wire.a, []).append(wire.b)
        there.setdefault(wire.b, []).append(wire.a)
    order = {device.id: index for index, device in enumerate(circuit.devices)}
    rows = []
    for end in sorted(there, key=lambda e: (order[e.device], e.terminal)):
        goes = [f"{labels[other.device]}:{other.terminal}" for other in there[end]]
        rows.append((labels[end.device], end.terminal, numbers[end], *goes[:2], ", ".join(goes[2:])))
    return csv_text(("device", "terminal", "number", "first wire to", "second wire to", "more"), rows)


def parts_list(circuit: Circuit) -> str:
    """Every device: designation, kind, what it does, where it sits, and the values that are not as delivered."""
    rows = []
    for device in circuit.devices:
        kind = KINDS[device.kind]
        told = [
            f"{param.title} {_told_value(param, device.params[param.name])} {param.unit}".strip()
            for param in kind.params
            if param.name in device.params and device.params[param.name] != param.default
        ]
        sits = device.mounting or kind.mounting
        rows.append((device.label, kind.title, device.function, sits, "; ".join(told)))
    return csv_text(("device", "kind", "function", "sits", "values"), rows)


@dataclass(frozen=True)
class Read:
    """A circuit read from a list, and what could not be read, line by line."""

    circuit: Circuit
    problems: tuple[Problem, ...]
    guessed: tuple[str, ...]
    """Devices whose kind was told from their letter and terminals alone."""


def circuit_from_wire_list(text: str, title: str, known: Iterable[Device] = ()) -> Read:
    """A circuit without geometry from a list of wires.

    A device of `known` with the same designation keeps its kind and values; of others the kind
    is told from the letter and the terminals that are used. Raises MalformedDocument for what is no such list.
    """
    lines = list(_rows(text))
    given = {device.label: device for device in known}
    used: dict[str, set[str]] = {}
    for _, row in lines:
        for side in ("from", "to"):
            used.setdefault(row[f"{side} device"], set()).add(row[f"{side} terminal"])
    devices, problems = {}, []
    for index, (label, terminals) in enumerate(used.items(), 1):
        device = given.get(label) or _guess(f"d{index}", label, terminals)
        if device is None or (missing := terminals - _terminals(device)):
            why = f"no kind of device has {', '.join(sorted(terminals))}" if device is None else f"it has no {missing}"
            problems.append(Problem("unknown_device", f"{label or 'A device without a name'}: {why}.", path=label))
        else:
            devices[label] = device
    if len(devices) > MAX_DEVICES:
        raise MalformedDocument(f"The list has more than {MAX_DEVICES} devices.")
    conductors: list[Conductor] = []
    for number, row in lines:
        wire = _conductor(len(conductors) + 1, row, devices)
        if isinstance(wire, str):
            problems.append(Problem("unreadable_line", f"Line {number}: {wire}.", path=f"line {number}"))
        else:
            conductors.append(wire)
    circuit = Circuit(title=title, devices=tuple(devices.values()), conductors=tuple(conductors))
    guessed = tuple(f"{d.label}: {KINDS[d.kind].title.lower()}" for d in devices.values() if d.label not in given)
    return Read(circuit, tuple(problems), guessed)


def _rows(text: str) -> Iterator[tuple[int, Mapping[str, str]]]:
    if len(text) > LARGEST_CSV:
        raise MalformedDocument(f"The list is longer than {LARGEST_CSV} letters.")
    try:
        reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff"), newline=""), strict=True)
        names = [name.strip().lower() for name in reader.fieldnames or ()]
        missing = [name for name in NEEDED if name not in names]
        if missing:
            raise MalformedDocument(f"A list of wires has a line of headings with {', '.join(missing)}.")
        reader.fieldnames = names
        for count, row in enumerate(reader, 2):
            if count > MAX_CONDUCTORS + 1:
                raise MalformedDocument(f"The list has more than {MAX_CONDUCTORS} wires.")
            if any((value or "").strip() for value in row.values() if not isinstance(value, list)):
                yield count, {name: (row.get(name) or "").strip().removeprefix("'") for name in WIRE_COLUMNS}
    except csv.Error as error:
        raise MalformedDocument(f"This is not CSV: {error}.") from error


def _conductor(count: int, row: Mapping[str, str], devices: Mapping[str, Device]) -> Conductor | str:
    """The conductor of a line, or what is wrong with it."""
    ends = []
    for side in ("from", "to"):
        device = devices.get(row[f"{side} device"])
        if device is None:
            return f"the device {row[f'{side} device'] or '(none)'} could not be read"
        ends.append(End(device=device.id, terminal=row[f"{side} terminal"]))
    if ends[0] == ends[1]:
        return "both ends are one terminal"
    more: dict[str, object] = {}
    for column, name, low, high in _MEASURES:
        if row[column]:
            try:
                value = float(row[column].replace(",", "."))
            except ValueError:
                return f"{row[column]!r} is no number"
            if not low <= value <= high:
                return f"{column} must lie from {low:g} to {high:g}"
            more[name] = value
    for column in ("number", "colour"):
        if row[column]:
            more[column] = row[column][:24]
    try:
        return Conductor.model_validate({"id": f"w{count}", "a": ends[0], "b": ends[1], **more})
    except ValidationError as error:
        where = ", ".join(str(one["loc"][0]) for one in error.errors(include_url=False, include_input=False))
        return f"{where}: it has letters that cannot be kept"


def _guess(device_id: str, label: str, terminals: set[str]) -> Device | None:
    """A device whose kind has these terminals: one with the same letter first, then few others, and common ones."""
    if not _LABEL.match(label):
        return None
    letter = re.match(r"[A-Z]*", label.upper())
    found = [
        (letter is None or letter[0] != kind.letter, len(has - terminals) + kind.rank / RARE, order)
        for order, (kind, _, has) in enumerate(_variants())
        if terminals <= has
    ]
    if not found:
        return None
    kind, params, _ = _variants()[min(found)[2]]
    return Device(id=device_id, kind=kind.name, label=label, params=params)


@cache
def _variants() -> tuple[tuple[Kind, dict[str, bool | int | float | str], frozenset[str]], ...]:
    """Every kind with every choice that decides about terminals, and the terminals that it then has."""
    return tuple(
        (kind, params, frozenset(t.name for t in kind.structure(kind.defaults() | params).terminals))
        for kind in KINDS.values()
        for params in _choices(kind)
    )


def _choices(kind: Kind) -> Iterator[dict[str, bool | int | float | str]]:
    """The defaults, and every choice that decides about terminals."""
    deciding = {t.when.param for t in kind.terminals if t.when is not None}
    params = [p for p in kind.params if p.name in deciding]
    options = [p.choices if p.choices else (False, True) for p in params]
    for combination in product(*options):
        yield {p.name: value for p, value in zip(params, combination, strict=True) if value != p.default}


def _terminals(device: Device) -> set[str]:
    kind = KINDS[device.kind]
    return {terminal.name for terminal in kind.structure(kind.defaults() | device.params).terminals}


def _told_value(param: Param, value: bool | int | float | str) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float) else " ".join(param.title_of(value).split())


def csv_text(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """CSV of which no spreadsheet takes a cell for a formula."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(heads)
    writer.writerows([[_safe(cell) for cell in row] for row in rows])
    return out.getvalue()


def _safe(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return f"'{cell}" if _FORMULA.match(cell) and not re.fullmatch(r"-?[0-9.]+", cell) else cell
