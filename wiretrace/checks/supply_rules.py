"""Rules about what feeds the control circuit: protection, transformers, supplies, sensors."""

import math
from collections.abc import Iterator

from wiretrace.catalogue.machinery.purpose import Against, Does
from wiretrace.catalogue.machinery.structure import Part, Role
from wiretrace.checks.facts import Coil, Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.document.checked import Installed


def control_circuit_is_protected(facts: Facts) -> Iterator[Finding]:
    coils = facts.coils
    if not coils:
        raise NothingToCheck
    bare = facts.parts(lambda ref: not facts.is_pole(ref) and not facts.is_protection(ref))
    earthed = {(device, terminal) for device, terminal, _ in _earthed(facts)}
    limits = {item.id for item in facts.items if item.kind.limits_current}
    for coil in coils:
        item = coil.item
        for node in (coil.a, coil.b):
            terminal = facts.assembly.nodes[node][1]
            at = [pole for pole in bare.poles_at(node) if pole.what == "live" and pole.device not in limits]
            live = [pole for pole in at if (pole.device, pole.terminal) not in earthed]
            if live:
                yield Finding(
                    item.id,
                    f"{item.designated(terminal)} gets {live[0].terminal} of {facts.label(live[0].device)} without "
                    "a fuse or breaker.",
                    "A short circuit in the control circuit burns the wires.",
                    item.id,
                    terminal,
                )


def _loads_va(facts: Facts) -> tuple[dict[str, float], dict[str, list[str]]]:
    """By source, what the loads on it take when all of them are on, volt-amperes; and those that do not say."""
    total: dict[str, float] = {}
    silent: dict[str, list[str]] = {}
    for item in facts.items:
        for branch in item.structure.branches:
            inside = item.structure.internal_nodes
            if branch.role is not Role.LOAD or branch.a in inside or branch.b in inside:
                continue
            poles = facts.all_closed.feeds(facts.node(item, branch.a), facts.node(item, branch.b))
            if poles is None or not poles[0].device == poles[1].device != item.id:
                continue
            made_for = item.kind.operating(item.params, branch.name)
            if made_for is None:
                silent.setdefault(poles[0].device, []).append(item.label)
            else:
                total[poles[0].device] = total.get(poles[0].device, 0.0) + made_for.takes_va
    return total, silent


def sources_are_large_enough(facts: Facts) -> Iterator[Finding | CannotTell]:
    sources = facts.that(Does.TRANSFORMS)
    if not sources:
        raise NothingToCheck
    taken_va, silent = _loads_va(facts)
    for item in sources:
        rating, taken = item.kind.ratings(item.params).gives_va, taken_va.get(item.id, 0.0)
        if rating is None:
            yield CannotTell(item.id, f"What {item.label} can give is not stated.")
        elif taken > rating:
            yield Finding(
                item.id,
                f"{item.label} can give {rating:g} VA; all that hangs on it takes {taken:.0f} VA.",
                "Its voltage falls, coils let go, and it runs hot.",
                item.id,
            )
        elif item.id in silent:
            yield CannotTell(item.id, f"What {', '.join(silent[item.id])} on {item.label} takes is not stated.")


