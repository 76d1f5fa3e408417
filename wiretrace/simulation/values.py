"""What every branch is worth in a state, faults included."""

from collections.abc import Mapping, Sequence

from wiretrace.catalogue.element import Value
from wiretrace.catalogue.structure import JAMMED, DeviceState, Params
from wiretrace.circuit.checked import Installed
from wiretrace.faults.fault import Fault
from wiretrace.simulation.state import State
from wiretrace.simulation.wiring import Wiring


class Values:
    """Values of the branches of a wiring, by number; None where open.

    The last state of each device is remembered with its values: most devices stand still most of the time.
    """

    def __init__(self, wiring: Wiring, faults: Sequence[Fault]) -> None:
        self._wiring = wiring
        self._faults = tuple(faults)
        self._params = {item.id: item.params for item in wiring.devices.values()}
        self._known: dict[str, tuple[DeviceState, Params, Mapping[str, Value]]] = {}

    def params(self, now_us: int) -> Mapping[str, Params]:
        """The parameters of every device, with those that a fault has set wrong."""
        wrong = [(fault.where, fault.settings()) for fault in self._faults if fault.settings() and fault.active(now_us)]
        wrong += [(name, {JAMMED: True}) for name in self._stuck(now_us) if self._wiring.devices[name].kind.jams]
        if not wrong:
            return self._params
        params = dict(self._params)
        for name, settings in wrong:
            params[name] = {**params[name], **settings}
        return params

    def held(self, now_us: int) -> set[str]:
        """Devices that a fault keeps where they are."""
        return {name for name in self._stuck(now_us) if not self._wiring.devices[name].kind.jams}

    def _stuck(self, now_us: int) -> list[str]:
        return [fault.where for fault in self._faults if fault.holds and fault.active(now_us)]

    def changed(self, state: State, values: list[Value | None], devices: Sequence[Installed]) -> list[Value | None]:
        """The values after only these devices changed; the same list when they are worth what they were."""
        if self._faults:
            return self.in_state(state)
        fresh = values
        for item in devices:
            of_device = item.kind.values(item.params, state.devices[item.id])
            self._known[item.id] = (state.devices[item.id], item.params, of_device)
            for index, name in self._wiring.branches_of[item.id]:
                value = of_device.get(name)
                if value is not values[index] and value != values[index]:
                    fresh = list(values) if fresh is values else fresh
                    fresh[index] = value
        return fresh

    def in_state(self, state: State) -> list[Value | None]:
        """What every branch is worth in a state."""
        values = list(self._wiring.fixed)
        params = self.params(state.time_us)
        for item in self._wiring.devices.values():
            of_device = self._of_device(item, state.devices[item.id], params[item.id])
            for index, name in self._wiring.branches_of[item.id]:
                values[index] = of_device.get(name)
        for fault, extras in zip(self._faults, self._wiring.extras, strict=True):
            active = fault.active(state.time_us)
            for extra in extras:
                values[extra.index] = extra.added.with_fault if active else extra.added.without
                for index in extra.added.replaces if active else ():
                    values[index] = None
            if active:
                fault.disturb(values, self._wiring)
        return values

    def _of_device(self, item: Installed, state: DeviceState, params: Params) -> Mapping[str, Value]:
        known = self._known.get(item.id)
        # A parameter that a fault sets makes another mapping each time: then nothing is remembered.
        if known is None or known[0] is not state or known[1] is not params:
            known = self._known[item.id] = (state, params, item.kind.values(params, state))
        return known[2]
