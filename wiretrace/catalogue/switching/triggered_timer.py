"""Timer with a supply that stays and a trigger of its own, with a timed and an instantaneous contact."""

from collections.abc import Mapping

from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Terminal,
    View,
    due_us,
    number,
)
from wiretrace.catalogue.switching.timers import DELAYS, RELAY_S, SUPPLY, WORKS_FROM, Timer


class TriggeredTimer(Timer):
    """Timed contact 15-16-18 and instantaneous contact 25-26-28, which follows the trigger B1 (IEC 61812-1).

    On-delay and off-delay count from the trigger's coming and going; one-shot makes a pulse of its own length from a
    trigger of any. Without supply it falls to rest.
    """

    name = "timer_triggered"
    title = "Timer relay, with trigger"
    rank = 45
    params = (
        Param("mode", "Function", "off_delay", choices=("on_delay", "off_delay", "one_shot"), titles=DELAYS),
        Param("delay_s", "Time", 5.0, "s", 0.05, 36000.0, set_on_site=True),
        *SUPPLY,
        Param("trigger_ma", "Current of the trigger", 1.0, "mA", 0.05, 20.0),
    )
    terminals = tuple(Terminal(name) for name in ("A1", "A2", "B1", "15", "16", "18", "25", "26", "28"))
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        Branch("trigger", "B1", "A2", Role.LOAD),
        *(Branch(f"{n}5-{n}{to}", f"{n}5", f"{n}{to}", Role.CONTACT) for n in (1, 2) for to in (6, 8)),
    )
    parts = (
        Part("coil", "Supply and trigger", "trigger_coil", Does.OPERATES, ("A1", "A2", "B1"), ("coil", "trigger")),
        *(
            changeover(f"{n}5", f"{n}6", f"{n}8", title=title, timed=n == 1)
            for n, title in ((1, "Timed changeover"), (2, "Changeover"))
        ),
    )

    def operating(self, params: Params, branch: str) -> Operating | None:
        if branch != "trigger":
            return super().operating(params, branch)
        volts = number(params, "supply_voltage_v")
        return Operating(volts, volts * number(params, "trigger_ma") / 1000)

    def initial(self, params: Params) -> DeviceState:
        return {**super().initial(params), "triggered": False, "over": False, "follows_at_us": None}

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        trigger = Value(1000 * number(params, "supply_voltage_v") / number(params, "trigger_ma"))
        timed = "15-18" if state["phase"] == 1 else "15-16"
        instant = "25-28" if state["over"] else "25-26"
        contacts = dict.fromkeys((timed, instant), Value(CONTACT_OHM))
        return {"coil": self.supply_value(params), "trigger": trigger, **contacts}

    def sense(self, params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> DeviceState:
        least = WORKS_FROM * number(params, "supply_voltage_v")
        fed = signals["coil"].rms_v >= least and signals["coil"].rms_a > 0
        triggered = fed and signals["trigger"].rms_v >= least
        if fed == state["energised"] and triggered == state["triggered"]:
            return state
        phase, mode = int(state["phase"] or 0), params["mode"]
        follows = due_us(now_us, RELAY_S) if triggered != state["over"] else None
        state = {**state, "energised": fed, "triggered": triggered, "follows_at_us": follows}
        if not fed:
            wanted, seconds = 0, RELAY_S if phase else None
        elif mode == "one_shot":
            # A pulse that has begun goes on whatever the trigger does.
            if not triggered or phase or state["changes_at_us"] is not None:
                return state
            wanted, seconds = 1, RELAY_S
        elif mode == "off_delay":
            wanted, seconds = (1, RELAY_S if not phase else None) if triggered else (0, number(params, "delay_s"))
            seconds = None if not triggered and not phase else seconds
        else:
            wanted, seconds = (1, number(params, "delay_s")) if triggered else (0, RELAY_S if phase else None)
        return {**state, "next_phase": wanted, "changes_at_us": due_us(now_us, seconds)}

    def advance(self, params: Params, state: DeviceState, now_us: int) -> DeviceState:
        if state["follows_at_us"] == now_us:
            state = {**state, "over": state["triggered"], "follows_at_us": None}
        return super().advance(params, state, now_us)

    def follows(self, params: Params, works: bool, phase: int) -> tuple[float, int] | None:
        pulse = params["mode"] == "one_shot" and works and phase == 1
        return (number(params, "delay_s"), 0) if pulse else None

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        if state["changes_at_us"] is not None:
            return View("timing", state["phase"] == 1)
        return View("switched" if state["phase"] == 1 else "at_rest", state["phase"] == 1)
