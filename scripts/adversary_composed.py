"""Circuits composed as people compose them, and then not quite: rungs of contacts in series, in parallel and across.

    .venv/bin/python -m scripts.adversary composed 5000 --judge       with ngspice beside the core

Each rung is a tree of contacts before a coil, a lamp or a timer, its contacts those of buttons, switches and of the
other rungs; contactors feed motors, with phases in any order; figures are set anywhere between half and twice what is
usual. The same circuit with its document shuffled and its wires turned about must do the same.
"""

import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Final

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Conductor, Device, End
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.state import Action, State

SUPPLIES: Final = {
    "supply_three_phase": ("L1", "N"),
    "supply_single_phase": ("L", "N"),
    "supply_centre_tapped": ("L1", "L2"),
    "supply_corner_earthed": ("L1", "L3"),
    "supply_dc": ("L+", "L-"),
}
LOADS: Final = (
    *("contactor", "contactor", "control_relay", "control_relay", "timer_relay", "timer_relay", "impulse_relay"),
    *("flasher", "lamp", "lamp_led", "solenoid", "horn"),
)
HANDS: Final = (
    *("push_button", "emergency_stop", "selector_two", "limit_switch", "float_switch", "pressure_switch"),
    *("hand_off_auto", "cam_switch", "fuses", "breaker"),
)
MOTORS: Final = ("motor_three_phase", "motor_six_leads", "motor_tapped_winding", "motor_wound_rotor")
SAME: Final = 1e-6
"""Share by which a quantity may differ in the same circuit with another order of its document."""


@dataclass
class Drawing:
    """A circuit that is being composed."""

    chance: random.Random
    devices: list[Device] = field(default_factory=list)
    wires: list[Conductor] = field(default_factory=list)
    contacts: list[tuple[End, End]] = field(default_factory=list)
    """Contacts that rungs may be made of: those of the loads, each as often as it is asked for."""

    def add(self, kind: str) -> Device:
        """A device with figures set anywhere."""
        device = Device(id=f"d{len(self.devices)}", kind=kind, label=f"D{len(self.devices)}", params=self._params(kind))
        self.devices.append(device)
        return device

    def _params(self, kind: str) -> dict[str, float | str | bool]:
        found: dict[str, float | str | bool] = {}
        for param in KINDS[kind].params:
            # Where a coil lets go and pulls in is left as it is: one that lets go above that is no coil.
            if self.chance.random() < 0.75 or kind.startswith("motor") or param.unit == "%":
                continue
            if param.choices:
                found[param.name] = self.chance.choice(param.choices)
            elif isinstance(param.default, float) and param.minimum is not None and param.maximum is not None:
                value = param.default * self.chance.uniform(0.5, 2.0)
                found[param.name] = min(param.maximum, max(param.minimum, value))
        return found

    def join(self, a: End, b: End) -> None:
        if a != b:
            wire = Conductor(id=f"w{len(self.wires)}", a=a, b=b, length_m=self.chance.choice([0.3, 1.0, 25.0]))
            self.wires.append(wire)

    def contact(self) -> tuple[End, End]:
        """A contact of what is there, or of a hand that is new."""
        if self.contacts and self.chance.random() < 0.55:
            return self.chance.choice(self.contacts)
        ends = _contacts(self.add(self.chance.choice(HANDS)))
        if len(ends) > 1 and self.chance.random() < 0.5:
            self.contacts.append(ends[1])
        return ends[0]

    def way(self, a: End, b: End, depth: int) -> None:
        """Contacts from one end to another: in series, in parallel, or with a bridge across."""
        how = self.chance.random()
        if depth == 0 or how < 0.35:
            one, two = self.contact()
            self.join(a, one)
            self.join(two, b)
        elif how < 0.7:
            one, two = self.contact()
            self.join(a, one)
            self.way(two, b, depth - 1)
        elif how < 0.93:
            self.way(a, b, depth - 1)
            self.way(a, b, depth - 1)
        else:
            (p, q), (r, s) = self.contact(), self.contact()
            for wire in ((a, p), (a, r), (q, b), (s, b)):
                self.join(*wire)
            self.way(q, s, 0)


def _contacts(device: Device) -> list[tuple[End, End]]:
    kind = KINDS[device.kind]
    branches = kind.structure({**kind.defaults(), **device.params}).branches
    return [(_end(device, one.a), _end(device, one.b)) for one in branches if one.role is Role.CONTACT]


def _end(device: Device, terminal: str) -> End:
    return End(device=device.id, terminal=terminal)


