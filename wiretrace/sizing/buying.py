"""What to buy and how to set it, in a line each: the end of the sheet, told first."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from wiretrace.sizing.line import Line, figure
from wiretrace.sizing.sheet import Sheet


@dataclass(frozen=True)
class Item:
    """Something to buy; `line` is the key of the line that leads there, `warning` what does not hold of it."""

    title: str
    shown: str
    line: str
    warning: str = ""


def to_buy(sheet: Sheet, lines: Sequence[Line]) -> tuple[Item, ...]:
    """Breaker, fuse, contactors, overload relay with its dial, cable, current transformer."""
    return tuple(_items(sheet, {line.key: line for line in lines}))


def _items(sheet: Sheet, lines: Mapping[str, Line]) -> Iterator[Item]:
    kind = "inverse time" if sheet.american else f"curve {sheet.curve}"
    yield from _rated(lines, "breaker_rating", "Breaker", f" A, {kind}")
    yield from _rated(lines, "fuse_rating", "or fuses", " A, time delay" if sheet.american else " A gG")
    size = f", NEMA size {sheet.contactor_size}" if sheet.contactor_size else " A" if sheet.american else " A AC-3"
    for key, title in (
        ("contactor_line", "Line contactor" if sheet.plate.star_delta else "Contactor"),
        ("contactor_delta", "Delta contactor"),
        ("contactor_star", "Star contactor"),
    ):
        suffix = f" A{size}" if size.startswith(",") else size
        yield from _rated(lines, key, title, suffix)
    dial, span = lines["dial"], lines["range"]
    says = f"{span.shown} A, class {sheet.schools['trip_class']}, dial at {figure(sheet.dial_a)} A"
    yield Item("Overload relay", says, "dial", dial.warning or span.warning)
    material = sheet.plate.material
    for key, title in (("cable", "Cable"), ("cable_leads", "Six leads to the motor")):
        if key in lines and lines[key].value is not None:
            line = lines[key]
            yield Item(title, f"{line.shown} {line.unit}".strip() + f" {material}", key, line.warning)
    yield from _rated(lines, "ct", "Current transformer, if there is an ammeter", " A")


def _rated(lines: Mapping[str, Line], key: str, title: str, unit: str) -> Iterator[Item]:
    line = lines.get(key)
    if line is not None:
        shown = f"{line.shown}{unit}" if line.value is not None else "no standard size"
        yield Item(title, shown, key, line.warning)
