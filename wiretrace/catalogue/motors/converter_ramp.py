"""The ramp of a frequency converter: what it is told to do, and the next step of its frequency."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.structure import DeviceState, Params, number

STEPS: Final = 16
"""Steps in which it goes from standstill to the rated frequency of its motor."""
STARTS_US: Final = 50_000
AT_ONCE_US: Final = 1_000
INPUTS: Final = ("RF", "RR", "F2", "RS")
ENABLES: Final = "EN"
INPUT_V: Final = 24.0
ON_FROM_V: Final = 15.0
OFF_BELOW_V: Final = 5.0
"""Volts at which an input is on and off (IEC 61131-2, type 1)."""
_BITS: Final = {name: bit for bit, name in enumerate((*INPUTS, ENABLES))}


def is_on(state: DeviceState, name: str) -> bool:
    """Was an input on when it was last looked at?"""
    return bool(int(state["on"] or 0) >> _BITS[name] & 1)


def commanded(params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> DeviceState:
    """The state with what its inputs ask for. A command counts from when it comes, not where it stands already."""
    on = 0
    for name, bit in _BITS.items():
        if name in signals:
            on |= (signals[name].dc_v >= (OFF_BELOW_V if is_on(state, name) else ON_FROM_V)) << bit
    state = {**state, "on": on}
    asked = {(True, False): "forward", (False, True): "backward"}.get((is_on(state, "RF"), is_on(state, "RR")), "")
    ready = bool(state["fed"]) and not state["trip"] and not state["destroyed"]
    # To let go of an emergency stop starts nothing (IEC 60204-1, 10.7): the command has to come anew.
    armed = ready and _enabled(params, state) and (bool(state["armed"]) or not asked)
    return {**state, "asked": asked, "armed": armed, "wants": asked if armed else ""}


def _enabled(params: Params, state: DeviceState) -> bool:
    return not params["enabling_input"] or is_on(state, ENABLES)


def off(state: DeviceState) -> DeviceState:
    """The state with the output off, waiting for a command that is new."""
    return {**state, "way": "", "wants": "", "mhz": 0, "armed": False, "steps_at_us": None}


def target_mhz(params: Params, state: DeviceState) -> int:
    """Where its frequency goes, thousandths of a hertz: to nothing where it is to stop, or to turn about."""
    if state["wants"] != state["way"]:
        return 0
    return round(1000 * number(params, "second_hz" if is_on(state, "F2") else "first_hz"))


def rests(params: Params, state: DeviceState) -> bool:
    """Does nothing of its output change?"""
    if not state["way"]:
        return not state["wants"]
    return target_mhz(params, state) == state["mhz"]


def _at_once(params: Params, state: DeviceState) -> bool:
    """Is its output to go off without a ramp?"""
    return not _enabled(params, state) or (params["stops"] == "coasting" and not state["wants"])


def steps_at_us(params: Params, state: DeviceState, now_us: int) -> int | None:
    """When its frequency takes its next step; None where it stays."""
    if rests(params, state):
        return None
    planned = state["steps_at_us"]
    known = planned if isinstance(planned, int) else None
    if state["way"] and _at_once(params, state):
        return min(known or now_us + AT_ONCE_US, now_us + AT_ONCE_US)
    return known or now_us + (_step_us(params, state) if state["way"] else STARTS_US)


def _step_us(params: Params, state: DeviceState) -> int:
    rises = target_mhz(params, state) > int(state["mhz"] or 0)
    return max(1, round(1e6 * number(params, "up_s" if rises else "down_s") / STEPS))


def stepped(params: Params, state: DeviceState) -> DeviceState:
    """The next step of its ramp. While it gives all the current that it may, it waits."""
    state = {**state, "steps_at_us": None}
    if state["way"] and _at_once(params, state):
        return {**state, "way": "", "mhz": 0}
    step, now = round(1000 * number(params, "base_hz") / STEPS), int(state["mhz"] or 0)
    if not state["way"]:
        first = {**state, "way": state["wants"]}
        return {**first, "mhz": min(step, target_mhz(params, first))} if state["wants"] else state
    target = target_mhz(params, state)
    if target > now and state["limited"]:
        return state
    mhz = min(target, now + step) if target > now else max(target, now - step)
    return {**state, "mhz": mhz} if mhz else {**state, "way": "", "mhz": 0}
