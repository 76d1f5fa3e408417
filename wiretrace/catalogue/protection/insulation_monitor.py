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
    amount,
    number,
)

FRESH: Final = {
    "plus_a": 0.0,
    "minus_a": 0.0,
    "plus": False,
    "minus": False,
    "turned": False,
    "turns_at_us": None,
    "insulation_ohm": 1e10,
}
"""`plus` and `minus`: has it measured with this polarity since what flows has changed?"""


class InsulationMonitor(watch_relay.WatchRelay):
    """Puts a small direct voltage between the circuit and earth and measures what flows (IEC 61557-8).

    It measures with one polarity and with the other: from the difference of the two currents follows the insulation,
    from their mean the direct voltage of the circuit itself, which else would be taken for insulation. Where what
    flows has changed it measures both anew. It sees the insulation of everything that is joined to its terminal L, in
    parallel.
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
    momentary = frozenset(("plus_a", "minus_a", "insulation_ohm"))

    FEEDS_V: Final = 20.0
    INSIDE_OHM: Final = 120_000.0
    TURNS_US: Final = 250_000
    """Time for which it measures with one polarity."""
    SAME: Final = 1e-4
    """Share by which a current may differ and counts as the same."""
    LEAST_A: Final = 1e-9
    TELLS_POLE_KOHM: Final = 1000.0
    """Insulation below which the voltage of the circuit against earth says which pole has the fault."""

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), **FRESH}

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"measuring": Value(self.INSIDE_OHM, emf_dc_v=-self.FEEDS_V if state["turned"] else self.FEEDS_V)}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        measured = self._measured(state, signals["measuring"].dc_a, now_us) if state["fed"] else {**state, **FRESH}
        return super().sense(params, measured, signals, now_us)

    def _measured(self, state: DeviceState, amperes: float, now_us: int) -> DeviceState:
        """What it knows with what flows now; the insulation once both polarities have been measured."""
        which, other = ("minus", "plus") if state["turned"] else ("plus", "minus")
        known, due = amount(state, f"{which}_a"), state["turns_at_us"]
        same = bool(state[which]) and abs(amperes - known) <= self.LEAST_A + self.SAME * abs(amperes)
        if not same or not state[other]:
            at = due if isinstance(due, int) else now_us + self.TURNS_US
            return {**state, which: True, f"{which}_a": known if same else amperes, "turns_at_us": at}
        found = {**state, "turns_at_us": None}
        apart = abs(amount(found, "plus_a") - amount(found, "minus_a"))
        ohm = 2 * self.FEEDS_V / apart - self.INSIDE_OHM if apart > 2 * self.LEAST_A else 1e10
        return {**found, "insulation_ohm": min(1e10, max(0.0, ohm))}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        state = super().advance(params, state, now_us)
        if state["turns_at_us"] != now_us:
            return state
        return {**state, "turned": not state["turned"], "turns_at_us": None}

    def circuit_v(self, state: DeviceState) -> float:
        """Direct voltage of the circuit itself at L, against earth."""
        amperes = (amount(state, "plus_a") + amount(state, "minus_a")) / 2
        return -amperes * (self.INSIDE_OHM + amount(state, "insulation_ohm"))

    def limits(self, params: Params) -> Mapping[str, str]:
        kohm, seconds = number(params, "limit_kohm"), number(params, "delay_s")
        return {"insulation_low": f"its limit is {kohm:g} kohm, for {seconds:g} s"}

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        limit = 1000 * number(params, "limit_kohm")
        low = watching.below(amount(state, "insulation_ohm"), limit)
        return {"insulation low": number(params, "delay_s")} if low else {}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        seen = super().view(params, state, signals)
        ohm = amount(state, "insulation_ohm")
        insulation = Figure("Insulation", min(ohm / 1000, 10_000.0), "kohm")
        if ohm > 1000 * self.TELLS_POLE_KOHM:
            return View(seen.status, seen.active, seen.attention, figures=(insulation,))
        own = Figure("L to earth, by the circuit itself", self.circuit_v(state), "V")
        return View(seen.status, seen.active, seen.attention, figures=(insulation, own))
