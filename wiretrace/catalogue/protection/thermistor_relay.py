"""Thermistor relay: watches the PTC string in a motor's windings."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import watch_relay, watching
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Branch, DeviceState, Param, Params, Part, Role, Terminal
from wiretrace.catalogue.machinery.temperature_sensors import SENSORS, TITLES


class ThermistorRelay(watch_relay.WatchRelay):
    """Watches the sensors in a motor's windings: PTC thermistors trip it above 3.6 kohm, and are cool again below 1.65
    kohm; below 20 ohm their string is shorted (IEC 60947-8). It can be set for a Pt100 or an NTC thermistor instead.

    It feeds the sensor with little direct voltage of its own, and tells an interrupted and a shorted one apart. Set
    for another sensor than there is, it trips at once, or never.
    """

    remedies = {
        "too_hot": "The windings of the motor are too hot. Let it cool and find out why, then reset.",
        **watch_relay.WatchRelay.remedies,
    }
    name = "thermistor_relay"
    title = "Thermistor relay"
    rank = 80
    params = (
        Param("sensors", "Set for", "ptc", choices=tuple(SENSORS), titles=TITLES, set_on_site=True),
        watch_relay.RESET,
        *watch_relay.SUPPLY,
    )
    terminals = (*watch_relay.TERMINALS, Terminal("T1"), Terminal("T2"))
    branches = (*watch_relay.BRANCHES, Branch("string", "T1", "T2", Role.SOURCE))
    parts = (
        Part("string", "Thermistor string", "thermistor_input", Does.TAKES_SIGNALS, ("T1", "T2"), ("string",)),
        *watch_relay.PARTS,
    )
    findings = ("string open", "too hot", "string shorted")

    FEEDS_V: Final = 2.0
    BEHIND_OHM: Final = 2_000.0

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"string": Value(self.BEHIND_OHM, emf_dc_v=self.FEEDS_V)}

    def limits(self, params: Params) -> Mapping[str, str]:
        sensor = SENSORS[str(params["sensors"])]
        return {
            "too_hot": f"its limit is {sensor.trips_ohm:g} ohm of the sensor",
            "string_open": f"its limit is {sensor.open_ohm:g} ohm of the sensor",
            "string_shorted": f"its limit is {sensor.shorted_ohm:g} ohm of the sensor",
        }

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        amperes = abs(signals["string"].dc_a)
        ohm = self.FEEDS_V / amperes - self.BEHIND_OHM if amperes > 1e-9 else 1e12
        sensor = SENSORS[str(params["sensors"])]
        if watching.above(ohm, sensor.open_ohm):
            return {"string open": 0.05}
        if watching.below(ohm, sensor.shorted_ohm):
            return {"string shorted": 0.05}
        limit = sensor.trips_ohm if state["ready"] else sensor.cool_ohm
        return {"too hot": 0.05} if sensor.is_hot(ohm, limit, watching.SURELY) else {}

    def tells_by(self, params: Params) -> str:
        return str(params["sensors"])
