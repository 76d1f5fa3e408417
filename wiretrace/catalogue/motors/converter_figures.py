"""What a frequency converter gives and takes: volts at a frequency, amperes, watts."""

import cmath
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.catalogue.machinery.element import Signal, Tone, Value
from wiretrace.catalogue.machinery.structure import DeviceState, Params, amount, number

OUTPUTS: Final = ("U", "V", "W")
INPUTS: Final = ("L1", "L2", "L3")
LIFTED: Final = 0.05
"""Share of the rated voltage that it gives more of towards standstill, for the drop in the resistance of the motor."""
DROP: Final = 0.01
"""Drop in its output at the rated current, as a share of the voltage."""
EFFICIENCY: Final = 0.96
BLEEDS: Final = 0.03
"""Share of its rated power that it uses up itself while the motor gives some back."""
MIDDLE_OHM: Final = 20.0
"""What holds the middle of its output to PE."""
AGREES: Final = 5e-3
"""Share by which what it remembers of its input may stray."""


def hertz(state: DeviceState) -> float:
    """Output frequency."""
    return int(state["mhz"] or 0) / 1000


def windings_v(params: Params, state: DeviceState) -> float:
    """Volts RMS of each output to the middle: with the frequency, and no more than the input has."""
    share = hertz(state) / number(params, "base_hz")
    return amount(state, "input_v") / math.sqrt(3) * min(1.0, LIFTED + (1 - LIFTED) * share)


def outputs(params: Params, state: DeviceState) -> dict[str, Value]:
    """The three outputs while they are on, turning one way or the other."""
    ohm = DROP * number(params, "line_voltage_v") / math.sqrt(3) / number(params, "rated_current_a")
    way = -1 if state["way"] == "forward" else 1
    volts, frequency_hz = windings_v(params, state), hertz(state)
    return {
        name: Value(ohm, tone=Tone(cmath.rect(volts, way * at * 2 * math.pi / 3), frequency_hz))
        for at, name in enumerate(OUTPUTS)
    }


@dataclass(frozen=True)
class Given:
    """What flows at its output: the largest current, what does not come back, and the watts that the motor takes.

    `foreign_a` is what flows there at the frequency of the supplies, and `foreign_v` what stands there at least.
    """

    largest_a: float
    astray_a: float
    watts: float
    foreign_a: float
    foreign_v: float


def given(state: DeviceState, signals: Mapping[str, Signal]) -> Given:
    """What flows at its output."""
    frequency_hz, outs = hertz(state), [signals[name] for name in OUTPUTS]
    own = [one for out in outs for one in out.tones if one.frequency_hz == frequency_hz]
    on = bool(state["way"])
    return Given(
        max(one.rms_a for one in outs),
        abs(sum(one.current_a for one in own)) if on else 0.0,
        # From the middle to an output the current flows against the voltage that stands there.
        -sum((one.voltage_v * one.current_a.conjugate()).real for one in own) if on else 0.0,
        max(abs(one.current_a) for one in outs),
        min(abs(one.voltage_v) for one in outs),
    )


def lines_v(params: Params, signals: Mapping[str, Signal]) -> tuple[float, ...]:
    """Volts RMS between its lines at the input."""
    a, b = (signals[name].voltage_v for name in INPUTS[:2])
    if params["lines"] == "one":
        return (abs(a - b),)
    c = signals["L3"].voltage_v
    return abs(a - b), abs(b - c), abs(c - a)


def input_ohm(params: Params, volts: float, watts: float, given_at_v: float) -> float:
    """Ohms in each line that take in what it gives: of three in star, or of two in a row.

    `watts` go out at what the look before found at the input, `given_at_v`, and go with its square. Taken for what
    goes out at the `volts` of this look they would swing, where bad joints before the input leave little.
    """
    idle_s = number(params, "idle_power_w") / max(volts, 0.3 * number(params, "line_voltage_v")) ** 2
    given_s = max(0.0, watts) / EFFICIENCY / max(given_at_v, 1.0) ** 2
    return 1 / (idle_s + given_s) / (2 if params["lines"] == "one" else 1)


def rated_w(params: Params) -> float:
    """What it can give, watts at power factor 1."""
    return math.sqrt(3) * number(params, "line_voltage_v") * number(params, "rated_current_a")


def back_w(params: Params, found: Given) -> float:
    """Watts that come back from the motor and stay in its capacitors; negative where they empty again."""
    return -found.watts - BLEEDS * rated_w(params)