def secondaries_are_earthed_and_fused(facts: Facts) -> Iterator[Finding]:
    transformers = [item for item in facts.that(Does.TRANSFORMS) if item.kind.coupled]
    if not transformers:
        raise NothingToCheck
    earths = {int(facts.wired.label[pole.node]) for pole in facts.poles if pole.what == "earth"}
    bare = facts.parts(lambda ref: not facts.is_pole(ref) and not facts.is_protection(ref))
    at_coils = {int(bare.label[node]) for coil in facts.coils for node in (coil.a, coil.b)}
    watched = {
        int(facts.all_closed.label[facts.node(monitor, branch.b)])
        for monitor in facts.that(Does.WATCHES_INSULATION)
        for branch in monitor.structure.branches_of(Does.WATCHES_INSULATION)
    }
    for item in transformers:
        ends = {what: terminal for terminal, (what, _) in item.kind.poles.items()}
        earthed = any(int(facts.wired.label[facts.node(item, end)]) in earths for end in ends.values())
        on_own = any(int(facts.all_closed.label[facts.node(item, end)]) in watched for end in ends.values())
        if not earthed and not on_own:
            yield Finding(
                f"{item.id}/earth",
                f"The secondary of {item.label} is not earthed.",
                "A first earth fault goes unnoticed; a second one may go around the stop. Unearthed needs watching.",
                item.id,
                ends["neutral"],
            )
        if int(bare.label[facts.node(item, ends["live"])]) in at_coils:
            yield Finding(
                f"{item.id}/fuse",
                f"The secondary of {item.label} is not fused.",
                "A short circuit behind it burns the transformer: the primary fuse sees too little.",
                item.id,
                ends["live"],
            )


def sensors_fit_their_circuit(facts: Facts) -> Iterator[Finding | CannotTell]:
    sensors = facts.that(Does.SENSES)
    if not sensors:
        raise NothingToCheck
    for item in sensors:
        yield from _on_direct_voltage(facts, item)
        yield from _leaks_into_coils(facts, item)


def _on_direct_voltage(facts: Facts, item: Installed) -> Iterator[Finding]:
    for branch in item.structure.branches_of(Does.SENSES):
        made_for = item.kind.operating(item.params, branch.name)
        poles = facts.all_closed.feeds(facts.node(item, branch.a), facts.node(item, branch.b))
        if made_for is None or not made_for.direct or poles is None:
            continue
        sources = [facts.assembly.devices[pole.device] for pole in poles]
        makes_dc = all(source.kind.ratings(source.params).feeds_direct for source in sources)
        if not makes_dc or poles[0].what != "live":
            told = "on alternating voltage" if not makes_dc else "with plus and minus exchanged"
            yield Finding(
                item.id,
                f"The DC sensor {item.label} stands {told}.",
                f"It needs direct voltage, plus at {branch.a}: from a power supply.",
                item.id,
                branch.a,
            )


def _leaks_into_coils(facts: Facts, item: Installed) -> Iterator[Finding | CannotTell]:
    """What of the supply lies at a coil through the leakage of a sensor that is off?"""
    leak_ohm = item.kind.ratings(item.params).leak_ohm
    if leak_ohm is None:
        return
    own = tuple(facts.contacts_of(item.id))
    others = facts.joined_by(facts.control, but=own)
    ends = {node for ref in own for node in (ref.a, ref.b)}
    for coil in facts.coils:
        if not any(others.joined(node, end) for node in (coil.a, coil.b) for end in ends):
            continue
        if others.feeds(coil.a, coil.b) is None and facts.all_closed.feeds(coil.a, coil.b) is not None:
            yield from _held_by(item, coil, leak_ohm)


def _held_by(sensor: Installed, coil: Coil, leak_ohm: float) -> Iterator[Finding | CannotTell]:
    """Does what leaks through a sensor hold a coil that hangs on it alone?"""
    item = coil.item
    made_for = item.kind.operating(item.params, coil.branch)
    holds_from = item.kind.ratings(item.params).holds_from
    if made_for is None or holds_from is None:
        yield CannotTell(item.id, f"Whether {item.label} lets go behind {sensor.label}: it is not stated when it does.")
        return
    size, factor = made_for.voltage_v**2 / made_for.takes_va, made_for.power_factor
    percent = 100 * size / abs(complex(size * factor + leak_ohm, size * math.sqrt(1 - factor**2)))
    if percent >= 100 * holds_from:
        yield Finding(
            f"{sensor.id}/{item.id}",
            f"With {sensor.label} off, {percent:.0f} % of its voltage stays at the coil {item.label}; it drops out "
            f"below {100 * holds_from:g} %.",
            "Once in it stays in. Put a larger coil or a resistor across it.",
            item.id,
            coil.terminal,
        )


