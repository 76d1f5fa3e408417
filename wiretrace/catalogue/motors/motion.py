"""What a motor of three phases is seen and heard to do."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.motors.machine import Machine
from wiretrace.catalogue.motors.run_up import Acceleration

FED_FROM: Final = 0.05
"""Share of the rated winding voltage from which a motor counts as fed."""
TURNS_FROM: Final = 0.004
UNBALANCED_FROM: Final = 0.05
"""Negative sequence, as a share of the positive, from which it is heard."""
UNEVEN_FROM: Final = 0.36
"""Difference of the winding currents, as a share of the rated or of their mean, from which it is heard."""
TOO_MUCH: Final = (0.9, 2.0)
"""Speed above which a motor is up to it, and multiple of its rated current from which it then growls."""
BRAKED_FROM: Final = 0.1
"""Direct current, as a share of the rated, from which a motor is said to be braked by it."""
OVER: Final = 1.05
"""Speed above the synchronous one from which a motor is said to brake: its field has become slower."""


@dataclass(frozen=True)
class Seen:
    """A machine at a speed and torque, and where its speed goes from there; `rated_slip` as its rotor is now."""

    machine: Machine
    rated_slip: float
    rates: Acceleration
    speed: float
    torque: float
    fed_from_v: float

    def status(
        self, sequences: tuple[float, float], windings_a: Sequence[float], direct_a: float
    ) -> tuple[str, bool, bool]:
        """Its status, does it turn under power, does it call for attention.

        `sequences` are the positive and the negative winding voltage, `direct_a` the current that brakes it.
        """
        plate, speed = self.machine.plate, self.speed
        way = "forward" if speed > 0 else "backward"
        if max(sequences) < self.fed_from_v:
            if abs(speed) <= TURNS_FROM:
                return "still", False, False
            braked = "+braked_by_direct_current" if direct_a > BRAKED_FROM * plate.winding_a else ""
            return f"coasts_{way}{braked}", False, False
        final = self.rates.final(speed)
        if abs(speed) <= TURNS_FROM:
            if abs(final) <= TURNS_FROM:
                return "hums", False, True
            way = "forward" if final > 0 else "backward"
        elif self.torque * speed < 0 and not 1 <= abs(speed) <= OVER:
            return f"brakes_from_{way}", False, True
        wrong = self._wrong(sequences, windings_a, final)
        return f"turns_{way}{wrong}", True, bool(wrong)

    def _wrong(self, sequences: tuple[float, float], windings_a: Sequence[float], final: float) -> str:
        """What is to be heard of a motor that turns: a line that is low, a short between the turns of a winding."""
        rated = self.machine.plate.winding_a
        apart = max(windings_a) - min(windings_a)
        unbalanced = min(sequences) > UNBALANCED_FROM * max(sequences)
        if unbalanced or apart > UNEVEN_FROM * max(rated, sum(windings_a) / len(windings_a)):
            return "+unbalanced"
        if abs(final) < 1 - 4 * self.rated_slip:
            return "+overloaded"
        if abs(self.speed) > TOO_MUCH[0] and max(windings_a) > TOO_MUCH[1] * rated:
            return "+draws_too_much"
        return ""
