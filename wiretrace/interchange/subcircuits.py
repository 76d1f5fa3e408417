"""Circuits as a netlist of devices: the subset of SPICE in which a device is an instance of a subcircuit.

    XK1 4 N 2L1 3L1 2L2 3L2 2L3 3L3 3 4 nc1 nc2 contactor coil_voltage_v=230

The nodes stand in the order of the terminals, the subcircuit is the kind of the catalogue, values that are not as
delivered follow. A resistor or a capacitor is a path that nobody laid. What else a netlist holds cannot be read.
"""

import math
import re
import shlex
from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.structure import Param
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.checked import check_circuit, value_fault
from wiretrace.document.circuit import MAX_CONDUCTORS, MAX_DEVICES, MAX_STRAYS, Circuit, Conductor, Device, End, Stray
from wiretrace.document.nets import nets
from wiretrace.errors import MalformedDocument, Problem
from wiretrace.interchange.lists import Read
from wiretrace.interchange.spice import one_line

LARGEST: Final = 2_000_000
"""Characters of a netlist that is read."""
_NODE: Final = re.compile(r"[A-Za-z0-9_.+-]{1,24}")
_LABEL: Final = re.compile(r"[A-Za-z0-9_.\-+/]{1,24}")
_NUMBER: Final = re.compile(r"([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)([a-z]*)", re.IGNORECASE)
_SCALE: Final = {"t": 1e12, "g": 1e9, "meg": 1e6, "k": 1e3, "m": 1e-3, "u": 1e-6, "n": 1e-9, "p": 1e-12, "f": 1e-15}


def device_netlist(circuit: Circuit) -> str:
    """The circuit as instances, paths that nobody laid as resistors and capacitors."""
    names = _node_names(circuit)
    free = (f"nc{count}" for count in range(1, 10**9))

    def node(end: End) -> str:
        if end not in names:
            names[end] = next(free)
        return names[end]

    lines = [f"* {one_line(circuit.title)}"]
    for item in check_circuit(circuit):
        nodes = [node(End(device=item.id, terminal=terminal.name)) for terminal in item.structure.terminals]
        values = [
            f"{param.name}={_written(item.params[param.name])}"
            for param in item.kind.params
            if item.params[param.name] != param.default
        ]
        lines.append(" ".join([f"X{item.label}", *nodes, item.kind.name, *values]))
    for stray in circuit.strays:
        if stray.resistance_ohm is not None:
            lines.append(f"R{stray.id} {node(stray.a)} {node(stray.b)} {stray.resistance_ohm:.12g}")
        if stray.capacitance_nf is not None:
            lines.append(f"C{stray.id} {node(stray.a)} {node(stray.b)} {stray.capacitance_nf:.12g}n")
    return "\n".join([*lines, ".end", ""])


def _node_names(circuit: Circuit) -> dict[End, str]:
    """A name for each potential: its wire number where that is a name and no other potential bears it."""
    found: dict[End, str] = {}
    taken: set[str] = set()
    for index, net in enumerate(nets(circuit)):
        fits = _NODE.fullmatch(net.number) and net.number.lower() not in taken and not net.number.startswith("nc")
        name = net.number if fits else f"net{index}"
        taken.add(name.lower())
        found |= dict.fromkeys(net.ends, name)
    return found


def _written(value: bool | int | float | str) -> str:
    if isinstance(value, bool):
        return "1" if value else "0"
    return (
        f"{value:.12g}"
        if isinstance(value, float)
        else shlex.quote("\\n".join(one_line(line) for line in str(value).split("\n")))
    )


def circuit_from_netlist(text: str, title: str) -> Read:
    """A circuit without geometry, and what could not be read. Raises MalformedDocument for what is no netlist."""
    if len(text) > LARGEST:
        raise MalformedDocument(f"The netlist is longer than {LARGEST} letters.")
    devices: list[Device] = []
    problems: list[Problem] = []
    at: dict[str, list[End]] = {}
    paths: list[tuple[int, list[str]]] = []
    for number, words in _statements(text):
        first = words[0][0].upper()
        fault = None
        if first == "X":
            read = _instance(len(devices) + 1, words, {device.label for device in devices})
            if isinstance(read, str):
                fault = read
            else:
                device, ends = read
                devices.append(device)
                for node, end in ends:
                    at.setdefault(node, []).append(end)
        elif first in "RC":
            paths.append((number, words))
        elif words[0].lower() not in (".end", ".ends"):
            fault = f"{words[0]} is nothing that the catalogue has"
        if fault:
            problems.append(Problem("unreadable_line", f"Line {number}: {fault}.", path=f"line {number}"))
    if not devices:
        raise MalformedDocument("A netlist of devices has lines such as XH1 4 N lamp, one for each device.")
    if len(devices) > MAX_DEVICES:
        raise MalformedDocument(f"The netlist has more than {MAX_DEVICES} devices.")
    strays: list[Stray] = []
    for number, words in paths:
        stray = _path(len(strays) + 1, words, at)
        if isinstance(stray, str):
            problems.append(Problem("unreadable_line", f"Line {number}: {stray}.", path=f"line {number}"))
        else:
            strays.append(stray)
    if len(strays) > MAX_STRAYS:
        raise MalformedDocument(f"The netlist has more than {MAX_STRAYS} stray paths.")
    conductors = tuple(_conductors(at))
    if len(conductors) > MAX_CONDUCTORS:
        raise MalformedDocument(f"The netlist has more than {MAX_CONDUCTORS} wires.")
    circuit = Circuit(title=title, devices=tuple(devices), conductors=conductors, strays=tuple(strays))
    return Read(circuit, tuple(problems), ())


