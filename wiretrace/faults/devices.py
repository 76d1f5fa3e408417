"""Faults of a whole device: it does not move, a parameter is set wrong, something was done to it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from wiretrace.circuit.checked import Installed, value_fault
from wiretrace.circuit.document import Finite, Id, Text, Whole
from wiretrace.faults.fault import Fault, Setting


@dataclass(frozen=True)
class OnDevice(Fault):
    """A fault of a whole device."""

    place: Id

    @property
    def where(self) -> str:
        return self.place

    def misfit(self, devices: Mapping[str, Installed], links: set[str]) -> str | None:
        item = devices.get(self.place)
        return f"There is no device {self.place}." if item is None else self._on(item)

    def _on(self, item: Installed) -> str | None:
        """Why this device cannot have it."""
        return None


@dataclass(frozen=True)
class Stuck(OnDevice):
    """A device that does not move."""

    kind: Literal["stuck"] = "stuck"

    @property
    def holds(self) -> bool:
        return True


@dataclass(frozen=True)
class WrongSetting(OnDevice):
    """A parameter `name` that is set to `value`."""

    name: Text
    value: bool | Whole | Finite | Annotated[str, Field(max_length=2000)]
    kind: Literal["setting"] = "setting"

    def _on(self, item: Installed) -> str | None:
        param = next((p for p in item.kind.params if p.name == self.name), None)
        if param is None:
            return f"{item.label} has no {self.name} to set."
        conditions = [*(t.when for t in item.kind.terminals), *(p.when for p in item.kind.parts)]
        if any(when is not None and when.param == self.name for when in conditions):
            return f"{item.label}: {param.title} changes what the device is made of; that is another circuit."
        wrong = value_fault(param, self.value)
        return None if wrong is None else f"{item.label}: {param.title} {wrong}."

    def settings(self) -> Mapping[str, Setting]:
        return {self.name: self.value}


@dataclass(frozen=True)
class Operated(OnDevice):
    """An operation `name` that somebody did, once."""

    name: Text
    value: bool = True
    kind: Literal["operated"] = "operated"

    def _on(self, item: Installed) -> str | None:
        known = {operation.name for operation in item.kind.operations}
        return None if self.name in known else f"{item.label} has no {self.name} to work."

    def done(self) -> tuple[str, bool] | None:
        return self.name, self.value
