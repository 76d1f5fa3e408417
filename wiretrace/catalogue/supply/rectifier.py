"""Bridge rectifier: direct voltage from alternating voltage, without anything that regulates it."""

import math
from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating, Ratings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Diode,
    Figure,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    number,
)
from wiretrace.catalogue.supply.direct import AGREES


class Rectifier(Kind):
    """Gives 0.9 of the RMS voltage as direct voltage, less two diodes, and takes in what it gives (IEC 60146).

    Its direct voltage falls with the alternating one at once.
    """

    name = "rectifier"
    title = "Bridge rectifier"
    rank = 45
    group = "supply"
    letter = "T"
    letter_nema = "REC"
    mounting = "plate"
    params = (
        Param("rated_voltage_v", "Rated alternating voltage", 230.0, "V", 6.0, 690.0),
        Param("rated_current_a", "Rated direct current", 2.0, "A", 0.05, 100.0),
        Param("resistance_ohm", "Resistance of the way", 0.1, "ohm", 1e-3, 10.0),
    )
    terminals = (Terminal("~1"), Terminal("~2"), Terminal("+"), Terminal("-"))
    branches = (Branch("input", "~1", "~2", Role.LOAD), Branch("output", "-", "+", Role.SOURCE))
    parts = (Part("rectifier", "Rectifier", "rectifier", Does.TRANSFORMS, ("~1", "~2", "+", "-"), ("input", "output")),)
    poles = {"+": ("live", "output"), "-": ("neutral", "output")}
    electronic = True
    momentary = frozenset({"gives_v", "input_ohm", "low_ohm", "high_ohm"})

    MEAN: Final = 0.9
    DIODES_V: Final = 1.4
    IDLE_OHM: Final = 1e6
    LEAST_OHM: Final = 1e-6
    TRUSTED: Final = 6
    """Looks in one instant that go where the load points; then what is known to lie on either side is halved."""
    LOOKS: Final = 45
    """Looks after which there is no voltage that agrees with itself: joined to itself, it gives nothing that stays."""

    def operating(self, params: Params, branch: str) -> Operating | None:
        volts = number(params, "rated_voltage_v")
        return Operating(volts, volts * number(params, "rated_current_a")) if branch == "input" else None

    def ratings(self, params: Params) -> Ratings:
        gives = self.MEAN * number(params, "rated_voltage_v") * number(params, "rated_current_a")
        return Ratings(gives_va=gives, feeds_direct=True)

    OPEN: Final[Mapping[str, float]] = {"low_ohm": LEAST_OHM, "high_ohm": IDLE_OHM}

    def diodes(self, params: Params) -> tuple[Diode, ...]:
        """Four: from either input to plus, and from minus to either input."""
        return tuple(
            Diode(anode, cathode, "input") for side in ("~1", "~2") for anode, cathode in ((side, "+"), ("-", side))
        )

    def initial(self, params: Params) -> DeviceState:
        return {"gives_v": 0.0, "input_ohm": self.IDLE_OHM, **self.OPEN, "looks": 0}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        output = Value(number(params, "resistance_ohm"), emf_dc_v=float(state["gives_v"] or 0.0))
        values = {"input": Value(float(state["input_ohm"] or 1.0))}
        return values | ({"output": output} if state["gives_v"] else {})

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        """Take in what is given: as many ohms as the load has, seen through the bridge.

        More ohms leave it more volts, and more volts want fewer ohms; so there is one number that agrees with itself.
        A short circuit behind a weak source would else be looked for without end.
        """
        volts, ohm = abs(signals["input"].voltage_v), float(state["input_ohm"] or 1.0)
        before, looks = float(state["gives_v"] or 0.0), int(state["looks"] or 0)
        gives = max(0.0, self.MEAN * volts - self.DIODES_V)
        if volts == 0 or gives == before == 0:
            # What gives nothing is idle at once, however often one looks.
            return {**state, "gives_v": 0.0, "input_ohm": self.IDLE_OHM}
        wanted = self._wanted_ohm(volts, gives, before, abs(signals["output"].dc_a))
        settled = abs(wanted - ohm) <= AGREES * ohm and abs(gives - before) <= AGREES * max(1.0, gives)
        if settled or looks > self.LOOKS:
            return state
        if looks == self.LOOKS:
            return {**state, "gives_v": 0.0, "input_ohm": self.IDLE_OHM, "looks": looks + 1}
        low, high = float(state["low_ohm"] or 0.0), float(state["high_ohm"] or 0.0)
        if before > 0:
            low, high = (max(low, ohm), high) if wanted > ohm else (low, min(high, ohm))
        inside = low < wanted < high
        nearer = wanted if inside and looks < self.TRUSTED else math.sqrt(low * high)
        return {"gives_v": gives, "input_ohm": nearer, "low_ohm": low, "high_ohm": high, "looks": looks + 1}

    def _wanted_ohm(self, volts: float, gives: float, before: float, amperes: float) -> float:
        """Ohms that take in what is given at these volts, and a little besides."""
        if volts == 0 or gives == 0 or before == 0 or amperes == 0:
            return self.IDLE_OHM
        given_w = gives**2 * amperes / before
        return max(self.LEAST_OHM, volts**2 / (given_w + volts**2 / self.IDLE_OHM))

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        return {**state, **self.OPEN, "looks": 0}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = bool(state["gives_v"])
        current = Figure("Direct current", abs(signals["output"].dc_a), "A")
        return View("on" if on else "off", on, figures=(current,))
