"""The cage motor behind its nameplate: impedances and torque at any slip, one winding's worth.

The usual equivalent circuit (any textbook on machines; IEC 60034-28 measures it): stator resistance and
leakage, iron loss and magnetising reactance across the gap, rotor resistance over slip and rotor
leakage. Current displacement makes the rotor's resistance larger and its leakage smaller at standstill
than when running; both go over in proportion to the slip. So the impedance is exact at the two points that
a nameplate gives, rated load and locked rotor, and the torque at rated speed is the rated torque.

A nameplate does not tell how much of the locked-rotor resistance is in the stator. It is taken from the losses, and
less than that where the rotor would else have less resistance at standstill than when running, which no cage
has. Where even a small stator leaves that so, the plate's figures hold all the same.
"""

import math
from dataclasses import dataclass, replace
from typing import Final

STATOR_COPPER_SHARE: Final = 0.6
"""Share of the losses outside the rotor that heats the stator winding; iron takes the rest."""

RUNNING_LEAKAGE: Final = 2.0
"""Rotor leakage when running, in half the leakage at locked rotor: iron bridges are no longer saturated."""


@dataclass(frozen=True)
class Nameplate:
    """The rated point of one winding, and the locked rotor."""

    winding_v: float
    winding_a: float
    power_w: float
    power_factor: float
    frequency_hz: float
    speed_rpm: float
    locked_ratio: float
    locked_power_factor: float
    pairs: int = 0
    """Pairs of poles, where the speed does not tell them."""
    made_for_hz: float = 0.0
    """The frequency that it is rated for, where it runs at another."""

    @property
    def pole_pairs(self) -> int:
        """From the synchronous speed next above the rated speed."""
        return self.pairs or max(1, int(60 * self.frequency_hz / self.speed_rpm))

    @property
    def rated_hz(self) -> float:
        return self.made_for_hz or self.frequency_hz

    @property
    def sync_rpm(self) -> float:
        return 60 * self.frequency_hz / self.pole_pairs

    @property
    def slip(self) -> float:
        return 1 - self.speed_rpm / self.sync_rpm

    @property
    def input_w(self) -> float:
        return 3 * self.winding_v * self.winding_a * self.power_factor

    @property
    def torque_nm(self) -> float:
        return self.power_w / (self.speed_rpm * math.pi / 30)


class ContradictoryNameplate(ValueError):
    """The figures of a nameplate cannot all be true."""


@dataclass(frozen=True, eq=False)
class Machine:
    """Equivalent circuit of one winding, in ohm at the rated frequency. Compared by identity, which is quick."""

    plate: Nameplate
    stator_ohm: complex
    magnetising_ohm: complex
    rotor_running_ohm: complex
    rotor_locked_ohm: complex

    def rotor_ohm(self, slip: float) -> complex:
        """Rotor resistance (not yet over slip) and leakage at a slip."""
        rated = self.plate.slip
        share = min(1.0, max(0.0, (abs(slip) - rated) / (1 - rated)))
        return self.rotor_running_ohm + share * (self.rotor_locked_ohm - self.rotor_running_ohm)

    def at_frequency(self, frequency_hz: float) -> "Machine":
        """The same machine on another frequency: reactances in proportion, as many turns a second slower."""
        if frequency_hz == self.plate.frequency_hz:
            return self
        times = frequency_hz / self.plate.frequency_hz
        slower_rpm = self.plate.sync_rpm - self.plate.speed_rpm
        speed_rpm = times * self.plate.sync_rpm - slower_rpm
        plate = replace(
            self.plate,
            frequency_hz=frequency_hz,
            speed_rpm=speed_rpm,
            pairs=self.plate.pole_pairs,
            made_for_hz=self.plate.rated_hz,
        )
        ohms = (self.stator_ohm, self.magnetising_ohm, self.rotor_running_ohm, self.rotor_locked_ohm)
        return Machine(plate, *(complex(ohm.real, times * ohm.imag) for ohm in ohms))

    def impedance_ohm(self, slip: float) -> complex:
        """Impedance of a winding in a field that turns at synchronous speed, at this slip."""
        return self.stator_ohm + self._gap(slip)[0]

    def torque_nm_per_v2(self, slip: float) -> float:
        """Torque of all three windings for each volt squared of one sequence, in the sense of its field."""
        gap, rotor = self._gap(slip)
        share = gap / (self.stator_ohm + gap) / rotor if rotor else 0j
        power_w = 3 * abs(share) ** 2 * rotor.real
        return power_w / (self.plate.sync_rpm * math.pi / 30)

    def brake_nm_per_a2(self, speed: float) -> float:
        """Torque against turning for each ampere squared of direct current, told as the balanced alternating current
        with the same field, at a speed: the field stands still, and the rotor turns through it.

        The rotor meets that field at a slip as large as the speed (Fitzgerald, Electric Machinery, chapter 6).
        """
        if abs(speed) < 1e-9:
            return 0.0
        ohm = self.rotor_ohm(abs(speed))
        rotor = complex(ohm.real / abs(speed), ohm.imag)
        share = self.magnetising_ohm / (self.magnetising_ohm + rotor)
        return 3 * abs(share) ** 2 * rotor.real / (self.plate.sync_rpm * math.pi / 30)

    def _gap(self, slip: float) -> tuple[complex, complex]:
        """What lies behind the stator: everything in parallel, and the rotor by itself (0 at no slip)."""
        if abs(slip) < 1e-9:
            return self.magnetising_ohm, 0j
        ohm = self.rotor_ohm(slip)
        rotor = complex(ohm.real / slip, ohm.imag)
        return self.magnetising_ohm * rotor / (self.magnetising_ohm + rotor), rotor


