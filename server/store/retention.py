"""What is kept for how long: as data, and pruned while the server runs. What people made stays until they delete it."""

from dataclasses import dataclass
from typing import Final

from psycopg import Connection
from psycopg.rows import DictRow


@dataclass(frozen=True)
class Rule:
    """Rows of a table that go, and in words which those are."""

    table: str
    words: str
    gone: str


RULES: Final = (
    Rule(
        "fault_dictionaries",
        "fault dictionaries that nobody has asked for in 30 days",
        "used_at < now() - interval '30 days'",
    ),
    Rule(
        "fault_dictionaries",
        "fault dictionaries but the 200 that were asked for last",
        "ref NOT IN (SELECT ref FROM fault_dictionaries ORDER BY used_at DESC, ref LIMIT 200)",
    ),
    Rule(
        "exercises",
        "exercises that were begun and never gone on with, after 30 days",
        "ended_at IS NULL AND made_at < now() - interval '30 days'"
        " AND (SELECT count(*) FROM exercise_entries e WHERE e.exercise_id = exercises.id) <= 1",
    ),
    Rule(
        "followed",
        "what was worked out along exercises that nobody has gone on with in 7 days",
        "exercise_id IN (SELECT exercise_id FROM exercise_entries GROUP BY exercise_id"
        " HAVING max(made_at) < now() - interval '7 days')",
    ),
    Rule("sign_ins", "sign-ins after a day", "made_at < now() - interval '1 day'"),
    Rule("wrong_passwords", "wrong passwords after a day", "last_at < now() - interval '1 day'"),
    Rule("number_tries", "who began under which number, after two years", "begun_at < now() - interval '2 years'"),
    Rule("closed_numbers", "closed numbers after two years", "closed_at < now() - interval '2 years'"),
)
STAYS: Final = {
    "jobs": "until somebody deletes them, and what hangs on a job with it",
    "job_versions": "as long as their job",
    "job_sequences": "as long as their job",
    "sizings": "as long as their job",
    "sizing_versions": "as long as their job",
    "panels": "as long as their job",
    "finds": "as long as their job",
    "prediction_sheets": "as long as their job",
    "prediction_attempts": "as long as their sheet",
    "exercise_entries": "as long as their exercise",
    "fault_rows": "as long as their dictionary",
    "marks": "for ever: what was done once and is not done again",
    "secrets": "for ever: numbers that were given out follow from it",
    "migrations": "for ever: what the database is",
}
"""Tables whose rows no rule deletes, and how long they stay."""
MOST_EXERCISES: Final = 2_000
"""Exercises that a job may have: what comes after is refused, so that no client fills the disk."""


def prune(connection: Connection[DictRow]) -> dict[str, int]:
    """Delete what has outlived its rule: how many rows, by the words of the rule."""
    gone = {}
    for rule in RULES:
        with connection.transaction():
            gone[rule.words] = connection.execute(f"DELETE FROM {rule.table} WHERE {rule.gone}").rowcount
    return {words: count for words, count in gone.items() if count}
