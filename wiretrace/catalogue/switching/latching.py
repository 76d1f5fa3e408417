"""Latching relay: one coil sets it, another resets it; in between it stays where it is, supply or not."""

from collections.abc import Mapping

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Does, Ratings
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
    number,
)

COILS = {"set": ("A1", "A2"), "reset": ("B1", "B2")}


class LatchingRelay(Kind):
    """Two coils, two changeovers. A pulse on A1-A2 sets it, one on B1-B2 resets it (bistable, IEC 61810-1).

    It remembers without supply: what it has switched on comes on again with the supply. While both coils
    are fed it stays where it is.
    """

    name = "latching_relay"
    title = "Latching relay, set and reset"
    rank = 35
    group = "switching"
    letter = "K"
    letter_nema = "CR"
    mounting = "plate"
    actuator = Actuator.PULSE
    racing = ("travel_ms",)
    made_for = dict.fromkeys(COILS, ("coil_voltage_v", "coil_va", "coil_power_factor"))
    params = (
        Param("coil_voltage_v", "Coil voltage", 230.0, "V", 6.0, 690.0),
        Param("coil_frequency_hz", "Coil frequency", 50.0, "Hz", 16.0, 400.0),
        Param("coil_va", "Power taken by a coil", 3.5, "VA", 0.1, 200.0),
        Param("coil_power_factor", "Power factor of a coil", 0.6, "", 0.05, 1.0),
        Param("pick_up_percent", "Answers from", 80.0, "%", 50.0, 110.0),
        Param("travel_ms", "Time to change over", 15.0, "ms", 1.0, 200.0),
    )
    terminals = tuple(Terminal(name) for name in ("A1", "A2", "B1", "B2", "11", "12", "14", "21", "22", "24"))
    branches = (
        *(Branch(name, a, b, Role.LOAD) for name, (a, b) in COILS.items()),
        *(Branch(f"{n}1-{n}{to}", f"{n}1", f"{n}{to}", Role.CONTACT) for n in (1, 2) for to in (2, 4)),
    )
    parts = (
        Part("set", "Set coil", "set_coil", Does.OPERATES, COILS["set"], ("set",)),
        Part("reset", "Reset coil", "reset_coil", Does.OPERATES, COILS["reset"], ("reset",)),
        *(changeover(f"{n}1", f"{n}2", f"{n}4") for n in (1, 2)),
    )
    operations = (
        Operation(
            "lever", "Lever to set", "toggle", "By hand only when isolated and locked out.", handle=True, dead_only=True
        ),
    )

    def ratings(self, params: Params) -> Ratings:
        return Ratings(holds_from=number(params, "pick_up_percent") / 100)

    def initial(self, params: Params) -> DeviceState:
        return {**travel.AT_REST, "by_hand": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = {name: self.load_value(params, name, number(params, "coil_frequency_hz")) for name in COILS}
        way = "2" if travel.nc_closed(state) else "4" if travel.no_closed(state) else ""
        return values | ({f"{n}1-{n}{way}": Value(CONTACT_OHM) for n in (1, 2)} if way else {})

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return self._drive(params, {**state, "by_hand": True}, value, now_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        least = number(params, "coil_voltage_v") * number(params, "pick_up_percent") / 100
        # A coil that carries nothing (open winding) pulls nothing, whatever its voltage.
        pulls = {name: signals[name].rms_v >= least and signals[name].rms_a > 0 for name in COILS}
        if pulls["set"] != pulls["reset"]:
            return self._drive(params, {**state, "by_hand": False}, pulls["set"], now_us)
        stands = {travel.REST: False, travel.HOME: True}.get(int(state["position"] or 0))
        if stands is None or state["driven"] == stands or state["by_hand"]:
            return state  # Past the middle its spring carries it on.
        return self._drive(params, state, stands, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        return travel.step(state, self._times_us(params)[1], now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        status = "reset" if travel.nc_closed(state) else "set" if travel.no_closed(state) else "moving"
        return View(status, status == "set", on={"lever": bool(state["driven"])})

    def _drive(self, params: Params, state: DeviceState, driven: bool, now_us: int) -> DeviceState:
        moving = travel.drive(state, driven, *self._times_us(params), now_us)
        return state if moving == state else moving

    @staticmethod
    def _times_us(params: Params) -> tuple[int, int]:
        return travel.times_us(number(params, "travel_ms"))
