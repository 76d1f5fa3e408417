"""A circuit worked by hand to see what it does: its states, the moves between them, and what was seen on the way."""

from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import NothingToCheck
from wiretrace.checks.playing.explore import Explorer


def worked(facts: Facts) -> Explorer:
    """The circuit worked, once for all rules. Raises NothingToCheck without any coil, and what a run raises."""
    if not facts.coils:
        raise NothingToCheck

    def explored() -> Explorer:
        explorer = Explorer(facts)
        explorer.explore()
        return explorer

    made: Explorer = facts.remembered("worked", explored)
    return made
