"""Contactor: coil, three poles, built-in auxiliaries, add-on auxiliary block."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue import travel
from wiretrace.catalogue.device import (
    CONTACT_OHM,
    Branch,
    DeviceState,
    Kind,
    Operation,
    Param,
    Params,
    Part,
    Role,
    Signal,
    Terminal,
    Value,
    View,
    When,
    number,
)

POLES: Final = (("1", "2"), ("3", "4"), ("5", "6"))

# Add-on blocks, numbered by EN 50012: first digit the place, second the function.
BLOCKS: Final = {
    "none": (),
    "1 NO + 1 NC": (("53", "54"), ("61", "62")),
    "2 NO + 2 NC": (("53", "54"), ("61", "62"), ("71", "72"), ("83", "84")),
    "4 NO": (("53", "54"), ("63", "64"), ("73", "74"), ("83", "84")),
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


class Contactor(Kind):
    """AC contactor with hysteresis, armature travel and inrush.

    The coil draws several times its sealed current while the armature is open. It picks up at
    `pick_up_percent` of its rated voltage and lets go only below `drop_out_percent`
    (IEC 60947-4-1, 8.2.1.2: closes at 85 %, drops out between 20 % and 75 %).
    """

    name = "contactor"
    title = "Contactor"
    group = "switching"
    letter = "K"
    letter_nema = "M"
    mounting = "plate"
    params = (
        Param("coil_voltage_v", "Coil voltage", 230.0, "V", 6.0, 690.0),
        Param("coil_frequency_hz", "Coil frequency", 50.0, "Hz", 16.0, 400.0),
        Param("inrush_va", "Inrush, armature open", 60.0, "VA", 0.1, 5000.0),
        Param("inrush_power_factor", "Power factor at inrush", 0.75, "", 0.05, 1.0),
        Param("sealed_va", "Holding, armature closed", 8.0, "VA", 0.1, 1000.0),
        Param("sealed_power_factor", "Power factor when holding", 0.275, "", 0.05, 1.0),
        Param("pick_up_percent", "Picks up at", 85.0, "%", 50.0, 110.0),
        Param("drop_out_percent", "Drops out below", 45.0, "%", 5.0, 75.0),
        Param("pick_up_ms", "Time to pick up", 18.0, "ms", 1.0, 200.0),
        Param("drop_out_ms", "Time to drop out", 12.0, "ms", 1.0, 200.0),
        Param("auxiliary_block", "Add-on auxiliary block", "none", choices=tuple(BLOCKS)),
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
    )
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        *(Branch(f"{a}-{b}", a, b, Role.CONTACT) for a, b in POLES),
        *(Branch(f"{p[0]}-{p[1]}", *p, Role.CONTACT, _block_with(p)) for p in AUXILIARIES),
    )
    parts = (
        Part("coil", "Coil", "coil", ("A1", "A2"), ("coil",)),
        Part(
            "poles",
            "Main poles",
            "contactor_3",
            tuple(t for pair in POLES for t in pair),
            tuple(f"{a}-{b}" for a, b in POLES),
        ),
        *(
            Part(
                f"{a}-{b}",
                f"Contact {a}-{b}, {'NO' if _is_no(a) else 'NC'}",
                "contact_no" if _is_no(a) else "contact_nc",
                (a, b),
                (f"{a}-{b}",),
                _block_with((a, b)),
            )
            for a, b in AUXILIARIES
        ),
    )
    operations = (
        Operation(
            "push",
            "Push the armature in",
            "momentary",
            "By hand only when dead and locked off.",
        ),
    )

    def initial(self, params: Params) -> DeviceState:
        return {**travel.AT_REST, "energised": False, "pushed": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        values = {"coil": self._coil(params, sealed=state["position"] == travel.HOME)}
        for branch in self.branches:
            if branch.role is not Role.CONTACT:
                continue
            normally_open = len(branch.a) == 1 or _is_no(branch.a)
            if travel.no_closed(state) if normally_open else travel.nc_closed(state):
                values[branch.name] = closed
        return values

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return self._drive(params, {**state, "pushed": value}, now_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        percent = 100 * abs(signals["coil"].voltage_v) / number(params, "coil_voltage_v")
        # Between the two thresholds the armature stays with what it is doing.
        threshold = "drop_out_percent" if state["energised"] else "pick_up_percent"
        # A coil that carries nothing (open winding) pulls nothing, whatever its voltage.
        pulls = percent >= number(params, threshold) and abs(signals["coil"].current_a) > 0
        return self._drive(params, {**state, "energised": pulls}, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        return travel.step(state, self._times_us(params, bool(state["driven"]))[1], now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if travel.no_closed(state):
            return View("in", True)
        return View("out" if travel.nc_closed(state) else "moving", False)

    def _drive(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        driven = bool(state["energised"] or state["pushed"])
        return travel.drive(state, driven, *self._times_us(params, driven), now_us)

    @staticmethod
    def _times_us(params: Params, driven: bool) -> tuple[int, int]:
        """Delay to the first contact change and from there to the second, microseconds."""
        total_us = round(1000 * number(params, "pick_up_ms" if driven else "drop_out_ms"))
        first_us = max(1, round(0.8 * total_us))
        return first_us, max(1, total_us - first_us)

    @staticmethod
    def _coil(params: Params, sealed: bool) -> Value:
        """Coil as R and L from apparent power and power factor at rated voltage."""
        state = "sealed" if sealed else "inrush"
        impedance = number(params, "coil_voltage_v") ** 2 / number(params, f"{state}_va")
        factor = number(params, f"{state}_power_factor")
        reactance = impedance * math.sqrt(1 - factor**2)
        omega = 2 * math.pi * number(params, "coil_frequency_hz")
        return Value(impedance * factor, reactance / omega)
