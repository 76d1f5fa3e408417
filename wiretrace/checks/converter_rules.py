"""Rules about frequency converters: nothing switches behind one that runs, and what leaks from it is seen."""

from collections.abc import Iterator

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.checks.facts import Facts, Parts
from wiretrace.checks.finding import Finding, NothingToCheck, Rule
from wiretrace.checks.motor_circuit import joined_with
from wiretrace.document.checked import Installed
from wiretrace.simulation.graph import BranchRef

DESTROYS = "That destroys it, running or not. Part both ways, and interlock what switches them."


def nothing_switches_behind_a_converter(facts: Facts) -> Iterator[Finding]:
    converters = facts.that(Does.CONVERTS)
    if not converters:
        raise NothingToCheck
    for item in converters:
        outputs = {int(facts.all_closed.label[node]) for node in _output_nodes(facts, item)}
        if _mains_at(facts, item, facts.all_closed):
            yield Finding(f"{item.id}/mains", f"Mains comes to the output of {item.label}.", DESTROYS, item.id)
            continue
        for contactor in facts.contactors:
            parted = _parted(facts, contactor, item)
            if _mains_at(facts, item, joined_with(facts, (contactor,))) and not parted:
                told = f"With {contactor.label} in, mains comes to the output of {item.label}."
                own = item.kind.off_contact
                why = f"Lead {own} of {item.label} into its coil." if own else DESTROYS
                yield Finding(f"{item.id}/{contactor.id}", told, why, contactor.id)
            if item.kind.off_contact or _mains_at(facts, item, joined_with(facts, (contactor,))):
                continue
            ends = {int(facts.all_closed.label[node]) for ref in facts.main_poles(contactor) for node in (ref.a, ref.b)}
            if ends & outputs and not _holds_it_off(facts, contactor, item):
                yield Finding(
                    f"{item.id}/{contactor.id}",
                    f"{contactor.label} stands behind {item.label} and may switch while that runs.",
                    f"A motor that is thrown on to it takes its starting current, and {item.label} trips. Lead an "
                    f"auxiliary contact of {contactor.label} into its start or enabling input.",
                    contactor.id,
                )


def _parted(facts: Facts, contactor: Installed, item: Installed) -> bool:
    """Is the coil fed only by the contact that is closed while the output is off?"""
    own = tuple(ref for ref in facts.contacts(item) if ref.branch == item.kind.off_contact)
    parts = facts.joined_by(facts.control, but=own)
    return bool(own) and all(parts.feeds(coil.a, coil.b) is None for coil in facts.coils_of(contactor))


def _output_nodes(facts: Facts, item: Installed) -> list[int]:
    own = {end for part in item.structure.parts_that(Does.CONVERTS) for end in part.terminals}
    return [facts.node(item, end) for end in sorted(own & set(item.kind.poles))]


def _mains_at(facts: Facts, item: Installed, parts: Parts) -> bool:
    """Does a pole of another source come to one of its outputs?"""
    return any(
        pole.device != item.id and pole.what == "live"
        for node in _output_nodes(facts, item)
        for pole in parts.poles_at(node)
    )


def _holds_it_off(facts: Facts, contactor: Installed, item: Installed) -> bool:
    """Does an input of the converter get nothing while the contactor is out?"""
    inputs = item.structure.branches_of(Does.TAKES_SIGNALS)
    nodes = [(facts.node(item, branch.a), facts.node(item, branch.b)) for branch in inputs]
    fed = [pair for pair in nodes if facts.all_closed.feeds(*pair) is not None]
    makes = tuple(ref for ref in facts.contacts(contactor) if not facts.is_pole(ref) and not facts.rest(ref))
    without = facts.joined_by(facts.control, but=makes)
    return any(without.feeds(*pair) is None for pair in fed)


def residual_current_is_seen(facts: Facts) -> Iterator[Finding]:
    windows = [item for item in facts.items if item.kind.sees(item.params) is not None]
    leaking = [(item, leaks) for item in facts.items if (leaks := item.kind.leaks(item.params)) is not None]
    if not windows or not leaking:
        raise NothingToCheck
    everything = facts.mask(lambda ref: True)
    for window in windows:
        ways = tuple(ref for ref in facts.assembly.branches if ref.place == window.id and ref.branch)
        past = facts.joined_by(everything, but=ways)
        for item, leaks in leaking:
            seen = window.kind.sees(window.params) or frozenset()
            if leaks not in seen and _is_behind(facts, item, ways, past.label.tolist()):
                yield Finding(
                    f"{window.id}/{item.id}",
                    f"Behind {window.label} hangs {item.label}, which can leak {leaks.value} current.",
                    f"{window.label} does not see that, and direct current may blind it to all else. "
                    "It takes the next type, or a residual-current device of its own.",
                    window.id,
                )


def _is_behind(facts: Facts, item: Installed, ways: tuple[BranchRef, ...], past: list[int]) -> bool:
    """Is it joined to a side of the window that no pole of another source is joined to past it?"""
    others = {past[pole.node] for pole in facts.poles if pole.device != item.id and pole.what != "earth"}
    sides = {past[node] for way in ways for node in (way.a, way.b)} - others
    own = {end for part in item.structure.parts_that(Does.CONVERTS) for end in part.terminals} - set(item.kind.poles)
    return any(past[facts.node(item, end)] in sides for end in own)


RULES = (
    Rule("behind_converter", "Nothing switches behind a converter that runs", nothing_switches_behind_a_converter),
    Rule("residual_type", "Residual-current devices see what may leak", residual_current_is_seen),
)
