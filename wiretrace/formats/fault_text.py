"""Faults in words, for the command line and for operating sequences.

    K1/coil=open      K1:A1=open       w4=open         an element, a terminal, a conductor is open
    w4=300ohm         K1:A1=2kohm                      a bad joint
    K1/coil=short     M1/U1-U2=short 0.5ohm            a short circuit across an element
    K1/13-14=welded   S1/13-14=wrong contact           a contact
    K1=stuck                                           a device that does not move
    M1:U1=to M1:PE    K1:A1=to F1:2 100ohm             a bridge between two terminals
    w4.b=to K1:14     w4.b=with w7.b                   a conductor on another terminal, two exchanged
    F2.dial_a=2       F2.trip=done                     a wrong setting, something done once

Each may end in ``@5s``, the time from which it is there, and in ``~7``, the seed of one that comes and goes.
"""

import re
from dataclasses import replace
from typing import Final

from wiretrace.catalogue.registry import KINDS
from wiretrace.circuit.document import Circuit, Device, End
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.devices import Operated, Stuck, WrongSetting
from wiretrace.faults.elements import Bridge, HighResistance, LooseTerminal, Open, Short, Welded, WrongContact
from wiretrace.faults.fault import Fault
from wiretrace.faults.wires import Exchanged, Moved, Side
from wiretrace.formats.quantity import parse_quantity

SLOT_US: Final = 250_000
"""Stretch of time in which an intermittent fault is there or not."""

_FAULT: Final = re.compile(r"^([^=]+)=([^@~]+?)\s*(?:@([^~]+?))?\s*(?:~(\d+))?$")


def fault_from_text(circuit: Circuit, text: str) -> Fault:
    """The fault that `text` names. Raises UnknownTarget or ValueError."""
    match = _FAULT.match(text.strip())
    if match is None:
        raise ValueError(f"{text!r} is not of the form PLACE=FAULT, such as K1/coil=open, w4=300ohm, K1:A1=open.")
    place, what, start, seed = (part.strip() if part else "" for part in match.groups())
    fault = _fault(circuit, place, what)
    if start:
        fault = replace(fault, start_us=round(parse_quantity(start, "s") * 1e6))
    return replace(fault, slot_us=SLOT_US, seed=int(seed)) if seed else fault


def device_named(circuit: Circuit, label: str) -> Device:
    """The device with this designation. Raises UnknownTarget."""
    for device in circuit.devices:
        if device.label == label:
            return device
    labels = ", ".join(device.label for device in circuit.devices)
    message = f"There is no device {label}. The circuit has: {labels}."
    raise UnknownTarget(message, (Problem("unknown_device", message),))


def end_from_text(circuit: Circuit, text: str) -> End:
    """`K1:A1` as a terminal. Raises UnknownTarget or ValueError."""
    label, colon, terminal = text.strip().partition(":")
    if not colon or not terminal:
        raise ValueError(f"{text!r} is not of the form DEVICE:TERMINAL.")
    return End(device=device_named(circuit, label).id, terminal=terminal)


def _fault(circuit: Circuit, place: str, what: str) -> Fault:
    if "/" in place:
        label, _, branch = place.rpartition("/")
        return _of_element(device_named(circuit, label).id, branch, what)
    if ":" in place:
        end = end_from_text(circuit, place)
        if what.startswith("to "):
            spot, _, ohm = what[3:].strip().partition(" ")
            to = end_from_text(circuit, spot)
            return Bridge(end.device, end.terminal, to, _ohm(ohm))
        return LooseTerminal(end.device, end.terminal, None if what == "open" else parse_quantity(what, "ohm"))
    links = circuit.link_ids()
    base, dot, last = place.rpartition(".")
    if dot and base in links:
        return _of_end(circuit, base, last, what)
    if dot:
        return _of_device(device_named(circuit, base), last, what)
    if place in links:
        return _series(place, "", what)
    if all(device.label != place for device in circuit.devices):
        message = f"There is no device or conductor {place}."
        raise UnknownTarget(message, (Problem("fault_names_nothing", message),))
    device = device_named(circuit, place)
    if what != "stuck":
        raise ValueError(f"A whole device can be stuck; {what!r} needs an element, a terminal or a setting of {place}.")
    return Stuck(device.id)


def _series(place: str, branch: str, what: str) -> Fault:
    if what == "open":
        return Open(place, branch)
    return HighResistance(place, branch, parse_quantity(what, "ohm"))


def _of_element(device: str, branch: str, what: str) -> Fault:
    if what == "welded":
        return Welded(device, branch)
    if what == "wrong contact":
        return WrongContact(device, branch)
    if what.split()[0] == "short":
        return Short(device, branch, _ohm(what.removeprefix("short")))
    return _series(device, branch, what)


def _of_end(circuit: Circuit, conductor: str, end: str, what: str) -> Fault:
    word, _, rest = what.partition(" ")
    side = _side(end)
    if side is None or word not in ("to", "with"):
        raise ValueError(f"The end of a conductor is written {conductor}.a or {conductor}.b, then to or with.")
    if word == "to":
        return Moved(conductor, end_from_text(circuit, rest), side)
    other, _, other_end = rest.strip().rpartition(".")
    other_side = _side(other_end)
    if other_side is None:
        raise ValueError(f"{rest!r} is not the end of a conductor, such as w7.a.")
    return Exchanged(conductor, other, side, other_side)


def _side(text: str) -> Side | None:
    return "a" if text == "a" else "b" if text == "b" else None


def _of_device(device: Device, name: str, what: str) -> Fault:
    kind = KINDS[device.kind]
    param = next((p for p in kind.params if p.name == name), None)
    if param is None:
        if what not in ("done", "on", "off"):
            raise ValueError(f"{device.label} {name} is done, on or off, not {what!r}.")
        return Operated(device.id, name, what != "off")
    return WrongSetting(device.id, name, _value(param.type, param.choices, what))


def _value(type_: str, choices: tuple[str | int, ...], what: str) -> bool | int | float | str:
    if type_ == "number":
        try:
            return float(what)
        except ValueError:
            raise ValueError(f"{what!r} is not a number.") from None
    if type_ == "switch":
        return what in ("on", "true", "yes")
    return next((choice for choice in choices if str(choice) == what), what)


def _ohm(text: str) -> float:
    return parse_quantity(text.strip(), "ohm") if text.strip() else 0.0
