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
    if "/" in text:
        label, _, branch = text.rpartition("/")
        return Element(device_named(circuit, label).id, branch)
    if ":" in text:
        return Terminal(end_from_text(circuit, text))
    # A designation may have a point in it: S0.1.
    whole = next((device for device in circuit.devices if device.label == text), None)
    if whole is not None:
        return Whole(whole)
    links = circuit.link_ids()
    if text in links:
        return Element(text)
    base, dot, last = text.rpartition(".")
    if dot and base in links:
        return wire_end_from_text(text)
    if dot:
        return Feature(device_named(circuit, base), last)
    message = f"There is no device or conductor {text}."
    raise UnknownTarget(message, (Problem("fault_names_nothing", message),))
