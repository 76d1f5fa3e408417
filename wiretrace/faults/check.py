"""Does a fault name something that the circuit has, and can that have it?"""

from collections.abc import Mapping, Sequence

from wiretrace.catalogue.device import Role
from wiretrace.circuit.checked import Installed, has_terminal, value_fault
from wiretrace.circuit.document import Circuit, End
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.fault import SHORTEST_SLOT_US, Fault, FaultKind


def check_faults(circuit: Circuit, devices: Mapping[str, Installed], faults: Sequence[Fault]) -> None:
    """Raises UnknownTarget with every fault that names nothing, or nothing that can have it."""
    links = circuit.link_ids()
    problems = []
    for fault in faults:
        wrong = _wrong(links, devices, fault)
        if wrong is not None:
            problems.append(Problem("fault_names_nothing", wrong, fault.place if fault.place in devices else None))
    if problems:
        raise UnknownTarget(problems[0].message, tuple(problems))


def _wrong(links: set[str], devices: Mapping[str, Installed], fault: Fault) -> str | None:
    """What is wrong with a fault, or None."""
    kind, item = fault.kind, devices.get(fault.place)
    if item is None and fault.place not in links:
        return f"There is no device or conductor {fault.place}."
    label = item.label if item else fault.place
    if 0 < fault.slot_us < SHORTEST_SLOT_US:
        return f"An intermittent fault such as that of {label} stays for {SHORTEST_SLOT_US // 1000} ms at least."
    if kind in (FaultKind.MOVED, FaultKind.EXCHANGED):
        return _wrong_end(links, devices, fault)
    if item is None:
        fits = kind in (FaultKind.OPEN, FaultKind.HIGH_RESISTANCE) and not fault.branch and not fault.terminal
        return None if fits else f"A conductor such as {label} cannot have this fault."
    if fault.terminal and not has_terminal(item, End(device=fault.place, terminal=fault.terminal)):
        return f"There is no terminal {label}:{fault.terminal} in this circuit."
    if kind is FaultKind.BRIDGE:
        return None if fault.terminal and _stands(devices, fault.to) else f"A bridge from {label} needs two terminals."
    if kind is FaultKind.STUCK:
        return None
    if kind is FaultKind.SETTING:
        return _wrong_setting(item, fault)
    if kind is FaultKind.OPERATED:
        known = {operation.name for operation in item.kind.operations}
        return None if fault.name in known else f"{label} has no {fault.name} to work."
    if fault.terminal and kind in (FaultKind.OPEN, FaultKind.HIGH_RESISTANCE):
        return None
    branch = next((b for b in item.structure.branches if b.name == fault.branch), None)
    if branch is None:
        return f"{label} has no element {fault.branch}."
    if kind in (FaultKind.WELDED, FaultKind.WRONG_CONTACT) and branch.role is not Role.CONTACT:
        return f"{label} {fault.branch} is no contact."
    return None


def _wrong_end(links: set[str], devices: Mapping[str, Installed], fault: Fault) -> str | None:
    if fault.place not in links:
        return f"{fault.place} is no conductor."
    if fault.kind is FaultKind.EXCHANGED:
        known = fault.other in links and fault.other != fault.place
        return None if known else f"{fault.place} is to be exchanged with {fault.other}, which is no other conductor."
    return None if _stands(devices, fault.to) else f"{fault.place} is moved to a terminal that does not exist."


def _wrong_setting(item: Installed, fault: Fault) -> str | None:
    param = next((p for p in item.kind.params if p.name == fault.name), None)
    if param is None:
        return f"{item.label} has no {fault.name} to set."
    conditions = [thing.when for thing in item.kind.terminals] + [thing.when for thing in item.kind.parts]
    if any(when is not None and when.param == fault.name for when in conditions):
        return f"{item.label}: {param.title} changes what the device is made of; that is another circuit."
    wrong = value_fault(param, fault.value)
    return None if wrong is None else f"{item.label}: {param.title} {wrong}."


def _stands(devices: Mapping[str, Installed], end: End | None) -> bool:
    return end is not None and end.device in devices and has_terminal(devices[end.device], end)
