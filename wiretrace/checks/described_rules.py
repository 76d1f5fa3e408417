"""A rule about the operating description of a circuit: every line of it holds when the circuit is worked."""

from collections.abc import Iterator

from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Rule
from wiretrace.checks.intent.judging import LineOutcome, judged


def it_does_as_it_is_described(facts: Facts) -> Iterator[Finding | CannotTell]:
    lines = judged(facts, facts.circuit.description)
    if not lines:
        raise NothingToCheck
    for one in lines:
        if one.outcome is LineOutcome.BROKEN:
            yield Finding(
                one.text,
                f"It does not do this: {one.text}. {one.reason}",
                "Either the circuit or its description is wrong.",
                one.device,
                moves=one.moves,
                seen_us=one.seen_us,
            )
        elif one.outcome is not LineOutcome.HELD:
            yield CannotTell(facts.items[0].id, f"{one.text}: {one.reason}")


RULES = (Rule("described", "It does as it is described", it_does_as_it_is_described, absence=True),)
