"""Two faults at once: which may explain together what no single one does."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from wiretrace.diagnosis.dictionary import Observation
from wiretrace.diagnosis.engine import Engine, Outcome
from wiretrace.diagnosis.hypotheses import Hypothesis, both

MOST_PAIRS: Final = 150
"""Pairs that are run: more would take longer than a person waits."""
Made = Sequence[tuple[Observation, Outcome]]


def likely_pairs(engine: Engine, made: Made) -> tuple[Hypothesis, ...]:
    """Pairs worth a run, the likeliest first: of what was observed each part shows what the other does not.

    What two faults show together is for the most part what one of them shows; whether they do is for a run to say.
    """
    if not made:
        return ()
    known = engine.known
    fits = np.array([engine.fits(what, outcome) for what, outcome in made], dtype=np.float64)
    single = [number for number, one in enumerate(known.hypotheses) if one.faults]
    # The value of each fault that explains the most stands for it.
    rows = {number: np.flatnonzero(known.of == number) for number in single}
    at = [int(rows[n][np.argmax(fits[:, rows[n]].sum(axis=0))]) if len(rows[n]) else -1 for n in single]
    kept = [(number, row) for number, row in zip(single, at, strict=True) if row >= 0]
    missed = 1 - fits[:, [row for _, row in kept]]
    weight = np.array([known.hypotheses[number].weight for number, _ in kept])
    together = missed.T @ missed
    # One that adds nothing to what the other explains is there for no reason.
    own = together.diagonal()
    more = (together < own[:, None]) & (together < own[None, :])
    first, second = np.nonzero(np.triu(more & (together <= 1), 1))
    score = np.outer(weight, weight)[first, second] * np.where(together[first, second] > 0, 0.01, 1.0)
    all_weight = float(weight.sum())
    order = np.argsort(-score, kind="stable")[:MOST_PAIRS]
    return tuple(
        both(known.hypotheses[kept[first[n]][0]], known.hypotheses[kept[second[n]][0]], all_weight) for n in order
    )
