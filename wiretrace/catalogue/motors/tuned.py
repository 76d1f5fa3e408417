"""The frequency that a motor follows: that of the supplies, or that of a converter which feeds it.

Its speeds are shares of the synchronous speed at that frequency, `tone_hz` in its state, 0 for that of the supplies.
"""

from collections.abc import Sequence

from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.structure import NETWORK_HZ, DeviceState, Params, amount, network_hz
from wiretrace.catalogue.motors import settling
from wiretrace.catalogue.motors.machine import Nameplate
from wiretrace.catalogue.motors.motion import FED_FROM


def params(told: Params, state: DeviceState) -> Params:
    """The parameters of a motor with the frequency that it follows."""
    hertz = amount(state, "tone_hz")
    return {**told, NETWORK_HZ: hertz} if hertz else told


def fed_from_v(plate: Nameplate, state: DeviceState) -> float:
    """Winding voltage from which a motor counts as fed: at a low frequency a low voltage makes its full field."""
    share = min(1.0, amount(state, "tone_hz") / plate.rated_hz) if state["tone_hz"] else 1.0
    return FED_FROM * share * plate.winding_v


def heard(state: DeviceState, signal: Signal) -> Signal:
    """What a winding sees of the frequency that its motor follows, and of direct current."""
    hertz = amount(state, "tone_hz")
    if not hertz:
        return signal._replace(tones=()) if signal.tones else signal
    one = next((one for one in signal.tones if one.frequency_hz == hertz), None)
    return Signal(one.voltage_v if one else 0j, one.current_a if one else 0j, signal.dc_v, signal.dc_a)


def following(told: Params, state: DeviceState, windings: Sequence[Signal]) -> DeviceState:
    """The state of a motor that follows the frequency which drives most current through its windings.

    Its rotor turns on as it did: as another share of another synchronous speed.
    """
    now, hertz = amount(state, "tone_hz"), 0.0
    if any(one.tones for one in windings):
        largest_a = max(abs(one.current_a) for one in windings)
        for tone in (tone for one in windings for tone in one.tones):
            if abs(tone.current_a) > largest_a:
                hertz, largest_a = tone.frequency_hz, abs(tone.current_a)
    if hertz == now:
        return state
    network = network_hz(told, "rated_frequency_hz")
    speed = amount(state, "speed") * (now or network) / (hertz or network)
    return {**state, "tone_hz": hertz, "speed": speed, "held": speed, **settling.UNKNOWN, "anew": True}
