"""What contactor and relay have in common: a coil that pulls an armature, with hysteresis."""

from collections.abc import Mapping
from typing import ClassVar, Final

from wiretrace.catalogue.machinery import coils, travel
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Actuator, Operating, Ratings
from wiretrace.catalogue.machinery.structure import NETWORK_HZ, DeviceState, Operation, Param, Params, View, number

DEAD_ONLY: Final = "By hand only when isolated and locked out."
DROPS_LATER: Final = {"none": 1.0, "rc": 1.2, "varistor": 1.4, "diode": 5.0}
"""How many times as long a coil takes to drop out with a suppressor across it; a diode is for direct current,
and a short circuit on alternating."""


def coil_params(inrush_va: float, sealed_va: float, pick_up_ms: float, drop_out_ms: float) -> tuple[Param, ...]:
    """The parameters of a coil, with defaults for its size."""
    return (
        Param("coil_kind", "Coil for", "AC", choices=("AC", "DC")),
        Param("coil_voltage_v", "Coil voltage", 230.0, "V", 6.0, 690.0),
        Param("coil_frequency_hz", "Coil frequency", 50.0, "Hz", 16.0, 400.0),
        Param("inrush_va", "Inrush, armature open", inrush_va, "VA", 0.1, 5000.0, sized="inrush_va"),
        Param("inrush_power_factor", "Power factor at inrush", 0.75, "", 0.05, 1.0),
        Param("sealed_va", "Holding, armature closed", sealed_va, "VA", 0.1, 1000.0),
        Param("sealed_power_factor", "Power factor when holding", 0.275, "", 0.05, 1.0),
        Param("coil_power_w", "Power of a DC coil", sealed_va / 2.5, "W", 0.05, 500.0),
        Param("pick_up_percent", "Picks up at", 85.0, "%", 50.0, 110.0),
        Param("drop_out_percent", "Drops out below", 45.0, "%", 5.0, 75.0),
        Param("drop_out_dc_percent", "Drops out below, coil for DC", 15.0, "%", 5.0, 75.0),
        Param(
            "suppressed_by",
            "Suppressor across the coil",
            "none",
            choices=tuple(DROPS_LATER),
            titles={"rc": "RC element"},
        ),
        Param("pick_up_ms", "Time to pick up", pick_up_ms, "ms", 1.0, 200.0),
        Param("drop_out_ms", "Time to drop out", drop_out_ms, "ms", 1.0, 200.0),
    )


class Electromagnet(Kind):
    """A kind with a branch ``coil`` and contacts that its armature moves.

    The coil draws several times its sealed current while the armature is open. It picks up at
    `pick_up_percent` of its rated voltage and lets go only below `drop_out_percent`
    (IEC 60947-4-1, 8.2.1.2: closes at 85 %, drops out between 20 % and 75 %, with direct current 10 % and 75 %).
    Its iron saturates above the rated voltage, so that the current grows faster than that. What the winding
    takes up in heat burns it in the end: held open by force, on too high a voltage, on direct current.
    """

    remedies = {
        "coil_burnt": "A wrong voltage, or an armature that stuck. Measure at A1 and A2, then replace the coil.",
    }
    operations: ClassVar[tuple[Operation, ...]] = (
        Operation("push", "Push the armature in", "momentary", DEAD_ONLY, dead_only=True),
        Operation("replace", "Replace the burnt coil", "pulse", "First find out why it burnt.", repairs="coil_burnt"),
    )

    actuator = Actuator.COIL
    momentary = frozenset({"iron", "iron_low", "iron_high"})
    racing = ("pick_up_ms", "drop_out_ms")

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "coil":
            return None
        volts = number(params, "coil_voltage_v")
        if params["coil_kind"] == "DC":
            return Operating(volts, number(params, "coil_power_w"), direct=True)
        return Operating(volts, number(params, "sealed_va"), number(params, "sealed_power_factor"))

    def ratings(self, params: Params) -> Ratings:
        return Ratings(
            holds_from=number(params, _drop_out(params)) / 100, picks_up_from=number(params, "pick_up_percent") / 100
        )

    def on_network(self, params: Params, frequency_hz: float) -> Params:
        return {**params, NETWORK_HZ: frequency_hz}

    def initial(self, params: Params) -> DeviceState:
        return {**travel.AT_REST, "energised": False, "pushed": False, **coils.SOUND}

    def operate(self, params: Params, state: DeviceState, operation: str, value: bool, now_us: int) -> DeviceState:
        if operation == "replace":
            return {**state, **coils.SOUND}
        return self._drive(params, {**state, "pushed": value}, now_us)

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return coils.saturated(params, state, signals["coil"])

    def evolve(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], span_us: int) -> DeviceState:
        return coils.heated(params, state, signals["coil"], span_us)

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        # A coil for direct current lets its armature go twenty times a cycle and more on alternating current.
        state = coils.watched(params, state, signals["coil"], now_us)
        volts = abs(signals["coil"].dc_v) if params["coil_kind"] == "DC" else signals["coil"].rms_v
        percent = 100 * volts / number(params, "coil_voltage_v")
        # Between the two thresholds the armature stays with what it is doing.
        threshold = _drop_out(params) if state["energised"] else "pick_up_percent"
        # A coil that carries nothing (open winding) pulls nothing, whatever its voltage.
        pulls = percent >= number(params, threshold) and signals["coil"].rms_a > 0
        goes_on = state["driven"] == (pulls or state["pushed"]) and not travel.stalled(state)
        if pulls == state["energised"] and goes_on:
            return state
        return self._drive(params, {**state, "energised": pulls}, now_us)

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        state = coils.burnt(state, now_us)
        return travel.step(state, self._times_us(params, bool(state["driven"]))[1], now_us)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["burnt"]:
            return View("coil_burnt", travel.no_closed(state), attention=True)
        if travel.no_closed(state):
            return View("pulled_in", True)
        return View("dropped_out" if travel.nc_closed(state) else "moving", False)

    def _drive(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        driven = bool(state["energised"] or state["pushed"])
        return travel.drive(state, driven, *self._times_us(params, driven), now_us)

    @staticmethod
    def _times_us(params: Params, driven: bool) -> tuple[int, int]:
        if driven:
            return travel.times_us(number(params, "pick_up_ms"))
        return travel.times_us(number(params, "drop_out_ms") * DROPS_LATER[str(params["suppressed_by"])])

    @staticmethod
    def coil_value(params: Params, state: DeviceState) -> Mapping[str, Value]:
        """The coil as R and L from apparent power and power factor at rated voltage; nothing when it is burnt."""
        return {} if state["burnt"] else {"coil": coils.value(params, state)}


def _drop_out(params: Params) -> str:
    """Name of the parameter that tells below what this coil lets go."""
    return "drop_out_dc_percent" if params["coil_kind"] == "DC" else "drop_out_percent"
