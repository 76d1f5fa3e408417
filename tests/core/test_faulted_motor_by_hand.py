"""A motor with a fault of its own against symmetrical components, written out apart from the code that is judged.

From the simulation's machine come its four impedances and nothing else. Everything after that is done here in closed
form, as any textbook on unbalanced faults does it (Fortescue; Wagner and Evans): sequence currents, rotor currents,
torque, and the speed at which that meets the load.
"""

import cmath
import math
from collections.abc import Callable
from dataclasses import dataclass

import pytest

from tests.core.circuits import Bench, circuit, device, wire
from wiretrace.catalogue.motors.machine import Machine
from wiretrace.catalogue.motors.three_phase import ThreePhaseMotor
from wiretrace.document.circuit import Circuit

A = cmath.exp(2j * math.pi / 3)
PHASE_V = 230.0
SYNC = 50 * math.pi
"""Synchronous speed of four poles at 50 Hz, radians a second."""

Three = tuple[complex, complex, complex]


@dataclass(frozen=True)
class Hand:
    """The motor at one speed: impedance to zero, positive and negative sequence, ohm."""

    machine: Machine
    speed: float

    def rotor(self, slip: float) -> complex:
        rated = self.machine.plate.slip
        share = min(1.0, max(0.0, (slip - rated) / (1 - rated)))
        ohm = (1 - share) * self.machine.rotor_running_ohm + share * self.machine.rotor_locked_ohm
        return complex(ohm.real / slip, ohm.imag)

    def at(self, slip: float) -> complex:
        rotor, magnetising = self.rotor(slip), self.machine.magnetising_ohm
        return self.machine.stator_ohm + 1 / (1 / rotor + 1 / magnetising)

    @property
    def z(self) -> Three:
        return self.at(1.0), self.at(1 - self.speed), self.at(1 + self.speed)

    def torque_nm(self, sequences: Three) -> float:
        """Of the rotor currents of both fields; the zero sequence makes none."""

        def of(amperes: complex, slip: float) -> float:
            rotor, magnetising = self.rotor(slip), self.machine.magnetising_ohm
            inside = amperes * magnetising / (magnetising + rotor)
            return 3 * abs(inside) ** 2 * rotor.real / SYNC

        return of(sequences[1], 1 - self.speed) - of(sequences[2], 1 + self.speed)


def phases(zero: complex, positive: complex, negative: complex) -> Three:
    return zero + positive + negative, zero + positive / A + negative * A, zero + positive * A + negative / A


Solve = Callable[[Hand], tuple[Three, Three]]
"""From the motor at a speed to its sequence currents and the currents in its lines."""


def sound(hand: Hand) -> tuple[Three, Three]:
    sequences = (0j, PHASE_V / hand.z[1], 0j)
    return sequences, phases(*sequences)


def weak_line(hand: Hand) -> tuple[Three, Three]:
    """The first line at 90 %: 96.7 % of positive and 3.3 % of negative sequence, star point free."""
    positive, negative = PHASE_V * 2.9 / 3, PHASE_V * -0.1 / 3
    sequences = (0j, positive / hand.z[1], negative / hand.z[2])
    return sequences, phases(*sequences)


def resistance(ohm: float) -> Solve:
    """So many ohms in the first winding of a star: it adds R/3 of its current to the voltage of each sequence."""

    def solve(hand: Hand) -> tuple[Three, Three]:
        _, one, two = hand.z
        first = PHASE_V / one / (1 + ohm / 3 * (1 / one + 1 / two))
        sequences = (0j, (PHASE_V - ohm / 3 * first) / one, -ohm / 3 * first / two)
        return sequences, phases(*sequences)

    return solve


def open_line(hand: Hand) -> tuple[Three, Three]:
    """Two lines carry the current of both sequences in series between them."""
    flows = PHASE_V * (A**2 - A) / (hand.z[1] + hand.z[2])
    sequences = (0j, (A * flows - A**2 * flows) / 3, (A**2 * flows - A * flows) / 3)
    return sequences, (0j, flows, -flows)


def shorted(ohm: float) -> Solve:
    """So many ohms across the first winding of a star: the lines hold positive and negative sequence as they are, and
    what flows beside the winding shifts the star point through the zero sequence of all three."""

    def solve(hand: Hand) -> tuple[Three, Three]:
        zero, one, _ = hand.z
        beside = PHASE_V / (ohm + zero / 3)
        sequences = (-beside / 3, PHASE_V / one, 0j)
        a, b, c = phases(*sequences)
        return sequences, (a + beside, b, c)

    return solve


