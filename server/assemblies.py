"""Circuits that this process has compiled, by the hash of what matters of them, bounded by the memory they take.

A request that names a circuit by its hash need not carry it. A process that does not know it says so, and is sent
it: so any process answers any request, and nothing has to be kept anywhere.
"""

import hashlib
import json
from collections import OrderedDict
from collections.abc import Sequence
from typing import Final

from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Device
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly

MOST_BYTES: Final = 100_000_000

Key = tuple[str, tuple[Fault, ...]]


def bare(circuit: Circuit) -> Circuit:
    """What matters of a circuit: without its title, layout and notes, the same for all that behave alike."""
    return circuit.model_copy(update={"title": "", "sheets": (), "set_aside": (), "description": ()})


def reference(circuit: Circuit) -> str:
    """The hash of what matters of a circuit."""
    text = circuit.model_dump_json(include={"convention", "devices", "conductors", "strays"})
    return hashlib.sha256(text.encode()).hexdigest()


def _at_work(device: Device) -> list[tuple[str, bool | int | float | str]]:
    """The parameters that a device goes by: who changes what is only read has the same circuit as before."""
    read = {param.name for param in KINDS[device.kind].params if param.for_people}
    return sorted((name, value) for name, value in device.params.items() if name not in read)


def likeness(circuit: Circuit) -> str:
    """The hash of what a circuit does: the same in either convention, and whatever things are called."""
    devices = [(one.id, one.kind, _at_work(one)) for one in circuit.devices]
    wires = [(one.a.model_dump(), one.b.model_dump()) for one in circuit.conductors]
    strays = [one.model_dump() for one in circuit.strays]
    return hashlib.sha256(json.dumps([devices, wires, strays]).encode()).hexdigest()


class Assemblies:
    """The assemblies used last, up to `most_bytes` in all."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._most_bytes = most_bytes
        self._known: OrderedDict[Key, Assembly] = OrderedDict()
        self._circuits: OrderedDict[str, Circuit] = OrderedDict()
        self._sizes: dict[Key, int] = {}

    def circuit(self, ref: str) -> Circuit | None:
        """The circuit of a hash, if this process knows it."""
        found = self._circuits.get(ref)
        if found is not None:
            self._circuits.move_to_end(ref)
        return found

    def assembly(self, ref: str, circuit: Circuit, faults: Sequence[Fault]) -> Assembly:
        """The assembly of a circuit with these faults, compiled if it is not known. Raises what Assembly raises."""
        key = (ref, tuple(faults))
        assembly = self._known.get(key)
        if assembly is None:
            assembly = self._known[key] = Assembly(circuit, faults)
            self._circuits[ref] = circuit
        self._known.move_to_end(key)
        self._trim(key, assembly)
        return assembly

    def _trim(self, key: Key, assembly: Assembly) -> None:
        """Forget what was not used for longest. An assembly grows while it is used."""
        self._sizes[key] = assembly.size_bytes
        while sum(self._sizes.values()) > self._most_bytes and len(self._known) > 1:
            gone, _ = self._known.popitem(last=False)
            del self._sizes[gone]
            if all(ref != gone[0] for ref, _ in self._known):
                self._circuits.pop(gone[0], None)
