"""Earth-leakage relay with its core-balance transformer: all conductors of a circuit through one window."""

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
    ends_of,
    names_of,
    number,
)

WAYS: Final = (("1", "2"), ("3", "4"), ("5", "6"), ("7", "8"))


class EarthLeakageRelay(watch_relay.WatchRelay):
    """The phasors of what goes and comes add up to what leaks to earth (IEC 60947-2, annex M).

    Trips at its rated residual current after its delay, and never at half of it. The protective conductor
    stays outside.
    """

    name = "earth_leakage_relay"
    title = "Earth-leakage relay, core-balance"
    rank = 90
    params = (
        Param("residual_a", "Rated residual current", 0.3, "A", 0.01, 30.0, set_on_site=True),
        Param("delay_s", "Delay", 0.1, "s", 0.02, 10.0, set_on_site=True),
        watch_relay.RESET,
        *watch_relay.SUPPLY,
    )
    terminals = (*watch_relay.TERMINALS, *(Terminal(name) for way in WAYS for name in way))
    branches = (*watch_relay.BRANCHES, *(Branch(f"{a}-{b}", a, b, Role.PATH) for a, b in WAYS))
    parts = (
        Part(
            "window",
            "Core-balance transformer",
            "core_balance",
            Does.FEELS_CURRENT,
            ends_of(WAYS),
            names_of(WAYS),
        ),
        *watch_relay.PARTS,
    )
    balances = frozenset(names_of(WAYS))
    findings = ("earth leakage",)

    SEES_FROM: Final = 0.8
    """Share of the rated residual current from which it trips: between a half and one."""

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {f"{a}-{b}": Value(1e-4) for a, b in WAYS}

    def limits(self, params: Params) -> Mapping[str, str]:
        amperes, seconds = self.SEES_FROM * number(params, "residual_a"), number(params, "delay_s")
        return {"earth_leakage": f"its limit is {amperes:g} A that do not come back, for {seconds:g} s"}

    @staticmethod
    def residual_a(signals: Mapping[str, Signal]) -> float:
        """What the transformer sees, amperes."""
        return abs(sum((signals[f"{a}-{b}"].current_a for a, b in WAYS), 0j))

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        limit = self.SEES_FROM * number(params, "residual_a")
        if watching.above(self.residual_a(signals), limit):
            return {"earth leakage": number(params, "delay_s")}
        return {}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        seen = super().view(params, state, signals)
        residual = Figure("Residual current", self.residual_a(signals), "A")
        return View(seen.status, seen.active, seen.attention, figures=(residual,))
