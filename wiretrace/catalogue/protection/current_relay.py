"""Relays that watch the currents of a motor: phase failure by current, and the star point of a star-delta motor."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery import watch_relay, watching
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    ends_of,
    names_of,
    number,
)

WAYS: Final = (("1", "2"), ("3", "4"), ("5", "6"))


class CurrentPhaseRelay(watch_relay.WatchRelay):
    """Sees a lost phase by its current: also where a running motor holds up the voltage of the lost one.

    While nothing flows it sees nothing, and is ready.
    """

    name = "current_phase_relay"
    title = "Phase-failure relay, by current"
    rank = 75
    params = (
        Param("least_a", "Watches from", 0.5, "A", 0.05, 100.0, set_on_site=True),
        Param("lost_percent", "Phase counts as lost below, of the largest", 30.0, "%", 5.0, 80.0),
        Param("delay_s", "Delay", 1.0, "s", 0.05, 30.0, set_on_site=True),
        watch_relay.RESET,
        *watch_relay.SUPPLY,
    )
    terminals = (*watch_relay.TERMINALS, *(Terminal(name) for way in WAYS for name in way))
    branches = (*watch_relay.BRANCHES, *(Branch(f"{a}-{b}", a, b, Role.PATH) for a, b in WAYS))
    parts = (
        Part(
            "windows",
            "Current transformers",
            "current_windows",
            Does.FEELS_CURRENT,
            ends_of(WAYS),
            names_of(WAYS),
        ),
        *watch_relay.PARTS,
    )
    findings = ("phase lost",)

    def limits(self, params: Params) -> Mapping[str, str]:
        share, seconds = number(params, "lost_percent"), number(params, "delay_s")
        return {"phase_lost": f"its limit is {share:g} % of the largest current in one line, for {seconds:g} s"}

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {f"{a}-{b}": Value(1e-4) for a, b in WAYS}

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        amperes = [signals[f"{a}-{b}"].rms_a for a, b in WAYS]
        flows = watching.above(max(amperes), number(params, "least_a"))
        lost = watching.below(min(amperes), max(amperes) * number(params, "lost_percent") / 100)
        return {"phase lost": number(params, "delay_s")} if flows and lost else {}


class StarPointRelay(watch_relay.WatchRelay):
    """Watches the voltage between the star point of a motor and the neutral: none while the three windings are alike.

    A shorted or open winding, or a lost phase, shifts the star point.
    """

    name = "star_point_relay"
    title = "Neutral-point relay"
    rank = 85
    params = (
        Param("limit_v", "Answers above", 20.0, "V", 2.0, 200.0, set_on_site=True),
        Param("delay_s", "Delay", 0.5, "s", 0.05, 30.0, set_on_site=True),
        Param("input_kohm", "Resistance of the input", 470.0, "kohm", 10.0, 10000.0),
        watch_relay.RESET,
        *watch_relay.SUPPLY,
    )
    terminals = (*watch_relay.TERMINALS, Terminal("S"), Terminal("N"))
    branches = (*watch_relay.BRANCHES, Branch("input", "S", "N", Role.LOAD))
    parts = (
        Part("input", "Star point and neutral", "star_point_input", Does.FEELS_VOLTAGE, ("S", "N"), ("input",)),
        *watch_relay.PARTS,
    )
    findings = ("star point shifted",)

    def limits(self, params: Params) -> Mapping[str, str]:
        volts, seconds = number(params, "limit_v"), number(params, "delay_s")
        return {"star_point_shifted": f"its limit is {volts:g} V, for {seconds:g} s"}

    RATED_V: Final = 230.0

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "input":
            return super().operating(params, branch)
        return Operating(self.RATED_V, self.RATED_V**2 / 1000 / number(params, "input_kohm"))

    def own_values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {"input": Value(1000 * number(params, "input_kohm"))}

    def found(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> Mapping[str, float]:
        shifted = watching.above(signals["input"].rms_v, number(params, "limit_v"))
        return {"star point shifted": number(params, "delay_s")} if shifted else {}
