"""What a branch of the network is worth, and what it sees."""

import math
from dataclasses import dataclass
from typing import Final, NamedTuple

CONTACT_OHM: Final = 0.01
"""Resistance of any closed contact, ohm."""


@dataclass(frozen=True, slots=True)
class Tone:
    """A voltage of a frequency of its own: the rise from `a` to `b` as a complex RMS phasor of that frequency."""

    emf_v: complex
    frequency_hz: float


class Heard(NamedTuple):
    """What a branch sees of a frequency that is not that of the supplies: volts and amperes, RMS phasors of it."""

    frequency_hz: float
    voltage_v: complex
    current_a: complex


@dataclass(frozen=True, slots=True)
class Value:
    """What a branch is worth now: R and L in series with a source, or a capacitor.

    `emf_v` is the rise from `a` to `b` as a complex RMS phasor, `emf_dc_v` the same of direct
    voltage. `capacitance_f` stands in parallel. `mutual` names other branches of the device on the
    same core with the ohms and henries of the voltage that each ampere there raises here; it need
    not be the same both ways (a turning rotor). `direct_ohm` is the resistance to direct current
    where that is another than `resistance_ohm`. `joint_ohm` is in series with all of that, the
    capacitance included. `tone` is a source of another frequency than that of the supplies, in series too: what it
    drives is solved by itself and adds as the root of the sum of the squares. An open branch has no Value.
    """

    resistance_ohm: float = 0.0
    inductance_h: float = 0.0
    capacitance_f: float = 0.0
    emf_v: complex = 0j
    emf_dc_v: float = 0.0
    mutual: tuple[tuple[str, float, float], ...] = ()
    direct_ohm: float | None = None
    joint_ohm: float = 0.0
    tone: Tone | None = None

    def impedance_ohm(self, angular_frequency: float) -> complex:
        """Series impedance in ohm at an angular frequency in radians per second."""
        return complex(self.resistance_ohm, angular_frequency * self.inductance_h)

    def admittance_s(self, angular_frequency: float) -> complex:
        """Admittance in siemens at an angular frequency in radians per second; infinite without any impedance."""
        shunt = 1j * angular_frequency * self.capacitance_f
        series = self.impedance_ohm(angular_frequency)
        if series == 0 and self.capacitance_f == 0:
            return complex(1 / self.joint_ohm if self.joint_ohm else math.inf, 0)
        admittance = shunt if series == 0 else 1 / series + shunt
        return admittance / (1 + self.joint_ohm * admittance)

    def conductance_s(self) -> float:
        """Conductance to direct current in siemens: a coil is its wire, a capacitor is open."""
        ohm = self.resistance_ohm if self.direct_ohm is None else self.direct_ohm
        if ohm == 0:
            if self.capacitance_f > 0:
                return 0.0
            return 1 / self.joint_ohm if self.joint_ohm else math.inf
        return 1 / (ohm + self.joint_ohm)


class Signal(NamedTuple):
    """What one branch sees: volts from `a` to `b`, amperes flowing from `a` to `b`.

    RMS phasors of the alternating part, plain numbers of the direct part; `tones` are the parts of other frequencies.
    """

    voltage_v: complex
    current_a: complex
    dc_v: float = 0.0
    dc_a: float = 0.0
    tones: tuple[Heard, ...] = ()

    @property
    def rms_v(self) -> float:
        """RMS of the whole voltage, direct part included."""
        return math.hypot(abs(self.voltage_v), self.dc_v, *(abs(one.voltage_v) for one in self.tones))

    @property
    def rms_a(self) -> float:
        """RMS of the whole current, direct part included."""
        return math.hypot(abs(self.current_a), self.dc_a, *(abs(one.current_a) for one in self.tones))
