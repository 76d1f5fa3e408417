"""Flashing relay: while it has its supply its contact goes to and fro."""

from collections.abc import Mapping

from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.element import Signal
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import DeviceState, Param, Params, Part, View, number
from wiretrace.catalogue.switching.timers import SUPPLY, OneChangeover


class Flasher(OneChangeover):
    """One changeover 15-16-18: on for `on_s`, off for `off_s`, beginning with on, for as long as it is fed."""

    name = "flasher"
    title = "Flashing relay"
    rank = 55
    params = (
        Param("on_s", "Time on", 0.5, "s", 0.2, 600.0, set_on_site=True),
        Param("off_s", "Time off", 0.5, "s", 0.2, 600.0, set_on_site=True),
        *SUPPLY,
    )
    parts = (
        Part("coil", "Supply", "flash_coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        changeover("15", "16", "18"),
    )

    def wants(self, params: Params, works: bool, phase: int) -> int:
        return 1 if works else 0

    def follows(self, params: Params, works: bool, phase: int) -> tuple[float, int] | None:
        if not works:
            return None
        return (number(params, "on_s"), 0) if phase == 1 else (number(params, "off_s"), 1)

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if not state["energised"]:
            return View("at_rest", False)
        return View("on" if state["phase"] == 1 else "off", state["phase"] == 1)