def composed(seed: int) -> Circuit:
    """A circuit of rungs and, where there are three phases, of motors behind contactors."""
    chance = random.Random(f"composed {seed}")
    drawing = Drawing(chance)
    kind = chance.choice([*SUPPLIES, "supply_three_phase", "supply_three_phase"])
    supply = drawing.add(kind)
    live, back = (_end(supply, name) for name in SUPPLIES[kind])
    loads = [drawing.add(chance.choice(LOADS)) for _ in range(chance.randint(1, 6))]
    for load in loads:
        drawing.contacts += [pair for pair in _contacts(load) if not (load.kind == "contactor" and _is_pole(pair))]
    for load in loads:
        first, second = _coil(load)
        drawing.way(live, first, chance.randint(0, 3))
        drawing.join(second, back)
    if kind == "supply_three_phase":
        for load in loads:
            if load.kind == "contactor" and chance.random() < 0.6:
                _feeds(drawing, supply, load)
    return Circuit(title="", devices=tuple(drawing.devices), conductors=tuple(drawing.wires))


def _is_pole(pair: tuple[End, End]) -> bool:
    return len(pair[0].terminal) == 1


def _coil(load: Device) -> tuple[End, End]:
    kind = KINDS[load.kind]
    branches = kind.structure({**kind.defaults(), **load.params}).branches
    coil = next(one for one in branches if one.role is Role.LOAD)
    return _end(load, coil.a), _end(load, coil.b)


def _feeds(drawing: Drawing, supply: Device, contactor: Device) -> None:
    """A motor behind a contactor, its phases in any order, perhaps with an overload relay between."""
    chance = drawing.chance
    motor = drawing.add(chance.choice(MOTORS))
    names = [terminal.name for terminal in KINDS[motor.kind].structure(KINDS[motor.kind].defaults()).terminals]
    leads = [name for name in names if name != "PE"]
    phases = chance.sample(["L1", "L2", "L3"], 3)
    relay = drawing.add("overload_relay") if chance.random() < 0.5 else None
    for number, phase in enumerate(phases):
        top, bottom = str(2 * number + 1), str(2 * number + 2)
        drawing.join(_end(supply, phase), _end(contactor, top))
        before = _end(contactor, bottom)
        if relay is not None:
            drawing.join(before, _end(relay, top))
            before = _end(relay, bottom)
        if chance.random() < 0.95:
            drawing.join(before, _end(motor, leads[number]))
    others = leads[3:]
    for one, two in pairwise(others):
        if chance.random() < 0.8:
            drawing.join(_end(motor, one), _end(motor, two))


def hands_on(circuit: Circuit, seed: int, end_us: int) -> list[Action]:
    """What hands do at a circuit in a time, in order."""
    chance = random.Random(f"hands {seed}")
    hands = [
        Action(chance.randint(0, end_us), item.id, chance.choice(operations).name, chance.random() < 0.6)
        for item in circuit.devices
        if (operations := KINDS[item.kind].operations)
        for _ in range(chance.choice([0, 1, 2, 3]))
    ]
    return sorted(hands, key=lambda hand: hand.at_us)


def shuffled(circuit: Circuit, seed: int) -> Circuit:
    """The same circuit with its devices and wires in another order, and wires drawn from their other end."""
    chance = random.Random(f"shuffled {seed}")
    devices, wires = list(circuit.devices), list(circuit.conductors)
    chance.shuffle(devices)
    chance.shuffle(wires)
    turned = [wire.model_copy(update={"a": wire.b, "b": wire.a}) if chance.random() < 0.5 else wire for wire in wires]
    return circuit.model_copy(update={"devices": tuple(devices), "conductors": tuple(turned)})


def does_the_same(circuit: Circuit, hands: Sequence[Action], end_us: int, end: State, seed: int) -> Iterator[str]:
    """What the same circuit, drawn in another order, does otherwise."""
    assembly = Assembly(shuffled(circuit, seed))
    other = run(assembly, initial_state(assembly), [replace(hand) for hand in hands], end_us)
    if other.chatters:
        return  # Where it hunts, what is asked first may decide.
    for device, state in end.devices.items():
        for name, value in state.items():
            told = other.end.devices[device][name]
            if isinstance(value, float) and isinstance(told, float):
                if abs(value - told) > SAME * max(1.0, abs(value), abs(told)):
                    yield f"shuffled: {device} {name} {value} or {told}"
            elif value != told and not name.endswith("_us"):
                yield f"shuffled: {device} {name} {value} or {told}"
