"""A block of delayed contacts that snaps onto a contactor, and is moved by its armature."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Scalar,
    Terminal,
    When,
    number,
)

ON, OFF = "on_delay", "off_delay"
_FITTED: Final = When("delay_block", (ON, OFF))
# EN 50012: a delayed contact ends in 5-6 where it opens, in 7-8 where it closes.
NC, NO = ("55", "56"), ("67", "68")

PARAMS: Final = (
    Param(
        "delay_block",
        "Delay block",
        "none",
        choices=("none", ON, OFF),
        titles={ON: "on-delay", OFF: "off-delay"},
    ),
    Param("block_delay_s", "Time of the delay block", 5.0, "s", 0.1, 180.0, set_on_site=True),
)
TERMINALS: Final = tuple(Terminal(name, when=_FITTED) for name in (*NC, *NO))
BRANCHES: Final = tuple(Branch("-".join(pair), *pair, Role.CONTACT, _FITTED) for pair in (NC, NO))
NAMES: Final = frozenset(branch.name for branch in BRANCHES)
IDLE: Final[Mapping[str, Scalar]] = {"late": False, "late_at_us": None}
PARTS: Final = tuple(
    Part(
        "-".join(pair),
        f"Contact {'-'.join(pair)}, {'NO' if pair is NO else 'NC'}, {told}",
        f"{mode}_{'no' if pair is NO else 'nc'}",
        Does.NORMALLY_OPEN if pair is NO else Does.NORMALLY_CLOSED,
        pair,
        ("-".join(pair),),
        When("delay_block", (mode,)),
    )
    for mode, told in ((ON, "on-delay"), (OFF, "off-delay"))
    for pair in (NC, NO)
)


def planned(params: Params, state: DeviceState, now_us: int) -> DeviceState:
    """With when its contacts move: after the armature has come in, or after it has fallen back."""
    waits = {
        ON: travel.no_closed(state) and not state["late"],
        OFF: travel.nc_closed(state) and bool(state["late"]),
    }.get(str(params["delay_block"]), False)
    due = state["late_at_us"]
    if waits == (due is not None):
        return state
    return {**state, "late_at_us": now_us + round(1e6 * number(params, "block_delay_s")) if waits else None}


def moved(params: Params, state: DeviceState, now_us: int) -> DeviceState:
    """What its contacts do at an instant: with the armature the one way, late the other."""
    mode = params["delay_block"]
    if state["late_at_us"] == now_us:
        return {**state, "late": mode == ON, "late_at_us": None}
    at_once = (mode == ON and state["late"] and not travel.no_closed(state)) or (
        mode == OFF and not state["late"] and travel.no_closed(state)
    )
    return {**state, "late": mode == OFF, "late_at_us": None} if at_once else state


def values(state: DeviceState) -> dict[str, Value]:
    """The contact that is closed."""
    return {"-".join(NO if state["late"] else NC): Value(CONTACT_OHM)}
