"""Faults in words and as a line of text, for screen, command line and operating sequences.

    K1/coil=open      K1:A1=open       w4=open         an element, a terminal, a conductor is open
    w4=300ohm         K1:A1=2kohm                      a bad joint
    K1/coil=short     M1/U1-U2=short 0.5ohm            a short circuit across an element
    K1/13-14=welded   S1/13-14=wrong contact           a contact
    K1=stuck                                           a device that does not move
    M1:U1=to M1:PE    K1:A1=to F1:2 100ohm             a bridge between two terminals
    w4.b=to K1:14     w4.b=with w7.b                   a conductor on another terminal, two exchanged
    F2.dial_a=2       F2.trip=done                     a wrong setting, something done once

Each may end in ``@5s``, the time from which it is there, and in ``~7``, the seed of one that comes and goes, for a
quarter of a second at a time or as long as ``~7/4s`` says.
"""

import re
from dataclasses import replace
from typing import Final

from wiretrace.document.circuit import Circuit
from wiretrace.faults.fault import SHORTEST_SLOT_US, Fault, Named
from wiretrace.faults.registry import KINDS
from wiretrace.faults.spots import spot_from_text
from wiretrace.quantity import number_text, parse_quantity

SLOT_US: Final = 250_000
"""Stretch of time in which an intermittent fault is there or not, where none is written."""

# Behind a colon ~ belongs to the name of a terminal, as in T2:~1.
_FAULT: Final = re.compile(r"^([^=]+)=((?:[^@~]|(?<=:)~)+?)\s*(?:@([^~]+?))?\s*(?:(?<!:)~(\d+)(?:/(\S+))?)?$")


def fault_words(named: Named, fault: Fault) -> str:
    """What is wrong, with designations as they stand on the sheet."""
    when = f", from {fault.start_us / 1e6:g} s on" if fault.start_us else ""
    return f"{fault.words(named)}{when}{', comes and goes' if fault.slot_us else ''}"


def fault_text(named: Named, fault: Fault) -> str:
    """The line that `fault_from_text` understands as this fault."""
    start = f" @{number_text(fault.start_us / 1e6)}s" if fault.start_us else ""
    slot = f"/{number_text(fault.slot_us / 1e6)}s" if fault.slot_us != SLOT_US else ""
    return fault.written(named) + start + (f" ~{fault.seed}{slot}" if fault.slot_us else "")


def fault_from_text(circuit: Circuit, text: str) -> Fault:
    """The fault that `text` names. Raises UnknownTarget or ValueError."""
    match = _FAULT.match(text.strip())
    if match is None:
        raise ValueError(f"{text!r} is not of the form PLACE=FAULT, such as K1/coil=open, w4=300ohm, K1:A1=open.")
    place, what, start, seed, slot = (part.strip() if part else "" for part in match.groups())
    fault = _fault(circuit, place, what)
    if start:
        fault = replace(fault, start_us=round(parse_quantity(start, "s") * 1e6))
    if not seed:
        return fault
    slot_us = round(parse_quantity(slot, "s") * 1e6) if slot else SLOT_US
    if slot_us < SHORTEST_SLOT_US:
        raise ValueError(f"What comes and goes stays for {SHORTEST_SLOT_US // 1000} ms at least, not for {slot}.")
    return replace(fault, slot_us=slot_us, seed=int(seed))


def _fault(circuit: Circuit, place: str, what: str) -> Fault:
    spot = spot_from_text(circuit, place)
    for cls in KINDS.values():
        found = cls.read(circuit, spot, what)
        if found is not None:
            return found
    forms = ", ".join(form for cls in KINDS.values() for form in cls.about.forms)
    raise ValueError(f"{what!r} is no fault that {place} can have. Faults are written so: {forms}.")
