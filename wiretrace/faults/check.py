"""Does a fault name something that the circuit has, and can that have it?"""

from collections.abc import Mapping

from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.fault import SHORTEST_SLOT_US, Fault, Faults


def check_faults(circuit: Circuit, devices: Mapping[str, Installed], faults: Faults) -> None:
    """Raises UnknownTarget with every fault that names nothing, or nothing that can have it."""
    links = circuit.link_ids()
    problems = []
    for fault in faults:
        wrong = fault.misfit(devices, links) or _too_quick(devices, fault)
        if wrong is not None:
            problems.append(Problem("fault_names_nothing", wrong, fault.where if fault.where in devices else None))
    if problems:
        raise UnknownTarget(problems[0].message, tuple(problems))


def _too_quick(devices: Mapping[str, Installed], fault: Fault) -> str | None:
    if not 0 < fault.slot_us < SHORTEST_SLOT_US:
        return None
    label = devices[fault.where].label if fault.where in devices else fault.where
    return f"An intermittent fault such as that of {label} stays for {SHORTEST_SLOT_US // 1000} ms at least."
