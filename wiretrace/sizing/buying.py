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
    release = f", release at {figure(sheet.magnetic_a)} A" if sheet.adjustable else ""
    yield from _rated(lines, "breaker_rating", "Breaker", f" A, {sheet.breaker_kind}{release}")
    yield from _rated(lines, "fuse_rating", "or fuses", " A, time delay" if sheet.american else " A gG")
    yield from _motor_starter(lines)
    size = sheet.contactor_size if sheet.way.across_the_line else None
    for switch in sheet.way.contactors:
        category = switch.category.partition(":")[0]
        suffix = f" A, NEMA size {size}" if size else " A" if sheet.american else f" A {category}"
        yield from _rated(lines, switch.key, switch.title, suffix)
    yield from _besides(sheet, lines)
    dial, span = lines["dial"], lines["range"]
    if sheet.converter_a is None:
        says = f"{span.shown} A, class {sheet.schools['trip_class']}, dial at {figure(sheet.dial_a)} A"
        yield Item("Overload relay", says, "dial", dial.warning or span.warning)
    material = sheet.plate.material
    for key, title in (("cable", "Cable"), ("cable_leads", "Six leads to the motor")):
        if key in lines and lines[key].value is not None:
            line = lines[key]
            yield Item(title, f"{line.shown} {line.unit}".strip() + f" {material}", key, line.warning)
    yield from _rated(lines, "ct", "Current transformer, if there is an ammeter", " A")


def _motor_starter(lines: Mapping[str, Line]) -> Iterator[Item]:
    line = lines.get("manual_starter")
    if line is not None and line.value is not None:
        yield Item("or manual motor starter", f"{line.shown} A, dial as the relay's", line.key, line.warning)


def _besides(sheet: Sheet, lines: Mapping[str, Line]) -> Iterator[Item]:
    """What a way of starting asks for besides contactors."""
    for key, title, tail in (
        ("soft_rating", "Soft starter", f" A, limit {sheet.plate.start_limit:g} times"),
        ("tapped_kva", "Autotransformer", f" kVA through the start, tap {100 * sheet.plate.tap:g} %"),
        ("contactor_rotor", "Contactor that shorts the rotor", " A AC-1"),
        ("converter_in", "Frequency converter, input", f" A, for a motor of {figure(sheet.motor_a)} A"),
        ("dial_low", "Overload relay of the low speed, dial", " A"),
    ):
        yield from _rated(lines, key, title, tail)


def _rated(lines: Mapping[str, Line], key: str, title: str, unit: str) -> Iterator[Item]:
    line = lines.get(key)
    if line is not None:
        shown = f"{line.shown}{unit}" if line.value is not None else "no standard size"
        yield Item(title, shown, key, line.warning)