def open_in_delta(hand: Hand) -> tuple[Three, Three]:
    """The first winding of a delta open: the others stand at the lines, its voltage is that at which nothing flows."""
    zero, one, two = hand.z
    second, third = (PHASE_V * math.sqrt(3) * A**-n for n in (1, 2))

    def without(first: complex) -> Three:
        volts = (first + second + third, first + A * second + A**2 * third, first + A**2 * second + A * third)
        return volts[0] / 3 / zero, volts[1] / 3 / one, volts[2] / 3 / two

    # Its current is linear in its voltage: from two voltages to the one at which nothing flows.
    nothing, volt = sum(without(0j)), sum(without(1 + 0j))
    sequences = without(-nothing / (volt - nothing))
    _, b, c = phases(*sequences)
    return sequences, (-c, b, c - b)


def fed(kind: str, percent: float, **supply: float) -> Circuit:
    supply_v = {"line_voltage_v": PHASE_V * math.sqrt(3), "source_resistance_ohm": 1e-6, "source_reactance_ohm": 0.0}
    parts = [
        device("g1", "supply_three_phase", **{**supply_v, **supply}),
        device("m1", kind, load="constant", load_percent=percent),
    ]
    ways = [(f"g1:L{n}", f"m1:{lead}1") for n, lead in enumerate("UVW", 1)]
    if kind == "motor_six_leads":
        ways += [("m1:U2", "m1:V1"), ("m1:V2", "m1:W1"), ("m1:W2", "m1:U1")]
    bare = {"length_m": 0.001, "cross_section_mm2": 1000.0}
    return circuit(parts, [wire(f"w{n}", *way, **bare) for n, way in enumerate(ways, 1)])


def settled_speed(machine: Machine, solve: Solve, load_nm: float) -> float:
    """Where the torque meets the load, between the speed of the most torque and the synchronous one."""
    low, high = 0.9, 0.99999
    for _ in range(60):
        middle = (low + high) / 2
        hand = Hand(machine, middle)
        if hand.torque_nm(solve(hand)[0]) > load_nm:
            low = middle
        else:
            high = middle
    return low


CASES: list[tuple[str, str, str, Solve, dict[str, float]]] = [
    ("a sound motor", "motor_three_phase", "", sound, {}),
    ("a weak line", "motor_three_phase", "", weak_line, {"l1_percent": 90.0}),
    ("an open line", "motor_three_phase", "w1=open", open_line, {}),
    ("an open winding", "motor_three_phase", "M1/U1=open", open_line, {}),
    ("5 ohm in a winding", "motor_three_phase", "M1/U1=5ohm", resistance(5.0), {}),
    ("40 ohm in a line", "motor_three_phase", "w1=40ohm", resistance(40.0), {}),
    ("a winding shorted by 20 ohm", "motor_three_phase", "M1/U1=short 20ohm", shorted(20.0), {}),
    ("a winding shorted by 200 ohm", "motor_three_phase", "M1/U1=short 200ohm", shorted(200.0), {}),
    ("a winding of the delta open", "motor_six_leads", "M1/U1-U2=open", open_in_delta, {}),
]


@pytest.mark.parametrize(("told", "kind", "fault", "solve", "supply"), CASES, ids=[case[0] for case in CASES])
def test_lines_torque_and_speed_are_those_of_the_hand(
    told: str, kind: str, fault: str, solve: Solve, supply: dict[str, float]
) -> None:
    percent = 30.0
    bench = Bench(fed(kind, percent, **supply))
    bench.wait(4.0)
    if fault:
        bench.fail(fault)
    bench.wait(6.0)
    motor = bench.assembly.devices["m1"]
    assert isinstance(motor.kind, ThreePhaseMotor)
    machine = motor.kind.equivalent(motor.params).machine
    speed = settled_speed(machine, solve, percent / 100 * machine.plate.torque_nm)
    hand = Hand(machine, speed)
    sequences, lines = solve(hand)
    figures = {figure.title: figure.value for figure in bench.frame.views["m1"].figures}
    assert figures["Speed"] / 1500 == pytest.approx(speed, abs=2e-4)
    assert figures["Torque"] == pytest.approx(hand.torque_nm(sequences), rel=0.02)
    read = [abs(bench.assembly.conductor_a(bench.frame.point.ac, f"w{n}")) for n in (1, 2, 3)]
    assert read == pytest.approx([abs(one) for one in lines], rel=0.01, abs=0.002)
