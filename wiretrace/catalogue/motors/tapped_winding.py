"""Pole-changing motor with one tapped winding: in delta it turns at half the speed that it has in double star."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from typing import Final, TypeAlias

from wiretrace.catalogue.machinery.element import Heard, Signal, Tone, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Windings
from wiretrace.catalogue.machinery.structure import Branch, DeviceState, Param, Params, Part, Role
from wiretrace.catalogue.motors.two_speed import HIGH, LOW, OF_LOW, TwoSpeedMotor, Winding

SIDES: Final = (("1U", "2U", "1V"), ("1V", "2V", "1W"), ("1W", "2W", "1U"))
"""The sides of the delta: from corner through its tap to the next corner."""
HALVES: Final = tuple((f"{corner}-{tap}", f"{tap}-{beyond}") for corner, tap, beyond in SIDES)
PLATE: Final = {"low_rated_power_kw": 0.37, "low_rated_current_a": 1.15, "low_rated_speed_rpm": 705.0}
Pair: TypeAlias = tuple[complex, complex]
TWICE: Final = (1.8, 2.2)
"""How many times as fast it turns in double star: as many poles as in delta, halved."""


class TappedWindingMotor(TwoSpeedMotor):
    """One winding of six halves, tapped in the middle of each side of its delta (IEC 60034-8).

    Low speed: lines at 1U 1V 1W, the taps 2U 2V 2W free. High speed: lines at 2U 2V 2W, and 1U 1V 1W joined by a
    contactor: a double star. Current the same way through both halves of a side makes twice as many poles as
    current that parts at the tap, so every current splits into one that works on the slow field and one that works on
    the fast field, whatever is joined to what; of the two, that with more voltage makes the torque. The terminals are
    named so that U V W turn it forward at both speeds. Lines at the taps without the joint excite both fields: it stays
    at the slow speed and draws three times its current.
    """

    name = "motor_tapped_winding"
    title = "Three-phase motor, two speeds, tapped winding"
    rank = 26
    params = (
        *(replace(param, default=PLATE.get(param.name, param.default)) for param in TwoSpeedMotor.params),
        Param("low_power_factor", "Power factor, low speed", 0.68, "", 0.05, 1.0),
        Param("low_efficiency_percent", "Efficiency, low speed", 68.0, "%", 20.0, 99.0),
    )
    internal_nodes = ()
    branches = tuple(
        Branch(half, half.split("-")[0], half.split("-")[1], Role.LOAD) for side in HALVES for half in side
    )
    coupled = (tuple(half for side in HALVES for half in side),)
    three_phase = Windings(("2U", "2V", "2W"), also=("1U", "1V", "1W"))
    parts = (
        Part(
            "motor",
            "Motor",
            "motor_6",
            Does.TURNS,
            ("1U", "1V", "1W", "2U", "2V", "2W", "PE"),
            tuple(half for side in HALVES for half in side),
            height=13,
        ),
    )
    of_low = {**OF_LOW, "power_factor": "low_power_factor", "efficiency_percent": "low_efficiency_percent"}
    OF = {LOW: Winding(1, in_delta=True), HIGH: Winding(2, in_delta=False)}

    def operating(self, params: Params, branch: str) -> Operating | None:
        """Of a half: the phase voltage of the double star, where the two of a phase share its current."""
        whole = self.OF[HIGH].operating(self.told(params, HIGH), "2U")
        return whole and Operating(whole.voltage_v, whole.takes_va / 2, whole.power_factor)

    def contradictions(self, params: Params) -> Iterator[str]:
        yield from super().contradictions(params)
        times = float(params["rated_speed_rpm"]) / float(params["low_rated_speed_rpm"])
        if not TWICE[0] <= times <= TWICE[1]:
            yield f"a tapped winding has two speeds of 2 to 1; the rated ones are {times:.2g} to 1."

    def felt(self, signals: Mapping[str, Signal]) -> Mapping[str, Signal]:
        """A side of the delta for the slow field; the two halves of a side, against each other, for the fast one."""
        seen = dict(signals)
        for at, (one, other) in enumerate(HALVES):
            a, b = signals[one], signals[other]
            seen[self.OF[LOW].windings[at]] = _folded(a, b, _slow)
            seen[self.OF[HIGH].windings[at]] = _folded(a, b, _fast)
        return seen

    def fading(self, params: Params, state: DeviceState) -> Mapping[str, Tone]:
        """Of the slow field half a side's in either half; of the fast one all of it in both, against each other."""
        whole, slow = list(super().fading(params, state).values()), state["at"] == LOW
        signs = (0.5, 0.5) if slow else (1.0, -1.0)
        return {
            name: replace(tone, emf_v=sign * tone.emf_v)
            for tone, side in zip(whole, HALVES, strict=bool(whole))
            for sign, name in zip(signs, side, strict=True)
        }

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        """Each half with what the currents of all others raise in it.

        Of a side with halves a and b the slow field sees va + vb by (ia + ib) / 2, the fast one (va - vb) / 2 by
        ia - ib; so va = Zslow (ia + ib) / 4 + Zfast (ia - ib).
        """
        whole = super().values(params, state)
        slow, fast = ([whole[name] for name in self.OF[which].windings] for which in (LOW, HIGH))
        values: dict[str, Value] = {}
        for at, side in enumerate(HALVES):
            direct_ohm = _direct(slow[at]) / 4 + _direct(fast[at])
            for half, name in enumerate(side):
                raised = {
                    other: _together(slow, fast, at, (to, 1 if half == which else -1))
                    for to, pair in enumerate(HALVES)
                    for which, other in enumerate(pair)
                }
                ohm, henry = raised.pop(name)
                mutual = tuple((other, *pair) for other, pair in raised.items())
                values[name] = Value(ohm, henry, mutual=mutual, direct_ohm=direct_ohm)
        return values


def _slow(one: Pair, other: Pair) -> Pair:
    """Volts and amperes of a side for the slow field, from those of its halves."""
    return one[0] + other[0], (one[1] + other[1]) / 2


def _fast(one: Pair, other: Pair) -> Pair:
    """The same for the fast field."""
    return (one[0] - other[0]) / 2, one[1] - other[1]


def _folded(one: Signal, other: Signal, how: Callable[[Pair, Pair], Pair]) -> Signal:
    """What a field sees of both halves of a side, for each kind of current."""
    direct_v, direct_a = how((one.dc_v, one.dc_a), (other.dc_v, other.dc_a))
    tones = tuple(Heard(x.frequency_hz, *how(x[1:], y[1:])) for x, y in zip(one.tones, other.tones, strict=True))
    return Signal(*how(one[:2], other[:2]), direct_v.real, direct_a.real, tones)


def _direct(value: Value) -> float:
    return value.resistance_ohm if value.direct_ohm is None else value.direct_ohm


def _together(slow: list[Value], fast: list[Value], at: int, to: tuple[int, int]) -> tuple[float, float]:
    """Ohms and henries that a half of one side raises in a half of another; the sign tells like half from other."""
    other, sign = to
    (slow_ohm, slow_h), (fast_ohm, fast_h) = (_raised(values, at, other) for values in (slow, fast))
    return slow_ohm / 4 + sign * fast_ohm, slow_h / 4 + sign * fast_h


def _raised(values: list[Value], at: int, other: int) -> tuple[float, float]:
    """What winding `other` of three raises in winding `at`: its own impedance where they are the same."""
    if at == other:
        return values[at].resistance_ohm, values[at].inductance_h
    step = (other - at) % 3
    # The mutual parts of a winding stand in the order of the windings that follow it.
    _, ohm, henry = values[at].mutual[step - 1]
    return ohm, henry