def fit(plate: Nameplate) -> Machine:
    """The machine that has this nameplate. Raises ContradictoryNameplate."""
    slip = plate.slip
    if not 0.0005 < slip < 0.25:
        raise ContradictoryNameplate(
            f"at {plate.frequency_hz:g} Hz a rated speed of {plate.speed_rpm:g} rpm is no speed of a cage motor."
        )
    gap_w = plate.power_w / (1 - slip)
    outside_w = plate.input_w - gap_w
    if outside_w <= 0.01 * plate.input_w:
        raise ContradictoryNameplate(
            f"voltage, current and power factor take in {plate.input_w / 1000:.2f} kW; "
            f"{plate.power_w / 1000:.2f} kW at this speed need more than {gap_w / 1000:.2f} kW."
        )
    locked = _polar(plate.winding_v / (plate.winding_a * plate.locked_ratio), plate.locked_power_factor)
    most = min(STATOR_COPPER_SHARE * outside_w / (3 * plate.winding_a**2), 0.6 * locked.real)
    fitting: Machine | None = None
    for share in COPPER_SHARES:
        machine = _with_copper(plate, share * most, locked, gap_w)
        if machine is not None and machine.rotor_locked_ohm.real >= machine.rotor_running_ohm.real:
            return machine
        fitting = machine or fitting
    if fitting is not None:
        return fitting
    raise ContradictoryNameplate(
        f"a power factor of {plate.power_factor:g} leaves nothing to magnetise a motor of this current."
    )


HALVINGS: Final = 6
COPPER_SHARES: Final = (1.0, 0.9, 0.8, 0.7)
"""Shares of the stator's resistance by its losses that are tried."""


def _with_copper(plate: Nameplate, copper_ohm: float, locked: complex, gap_w: float) -> Machine | None:
    """The machine with this stator resistance and the largest leakage that there is one for."""
    leakage = locked.imag / 2
    for _ in range(HALVINGS):
        machine = _behind(plate, complex(copper_ohm, leakage), RUNNING_LEAKAGE * leakage, locked, gap_w)
        if machine is not None:
            return machine
        leakage /= 2
    return None


def _behind(plate: Nameplate, stator: complex, leakage_ohm: float, locked: complex, gap_w: float) -> Machine | None:
    """Rotor and gap behind this stator; None when there is no such motor."""
    behind = _polar(plate.winding_v / plate.winding_a, plate.power_factor) - stator
    gap_v2 = (abs(behind) * plate.winding_a) ** 2
    conductance = gap_w / 3 / gap_v2  # of the rotor branch, so that it takes the power in the gap
    root = 1 - (2 * conductance * leakage_ohm) ** 2
    if root <= 0:
        return None
    over_slip = (1 + math.sqrt(root)) / (2 * conductance)
    magnetising_s = 1 / behind - 1 / complex(over_slip, leakage_ohm)
    if magnetising_s.real < 0 or magnetising_s.imag >= 0:
        return None
    magnetising = 1 / magnetising_s
    rotor_locked = 1 / (1 / (locked - stator) - magnetising_s)
    if rotor_locked.real <= 0 or rotor_locked.imag <= 0:
        return None
    return Machine(plate, stator, magnetising, complex(over_slip * plate.slip, leakage_ohm), rotor_locked)


def _polar(size: float, factor: float) -> complex:
    """An inductive impedance from its size and power factor."""
    return complex(size * factor, size * math.sqrt(1 - factor**2))
