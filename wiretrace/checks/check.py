"""All rules, applied to a circuit."""

from typing import Final

from wiretrace.checks import control_rules, power_rules, supply_rules, wiring_rules
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck, Outcome, Result, Rule
from wiretrace.circuit.document import Circuit
from wiretrace.errors import WiretraceError

RULES: Final[tuple[Rule, ...]] = (
    *control_rules.RULES,
    *power_rules.RULES,
    *supply_rules.RULES,
    *wiring_rules.RULES,
)


def check(circuit: Circuit) -> tuple[Result, ...]:
    """What every rule says. Raises InvalidCircuit when the circuit cannot be compiled at all."""
    facts = Facts(circuit)
    return tuple(_result(rule, facts) for rule in RULES)


def _result(rule: Rule, facts: Facts) -> Result:
    try:
        findings = tuple(rule.check(facts))
    except NothingToCheck:
        return Result(rule.name, rule.title, Outcome.NOT_CONCERNED, ())
    except WiretraceError as error:
        return Result(rule.name, rule.title, Outcome.COULD_NOT, (), error.message)
    return Result(rule.name, rule.title, Outcome.FOUND if findings else Outcome.CLEAR, findings)
