"""All rules, applied to a circuit."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.checks import (
    conductor_rules,
    control_rules,
    converter_rules,
    described_rules,
    measuring_rules,
    overload_rules,
    played_rules,
    power_rules,
    role_rules,
    supply_rules,
    upset_rules,
    working_rules,
)
from wiretrace.checks.drawing import being_drawn
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import CannotTell, Finding, NothingToCheck, Outcome, Result, Rule
from wiretrace.document.circuit import Circuit
from wiretrace.errors import WiretraceError
from wiretrace.faults.fault import Fault

RULES: Final[tuple[Rule, ...]] = (
    *control_rules.RULES,
    *overload_rules.RULES,
    *power_rules.RULES,
    *converter_rules.RULES,
    *measuring_rules.RULES,
    *supply_rules.RULES,
    *conductor_rules.RULES,
)


PLAYED: Final[tuple[Rule, ...]] = (
    *described_rules.RULES,
    *played_rules.RULES,
    *role_rules.RULES,
    *working_rules.RULES,
    *upset_rules.RULES,
)
"""Those for which the circuit is worked: they take longer."""


def check(circuit: Circuit) -> tuple[Result, ...]:
    """What every rule says. Raises InvalidCircuit when the circuit cannot be compiled at all."""
    facts = Facts(circuit)
    return tuple(_result(rule, facts) for rule in RULES)


def check_by_playing(circuit: Circuit, faults: Sequence[Fault] = ()) -> tuple[Result, ...]:
    """What the rules say for which the circuit is worked, sound or with faults. Raises InvalidCircuit when it cannot be
    compiled at all.
    """
    return played(Facts(circuit, faults))


def played(facts: Facts) -> tuple[Result, ...]:
    """The same of a circuit that was read already."""
    results = (_result(rule, facts) for rule in PLAYED)
    return tuple(
        replace(one, over=played_rules.over(facts)) if one.outcome is Outcome.CLEAR else one for one in results
    )


def _result(rule: Rule, facts: Facts) -> Result:
    unclear = [f"What {item.label} is there for is not stated." for item in facts.that(Does.UNSTATED)]
    findings: dict[str, Finding] = {}
    outcome = Outcome.CLEAR
    try:
        for said in rule.check(facts):
            if isinstance(said, CannotTell):
                unclear.append(said.why)
            else:
                # Of what is found in several states the first is told: it takes the fewest moves.
                findings.setdefault(said.key, said)
    except NothingToCheck:
        outcome = Outcome.NOT_ASKED
    except WiretraceError as error:
        unclear.append(error.message)
    if findings or unclear:
        outcome = Outcome.FOUND if findings else Outcome.CANNOT_TELL
    told = tuple(replace(one, drawing=_is_drawn(facts, rule, one)) for one in findings.values())
    return Result(rule.name, rule.title, outcome, told, " ".join(dict.fromkeys(unclear)))


def _is_drawn(facts: Facts, rule: Rule, finding: Finding) -> bool:
    """Is it about a device that is not wired yet, or that something is missing while others are not?"""
    drawn = being_drawn(facts)
    return finding.device in drawn or bool(rule.absence and drawn)
