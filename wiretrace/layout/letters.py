"""Designations by the letters of a convention: K1 and S1, or M1 and PB1."""

import re
from collections.abc import Mapping

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Convention, Device


def relettered(circuit: Circuit, convention: Convention) -> Circuit:
    """The circuit with the designations that begin with a letter of their kind rewritten in a convention's letters.

    Numbers stay where they are free; a designation that somebody chose freely stays as it is.
    """
    names: dict[str, str] = {}
    waiting: list[tuple[Device, str, str]] = []
    for device in circuit.devices:
        kind = KINDS[device.kind]
        number = _number(device.label, kind)
        if number is None:
            names[device.label] = device.label
        else:
            waiting.append((device, kind.letter if convention == "iec" else kind.letter_nema, number))
    taken = set(names)
    for device, letter, number in waiting:
        names[device.label] = _free(letter, number, taken)
        taken.add(names[device.label])
    devices = tuple(_renamed(device, names) for device in circuit.devices)
    return circuit.model_copy(update={"devices": devices})


def _number(label: str, kind: Kind) -> str | None:
    """What follows the letter of the kind in a designation; None where it has another beginning."""
    for letter in sorted({kind.letter, kind.letter_nema, *kind.letters_known}, key=len, reverse=True):
        found = re.fullmatch(rf"{re.escape(letter)}([0-9][0-9.]*)", label)
        if found:
            return found[1]
    return None


def _free(letter: str, number: str, taken: set[str]) -> str:
    if f"{letter}{number}" not in taken:
        return f"{letter}{number}"
    return next(f"{letter}{n}" for n in range(1, len(taken) + 2) if f"{letter}{n}" not in taken)


def _renamed(device: Device, names: Mapping[str, str]) -> Device:
    params = dict(device.params)
    for param in KINDS[device.kind].params:
        meant = str(params.get(param.name, param.default))
        if param.designation and names.get(meant, meant) != meant:
            params[param.name] = names[meant]
    return device.model_copy(update={"label": names[device.label], "params": params})
