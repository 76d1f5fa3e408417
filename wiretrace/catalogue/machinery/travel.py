"""Travel of anything that moves contacts: an armature, a button, a lever.

Three positions: 0 at rest (normally closed contacts closed), 1 under way (both open),
2 driven home (normally open contacts closed). So a normally closed contact always opens
before a normally open one closes, and the other way round on the way back.

State variables: ``position``, ``driven`` (where it is heading) and ``moves_at_us``.
"""

from typing import Final

from wiretrace.catalogue.machinery import device
from wiretrace.catalogue.machinery.structure import DeviceState

REST: Final = 0
UNDER_WAY: Final = 1
HOME: Final = device.HOME

AT_REST: Final[DeviceState] = {"position": REST, "driven": False, "moves_at_us": None}


def drive(state: DeviceState, driven: bool, first_us: int, second_us: int, now_us: int) -> DeviceState:
    """Start moving towards home (`driven`) or rest.

    `first_us` is the delay to the first contact change from a full stop, `second_us` the
    delay from the first to the second. Driving the way it is already going changes nothing, unless
    something holds it half way.
    """
    if state["driven"] == driven and not stalled(state):
        return state
    target = HOME if driven else REST
    if state["position"] == target:
        return {**state, "driven": driven, "moves_at_us": None}
    delay = second_us if state["position"] == UNDER_WAY else first_us
    return {**state, "driven": driven, "moves_at_us": now_us + delay}


def stalled(state: DeviceState) -> bool:
    """Is it held half way?"""
    return state["position"] == UNDER_WAY and state["moves_at_us"] is None


def step(state: DeviceState, second_us: int, now_us: int) -> DeviceState:
    """Take the step that is due at `now_us`, if one is."""
    if state["moves_at_us"] != now_us:
        return state
    if state["position"] == UNDER_WAY:
        return {**state, "position": HOME if state["driven"] else REST, "moves_at_us": None}
    return {**state, "position": UNDER_WAY, "moves_at_us": now_us + second_us}


def times_us(total_ms: float) -> tuple[int, int]:
    """Delay of an armature to the first contact change and from there to the second, microseconds."""
    total_us = round(1000 * total_ms)
    first_us = max(1, round(0.8 * total_us))
    return first_us, max(1, total_us - first_us)


def no_closed(state: DeviceState) -> bool:
    """Is a normally open contact closed?"""
    return state["position"] == HOME


def nc_closed(state: DeviceState) -> bool:
    """Is a normally closed contact closed?"""
    return state["position"] == REST
