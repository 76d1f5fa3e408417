"""Why an ohmmeter shows what it shows: the ways that its own current takes."""

from dataclasses import dataclass

from wiretrace.catalogue.machinery.structure import Role
from wiretrace.document.circuit import End
from wiretrace.explain.wording import listed
from wiretrace.faults.naming import element_name
from wiretrace.instruments.ohmmeter import Resistance, read_resistance
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame

NOTICEABLE = 0.01
"""Share of the test current from which a way counts."""
ALL = 0.98
"""Share from which an element counts as carrying all of it."""


@dataclass(frozen=True)
class Way:
    """An element that carries a share of the test current."""

    device: str
    branch: str
    share: float


@dataclass(frozen=True)
class ResistanceExplanation:
    """A resistance with the loads and contacts that its current passes, and the contacts that would change it."""

    reading: Resistance
    loads: tuple[Way, ...]
    contacts: tuple[Way, ...]
    opens: tuple[str, ...]
    """Devices whose change-over would turn OL into a resistance, or a resistance into OL."""
    sentence: str


def explain_resistance(assembly: Assembly, frame: Frame, red: End, black: End) -> ResistanceExplanation:
    """Explain the reading of an ohmmeter. Raises MeasurementRefused on a live circuit, UnknownTarget."""
    reading = read_resistance(assembly, frame, red, black)
    ways = _ways(assembly, frame, red, black) if reading.resistance_ohm is not None and red != black else []
    loads = tuple(way for role, way in ways if role is Role.LOAD)
    contacts = tuple(way for role, way in ways if role is Role.CONTACT)
    opens = tuple(_opens(assembly, frame, reading))
    return ResistanceExplanation(reading, loads, contacts, opens, _sentence(assembly, reading, loads, contacts, opens))


def _ways(assembly: Assembly, frame: Frame, red: End, black: End) -> list[tuple[Role, Way]]:
    dead = assembly.equations.solve_dead(frame.values)
    a, b = assembly.node(red), assembly.node(black)
    if a == b or not dead.joined(a, b):
        return []
    shares = abs(dead.response(a, b) * dead.admittance_s).tolist()
    return [
        (ref.role, Way(ref.place, ref.branch, share))
        for ref, share in zip(assembly.branches, shares, strict=True)
        if ref.branch and share >= NOTICEABLE
    ]


def _opens(assembly: Assembly, frame: Frame, reading: Resistance) -> list[str]:
    """Devices whose contacts, changed over, join or part the probes."""
    a, b = assembly.node(reading.red), assembly.node(reading.black)
    found = []
    for item in assembly.devices.values():
        contacts = [branch.name for branch in item.structure.branches if branch.role is Role.CONTACT]
        if contacts:
            values = list(frame.values)
            for name in contacts:
                index = assembly.branch_index(item.id, name)
                values[index] = item.kind.contact_value(item.params) if values[index] is None else None
            if assembly.equations.solve_dead(values).joined(a, b) != (reading.resistance_ohm is not None):
                found.append(item.id)
    return found


def _sentence(
    assembly: Assembly, reading: Resistance, loads: tuple[Way, ...], contacts: tuple[Way, ...], opens: tuple[str, ...]
) -> str:
    if reading.red == reading.black:
        return "Both probes stand on one terminal: the meter shows its own leads."
    if reading.resistance_ohm is None:
        names = [assembly.devices[device].label for device in opens]
        also = f" {listed(names)} would close a way" if names else " No single device would close a way"
        return f"No way for direct current leads from one probe to the other: OL.{also}."
    if loads:
        return f"The meter's current goes through {_taken(assembly, loads)}: {reading.display} ohm."
    names = [element_name(assembly, way.device, way.branch) for way in contacts]
    passed = f"{listed(names)} and wire" if names else "wire alone"
    return f"The meter's current goes through {passed}: {reading.display} ohm."


def _taken(assembly: Assembly, loads: tuple[Way, ...]) -> str:
    """Loads that all of the current takes one after the other, and those that share it."""
    whole = [element_name(assembly, way.device, way.branch) for way in loads if way.share > ALL]
    parts = sorted((way for way in loads if way.share <= ALL), key=lambda way: -way.share)
    shares = [f"{element_name(assembly, way.device, way.branch)} ({100 * way.share:.0f} %)" for way in parts]
    series = f"{listed(whole)}{', one after the other' if len(whole) > 1 else ''}" if whole else ""
    if not shares:
        return series
    # What is more than all of it together takes some of them one after the other.
    beside = "in ways side by side" if sum(way.share for way in parts) < 2 - ALL else "in ways of several side by side"
    split = f"{listed(shares)}, {beside}" if len(shares) > 1 else shares[0]
    return f"{series} and then {split}" if whole else split
