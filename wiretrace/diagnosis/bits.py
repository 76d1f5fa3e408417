"""Arithmetic of what observations tell: bits of outcomes, and how much of a weight each outcome would leave."""

import numpy as np
from numpy.typing import NDArray

from wiretrace.diagnosis.repertoire import Floats, Ints

Numbers = NDArray[np.int32]


def entropy(outcome: Numbers, weights: Floats) -> Floats:
    """Bits of each observation: outcomes by number, from 0, each with its weight."""
    count, columns = int(outcome.max(initial=0)) + 1, len(outcome)
    flat = outcome + count * np.arange(columns, dtype=np.intp)[:, None]
    share = np.bincount(flat.ravel(), weights.ravel(), count * columns).reshape(columns, count)
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = np.where(share > 0, -share * np.log2(share), 0.0)
    found: Floats = parts.sum(axis=1)
    return found


def once(begins: Ints, ends: Ints, fault: Ints, most: int) -> tuple[Ints, Ints, Ints]:
    """Ranges of outcomes by fault, `ends` left out, so that no two of a fault have an outcome in common."""
    order = np.lexsort((begins, fault))
    begins, ends, fault = begins[order], ends[order], fault[order]
    span = fault * (most + 1)
    so_far = np.maximum.accumulate(span + ends)
    begins = np.maximum(begins, np.concatenate([[0], so_far[:-1]]) - span)
    kept = begins < ends
    return begins[kept], ends[kept], fault[kept]


def covering(begins: Ints, ends: Ints, weights: Floats, most: int) -> Floats:
    """For each outcome the weight of all ranges that it lies in."""
    steps = np.bincount(begins, weights, most + 1) - np.bincount(ends, weights, most + 1)
    found: Floats = np.cumsum(steps[:most])
    return found
