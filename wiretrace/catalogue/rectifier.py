"""Bridge rectifier: direct voltage from alternating voltage, without anything that regulates it."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.device import Kind
from wiretrace.catalogue.direct import AGREES
from wiretrace.catalogue.element import Signal, Value
from wiretrace.catalogue.purpose import Does, Operating, Ratings
from wiretrace.catalogue.structure import Branch, DeviceState, Figure, Param, Params, Part, Role, Terminal, View, number


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
    momentary = frozenset({"gives_v", "input_ohm"})

    MEAN: Final = 0.9
    DIODES_V: Final = 1.4
    IDLE_OHM: Final = 1e6

    def operating(self, params: Params, branch: str) -> Operating | None:
        volts = number(params, "rated_voltage_v")
        return Operating(volts, volts * number(params, "rated_current_a")) if branch == "input" else None

    def ratings(self, params: Params) -> Ratings:
        gives = self.MEAN * number(params, "rated_voltage_v") * number(params, "rated_current_a")
        return Ratings(gives_va=gives, feeds_direct=True)

    def initial(self, params: Params) -> DeviceState:
        return {"gives_v": 0.0, "input_ohm": self.IDLE_OHM}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        output = Value(number(params, "resistance_ohm"), emf_dc_v=float(state["gives_v"] or 0.0))
        values = {"input": Value(float(state["input_ohm"] or 1.0))}
        return values | ({"output": output} if state["gives_v"] else {})

    def adapt(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        supply, out = signals["input"], signals["output"]
        gives = max(0.0, self.MEAN * abs(supply.voltage_v) - self.DIODES_V)
        before, ohm = float(state["gives_v"] or 0.0), float(state["input_ohm"] or 1.0)
        given_w = before * abs(out.dc_a)
        idle_w = abs(supply.voltage_v) ** 2 / self.IDLE_OHM
        wanted = abs(supply.voltage_v) ** 2 / (given_w + idle_w) if idle_w > 0 else self.IDLE_OHM
        return {
            "gives_v": before if abs(gives - before) <= AGREES * max(1.0, gives) else gives,
            "input_ohm": ohm if abs(wanted - ohm) <= AGREES * ohm else wanted,
        }

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        on = bool(state["gives_v"])
        current = Figure("Direct current", abs(signals["output"].dc_a), "A")
        return View("on" if on else "off", on, figures=(current,))
