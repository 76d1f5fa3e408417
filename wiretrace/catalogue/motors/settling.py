"""The speed at which a motor's windings are taken for a while, and how the one that agrees with itself is found.

The windings at a speed bend the voltages, the voltages make the torque, and the torque the final speed. Near its end
a motor must be taken at the speed that comes out again.
"""

from typing import Final

from wiretrace.catalogue.machinery.structure import DeviceState
from wiretrace.catalogue.motors.run_up import NEAR, next_mark

STEP: Final = 2e-4
"""Change of the final speed that the windings are told of."""
MOVED: Final = 2e-3
"""Change of the final speed that makes a motor look at itself anew: its load has changed."""
LOOKS: Final = 24
"""Times that a motor looks for its final speed in one instant."""
LOWEST: Final = -1e4
HIGHEST: Final = 1e4
"""Bounds of a speed that nothing is known of yet."""
UNKNOWN: Final[DeviceState] = {"low": LOWEST, "high": HIGHEST, "closing": False}


def closer(state: DeviceState, final: float, fed: bool) -> DeviceState:
    """The state with `held` nearer to what agrees with the final speed that follows from it.

    Closed in on between `low` and `high`: a higher speed makes a lower final one where it is stable.
    """
    speed, held, turned = float(state["speed"] or 0.0), float(state["held"] or 0.0), False
    if state["anew"]:
        state = {**state, **UNKNOWN, "anew": False}
        if fed and abs(final - speed) >= NEAR:
            return {**state, "held": (speed + next_mark(speed, final)) / 2}
    elif state["fresh"] and not state["closing"]:
        # The way to where it was going turned out to lead back: its end lies between.
        turned = (final - speed) * (held - speed) < 0
    near = bool(state["closing"]) or turned or abs(final - speed) < NEAR
    if not fed or not near or abs(final - held) <= STEP:
        return state
    low, high = float(state["low"] or 0.0), float(state["high"] or 0.0)
    if turned:
        low, high = (speed, high) if held > speed else (low, speed)
    low, high = (max(low, held), high) if final > held else (low, min(high, held))
    if high - low <= STEP:
        return state
    bounded = low > LOWEST and high < HIGHEST
    nearer = (low + high) / 2 if bounded and (state["closing"] or not low < final < high) else final
    return {**state, "held": nearer, "low": low, "high": high, "closing": True}
