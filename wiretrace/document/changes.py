"""What is different between two circuits, as data that can be applied again, and in words.

Whatever is done to a circuit comes to this: devices, conductors, stray paths, sheets and notes that are added, taken
away or replaced by others of the same id. So a repair, a stage of wiring or a version can be kept as what it changes.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Final, Literal

from pydantic import Field, TypeAdapter

from wiretrace.bounds import Most
from wiretrace.catalogue.machinery.structure import Param
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import (
    MAX_LINES,
    Circuit,
    Conductor,
    Device,
    Frozen,
    SetAside,
    Sheet,
    Stray,
    Text,
)
from wiretrace.errors import InvalidCircuit, Problem

Item = Device | Conductor | Stray | Sheet | SetAside
LISTS: Final = ("devices", "conductors", "strays", "sheets", "set_aside")
PLAIN: Final = ("title", "convention")


class Put(Frozen):
    """An item that is added, or takes the place of the one with its id; it follows the item `after`, if any."""

    what: Literal["put"] = "put"
    item: Item
    after: str | None


class Taken(Frozen):
    """An item that is no longer there."""

    what: Literal["taken"] = "taken"
    place: Literal["devices", "conductors", "strays", "sheets", "set_aside"]
    id: str


class Named(Frozen):
    """Title or convention of the circuit."""

    what: Literal["named"] = "named"
    name: Literal["title", "convention"]
    value: str


class Described(Frozen):
    """The operating description of the circuit, whole."""

    what: Literal["described"] = "described"
    lines: Annotated[tuple[Text, ...], Most(MAX_LINES)]


Change = Annotated[Put | Taken | Named | Described, Field(discriminator="what")]
CHANGES: Final = TypeAdapter(tuple[Change, ...])
"""Reads changes from JSON and writes them."""


def changes(before: Circuit, after: Circuit) -> tuple[Change, ...]:
    """What leads from one circuit to the other."""
    found: list[Change] = [
        Named.model_validate({"name": name, "value": getattr(after, name)})
        for name in PLAIN
        if getattr(before, name) != getattr(after, name)
    ]
    if before.description != after.description:
        found.append(Described(lines=after.description))
    for place in LISTS:
        found += _in_list(place, getattr(before, place), getattr(after, place))
    return tuple(found)


def applied(circuit: Circuit, what: Sequence[Change]) -> Circuit:
    """The circuit after these changes. Raises InvalidCircuit when one of them speaks of what is not there."""
    lists: dict[str, dict[str, Item]] = {place: _by_key(getattr(circuit, place)) for place in LISTS}
    plain: dict[str, str | tuple[str, ...]] = {}
    for change in what:
        if isinstance(change, Named):
            plain[change.name] = change.value
        elif isinstance(change, Described):
            plain["description"] = change.lines
        elif isinstance(change, Taken):
            if lists[change.place].pop(change.id, None) is None:
                raise _nothing(change.id)
        else:
            place = _place(change.item)
            lists[place] = _put(lists[place], change)
    return circuit.model_copy(update={**plain, **{place: tuple(items.values()) for place, items in lists.items()}})


@dataclass(frozen=True)
class Difference:
    """What is different between two versions of a circuit, in words. Where parts stand on a sheet is no difference."""

    added: tuple[str, ...]
    removed: tuple[str, ...]
    rewired: tuple[str, ...]
    changed: tuple[str, ...]


def difference(before: Circuit, after: Circuit) -> Difference:
    """From one version to another."""
    old, new = {d.id: d for d in before.devices}, {d.id: d for d in after.devices}
    was, now = {w.id: w for w in before.conductors}, {w.id: w for w in after.conductors}
    return Difference(
        (
            *(device.label for device in after.devices if device.id not in old),
            *(f"wire {_ends(wire, new)}" for wire in after.conductors if wire.id not in was),
        ),
        (
            *(device.label for device in before.devices if device.id not in new),
            *(f"wire {_ends(wire, old)}" for wire in before.conductors if wire.id not in now),
        ),
        tuple(
            f"{_ends(was[wire.id], old)}, now {_ends(wire, new)}"
            for wire in after.conductors
            if wire.id in was and _ends(was[wire.id], old) != _ends(wire, new)
        ),
        tuple(words for device in after.devices if device.id in old for words in _told(old[device.id], device)),
    )


def _key(item: Item) -> str:
    return f"{item.rule} {item.key}" if isinstance(item, SetAside) else item.id


def _by_key(items: Sequence[Item]) -> dict[str, Item]:
    return {_key(item): item for item in items}


def _place(item: Item) -> str:
    kinds = ((Device, "devices"), (Conductor, "conductors"), (Stray, "strays"), (Sheet, "sheets"))
    return next((place for kind, place in kinds if isinstance(item, kind)), "set_aside")


def _in_list(place: str, before: Sequence[Item], after: Sequence[Item]) -> Iterator[Change]:
    old, new = _by_key(before), _by_key(after)
    gone = [key for key in old if key not in new]
    for key in gone:
        yield Taken.model_validate({"place": place, "id": key})
    now = [key for key in old if key in new]
    kept = set(now)
    # What stays and has changed its order is put anew from the first that is out of place.
    in_order = now == [key for key in new if key in kept]
    last: str | None = None
    for key, item in new.items():
        if key not in kept or not in_order or item != old[key]:
            yield Put(item=item, after=last)
        last = key


def _put(items: Mapping[str, Item], change: Put) -> dict[str, Item]:
    key = _key(change.item)
    if change.after is not None and change.after not in items:
        raise _nothing(change.after)
    others = [(other, item) for other, item in items.items() if other != key]
    at = next((index + 1 for index, (other, _) in enumerate(others) if other == change.after), 0)
    return dict([*others[:at], (key, change.item), *others[at:]])


def _nothing(key: str) -> InvalidCircuit:
    message = f"The circuit has no {key} that could be changed."
    return InvalidCircuit(message, (Problem("unknown_item", message),))


def _ends(wire: Conductor, devices: Mapping[str, Device]) -> str:
    a, b = (f"{devices[end.device].label if end.device in devices else '?'}:{end.terminal}" for end in (wire.a, wire.b))
    return f"{a} to {b}"


_SITS: Final = {"door": "on the door", "plate": "on the mounting plate", "field": "outside the panel"}


def _told(was: Device, now: Device) -> Iterator[str]:
    if was.label != now.label:
        yield f"{was.label} is called {now.label}"
    if was.kind != now.kind:
        yield f"{now.label} is another kind of device"
    if was.mounting != now.mounting:
        yield f"{now.label} sits {_SITS[now.mounting] if now.mounting else 'where it usually does'}"
    if was.function != now.function:
        yield f"{now.label}: {now.function or 'no function given'}"
    titles = {param.name: param for param in KINDS[now.kind].params}
    for name in dict.fromkeys((*was.params, *now.params)):
        if was.params.get(name) != now.params.get(name):
            param = titles.get(name)
            told = (_value(of.params.get(name), param) for of in (was, now))
            yield f"{now.label}: {param.title if param else name} {', now '.join(told)}"


def _value(value: bool | float | str | None, param: Param | None) -> str:
    if value is None:
        return "as delivered"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, str):
        return param.title_of(value) if param else value
    return f"{value:g} {param.unit if param else ''}".strip()
