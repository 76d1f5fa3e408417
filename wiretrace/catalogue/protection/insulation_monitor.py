"""Insulation monitor: tells the first earth fault of an unearthed circuit, which trips nothing."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import watch_relay, watching
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Figure,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)


class InsulationMonitor(watch_relay.WatchRelay):
    """Puts a small direct voltage between the circuit and earth and measures what flows (IEC 61557-8).

    It sees the insulation of everything that is joined to its terminal L, in parallel.
    """

    name = "insulation_monitor"
    title = "Insulation monitor"
    rank = 95
    params = (
        Param("limit_kohm", "Answers below", 50.0, "kohm", 1.0, 1000.0, set_on_site=True),
        Param("delay_s", "Delay", 0.5, "s", 0.05, 30.0, set_on_site=True),
        watch_relay.RESET,
        *watch_relay.SUPPLY,
    )
    terminals = (*watch_relay.TERMINALS, Terminal("L"), Terminal("E"))
    branches = (*watch_relay.BRANCHES, Branch("measuring", "E", "L", Role.SOURCE))
    parts = (
        Part("measuring", "Circuit and earth", "insulation_input", Does.WATCHES_INSULATION, ("L", "E"), ("measuring",)),
        *watch_relay.PARTS,
    )
    findings = ("insulation low",)

    FEEDS_V: Final = 20.0
    INSIDE_OHM: Final = 120_000.0

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"measuring": Value(self.INSIDE_OHM, emf_dc_v=self.FEEDS_V)}

    def insulation_ohm(self, signals: Mapping[str, Signal]) -> float:
        """Resistance of the circuit to earth; very large without any."""
        amperes = abs(signals["measuring"].dc_a)
        return max(0.0, self.FEEDS_V / amperes - self.INSIDE_OHM) if amperes > 1e-9 else 1e10

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        limit = 1000 * number(params, "limit_kohm")
        return (
            {"insulation low": number(params, "delay_s")} if watching.below(self.insulation_ohm(signals), limit) else {}
        )

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        seen = super().view(params, state, signals)
        insulation = Figure("Insulation", min(self.insulation_ohm(signals) / 1000, 10_000.0), "kohm")
        return View(seen.status, seen.active, seen.attention, figures=(insulation,))
