"""Rules about current transformers: closed, with a link, told to their meter."""

from collections.abc import Iterator

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.document.checked import Installed


def _secondary(item: Installed) -> tuple[str, str] | None:
    """The terminals of the winding that must never be open."""
    return next(
        ((b.a, b.b) for b in item.structure.branches_of(Does.STEPS_CURRENT_DOWN) if b.role is Role.SOURCE), None
    )


def current_transformers_are_closed(facts: Facts) -> Iterator[Finding | CannotTell]:
    transformers = [(item, ends) for item in facts.that(Does.STEPS_CURRENT_DOWN) if (ends := _secondary(item))]
    if not transformers:
        raise NothingToCheck
    sound = facts.parts(facts.is_protection)
    unfused = facts.wired
    for item, ends in transformers:
        a, b = (facts.node(item, end) for end in ends)
        if not sound.joined(a, b):
            why = "An open secondary raises a voltage that can kill. Close it through a meter or a link."
            yield Finding(f"{item.id}/open", f"The secondary of {item.label} is not closed.", why, item.id, ends[0])
        elif not unfused.joined(a, b):
            why = "A fuse that blows opens the secondary: a current transformer is never fused."
            yield Finding(
                f"{item.id}/fused", f"A fuse or breaker lies in the secondary of {item.label}.", why, item.id, ends[0]
            )
        links = [link for link in facts.that(Does.SHORTS) if _touches(facts, link, Does.SHORTS, {a})]
        if not links and sound.joined(a, b):
            why = "Without one the meter cannot be taken away while current flows."
            yield Finding(
                f"{item.id}/link", f"{item.label} has no shorting link before its meter.", why, item.id, ends[0]
            )
        for meter in facts.that(Does.MEASURES):
            if _touches(facts, meter, Does.MEASURES, {a}):
                yield from _ratio(item, meter)


def _touches(facts: Facts, item: Installed, does: Does, nodes: set[int]) -> bool:
    """Is a part of this device joined to one of these nodes by wire?"""
    own = {facts.node(item, end) for branch in item.structure.branches_of(does) for end in (branch.a, branch.b)}
    return any(facts.wired.joined(one, node) for one in own for node in nodes)


def _ratio(item: Installed, meter: Installed) -> Iterator[Finding | CannotTell]:
    rated, told = item.kind.ratings(item.params), meter.kind.ratings(meter.params).ratio
    if rated.ratio is None or rated.secondary_a is None or told is None:
        yield CannotTell(meter.id, f"Whether {meter.label} is set for {item.label}: a ratio is not stated.")
    elif abs(told / rated.ratio - 1) > 0.01:
        yield Finding(
            f"{item.id}/{meter.id}",
            f"{meter.label} is set for {told * rated.secondary_a:g} A; with its turns {item.label} "
            f"is one of {rated.ratio * rated.secondary_a:g} A.",
            f"It shows {told / rated.ratio:.2g} times the current.",
            meter.id,
        )


RULES = (
    Rule("current_transformer", "Current transformers are closed, linked and told", current_transformers_are_closed),
)
