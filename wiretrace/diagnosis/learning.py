"""How often each kind of fault comes about, learned from what was found."""

from collections.abc import Mapping
from typing import Final

from wiretrace.diagnosis.hypotheses import WEIGHTS, hypotheses
from wiretrace.faults.registry import kind_name
from wiretrace.simulation.assembly import Assembly

STRENGTH: Final = 5.0
"""How many finds what was known beforehand is worth: after so many of a kind, experience weighs as much."""


def expected_shares(sound: Assembly) -> dict[str, float]:
    """The share of each kind of fault among all that may happen to a circuit, by what is known beforehand."""
    found: dict[str, float] = {}
    for one in hypotheses(sound):
        if one.fault is not None:
            found[kind_name(one.fault)] = found.get(kind_name(one.fault), 0.0) + one.weight
    total = sum(found.values())
    return {kind: weight / total for kind, weight in found.items()}


def learned(counts: Mapping[str, tuple[int, float]]) -> dict[str, float]:
    """Weights by kind after finds: for each kind how often it was found and how often it was to be expected.

    The mean of a gamma-Poisson posterior whose prior has the mean 1 and is worth `STRENGTH` finds (Gelman and others,
    Bayesian Data Analysis, 3rd edition, section 2.6).
    """
    weights = {}
    for kind, weight in WEIGHTS.items():
        found, expected = counts.get(kind, (0, 0.0))
        weights[kind] = round(weight * (STRENGTH + found) / (STRENGTH + expected), 3)
    return weights
