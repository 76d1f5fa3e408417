"""Circuits that several tests use, and short ways to work them."""

import math
from collections.abc import Mapping, Sequence

from wiretrace.document.circuit import Circuit, Conductor, Device, End, Stray
from wiretrace.faults.fault import Fault
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, frame_of, initial_state, run
from wiretrace.simulation.state import Action

SECOND = 1_000_000


def end(text: str) -> End:
    """ "contactor:A1" as a terminal."""
    device, terminal = text.split(":")
    return End(device=device, terminal=terminal)


def wire(id: str, a: str, b: str, **more: object) -> Conductor:
    return Conductor.model_validate({"id": id, "a": end(a).model_dump(), "b": end(b).model_dump(), **more})


def device(id: str, kind: str, **params: bool | float | str) -> Device:
    return Device(id=id, kind=kind, label=id.upper(), params=params)


def circuit(devices: Sequence[Device], wires: Sequence[Conductor], strays: Sequence[Stray] = ()) -> Circuit:
    return Circuit(title="test", devices=tuple(devices), conductors=tuple(wires), strays=tuple(strays))


def chattering() -> Circuit:
    """A contactor fed through its own normally closed contact."""
    return circuit(
        [device("g1", "supply_three_phase"), device("k1", "contactor")],
        [wire("w1", "g1:L1", "k1:21"), wire("w2", "k1:22", "k1:A1"), wire("w3", "k1:A2", "g1:N")],
    )


def with_params(base: Circuit, changes: Mapping[str, Mapping[str, bool | float | str]]) -> Circuit:
    """The circuit with some parameters of some devices changed."""
    devices = tuple(
        item.model_copy(update={"params": {**item.params, **changes.get(item.id, {})}}) for item in base.devices
    )
    return base.model_copy(update={"devices": devices})


def reference_circuit(name: str) -> Circuit:
    """A library circuit with the element values of the reference readings.

    Source and conductors without resistance to speak of, 230 V to neutral, lamps of 22.04 kohm,
    coil 661.25 + j583.2 ohm open and 1820 + j6357 ohm closed, 0.02 ohm up to wire 1 (isolator
    contact and control breaker). The motor circuit is to be switched off at its breaker.
    """
    sealed_ohm = math.hypot(1820, 6357)
    open_ohm = math.hypot(661.25, 583.2)
    lamp = {"rated_power_w": 230**2 / 22040}
    base = with_params(
        library_circuit(name),
        {
            "supply": {
                "line_voltage_v": 230 * math.sqrt(3),
                "source_resistance_ohm": 1e-6,
                "source_reactance_ohm": 0.0,
            },
            "control-breaker": {"pole_resistance_ohm": 0.01},
            "contactor": {
                "inrush_va": 230**2 / open_ohm,
                "inrush_power_factor": 661.25 / open_ohm,
                "sealed_va": 230**2 / sealed_ohm,
                "sealed_power_factor": 1820 / sealed_ohm,
            },
            "run-lamp": lamp,
            "stopped-lamp": lamp,
        },
    )
    bare = {"length_m": 0.001, "cross_section_mm2": 1000.0}
    return base.model_copy(update={"conductors": tuple(c.model_copy(update=bare) for c in base.conductors)})


class Bench:
    """A circuit under power, worked by hand."""

    def __init__(self, circuit: Circuit, faults: Sequence[Fault] = ()) -> None:
        self.assembly = Assembly(circuit, faults)
        self.state = initial_state(self.assembly)
        self.wait(0.0)

    def fail(self, *faults: Fault | str) -> None:
        """From now on these faults, as data or in words, and no others."""
        read = tuple(fault_from_text(self.assembly.circuit, f) if isinstance(f, str) else f for f in faults)
        self.assembly = Assembly(self.assembly.circuit, read)

    def wait(self, seconds: float) -> None:
        until = self.state.time_us + round(seconds * SECOND)
        self.trajectory = run(self.assembly, self.state, [], until)
        self.state = self.trajectory.end

    def do(self, device: str, operation: str, value: bool = True, wait_s: float = 0.5) -> None:
        now = self.state.time_us
        action = Action(now, device, operation, value)
        self.trajectory = run(self.assembly, self.state, [action], now + round(wait_s * SECOND))
        self.state = self.trajectory.end

    @property
    def frame(self) -> Frame:
        return frame_of(self.assembly, self.state)

    def says(self, device: str) -> str:
        return self.frame.views[device].says


def lamp() -> Circuit:
    """A button and a lamp behind a fuse: small enough that every fault can be thought through."""
    parts = [
        device("g1", "supply_single_phase"),
        device("f1", "breaker", poles=1),
        device("s1", "push_button", contacts="NO"),
        device("h1", "lamp"),
    ]
    ways = [("g1:L", "f1:1"), ("f1:2", "s1:13"), ("s1:14", "h1:X1"), ("h1:X2", "g1:N")]
    return circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)])
