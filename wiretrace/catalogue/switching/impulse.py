"""Impulse relay: each pulse on its coil changes it over."""

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


class ImpulseRelay(Kind):
    """One coil, one changeover: the first pulse puts it over, the next one back (IEC 60669-2-2). It remembers
    without supply; a pulse that is held counts once.
    """

    remedies = {
        "on": "It keeps this position without voltage, until the next pulse at its coil.",
        "off": "It keeps this position without voltage, until the next pulse at its coil.",
    }
    name = "impulse_relay"
    title = "Impulse relay"
    rank = 36
    group = "switching"
    letter = "K"
    letter_nema = "CR"
    mounting = "plate"
    actuator = Actuator.PULSE
    racing = ("travel_ms",)
    made_for = {"coil": ("coil_voltage_v", "coil_va", "coil_power_factor")}
    params = (
        Param("coil_voltage_v", "Coil voltage", 230.0, "V", 6.0, 690.0),
        Param("coil_frequency_hz", "Coil frequency", 50.0, "Hz", 16.0, 400.0),
        Param("coil_va", "Power taken by the coil", 5.0, "VA", 0.1, 200.0),
        Param("coil_power_factor", "Power factor of the coil", 0.6, "", 0.05, 1.0),
        Param("pick_up_percent", "Answers from", 80.0, "%", 50.0, 110.0),
        Param("travel_ms", "Time to change over", 30.0, "ms", 1.0, 200.0),
    )
    terminals = tuple(Terminal(name) for name in ("A1", "A2", "11", "12", "14"))
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        *(Branch(f"11-1{to}", "11", f"1{to}", Role.CONTACT) for to in (2, 4)),
    )
    parts = (
        Part("coil", "Coil", "impulse_coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        changeover("11", "12", "14"),
    )
    operations = (
        Operation("step", "Step by hand", "pulse", "By hand only when isolated and locked out.", dead_only=True),
    )

    def ratings(self, params: Params) -> Ratings:
        return Ratings(holds_from=number(params, "pick_up_percent") / 100)

    def initial(self, params: Params) -> DeviceState:
        return {**travel.AT_REST, "pulsed": False}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        values = {"coil": self.load_value(params, "coil", number(params, "coil_frequency_hz"))}
        way = "2" if travel.nc_closed(state) else "4" if travel.no_closed(state) else ""
        return values | ({f"11-1{way}": Value(CONTACT_OHM)} if way else {})

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        return self._stepped(params, state, now_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        least = number(params, "coil_voltage_v") * number(params, "pick_up_percent") / 100
        pulsed = signals["coil"].rms_v >= least and signals["coil"].rms_a > 0
        if pulsed == state["pulsed"]:
            return state
        state = {**state, "pulsed": pulsed}
        return self._stepped(params, state, now_us) if pulsed else state

    def _stepped(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        return travel.drive(state, not state["driven"], *travel.times_us(number(params, "travel_ms")), now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        return travel.step(state, travel.times_us(number(params, "travel_ms"))[1], now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        status = "off" if travel.nc_closed(state) else "on" if travel.no_closed(state) else "moving"
        return View(status, status == "on")