def _statements(text: str) -> Iterator[tuple[int, list[str]]]:
    """Lines in words, with their number: comments gone, continuations joined, insides of subcircuits passed over."""
    joined: list[tuple[int, str]] = []
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), 1):
        plain = line.strip()
        if plain.startswith("+") and joined:
            joined[-1] = (joined[-1][0], f"{joined[-1][1]} {plain[1:]}")
        elif plain and not plain.startswith(("*", ";", "$")):
            joined.append((number, plain))
    inside = False
    for number, line in joined:
        word = line.split()[0].lower()
        if word in (".subckt", ".control"):
            inside = True
        elif word in (".ends", ".endc"):
            inside = False
        elif not inside:
            try:
                yield number, shlex.split(line)
            except ValueError as error:
                raise MalformedDocument(f"Line {number} has a quotation mark without its partner.") from error


def _instance(count: int, words: Sequence[str], taken: set[str]) -> tuple[Device, list[tuple[str, End]]] | str:
    """A device with the nodes of its terminals, or what is wrong with the line."""
    label = words[0][1:]
    plain = [word for word in words[1:] if "=" not in word]
    if not _LABEL.fullmatch(label):
        return f"{words[0]} has no designation of 1 to 24 letters and digits after the X"
    if label in taken:
        return f"there is a {label} already"
    kind = KINDS.get(plain[-1].lower()) if plain else None
    if kind is None:
        return f"the catalogue has no {plain[-1] if plain else 'kind without a name'}"
    values = _values(kind, [word for word in words[1:] if "=" in word])
    if isinstance(values, str):
        return values
    terminals = kind.structure(kind.defaults() | values).terminals
    nodes = plain[:-1]
    if len(nodes) != len(terminals):
        return f"{label} has {len(nodes)} nodes, but {len(terminals)} terminals with these values"
    device = Device(id=f"d{count}", kind=kind.name, label=label, params=values)
    ends = [(node, End(device=device.id, terminal=t.name)) for node, t in zip(nodes, terminals, strict=True)]
    return device, ends


def _values(kind: Kind, words: Sequence[str]) -> dict[str, bool | int | float | str] | str:
    known = {param.name: param for param in kind.params}
    values: dict[str, bool | int | float | str] = {}
    for word in words:
        name, text = word.split("=", 1)
        if name.lower() not in known:
            return f"{kind.title} has no {name}"
        param = known[name.lower()]
        value = _value(param, text)
        fault = "is no number" if value is None else value_fault(param, value)
        if value is None or fault:
            return f"{param.title} {fault}"
        values[param.name] = value
    return values


def _value(param: Param, text: str) -> bool | int | float | str | None:
    if param.type == "choice":
        return param.choice_named(text)
    if param.type == "text":
        return text.replace("\\n", "\n")
    if param.type == "switch":
        return text.lower() in ("1", "true", "yes")
    return _figure(text)


def _figure(text: str) -> float | None:
    """A number with a scale of SPICE: 4.7k is 4700, 1meg a million; letters behind that are a unit."""
    found = _NUMBER.fullmatch(text)
    if not found:
        return None
    letters = found[2].lower()
    scale = next((_SCALE[name] for name in sorted(_SCALE, key=len, reverse=True) if letters.startswith(name)), 1.0)
    value = float(found[1]) * scale
    return value if math.isfinite(value) else None


def _path(count: int, words: Sequence[str], at: Mapping[str, Sequence[End]]) -> Stray | str:
    if len(words) < 4:
        return f"{words[0]} needs two nodes and a value"
    ends = [at.get(node) for node in words[1:3]]
    value = _figure(words[3])
    if not ends[0] or not ends[1]:
        return f"{words[0]} ends at a node that no device has"
    if value is None:
        return f"{words[3]} is no number"
    resistance = words[0][0].upper() == "R"
    low, high = (1.0, 1e15) if resistance else (1e-15, 1e-3)
    if not low <= value <= high:
        return f"{words[0]} must lie from {low:g} to {high:g}"
    worth = {"resistance_ohm": value} if resistance else {"capacitance_nf": value * 1e9}
    if ends[0][0] == ends[1][0]:
        return f"{words[0]} has both ends on one node"
    return Stray.model_validate({"id": f"s{count}", "a": ends[0][0], "b": ends[1][0], **worth})


def _conductors(at: Mapping[str, Sequence[End]]) -> Iterator[Conductor]:
    """A chain of wires for each node with more than one terminal, numbered as the node is called."""
    count = 0
    for node, ends in at.items():
        number = node if _NODE.fullmatch(node) and not re.fullmatch(r"net\d+", node) else None
        for a, b in pairwise(ends):
            count += 1
            yield Conductor(id=f"w{count}", a=a, b=b, number=number)
