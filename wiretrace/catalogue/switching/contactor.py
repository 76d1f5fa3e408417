"""Contactor: coil, three poles, built-in auxiliaries, add-on blocks of contacts, at once and delayed."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    When,
    ends_of,
    names_of,
    number,
)
from wiretrace.catalogue.switching import delay_block
from wiretrace.catalogue.switching.electromagnet import Electromagnet, coil_params

POLES: Final = (("1", "2"), ("3", "4"), ("5", "6"))

# Add-on blocks, numbered by EN 50012: first digit the place, second the function.
BLOCK_TITLES: Final = {"1NO_1NC": "1 NO + 1 NC", "2NO_2NC": "2 NO + 2 NC", "4NO": "4 NO"}
BLOCKS: Final = {
    "none": (),
    "1NO_1NC": (("53", "54"), ("61", "62")),
    "2NO_2NC": (("53", "54"), ("61", "62"), ("71", "72"), ("83", "84")),
    "4NO": (("53", "54"), ("63", "64"), ("73", "74"), ("83", "84")),
}
AUXILIARIES: Final = tuple(
    dict.fromkeys((("13", "14"), ("21", "22"), *(pair for block in BLOCKS.values() for pair in block)))
)


def _is_no(first: str) -> bool:
    return first[-1] == "3"


def _block_with(pair: tuple[str, str]) -> When | None:
    if pair in (("13", "14"), ("21", "22")):
        return None
    return When("auxiliary_block", tuple(name for name, pairs in BLOCKS.items() if pair in pairs))


class Contactor(Electromagnet):
    """Contactor: three poles, one normally open and one normally closed auxiliary, add-on block.

    Poles that carry more than `welds_at_times` the rated current for some milliseconds, while a short circuit is
    cleared behind them, may weld: then the armature cannot fall back, and no normally closed
    contact closes (mirror contact, IEC 60947-4-1 annex F).
    """

    remedies = {
        **Electromagnet.remedies,
        "welded": "Its poles met a current that they could not part from. Find out which, then renew the poles.",
    }
    name = "contactor"
    title = "Contactor"
    rank = 10
    group = "switching"
    letter = "K"
    letter_nema = "M"
    mounting = "plate"
    params = (
        *coil_params(60.0, 8.0, 18.0, 12.0),
        Param("rated_current_a", "Rated current, AC-3", 12.0, "A", 0.5, 800.0, sized="contactor_rating"),
        Param("welds_at_times", "Poles weld at, times rated", 60.0, "", 5.0, 1000.0),
        Param("auxiliary_block", "Add-on auxiliary block", "none", choices=tuple(BLOCKS), titles=BLOCK_TITLES),
        *delay_block.PARAMS,
    )
    terminals = (
        Terminal("A1"),
        Terminal("A2"),
        *(
            Terminal(name, nema)
            for pair, nemas in zip(POLES, (("L1", "T1"), ("L2", "T2"), ("L3", "T3")), strict=True)
            for name, nema in zip(pair, nemas, strict=True)
        ),
        *(Terminal(name, when=_block_with(pair)) for pair in AUXILIARIES for name in pair),
        *delay_block.TERMINALS,
    )
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        *(Branch(f"{a}-{b}", a, b, Role.CONTACT) for a, b in POLES),
        *(Branch(f"{p[0]}-{p[1]}", *p, Role.CONTACT, _block_with(p)) for p in AUXILIARIES),
        *delay_block.BRANCHES,
    )
    parts = (
        Part("coil", "Coil", "coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        Part(
            "poles",
            "Main poles",
            "contactor_3",
            Does.SWITCHES_LOAD,
            ends_of(POLES),
            names_of(POLES),
        ),
        *(
            Part(
                f"{a}-{b}",
                f"Contact {a}-{b}, {'NO' if _is_no(a) else 'NC'}",
                "contact_no" if _is_no(a) else "contact_nc",
                Does.NORMALLY_OPEN if _is_no(a) else Does.NORMALLY_CLOSED,
                (a, b),
                (f"{a}-{b}",),
                _block_with((a, b)),
            )
            for a, b in AUXILIARIES
        ),
        *delay_block.PARTS,
    )
    clock = "late_at_us"
    operations = (
        *Electromagnet.operations,
        Operation("renew", "Renew welded poles", "pulse", "First find out what welded them.", repairs="welded"),
    )

    WELDS_AFTER_US: Final = 5_000

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), "welded": False, "welds_at_us": None, **delay_block.IDLE}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "renew":
            return {**state, "welded": False, "welds_at_us": None}
        return super().operate(params, state, operation, value, now_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return delay_block.planned(params, self._pulled(params, state, signals, now_us), now_us)

    def _pulled(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        state = super().sense(params, state, signals, now_us)
        if state["welded"]:
            # What is welded holds the armature where it is.
            return {**state, "driven": True, "moves_at_us": None}
        if state["position"] != travel.HOME:
            return state if state["welds_at_us"] is None else {**state, "welds_at_us": None}
        limit = number(params, "rated_current_a") * number(params, "welds_at_times")
        melts = max([signals[f"{a}-{b}"].rms_a for a, b in POLES]) >= limit
        if melts == (state["welds_at_us"] is not None):
            return state
        return {**state, "welds_at_us": now_us + self.WELDS_AFTER_US if melts else None}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["welds_at_us"] == now_us:
            state = {**state, "welded": True, "welds_at_us": None}
        return delay_block.moved(params, super().advance(params, state, now_us), now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["welded"]:
            return View("pulled_in+welded", True, attention=True)
        return super().view(params, state, signals)

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        values = dict(self.coil_value(params, state))
        for branch in self.branches:
            if branch.role is not Role.CONTACT or branch.name in delay_block.NAMES:
                continue
            normally_open = len(branch.a) == 1 or _is_no(branch.a)
            if travel.no_closed(state) if normally_open else travel.nc_closed(state):
                values[branch.name] = closed
        return values if params["delay_block"] == "none" else values | delay_block.values(state)
