"""Thermistor relay: watches the PTC string in a motor's windings."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import watch_relay, watching
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Branch, DeviceState, Params, Part, Role, Terminal


class ThermistorRelay(watch_relay.WatchRelay):
    """Trips above 3.6 kohm and is cool again below 1.65 kohm; below 20 ohm the string is shorted (IEC 60947-8).

    It feeds the string with little direct voltage of its own. An interrupted string reads as a hot one, a shorted one
    is told apart.
    """

    remedies = {
        "too_hot": "The windings of the motor are too hot. Let it cool and find out why, then reset.",
        **watch_relay.WatchRelay.remedies,
    }
    name = "thermistor_relay"
    title = "Thermistor relay"
    rank = 80
    params = (watch_relay.RESET, *watch_relay.SUPPLY)
    terminals = (*watch_relay.TERMINALS, Terminal("T1"), Terminal("T2"))
    branches = (*watch_relay.BRANCHES, Branch("string", "T1", "T2", Role.SOURCE))
    parts = (
        Part("string", "Thermistor string", "thermistor_input", Does.TAKES_SIGNALS, ("T1", "T2"), ("string",)),
        *watch_relay.PARTS,
    )
    findings = ("string open", "too hot", "string shorted")

    FEEDS_V: Final = 2.0
    BEHIND_OHM: Final = 2_000.0
    TRIPS_OHM: Final = 3_600.0
    COOL_OHM: Final = 1_650.0
    SHORT_OHM: Final = 20.0
    OPEN_OHM: Final = 50_000.0

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"string": Value(self.BEHIND_OHM, emf_dc_v=self.FEEDS_V)}

    def limits(self, params: Params) -> Mapping[str, str]:
        return {
            "too_hot": f"its limit is {self.TRIPS_OHM / 1000:g} kohm of the string",
            "string_open": f"its limit is {self.OPEN_OHM / 1000:g} kohm of the string",
            "string_shorted": f"its limit is {self.SHORT_OHM:g} ohm of the string",
        }

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        amperes = abs(signals["string"].dc_a)
        ohm = self.FEEDS_V / amperes - self.BEHIND_OHM if amperes > 1e-9 else 1e12
        if watching.above(ohm, self.OPEN_OHM):
            return {"string open": 0.05}
        if watching.above(ohm, self.TRIPS_OHM if state["ready"] else self.COOL_OHM):
            return {"too hot": 0.05}
        return {"string shorted": 0.05} if watching.below(ohm, self.SHORT_OHM) else {}
