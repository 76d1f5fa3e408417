"""What every branch is worth in a state, faults included."""

from collections.abc import Mapping, Sequence

from wiretrace.catalogue.machinery.element import Value
from wiretrace.catalogue.machinery.structure import JAMMED, DeviceState, Params
from wiretrace.faults.fault import Fault
from wiretrace.simulation.graph import Graph
from wiretrace.simulation.state import State

Sound = tuple[Mapping[str, DeviceState], Mapping[str, Params], Sequence[Value | None]]
"""Where every device is, its parameters, and what the branches are worth without what faults do to them."""


class Values:
    """Values of the branches of a graph, by number; None where open.

    What was worked out last is remembered: most devices stand still most of the time. It is replaced as a whole and
    never changed, so that threads which share a circuit do not disturb each other.
    """

    def __init__(self, graph: Graph, faults: Sequence[Fault]) -> None:
        self._graph = graph
        self._faults = tuple(faults)
        self._setting = [fault for fault in self._faults if fault.settings() or fault.holds]
        sound = {item.id: item.params for item in graph.devices.values()}
        self._params: dict[tuple[bool, ...], Mapping[str, Params]] = {(False,) * len(self._setting): sound}
        self._each = [(name, item.kind, graph.branches_of[name]) for name, item in graph.devices.items()]
        self._last: Sound = ({}, {}, graph.fixed)

    def params(self, now_us: int) -> Mapping[str, Params]:
        """The parameters of every device, with those that a fault has set wrong."""
        active = tuple(fault.active(now_us) for fault in self._setting)
        known = self._params.get(active)
        if known is None:
            known = self._params[active] = self._set(active)
        return known

    def _set(self, active: tuple[bool, ...]) -> Mapping[str, Params]:
        params = {item.id: item.params for item in self._graph.devices.values()}
        for fault, there in zip(self._setting, active, strict=True):
            jammed = {JAMMED: True} if fault.holds and self._graph.devices[fault.where].kind.jams else {}
            if there and (fault.settings() or jammed):
                params[fault.where] = {**params[fault.where], **fault.settings(), **jammed}
        return params

    def held(self, now_us: int) -> set[str]:
        """Devices that a fault keeps where they are."""
        stuck = {fault.where for fault in self._setting if fault.holds and fault.active(now_us)}
        return {name for name in stuck if not self._graph.devices[name].kind.jams}

    def in_state(self, state: State, near: list[Value | None] | None = None) -> list[Value | None]:
        """What every branch is worth in a state; the list `near` itself where that says the same."""
        values = list(self._sound(state))
        for fault, extras in zip(self._faults, self._graph.extras, strict=True):
            active = fault.active(state.time_us)
            for extra in extras:
                values[extra.index] = extra.added.with_fault if active else extra.added.without
                for index in extra.added.replaces if active else ():
                    values[index] = None
            if active:
                fault.disturb(values, self._graph)
        return near if near is not None and near == values else values

    def _sound(self, state: State) -> Sequence[Value | None]:
        """Without what faults do to branches: worked out anew for devices that are not where they were."""
        devices, params, before = self._last
        now = self.params(state.time_us)
        values: list[Value | None] | None = None
        for device, kind, branches in self._each:
            there = state.devices[device]
            if devices.get(device) is there and params.get(device) is now[device]:
                continue
            of_device = kind.values(now[device], there)
            for index, name in branches:
                value = of_device.get(name)
                # A value that is equal stays the same object: what was worked out of it is known by that.
                if value is not before[index] and value != before[index]:
                    values = list(before) if values is None else values
                    values[index] = value
        known = before if values is None else values
        self._last = (state.devices, now, known)
        return known