def earthed_conductors_stay_whole(facts: Facts) -> Iterator[Finding]:
    """No fuse, and no pole by itself, in a conductor that a source earths."""
    earthed = _earthed(facts)
    if not earthed:
        raise NothingToCheck
    bare = facts.parts(lambda ref: not facts.is_pole(ref) and not facts.is_protection(ref))
    labels = {int(bare.label[node]): (source, terminal) for source, terminal, node in earthed}
    for item in facts.protecting(Against.SHORT_CIRCUIT):
        poles = [ref for ref in facts.contacts(item) if facts.is_protection(ref)]
        together = any(operation.handle for operation in item.kind.operations)
        at = [labels.get(int(bare.label[ref.a])) for ref in poles]
        if together and not all(at):
            continue
        for ref, found in zip(poles, at, strict=True):
            if found:
                yield Finding(
                    f"{item.id}:{facts.first_terminal(ref)}",
                    f"{item.label} lies in {found[1]} of {facts.label(found[0])}, which is earthed, "
                    "and can open it alone.",
                    "When it opens, everything behind it is dead and still live to earth: it looks switched off.",
                    item.id,
                    facts.first_terminal(ref),
                )


def windows_see_both_ways(facts: Facts) -> Iterator[Finding]:
    """What a load takes through a window comes back through it."""
    windows = [item for item in facts.items if item.kind.balances]
    if not windows:
        raise NothingToCheck
    fed = facts.parts(lambda ref: True)
    for window in windows:
        ways = [ref for ref in facts.assembly.branches if ref.place == window.id and ref.branch in window.kind.balances]
        past = facts.joined_by(facts.mask(lambda ref: True), but=tuple(ways))
        for item in facts.items:
            for part in item.structure.parts if item is not window else ():
                ends = [end for end in part.terminals if _of_load(item, part, end)]
                at = [end for end in ends if fed.poles_at(facts.node(item, end))]
                beside = [end for end in at if past.poles_at(facts.node(item, end))]
                if beside and len(beside) < len(at):
                    through = next(end for end in at if end not in beside)
                    yield Finding(
                        f"{window.id}/{item.id}",
                        f"{item.label} hangs on {window.label} at {through}, and goes round it at {beside[0]}.",
                        "What it takes does not come back through the window: it trips, or fails to.",
                        item.id,
                        beside[0],
                    )


def _of_load(item: Installed, part: Part, end: str) -> bool:
    branches = [branch for branch in item.structure.branches if branch.name in part.branches]
    return any(branch.role is Role.LOAD and end in (branch.a, branch.b) for branch in branches)


def _earthed(facts: Facts) -> list[tuple[str, str, int]]:
    """What sources earth of their poles, inside themselves or by a wire: device, terminal, node."""
    earths = {int(facts.wired.label[pole.node]) for pole in facts.poles if pole.what == "earth"}
    found = []
    for pole in facts.poles:
        source = facts.assembly.devices[pole.device]
        inside = source.kind.earthed_at(source.params) == pole.terminal
        if pole.what != "earth" and (inside or int(facts.wired.label[pole.node]) in earths):
            found.append((pole.device, pole.terminal, pole.node))
    return found


RULES = (
    Rule("control_protection", "The control circuit is protected", control_circuit_is_protected),
    Rule("source_rating", "Transformers and supplies are large enough", sources_are_large_enough),
    Rule("earthed_conductor", "Earthed conductors are not opened alone", earthed_conductors_stay_whole),
    Rule("residual", "What goes through a window comes back through it", windows_see_both_ways),
    Rule("secondary", "Secondaries are earthed and fused", secondaries_are_earthed_and_fused),
    Rule("sensors", "Sensors fit their circuit", sensors_fit_their_circuit),
)
