"""Where a fault is written to be: `K1/13-14`, `K1:A1`, `w4`, `w4.b`, `F2.dial_a`, `K1`."""

from dataclasses import dataclass
from typing import Literal

from wiretrace.document.circuit import Circuit, Device, End
from wiretrace.errors import Problem, UnknownTarget

Side = Literal["a", "b"]


@dataclass(frozen=True)
class Element:
    """An element of a device, or a conductor: then `branch` is empty."""

    place: str
    branch: str = ""


@dataclass(frozen=True)
class Terminal:
    end: End


@dataclass(frozen=True)
class WireEnd:
    """The end of a conductor; `side` is None where what was written is neither a nor b."""

    wire: str
    side: Side | None


@dataclass(frozen=True)
class Whole:
    device: Device


@dataclass(frozen=True)
class Feature:
    """A parameter or an operation of a device, by its name."""

    device: Device
    name: str


Spot = Element | Terminal | WireEnd | Whole | Feature


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


def wire_end_from_text(text: str) -> WireEnd:
    """`w4.b` as the end of a conductor."""
    wire, _, side = text.strip().rpartition(".")
    return WireEnd(wire, "a" if side == "a" else "b" if side == "b" else None)


def spot_from_text(circuit: Circuit, text: str) -> Spot:
    """Where this is in the circuit. Raises UnknownTarget or ValueError."""
    links = circuit.link_ids()
    if text in links:
        return Element(text)
    if text.rpartition(".")[0] in links:
        return wire_end_from_text(text)
    device = _device_of(circuit, text)
    if device is None:
        # Whoever meant a device is told which there are.
        label = next((text.partition(mark)[0] for mark in "/:." if mark in text), "")
        if label:
            device_named(circuit, label)
        message = f"There is no device or conductor {text}."
        raise UnknownTarget(message, (Problem("fault_names_nothing", message),))
    mark, rest = text[len(device.label) :][:1], text[len(device.label) + 1 :]
    if mark == "/":
        return Element(device.id, rest)
    if mark == ":":
        return Terminal(end_from_text(circuit, text))
    return Feature(device, rest) if mark else Whole(device)


def _device_of(circuit: Circuit, text: str) -> Device | None:
    """The device that a text begins with; of several the longest, since a designation may hold marks: S0.1, K1/2."""
    found = [one for one in circuit.devices if text.startswith(one.label) and text[len(one.label) :][:1] in "/:."]
    return max(found, key=lambda one: len(one.label), default=None)
