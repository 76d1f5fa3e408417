"""What the rules find and what is different between circuits, as text."""

from collections.abc import Iterator, Sequence

from wiretrace.checks.check import check, check_by_playing
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Outcome
from wiretrace.checks.playing.difference import does_otherwise
from wiretrace.document.changes import difference
from wiretrace.document.circuit import Circuit
from wiretrace.faults.fault import Fault


def check_lines(circuit: Circuit, faults: Sequence[Fault]) -> Iterator[str]:
    """What every rule says that has something to look at; those that work the circuit work it with the faults."""
    for result in (*check(circuit), *check_by_playing(circuit, faults)):
        if result.outcome is not Outcome.NOT_ASKED:
            yield f"{result.outcome.value}: {result.title}{f': {result.reason}' if result.reason else ''}"
            if result.over:
                yield f"    {result.over}"
        for finding in result.findings:
            yield f"    {finding.message}\n        {finding.why}"


def difference_lines(before: Circuit, after: Circuit) -> Iterator[str]:
    """What is drawn otherwise, and what commands do otherwise."""
    does = does_otherwise(Facts(before), Facts(after))
    for title, told in {**vars(difference(before, after)), "does": does.lines}.items():
        yield from (f"{title}: {line}" for line in told)
    if does.reason:
        yield does.reason
