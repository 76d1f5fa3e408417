"""Control transformer: separates the control circuit, and makes its voltage."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    When,
    number,
)

TAPS = {"none": "no taps", "95_105": "taps at 95 and 105 %"}
PLAIN = When("taps", ("none",))
TAPPED = When("taps", ("95_105",))


class ControlTransformer(Kind):
    """Two windings on one core, by the T equivalent (IEC 61558; any textbook on machines).

    Resistance and leakage are shared equally between the sides. The secondary voltage is rated at full
    load, so that it stands higher by the rise when nothing is loaded.

    Put under voltage at the worst moment its core saturates in the first half waves, and it takes many times its
    rated current for some hundredths of a second: what protects it must let that pass.
    """

    name = "control_transformer"
    title = "Control transformer"
    rank = 50
    group = "supply"
    letter = "T"
    letter_nema = "CPT"
    mounting = "plate"
    params = (
        Param("primary_voltage_v", "Primary voltage", 400.0, "V", 24.0, 690.0),
        Param("secondary_voltage_v", "Secondary voltage at full load", 110.0, "V", 12.0, 400.0),
        Param("rating_va", "Rating", 160.0, "VA", 10.0, 10000.0),
        Param("resistance_percent", "Drop in the resistances", 5.0, "%", 0.5, 20.0),
        Param("leakage_percent", "Drop in the leakage", 3.0, "%", 0.5, 20.0),
        Param("no_load_current_percent", "No-load current", 15.0, "%", 1.0, 60.0),
        Param("frequency_hz", "Frequency", 50.0, "Hz", 16.0, 400.0),
        Param("inrush_times", "Inrush at the worst moment, times rated", 20.0, "", 1.0, 60.0),
        Param("taps", "Primary taps", "none", choices=("none", "95_105"), titles=TAPS),
    )
    terminals = (
        Terminal("1.1", "H1"),
        Terminal("1.2", "H2"),
        Terminal("1.3", "H3", TAPPED),
        Terminal("1.4", "H4", TAPPED),
        Terminal("2.1", "X1"),
        Terminal("2.2", "X2"),
    )
    branches = (
        Branch("primary", "1.1", "1.2", Role.LOAD),
        Branch("tap_1", "1.2", "1.3", Role.LOAD, TAPPED),
        Branch("tap_2", "1.3", "1.4", Role.LOAD, TAPPED),
        Branch("secondary", "2.1", "2.2", Role.SOURCE),
        Branch("core", "1.1", "1.2", Role.LOAD, breaks=()),
    )
    coupled = (("primary", "tap_1", "tap_2", "secondary"),)
    parts = (
        Part(
            "windings",
            "Windings",
            "transformer",
            Does.TRANSFORMS,
            ("1.1", "1.2", "2.1", "2.2"),
            ("primary", "secondary", "core"),
            PLAIN,
            height=11,
        ),
        Part(
            "tapped",
            "Windings",
            "transformer_tapped",
            Does.TRANSFORMS,
            ("1.1", "1.2", "1.3", "1.4", "2.1", "2.2"),
            ("primary", "tap_1", "tap_2", "secondary", "core"),
            TAPPED,
            height=11,
        ),
    )
    poles = {"2.1": ("live", "secondary"), "2.2": ("neutral", "secondary")}

    FEEDS_FROM = 0.5
    """Share of the rated secondary voltage from which it counts as feeding."""

    made_for = {"primary": ("primary_voltage_v", "rating_va")}

    SATURATED: Final = ((1.0, 10_000), (0.4, 20_000), (0.15, 40_000))
    """How its core comes out of saturation: shares of the inrush, RMS, each for so many microseconds."""
    FLUX_FROM: Final = 0.5
    """Share of the primary voltage from which its core is magnetised."""
    FLUX_GOES_US: Final = 20_000
    INRUSH_FLOWS: Final = 0.02
    """Share of the rated current above which an inrush goes on, however far it pulls its own voltage down."""

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "core":
            return super().operating(params, branch)
        return Operating(number(params, "primary_voltage_v"), self._core_va(params, 0), 0.3)

    def _core_va(self, params: Params, stage: int) -> float:
        return number(params, "inrush_times") * self.SATURATED[stage][0] * number(params, "rating_va")

    def initial(self, params: Params) -> DeviceState:
        return {"magnetised": False, "stage": len(self.SATURATED), "flux_at_us": None, "stage_at_us": None}

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        fed = signals["primary"].rms_v >= self.FLUX_FROM * number(params, "primary_voltage_v")
        return {**state, "magnetised": True, "stage": 0} if fed and not state["magnetised"] else state

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        stage, due, goes_at = int(state["stage"] or 0), state["stage_at_us"], state["flux_at_us"]
        if due is None and stage < len(self.SATURATED):
            due = now_us + self.SATURATED[stage][1]
        if not state["magnetised"] or self._magnetises(params, stage, signals):
            goes_at = None
        elif goes_at is None:
            goes_at = now_us + self.FLUX_GOES_US
        return {**state, "stage_at_us": due, "flux_at_us": goes_at}

    def _magnetises(self, params: Params, stage: int, signals: Mapping[str, Signal]) -> bool:
        """Does what feeds it keep up its flux?"""
        volts = number(params, "primary_voltage_v")
        if signals["primary"].rms_v >= self.FLUX_FROM * volts:
            return True
        # Behind a bad joint the inrush itself takes the voltage away: that is no switching off, which would begin it
        # anew, and so for ever.
        flows = signals["core"].rms_a >= self.INRUSH_FLOWS * number(params, "rating_va") / volts
        return stage < len(self.SATURATED) and flows

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["flux_at_us"] == now_us:
            return self.initial(params)
        if state["stage_at_us"] == now_us:
            return {**state, "stage": int(state["stage"] or 0) + 1, "stage_at_us": None}
        return state

    def ratings(self, params: Params) -> Ratings:
        return Ratings(gives_va=number(params, "rating_va"))

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        stage = int(state["stage"] or 0)
        if stage == len(self.SATURATED):
            return self._windings(params)
        made_for = Operating(number(params, "primary_voltage_v"), self._core_va(params, stage), 0.3)
        ohm = made_for.voltage_v**2 / made_for.takes_va
        reactance = ohm * math.sqrt(1 - made_for.power_factor**2)
        core = Value(ohm * made_for.power_factor, reactance / (2 * math.pi * number(params, "frequency_hz")))
        return {**self._windings(params), "core": core}

    @staticmethod
    def _windings(params: Params) -> dict[str, Value]:
        """Both windings as they are out of saturation."""
        omega = 2 * math.pi * number(params, "frequency_hz")
        resistance, leakage = (number(params, f"{name}_percent") / 100 for name in ("resistance", "leakage"))
        magnetising = 100 / number(params, "no_load_current_percent")
        rise = 1 + resistance + leakage * leakage / 2
        ratio = number(params, "secondary_voltage_v") * rise / number(params, "primary_voltage_v")
        base = number(params, "primary_voltage_v") ** 2 / number(params, "rating_va")
        own = base * (magnetising + leakage / 2) / omega
        mutual = base * magnetising / omega * ratio * (1 + leakage / 2 / magnetising)
        half = base * resistance / 2
        # The ratio holds between the open-circuit voltages: the mutual flux is a little less than all.
        turns = ratio * (1 + leakage / 2 / magnetising)
        # Sections of the primary as shares of its rated turns: to the lower tap, to the rated, to the upper.
        shares = {"primary": 0.95, "tap_1": 0.05, "tap_2": 0.05} if params["taps"] != "none" else {"primary": 1.0}
        flux = base * magnetising / omega
        sections = {
            name: Value(
                half * share,
                own * share**2,
                mutual=(
                    *((other, 0.0, flux * share * more) for other, more in shares.items() if other != name),
                    ("secondary", 0.0, mutual * share),
                ),
            )
            for name, share in shares.items()
        }
        across = tuple((name, 0.0, mutual * share) for name, share in shares.items())
        return {**sections, "secondary": Value(half * turns**2, own * turns**2, mutual=across)}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        share = abs(signals["secondary"].voltage_v) / number(params, "secondary_voltage_v")
        feeds = share >= self.FEEDS_FROM
        return View("feeds" if feeds else "dead", feeds)
