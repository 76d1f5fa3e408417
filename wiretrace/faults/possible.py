"""Every single fault that a circuit can have, as its devices and the kinds of fault declare it."""

from collections.abc import Iterator, Mapping
from types import MappingProxyType
from typing import Final

from wiretrace.catalogue.machinery.purpose import Breaks, Does
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, End
from wiretrace.faults.fault import Fault
from wiretrace.faults.registry import KINDS

BROKEN: Final = MappingProxyType({cls.about.breaks: cls for cls in KINDS.values() if cls.about.breaks is not None})
"""The kind of fault that an element has which can break so."""


def possible_faults(circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Fault]:
    """One fault after the other: of devices in the order of the document, then of conductors."""
    used = {(end.device, end.terminal) for wire in circuit.conductors for end in (wire.a, wire.b)}
    for item in devices.values():
        poles = {name for part in item.structure.parts_that(Does.SWITCHES_LOAD) for name in part.branches}
        for branch in item.structure.branches:
            for breaks in branch.can_break:
                # A pole stands alone: there is none of the other kind that it could be wired to.
                if breaks is not Breaks.WRONG or branch.name not in poles:
                    yield BROKEN[breaks].of_element(item.id, branch.name)
        for cls in KINDS.values():
            yield from cls.of_device(item)
        for terminal in item.structure.terminals:
            if (item.id, terminal.name) in used:
                for cls in KINDS.values():
                    yield from cls.of_terminal(End(device=item.id, terminal=terminal.name))
    for wire in circuit.conductors:
        for cls in KINDS.values():
            yield from cls.of_conductor(wire.id)


def rare_faults(circuit: Circuit, devices: Mapping[str, Installed]) -> Iterator[Fault]:
    """Faults beyond those, by kind: bridges, wires on wrong terminals, wrong parts and supplies."""
    for cls in KINDS.values():
        yield from cls.rarely(circuit, devices)
