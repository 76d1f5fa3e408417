"""Faults of a whole device: it does not move, a parameter is set wrong, something was done to it."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Final, Literal, Self

from pydantic import Field

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Param
from wiretrace.catalogue.registry import KINDS as KINDS_OF_DEVICE
from wiretrace.document.checked import Installed, value_fault
from wiretrace.document.circuit import Circuit, Finite, Id, Text
from wiretrace.document.circuit import Whole as WholeNumber
from wiretrace.faults.fault import About, Fault, Named, Setting, Sort
from wiretrace.faults.spots import Feature, Spot, Whole
from wiretrace.quantity import number_text

SUPPLIES: Final = (0.58, 0.85, 1.73)
"""A phase for a line, a weak one, a line for a phase."""
COILS_V: Final = (24.0, 110.0, 230.0, 400.0)


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
    about: ClassVar = About(
        title="Stuck",
        forms=("K1=stuck",),
        weight=1.0,
        why="Armatures and pistons stick by dirt and wear.",
        sorts=(Sort.STUCK,),
    )

    @property
    def holds(self) -> bool:
        return True

    def words(self, named: Named) -> str:
        return f"{named.devices[self.place].label} does not move"

    def written(self, named: Named) -> str:
        return f"{named.devices[self.place].label}=stuck"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        return cls(spot.device.id) if isinstance(spot, Whole) and what == "stuck" else None

    @classmethod
    def of_device(cls, item: Installed) -> Iterator[Self]:
        if item.kind.sticks:
            yield cls(item.id)

    def how_to_set(self, named: Named) -> str:
        item = named.devices[self.place]
        if item.kind.jams:
            return f"Not on a board: a blocked {item.label} burns. Show it on the screen."
        return f"Keep {item.label} from moving, with a wedge of insulating material or by its lock."


@dataclass(frozen=True)
class WrongSetting(OnDevice):
    """A parameter `name` that is set to `value`."""

    name: Text
    value: bool | WholeNumber | Finite | Annotated[str, Field(max_length=2000)]
    kind: Literal["setting"] = "setting"
    about: ClassVar = About(
        title="Set wrongly",
        forms=("F2.dial_a=2",),
        weight=1.0,
        why="Somebody turned a dial.",
        rare=0.2,
        rare_why="A part for another voltage was built in, or the supply gives another; a dial stands far off.",
        sorts=(Sort.SETTING,),
    )

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

    def words(self, named: Named) -> str:
        item, param = named.devices[self.place], self._param(named)
        return f"{item.label}: {param.title} set to {self._shown(param)} {param.unit}".rstrip()

    def written(self, named: Named) -> str:
        value = number_text(self.value) if isinstance(self.value, float) else self._shown(self._param(named), ids=True)
        return f"{named.devices[self.place].label}.{self.name}={value}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        if not isinstance(spot, Feature):
            return None
        param = next((p for p in KINDS_OF_DEVICE[spot.device.kind].params if p.name == spot.name), None)
        return None if param is None else cls(spot.device.id, spot.name, _value(param, what))

    @classmethod
    def of_device(cls, item: Installed) -> Iterator[Self]:
        for param in item.kind.params:
            if param.set_on_site:
                for value in _wrong_values(param, item.params[param.name]):
                    yield cls(item.id, param.name, value)

    @classmethod
    def rarely(cls, circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Self]:
        """A supply or a coil of another voltage, a dial ten times as high or as low."""
        for item in devices.values():
            for param in item.kind.params:
                now = item.params[param.name]
                for value in _rare_values(item, param, now) if param.type == "number" else ():
                    if value != now and value_fault(param, value) is None:
                        yield cls(item.id, param.name, value)

    def how_to_set(self, named: Named) -> str:
        item, param = named.devices[self.place], self._param(named)
        value = f"{self._shown(param)} {param.unit}".strip()
        return f"Set {param.title.lower()} of {item.label} to {value}."

    def _param(self, named: Named) -> Param:
        return next(param for param in named.devices[self.place].kind.params if param.name == self.name)

    def _shown(self, param: Param, *, ids: bool = False) -> str:
        if isinstance(self.value, bool):
            return "on" if self.value else "off"
        if isinstance(self.value, str):
            return self.value if ids else param.title_of(self.value)
        return f"{self.value:g}"


def _wrong_values(param: Param, now: Setting) -> Iterator[Setting]:
    """What somebody might set instead: half and twice, the other way, another choice."""
    if param.type == "number":
        for factor in (0.5, 2.0):
            value = min(max(float(now) * factor, param.minimum or 0.0), param.maximum or float(now))
            if value != now:
                yield value
    elif param.type == "switch":
        yield not now
    elif param.type == "choice":
        yield from (choice for choice in param.choices if choice != now)


def _rare_values(item: Installed, param: Param, now: Setting) -> Iterator[float]:
    """What a number may be when a supply or part is another one, or a dial was turned far."""
    if param.set_on_site:
        yield from (round(float(now) * factor, 6) for factor in (0.1, 10.0))
    elif param.unit == "V" and item.kind.poles:
        yield from (round(float(now) * factor) for factor in SUPPLIES)
    elif param.unit == "V" and item.structure.parts_that(Does.OPERATES, Does.FEELS_VOLTAGE):
        yield from COILS_V


def _value(param: Param, what: str) -> Setting:
    if param.type == "number":
        try:
            return float(what)
        except ValueError:
            raise ValueError(f"{what!r} is not a number.") from None
    if param.type == "switch":
        return what in ("on", "true", "yes")
    return param.choice_named(what)


@dataclass(frozen=True)
class Operated(OnDevice):
    """An operation `name` that somebody did, once."""

    name: Text
    value: bool = True
    kind: Literal["operated"] = "operated"
    about: ClassVar = About(title="Operated", forms=("F2.trip=done",))

    def _on(self, item: Installed) -> str | None:
        known = {operation.name for operation in item.kind.operations}
        return None if self.name in known else f"{item.label} has no {self.name} to work."

    def done(self) -> tuple[str, bool] | None:
        return self.name, self.value

    def words(self, named: Named) -> str:
        item = named.devices[self.place]
        operation = next(operation for operation in item.kind.operations if operation.name == self.name)
        return f"{item.label}: {operation.title.lower()}, done once"

    def written(self, named: Named) -> str:
        return f"{named.devices[self.place].label}.{self.name}={'done' if self.value else 'off'}"

    @classmethod
    def read(cls, circuit: Circuit, spot: Spot, what: str) -> Self | None:
        if not isinstance(spot, Feature):
            return None
        if what not in ("done", "on", "off"):
            raise ValueError(f"{spot.device.label} {spot.name} is done, on or off, not {what!r}.")
        return cls(spot.device.id, spot.name, what != "off")
